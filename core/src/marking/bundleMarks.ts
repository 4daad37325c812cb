import type { BundleMarked, BundleMarks, BundleResult } from '../formats/rostering.js'
import { wallTimeOf } from '../time/wallTime.js'
import type { Book } from './markBook.js'

/** When something that was marked was given, and when it was due, in milliseconds since 1970. */
export interface MarkedWhen {
  readonly id: string
  readonly givenAt: number | null
  readonly dueAt: number | null
}

/**
 * The marks of a class as results of the open rostering bundle: a line item a column, a result a mark, who is excused and what is
 * missing. What is only marked in words, and what is open, has none. The most of a column is the greatest there is in it.
 * @param when of the columns; one without times was given and due on the day of `now`
 * @param timeZone IANA name: whose days they are
 */
export function bundleMarks<S extends { readonly personId: string }>(
  classId: string,
  { students, columns, cellOf }: Book<S>,
  when: readonly MarkedWhen[],
  timeZone: string,
  now: number,
): BundleMarks {
  const times = new Map(when.map((one) => [one.id, one]))
  const dayOf = (at: number) => {
    const { year, month, day } = wallTimeOf(at, timeZone)
    return [String(year), String(month).padStart(2, '0'), String(day).padStart(2, '0')].join('-')
  }
  const marked: BundleMarked[] = []
  const results: BundleResult[] = []
  for (const { id, title, unit } of columns) {
    const cells = students.map(({ personId }) => ({ personId, cell: cellOf(personId, id) }))
    const mosts = cells.flatMap(({ cell }) => (cell.is === 'mark' ? [cell.most] : []))
    const found = cells.flatMap(({ personId, cell }): BundleResult[] => {
      const of = { markedId: id, studentId: personId, day: dayOf(now) }
      if (cell.is === 'mark') return [{ ...of, status: 'fully graded', score: cell.total / 100 }]
      if (cell.is === 'excused') return [{ ...of, status: 'exempt', score: null }]
      return cell.is === 'missing' ? [{ ...of, status: 'not submitted', score: null }] : []
    })
    if (found.length === 0) continue
    const { givenAt, dueAt } = times.get(id) ?? { givenAt: null, dueAt: null }
    const given = dayOf(givenAt ?? now)
    const due = dueAt === null ? given : dayOf(dueAt)
    marked.push({ id, classId, title, unit: unit ?? '', given, due, most: Math.max(0, ...mosts) / 100 })
    results.push(...found)
  }
  return { marked, results }
}
