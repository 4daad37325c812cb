import { EMAIL_LIMIT, emailKey, isEmail } from './email.js'
import { NAME_LIMIT, type PersonName, cleanText, foldText, fullName } from './names.js'

/** A row of a roster, new or being corrected. */
export interface RosterRow extends PersonName {
  readonly email: string
  readonly partedByGuess?: boolean
}

/** Somebody who is in the class already. */
export interface RosterMember extends PersonName {
  readonly personId: string
  readonly email: string | null
}

export type RosterField = 'last' | 'first' | 'email'

/** Why a row is in doubt. `stops`: the roster cannot be saved with it; otherwise it can, knowingly. */
export interface Doubt {
  readonly code:
    | 'no-name'
    | 'name-too-long'
    | 'no-email'
    | 'malformed-email'
    | 'double-email'
    | 'double-name'
    | 'parted-by-guess'
    | 'joins-without-email'
  readonly sentence: string
  readonly field: RosterField
  readonly stops: boolean
}

/** What saving a row would do to the roster. */
export type RowEffect = 'new' | 'changed' | 'unchanged'

export interface CheckedRow {
  readonly row: RosterRow
  readonly doubts: Doubt[]
  readonly effect: RowEffect
  /** The member this row is about, by e-mail, else by the whole name if neither side has an e-mail. */
  readonly personId: string | null
}

export interface CheckedRoster {
  readonly rows: CheckedRow[]
  readonly counts: Record<RowEffect, number> & { inDoubt: number; stopping: number }
}

/** A row with its cells as they will be kept: white space collapsed, letters composed, the address trimmed. */
export function cleanRow(row: RosterRow): RosterRow {
  return {
    first: cleanText(row.first),
    last: cleanText(row.last),
    email: cleanText(row.email).replace(/ /g, ''),
    partedByGuess: row.partedByGuess ?? false,
  }
}

/**
 * Says of each row what is doubtful about it and what saving it would do.
 * @param rows the rows to save, as pasted or corrected
 * @param members who is in the class already
 */
export function checkRoster(rows: readonly RosterRow[], members: readonly RosterMember[]): CheckedRoster {
  const clean = rows.map(cleanRow)
  const byEmail = groupIndexes(clean, (row) => (row.email ? emailKey(row.email) : null))
  const byName = groupIndexes(clean, (row) => nameKey(row) || null)
  const memberByEmail = new Map(
    members.filter((member) => member.email).map((member) => [emailKey(member.email!), member]),
  )
  const membersWithoutEmail = new Map(
    members.filter((member) => !member.email).map((member) => [nameKey(member), member]),
  )

  const checked = clean.map((row, index): CheckedRow => {
    const doubts: Doubt[] = []
    const doubt = (code: Doubt['code'], field: RosterField, stops: boolean, sentence: string) =>
      doubts.push({ code, field, stops, sentence })

    if (!row.first && !row.last) doubt('no-name', 'last', true, 'There is no name in this row.')
    for (const field of ['last', 'first'] as const)
      if (row[field].length > NAME_LIMIT)
        doubt(
          'name-too-long',
          field,
          true,
          `This name has ${row[field].length} characters; up to ${NAME_LIMIT} can be kept.`,
        )
    if (row.partedByGuess)
      doubt(
        'parted-by-guess',
        'last',
        false,
        'Is this the last name? The name stood in one cell and was parted by guess.',
      )
    if (!row.email) doubt('no-email', 'email', false, 'No e-mail: this student cannot sign in until one is added.')
    else if (row.email.length > EMAIL_LIMIT || !isEmail(row.email))
      doubt('malformed-email', 'email', true, 'This is not an e-mail address.')
    else {
      const others = byEmail.get(emailKey(row.email))!.filter((other) => other !== index)
      if (others.length)
        doubt(
          'double-email',
          'email',
          true,
          `${fullName(clean[others[0]!]!) || 'Another row'} (row ${others[0]! + 1}) has the same e-mail.`,
        )
    }
    const namesakes = (byName.get(nameKey(row)) ?? []).filter((other) => other !== index)
    if (namesakes.length)
      doubt('double-name', 'first', false, `Row ${namesakes[0]! + 1} has the same name: is it the same person twice?`)

    const member = row.email ? memberByEmail.get(emailKey(row.email)) : membersWithoutEmail.get(nameKey(row))
    const effect: RowEffect = !member
      ? 'new'
      : member.first === row.first && member.last === row.last
        ? 'unchanged'
        : 'changed'
    if (!member && row.email && membersWithoutEmail.has(nameKey(row)))
      doubt(
        'joins-without-email',
        'email',
        false,
        `${fullName(row)} is in the class without an e-mail: saving this row adds a second person. Add the e-mail in the roster instead.`,
      )
    return { row, doubts, effect, personId: member?.personId ?? null }
  })

  const counts = { new: 0, changed: 0, unchanged: 0, inDoubt: 0, stopping: 0 }
  for (const { effect, doubts } of checked) {
    counts[effect]++
    if (doubts.length) counts.inDoubt++
    if (doubts.some(({ stops }) => stops)) counts.stopping++
  }
  return { rows: checked, counts }
}

const nameKey = (name: PersonName) => foldText(fullName(name))

function groupIndexes(rows: readonly RosterRow[], keyOf: (row: RosterRow) => string | null): Map<string, number[]> {
  const groups = new Map<string, number[]>()
  rows.forEach((row, index) => {
    const key = keyOf(row)
    if (key === null) return
    const group = groups.get(key)
    if (group) group.push(index)
    else groups.set(key, [index])
  })
  return groups
}
