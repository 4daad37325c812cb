import { type Outcome, type Problem, fine, refuse } from '../errors/problem.js'
import { findForm } from '../roster/find.js'
import { type PersonName, cleanText, foldText, fullName } from '../roster/names.js'
import type { GroupPair } from './wish.js'
import { nameTwins } from './twins.js'

/** Whether two groups were said to be two, however alike their names. */
export const areTwo = (different: readonly (readonly [string, string])[], a: string, b: string): boolean =>
  different.some(([one, other]) => (one === a && other === b) || (one === b && other === a))

/** A group of a set with who is in it. */
export interface Group {
  readonly id: string
  readonly name: string
  /** The most that may sign up; null: no limit. */
  readonly places: number | null
  readonly personIds: readonly string[]
}

export const GROUP_NAME_LIMIT = 80
export const GROUPS_IN_SET_LIMIT = 200
/** A handful is the most that can share one copy well. */
export const GROUP_SIZE_ADVICE = 5

/** Checks the name of a group or a set; two spellings of one name would be one group. */
export function checkGroupName(name: string, others: readonly string[]): Outcome<string> {
  const clean = cleanText(name)
  const wrong = (sentence: string) => refuse({ code: 'group-name', field: 'name', sentence })
  if (!clean) return wrong('Give it a name.')
  if (clean.length > GROUP_NAME_LIMIT) return wrong(`This name has up to ${GROUP_NAME_LIMIT} characters.`)
  const taken = others.find((other) => foldText(other) === foldText(clean))
  return taken ? wrong(`There is "${taken}" already.`) : fine(clean)
}

/** Something about a group set that the teacher may want to look at; nothing of it is forbidden. */
export interface GroupNote {
  readonly code: 'twins' | 'pair-broken' | 'alone' | 'crowded' | 'empty' | 'in-none'
  readonly sentence: string
  /** The groups it is about; of twins, the one to keep first. */
  readonly groupIds: readonly string[]
  readonly personIds: readonly string[]
}

/**
 * What to look at in a group set: names that look like one, pairs who are not where they are to be, groups of one, of more
 * than {@link GROUP_SIZE_ADVICE}, or of nobody, and students in no group.
 * @param students who is in the class now
 * @param pairs who is to be together and who apart
 * @param different groups that are two though their names look alike, the smaller id first
 */
export function groupNotes(
  groups: readonly Group[],
  students: readonly (PersonName & { readonly personId: string })[],
  pairs: readonly GroupPair[] = [],
  different: readonly (readonly [string, string])[] = [],
): GroupNote[] {
  const notes: GroupNote[] = []
  const inClass = new Set(students.map(({ personId }) => personId))
  const counted = groups.map((group) => ({ ...group, size: group.personIds.filter((id) => inClass.has(id)).length }))
  for (const { keep, other, reason } of nameTwins(counted)) {
    if (areTwo(different, keep.id, other.id)) continue
    notes.push({
      code: 'twins',
      sentence: `${keep.name} and ${other.name} look like one group (${reason}).`,
      groupIds: [keep.id, other.id],
      personIds: [],
    })
  }
  const byId = new Map(students.map((student) => [student.personId, student]))
  const homeOf = new Map(groups.flatMap((group) => group.personIds.map((personId) => [personId, group] as const)))
  for (const { a, b, kind } of pairs) {
    const [one, two] = [byId.get(a), byId.get(b)]
    const [home, other] = [homeOf.get(a), homeOf.get(b)]
    if (!one || !two || !home || !other || (home === other) === (kind === 'together')) continue
    notes.push({
      code: 'pair-broken',
      sentence:
        kind === 'apart'
          ? `${fullName(one)} and ${fullName(two)} are to be apart, and both are in ${home.name}.`
          : `${fullName(one)} and ${fullName(two)} are to be together, and are in ${home.name} and ${other.name}.`,
      groupIds: [home.id, other.id],
      personIds: [a, b],
    })
  }
  for (const { id, name, size } of counted) {
    const note = (code: GroupNote['code'], sentence: string) =>
      notes.push({ code, sentence, groupIds: [id], personIds: [] })
    if (size === 1) note('alone', `${name} has one student.`)
    else if (size > GROUP_SIZE_ADVICE)
      note('crowded', `${name} has ${size}: more than ${GROUP_SIZE_ADVICE} get in each other’s way in one copy.`)
    else if (size === 0) note('empty', `${name} is empty.`)
  }
  const grouped = new Set(groups.flatMap(({ personIds }) => personIds))
  const none = students.filter(({ personId }) => !grouped.has(personId))
  if (none.length)
    notes.push({
      code: 'in-none',
      sentence: `In no group: ${none
        .slice(0, 8)
        .map(fullName)
        .join(', ')}${none.length > 8 ? ` and ${none.length - 8} more` : ''}.`,
      groupIds: [],
      personIds: none.map(({ personId }) => personId),
    })
  return notes
}

/** A group that is to be made, with the people in it. */
export interface GroupDraft {
  readonly name: string
  readonly personIds: string[]
}

/** Groups out of a roster column: one for each value, in the order of the alphabet; empty cells are in none. */
export function groupsFromColumn(
  students: readonly { readonly personId: string; readonly value: string }[],
  locale: string,
): GroupDraft[] {
  const drafts = new Map<string, GroupDraft>()
  for (const { personId, value } of students) {
    const name = cleanText(value).slice(0, GROUP_NAME_LIMIT)
    if (!name) continue
    const draft = drafts.get(foldText(name)) ?? { name, personIds: [] }
    draft.personIds.push(personId)
    drafts.set(foldText(name), draft)
  }
  const collator = new Intl.Collator(locale, { numeric: true })
  return [...drafts.values()].toSorted((a, b) => collator.compare(a.name, b.name))
}

/** Groups as they were pasted, and what of it could not be understood. */
export interface PastedGroups {
  readonly groups: GroupDraft[]
  /** At their line of the text, counted from 0. */
  readonly problems: Problem[]
}

/**
 * Groups out of pasted lines: a student and a group in each line (parted by a tab, semicolon, or comma), or a group and
 * after a colon its students. A student is named by e-mail, student number, or name in either order, in any spelling of
 * case and accents.
 */
export function groupsFromPaste(
  text: string,
  students: readonly (PersonName & {
    readonly personId: string
    readonly email: string | null
    readonly number?: string | null
  })[],
): PastedGroups {
  const known = new Map<string, Set<string>>()
  const learn = (key: string, personId: string) => {
    if (key) known.set(key, (known.get(key) ?? new Set()).add(personId))
  }
  for (const { personId, first, last, email, number } of students) {
    const names = new Set([`${first} ${last}`, `${last} ${first}`].map(findForm))
    for (const name of names) learn(name, personId)
    if (email) learn(findForm(email), personId)
    if (number) learn(findForm(number), personId)
  }
  const drafts = new Map<string, GroupDraft>()
  const problems: Problem[] = []
  const placed = new Map<string, string>()
  const put = (row: number, typed: string, group: string) => {
    const problem = (sentence: string) => problems.push({ code: 'paste-line', row, sentence })
    const found = known.get(findForm(typed)) ?? new Set()
    if (found.size === 0) return problem(`Nobody in this class is called "${cleanText(typed).slice(0, 60)}".`)
    if (found.size > 1)
      return problem(`More than one student is called "${cleanText(typed).slice(0, 60)}": use the e-mail instead.`)
    const [personId] = found as unknown as [string]
    const name = cleanText(group).slice(0, GROUP_NAME_LIMIT)
    const before = placed.get(personId)
    if (before !== undefined && before !== foldText(name))
      return problem(`${cleanText(typed)} is in two groups of this list; the first one counts.`)
    placed.set(personId, foldText(name))
    const draft = drafts.get(foldText(name)) ?? { name, personIds: [] }
    if (before === undefined) draft.personIds.push(personId)
    drafts.set(foldText(name), draft)
  }
  text.split(/\r\n|\r|\n/).forEach((line, row) => {
    if (!line.trim()) return
    const colon = /^([^:\t]+):(.+)$/.exec(line)
    if (colon) {
      for (const typed of colon[2]!.split(/[,;\t]/)) if (typed.trim()) put(row, typed, colon[1]!)
      return
    }
    // The group is what stands last; a comma within "Last, First" belongs to the name.
    const parts = line.includes('\t') ? line.split('\t') : line.includes(';') ? line.split(';') : line.split(',')
    const cells = parts.map((part) => part.trim()).filter(Boolean)
    if (cells.length < 2) {
      problems.push({
        code: 'paste-line',
        row,
        sentence: 'This line needs a student and a group, parted by a tab, semicolon or comma.',
      })
      return
    }
    put(row, cells.slice(0, -1).join(' '), cells.at(-1)!)
  })
  return { groups: [...drafts.values()], problems }
}

/** Names for groups that have none yet: "Group 1", "Group 2" and on, without those that are taken. */
export function groupNames(count: number, taken: readonly string[] = []): string[] {
  const names: string[] = []
  for (let number = 1; names.length < count; number++) {
    const name = `Group ${number}`
    if (!taken.some((other) => foldText(other) === foldText(name))) names.push(name)
  }
  return names
}

/** When something is open: by hand, and within times; a time that is null does not bound it. */
export interface OpenTimes {
  readonly open: boolean
  readonly opensAt: number | null
  readonly closesAt: number | null
}

/** Whether something that opens and closes by hand or by time is open, and if not, why. */
export function openState(times: OpenTimes, now: number): 'open' | 'not yet' | 'over' | 'closed' {
  if (!times.open) return 'closed'
  if (times.closesAt !== null && now >= times.closesAt) return 'over'
  return times.opensAt !== null && now < times.opensAt ? 'not yet' : 'open'
}
