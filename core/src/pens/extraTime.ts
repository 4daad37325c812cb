import { type Problem } from '../errors/problem.js'
import { foldText } from '../roster/names.js'

/** Extra time for one student, or for all with a value in a column of the roster: so many percent more. */
export interface ExtraTime {
  readonly of:
    | { readonly kind: 'student'; readonly personId: string }
    | { readonly kind: 'column'; readonly columnId: string; readonly is: string }
  readonly percent: number
}

/** A student with what stands in the columns of the roster, by column id. */
export interface ExtraTimeStudent {
  readonly personId: string
  readonly cells: Readonly<Record<string, string>>
}

export const EXTRA_TIME_LIMITS = { rules: 60, percent: 300, letters: 200 } as const

/** How much more time each student has who has any, in percent: the most that is said of them. */
export function extraTimeOf(rules: readonly ExtraTime[], students: readonly ExtraTimeStudent[]): Map<string, number> {
  const found = new Map<string, number>()
  for (const { personId, cells } of students)
    for (const { of, percent } of rules) {
      const isTheirs =
        of.kind === 'student' ? of.personId === personId : foldText(cells[of.columnId] ?? '') === foldText(of.is)
      if (isTheirs && percent > (found.get(personId) ?? 0)) found.set(personId, percent)
    }
  return found
}

/** So many percent of some minutes, in whole minutes: never less than was said. */
export const extraMinutes = (minutes: number, percent: number): number => Math.ceil((minutes * percent) / 100)

/** Why extra times cannot be kept; null: they can. */
export function extraTimeProblem(rules: readonly ExtraTime[]): Problem | null {
  if (rules.length > EXTRA_TIME_LIMITS.rules)
    return {
      code: 'too-many-rules',
      field: 'extraTime',
      sentence: `A class has up to ${EXTRA_TIME_LIMITS.rules} rules of extra time.`,
    }
  const isSound = rules.every(
    ({ of, percent }) =>
      Number.isInteger(percent) &&
      percent > 0 &&
      percent <= EXTRA_TIME_LIMITS.percent &&
      (of.kind === 'student' ||
        (of.columnId !== '' && foldText(of.is) !== '' && of.is.length <= EXTRA_TIME_LIMITS.letters)),
  )
  return isSound
    ? null
    : {
        code: 'no-extra-time',
        field: 'extraTime',
        sentence: `Say who has extra time, and how much: up to ${EXTRA_TIME_LIMITS.percent} percent more.`,
      }
}
