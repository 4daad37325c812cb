import { type Outcome, type Problem, fine, refuse } from '../errors/problem.js'
import { type CheckedRow, numberKey } from './check.js'
import { emailKey } from './email.js'

/** Somebody of the school whom rows may be about. */
export interface KnownIdentity {
  readonly personId: string
  /** Not on the staff. */
  readonly isStudent: boolean
  /** The forms under which spellings are the same; null: none. */
  readonly emailKey: string | null
  readonly numberKey: string | null
}

/**
 * The people of the school whom new rows of a class are about, by their e-mails and student numbers. A problem for each row that
 * would rename a colleague, take what is somebody else's, or be about two people.
 * @param people all of the school with one of these e-mails or numbers
 * @returns ids by the number of the row, for rows about somebody who was not in the class
 */
export function joinsOf(
  rows: readonly Pick<CheckedRow, 'row' | 'personId'>[],
  people: readonly KnownIdentity[],
): Outcome<Map<number, string>> {
  const byEmail = new Map(people.flatMap((person) => (person.emailKey ? [[person.emailKey, person]] : [])))
  const byNumber = new Map(people.flatMap((person) => (person.numberKey ? [[person.numberKey, person]] : [])))
  const joins = new Map<number, string>()
  const problems: Problem[] = []
  const taken = new Set(rows.map(({ personId }) => personId))
  rows.forEach(({ row, personId }, at) => {
    const wrong = (code: string, field: 'email' | 'number', sentence: string) =>
      void problems.push({ code, row: at, field: `rows.${at}.${field}`, sentence })
    const addressed = row.email ? byEmail.get(emailKey(row.email)) : undefined
    const numbered = row.number ? byNumber.get(numberKey(row.number)) : undefined
    const found = addressed ?? numbered
    if (!found) return
    if (!found.isStudent)
      // A slip of the pen that would rename a colleague.
      return wrong(
        'email-of-staff',
        addressed ? 'email' : 'number',
        `This ${addressed ? 'e-mail' : 'number'} belongs to somebody on the staff.`,
      )
    if (personId !== null) {
      if (addressed && addressed.personId !== personId)
        wrong('email-taken', 'email', 'Somebody else in the school has this e-mail already.')
      if (numbered && numbered.personId !== personId)
        wrong('number-taken', 'number', 'Somebody else in the school has this student number already.')
      return
    }
    if (addressed && numbered && addressed !== numbered)
      return wrong('two-people', 'number', 'This number and this e-mail belong to two different people in the school.')
    if (taken.has(found.personId)) return wrong('two-people', 'email', 'Another row of this list is about this person.')
    taken.add(found.personId)
    joins.set(at, found.personId)
  })
  return problems.length ? refuse(...problems) : fine(joins)
}
