import { CELL_LIMIT, NUMBER_LIMIT } from './columns.js'
import { EMAIL_LIMIT, emailKey, isEmail } from './email.js'
import { NAME_LIMIT, type PersonName, cleanText, foldText, fullName } from './names.js'

/** A row of a list of students, new or being corrected. */
export interface RosterRow extends PersonName {
  readonly email: string
  /** The student number; empty for none. */
  readonly number?: string
  /** Other columns, by name. */
  readonly cells?: Readonly<Record<string, string>>
  readonly partedByGuess?: boolean
  /** Row of the list it stands in, counted from 0; where it is not said, its place among the rows. */
  readonly line?: number
  /**
   * What somebody said when asked about a row whose name is in the class already with another e-mail: the id of the member whom it
   * is about, or null for another person. Undefined: not asked yet.
   */
  readonly sameAs?: string | null
}

/** Somebody who is in the class already, or was. */
export interface RosterMember extends PersonName {
  readonly personId: string
  readonly email: string | null
  readonly number?: string | null
  /** By the name of the column. */
  readonly cells?: Readonly<Record<string, string>>
  /** Has left the class: a row that is about this person brings them back. */
  readonly left?: boolean
}

/** A student as a class has them: extra columns by id. */
export interface StudentInClass extends PersonName {
  readonly personId: string
  readonly email: string | null
  readonly number: string | null
  readonly cells: Readonly<Record<string, string>>
  readonly leftAt: unknown
}

/** The students of a class as a list is compared with them: extra columns by name. */
export const rosterMembers = (
  students: readonly StudentInClass[],
  columns: readonly { readonly id: string; readonly name: string }[],
): RosterMember[] =>
  students.map(({ personId, first, last, email, number, cells, leftAt }) => ({
    personId,
    first,
    last,
    email,
    number,
    cells: Object.fromEntries(columns.map(({ id, name }) => [name, cells[id] ?? ''])),
    left: leftAt !== null,
  }))

export type RosterField = 'last' | 'first' | 'email' | 'number'

/** Why a row is in doubt. `stops`: the roster cannot be saved with it; otherwise it can, knowingly. */
export interface Doubt {
  readonly code:
    | 'no-name'
    | 'name-too-long'
    | 'no-email'
    | 'malformed-email'
    | 'double-email'
    | 'double-name'
    | 'double-number'
    | 'too-long'
    | 'parted-by-guess'
    | 'same-person'
    | 'other-name'
    | 'two-people'
    | 'double-person'
  readonly sentence: string
  readonly field: RosterField
  readonly stops: boolean
}

/** What saving a row would do to the roster. `back`: somebody who left is in the class again. */
export type RowEffect = 'new' | 'changed' | 'unchanged' | 'back'

/** One cell that saving would change. */
export interface RowChange {
  /** A fixed field, or the name of another column. */
  readonly field: string
  readonly before: string
  readonly after: string
}

export interface CheckedRow {
  /** Cleaned, and filled up from the roster where the list says nothing: an empty cell never wipes what is there. */
  readonly row: RosterRow
  readonly doubts: Doubt[]
  readonly effect: RowEffect
  readonly changes: RowChange[]
  /** The member this row is about: by student number, else by e-mail, else as somebody said, else by the whole name if it has neither. */
  readonly personId: string | null
  /** Who of the class has the same name and is not known to be this one: it is to be said whether it is the same person. */
  readonly namesake: RosterMember | null
}

export interface CheckedRoster {
  readonly rows: CheckedRow[]
  /** `asking`: rows of which it is not said yet whether they are about somebody of the class. */
  readonly counts: Record<RowEffect, number> & { inDoubt: number; stopping: number; asking: number }
  /** Who is in the class and not in the list. They stay unless they are taken out on purpose. */
  readonly missing: RosterMember[]
}

/** A row with its cells as they will be kept: white space collapsed, letters composed, the address trimmed. */
export function cleanRow(row: RosterRow): RosterRow {
  const cells: Record<string, string> = {}
  for (const column in row.cells) cells[cleanText(column)] = cleanText(row.cells[column]!)
  return {
    first: cleanText(row.first),
    last: cleanText(row.last),
    email: cleanText(row.email).replace(/ /g, ''),
    number: cleanText(row.number ?? ''),
    cells,
    partedByGuess: row.partedByGuess ?? false,
    ...(row.line !== undefined && { line: row.line }),
    ...(row.sameAs !== undefined && { sameAs: row.sameAs }),
  }
}

/** The form under which two spellings of a student number are one. */
export const numberKey = (number: string): string => foldText(number)

/**
 * Compares a list with the roster: says of each row what is doubtful about it and what saving it would do, and who of the
 * class is missing from the list.
 * @param rows the rows to save, as read or corrected
 * @param members who is in the class already, and who left it
 */
export function checkRoster(rows: readonly RosterRow[], members: readonly RosterMember[]): CheckedRoster {
  const clean = rows.map(cleanRow)
  const known = knownBy(members)
  const keys = clean.map((row) => ({
    email: row.email ? emailKey(row.email) : '',
    number: row.number ? numberKey(row.number) : '',
    name: nameKey(row),
  }))
  const numberOf = (index: number) => (clean[index]!.line ?? index) + 1
  const byEmail = groupIndexes(keys.map(({ email }) => email))
  const byNumber = groupIndexes(keys.map(({ number }) => number))
  const byName = groupIndexes(keys.map(({ name }) => name))
  const seen = new Set<string>()
  const surely = (row: RosterRow, index: number) =>
    (row.number ? known.byNumber.get(keys[index]!.number) : undefined) ??
    (row.email ? known.byEmail.get(keys[index]!.email) : undefined) ??
    (row.sameAs ? known.byId.get(row.sameAs) : undefined)
  const byPerson = groupIndexes(clean.map((row, index) => surely(row, index)?.personId ?? ''))

  const checked = clean.map((row, index): CheckedRow => {
    const doubts: Doubt[] = []
    const doubt = (code: Doubt['code'], field: RosterField, stops: boolean, sentence: string) =>
      doubts.push({ code, field, stops, sentence })
    const firstOther = (found: readonly number[] | undefined) => found?.find((other) => other !== index)

    checkLengths(row, doubt)
    if (row.partedByGuess)
      doubt(
        'parted-by-guess',
        'last',
        false,
        `Is “${row.last}” the last name? With so many words it was parted by guess.`,
      )

    const key = keys[index]!
    const numbered = row.number ? known.byNumber.get(key.number) : undefined
    const addressed = row.email ? known.byEmail.get(key.email) : undefined
    const named = known.byName.get(key.name)
    // A name alone says who is meant only where the e-mail cannot: it is missing on one of the two sides.
    const member = surely(row, index) ?? (named && !row.number && !row.email ? named : undefined)
    const isAsked = (!member || row.sameAs === member.personId) && !numbered && !addressed
    const namesake =
      isAsked && named && (named === member || !byPerson.has(named.personId)) && (row.email || row.number)
        ? named
        : null
    if (numbered && addressed && numbered !== addressed)
      doubt(
        'two-people',
        'number',
        true,
        `This number is ${fullName(numbered)}’s and this e-mail is ${fullName(addressed)}’s.`,
      )

    const email = row.email || member?.email || ''
    if (!email) doubt('no-email', 'email', false, 'No e-mail: this student cannot sign in until one is added.')
    else if (row.email && (row.email.length > EMAIL_LIMIT || !isEmail(row.email)))
      doubt('malformed-email', 'email', true, 'This is not an e-mail address.')
    else if (row.email) {
      const other = firstOther(byEmail.get(key.email))
      if (other !== undefined)
        doubt(
          'double-email',
          'email',
          true,
          `${fullName(clean[other]!) || 'Another row'} (row ${numberOf(other)}) has the same e-mail.`,
        )
    }
    if (row.number) {
      const other = firstOther(byNumber.get(key.number))
      if (other !== undefined)
        doubt('double-number', 'number', true, `Row ${numberOf(other)} has the same student number.`)
    }
    const double = member && firstOther(byPerson.get(member.personId))
    if (double !== undefined && !doubts.some(({ code }) => code === 'double-email' || code === 'double-number'))
      doubt('double-person', 'last', true, `Row ${numberOf(double)} is about the same person: ${fullName(member!)}.`)
    const alike = firstOther(byName.get(key.name))
    if (alike !== undefined)
      doubt('double-name', 'first', false, `Row ${numberOf(alike)} has the same name: is it the same person twice?`)
    if (namesake && row.sameAs === undefined)
      doubt(
        'same-person',
        'email',
        false,
        `${fullName(namesake)} is in the class ${namesake.email ? `with ${namesake.email}` : 'without an e-mail'}: the same person, or somebody else of this name?`,
      )
    if (member && key.name !== nameKey(member) && !shareName(member, row))
      doubt('other-name', 'last', false, `So far this is ${fullName(member)}: is it a new name, or another person?`)

    if (member) seen.add(member.personId)
    const merged = member ? filledUp(row, member) : row
    const changes = member ? changesOf(member, merged) : []
    const effect: RowEffect = !member ? 'new' : member.left ? 'back' : changes.length ? 'changed' : 'unchanged'
    return { row: merged, doubts, effect, changes, personId: member?.personId ?? null, namesake }
  })

  const counts = { new: 0, changed: 0, unchanged: 0, back: 0, inDoubt: 0, stopping: 0, asking: 0 }
  for (const { effect, doubts } of checked) {
    counts[effect]++
    if (doubts.length) counts.inDoubt++
    if (doubts.some(({ stops }) => stops)) counts.stopping++
    if (doubts.some(({ code }) => code === 'same-person')) counts.asking++
  }
  return { rows: checked, counts, missing: members.filter(({ personId, left }) => !left && !seen.has(personId)) }
}

function checkLengths(
  row: RosterRow,
  doubt: (code: Doubt['code'], field: RosterField, stops: boolean, sentence: string) => void,
): void {
  if (!row.first && !row.last) doubt('no-name', 'last', true, 'There is no name in this row.')
  for (const field of ['last', 'first'] as const)
    if (row[field].length > NAME_LIMIT)
      doubt(
        'name-too-long',
        field,
        true,
        `This name has ${row[field].length} characters; up to ${NAME_LIMIT} can be kept.`,
      )
  if ((row.number ?? '').length > NUMBER_LIMIT)
    doubt('too-long', 'number', true, `A student number has up to ${NUMBER_LIMIT} characters.`)
  for (const [column, cell] of Object.entries(row.cells ?? {}))
    if (cell.length > CELL_LIMIT)
      doubt('too-long', 'last', true, `"${column}" has ${cell.length} characters; up to ${CELL_LIMIT} can be kept.`)
}

interface Known {
  readonly byNumber: ReadonlyMap<string, RosterMember>
  readonly byEmail: ReadonlyMap<string, RosterMember>
  readonly byName: ReadonlyMap<string, RosterMember>
  readonly byId: ReadonlyMap<string, RosterMember>
}

function knownBy(members: readonly RosterMember[]): Known {
  const byNumber = new Map<string, RosterMember>()
  const byEmail = new Map<string, RosterMember>()
  const byName = new Map<string, RosterMember>()
  // Those who are in the class come last and so win over those who left.
  for (const member of members.toSorted((a, b) => Number(b.left ?? false) - Number(a.left ?? false))) {
    if (member.number) byNumber.set(numberKey(member.number), member)
    if (member.email) byEmail.set(emailKey(member.email), member)
    const key = nameKey(member)
    const other = byName.get(key)
    // Of two with one name the one without an e-mail is meant by a row without one.
    if (!other || other.left || !member.email) byName.set(key, member)
  }
  return { byNumber, byEmail, byName, byId: new Map(members.map((member) => [member.personId, member])) }
}

/** Two names of one person have a part in common, whichever way round they are written. */
function shareName(a: PersonName, b: PersonName): boolean {
  const parts = (name: PersonName) => foldText(`${name.first} ${name.last}`).split(/[\s\p{Pd}]+/u)
  const known = new Set(parts(a))
  return parts(b).some((part) => known.has(part))
}

function filledUp(row: RosterRow, member: RosterMember): RosterRow {
  const cells: Record<string, string> = {}
  for (const [column, cell] of Object.entries(row.cells ?? {})) cells[column] = cell || cellOf(member, column)
  const sameEmail = !row.email || emailKey(row.email) === emailKey(member.email ?? '')
  return {
    ...row,
    email: sameEmail ? (member.email ?? '') : row.email,
    number: row.number || member.number || '',
    cells,
  }
}

function changesOf(member: RosterMember, row: RosterRow): RowChange[] {
  const changes: RowChange[] = []
  const compare = (field: string, before: string, after: string) => {
    if (before !== after) changes.push({ field, before, after })
  }
  compare('last', member.last, row.last)
  compare('first', member.first, row.first)
  compare('email', member.email ?? '', row.email)
  compare('number', member.number ?? '', row.number ?? '')
  for (const [column, cell] of Object.entries(row.cells ?? {})) compare(column, cellOf(member, column), cell)
  return changes
}

/** The cell of a column that is called so, in any spelling of case and space. */
function cellOf(member: RosterMember, column: string): string {
  const cells = member.cells ?? {}
  if (column in cells) return cells[column]!
  const key = foldText(column)
  return Object.entries(cells).find(([name]) => foldText(name) === key)?.[1] ?? ''
}

const nameKey = (name: PersonName) => foldText(fullName(name))

/** Where each key stands; empty ones stand nowhere. */
function groupIndexes(keys: readonly string[]): Map<string, number[]> {
  const groups = new Map<string, number[]>()
  keys.forEach((key, index) => {
    if (!key) return
    const group = groups.get(key)
    if (group) group.push(index)
    else groups.set(key, [index])
  })
  return groups
}
