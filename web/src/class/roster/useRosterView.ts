import { foldText, isFound, nameOrder, tagsOf } from '@gavrin/core'
import { useMemo, useState } from 'react'
import type { GroupSet, Student } from '../queries'
import { cellOf } from './useRosterEdits'

export interface Sort {
  readonly field: string
  readonly descending: boolean
}

/** Only rows with this in a column; of tags, with this tag among them. */
export interface ColumnFilter {
  readonly field: string
  readonly value: string
}

const collator = new Intl.Collator(undefined, { sensitivity: 'base', numeric: true })

/** What a cell of any column says, group sets and sign-in too. */
export function shownText(
  student: Student,
  field: string,
  groupOf: ReadonlyMap<string, ReadonlyMap<string, string>>,
): string {
  const set = groupOf.get(field)
  if (set) return set.get(student.personId) ?? ''
  if (field === 'sign-in') return signInWord(student)
  return cellOf(student, field)
}

/** How far a student is with signing in, in a few words. */
export function signInWord({ leftAt, canSignIn, invitedAt, email }: Student): string {
  if (leftAt !== null) return 'left the class'
  if (canSignIn) return 'ready'
  if (invitedAt !== null) return 'invited'
  return email ? 'no password yet' : 'needs a card'
}

/** Which group everybody is in, for each set under the key of its column. */
export function groupNamesOf(sets: readonly GroupSet[]): Map<string, Map<string, string>> {
  return new Map(
    sets.map(({ id, groups }) => [
      `set ${id}`,
      new Map(groups.flatMap(({ name, personIds }) => personIds.map((personId) => [personId, name] as const))),
    ]),
  )
}

/** The students to show, in their order. A row keeps its place while it is being corrected, until the list is sorted anew. */
export function useRosterView(
  students: readonly Student[],
  sets: readonly GroupSet[],
  { find, filter, sort, withLeft }: { find: string; filter: ColumnFilter | null; sort: Sort | null; withLeft: boolean },
): Student[] {
  const groupOf = useMemo(() => groupNamesOf(sets), [sets])
  const key = JSON.stringify([find, filter, sort, withLeft])
  const [frozen, setFrozen] = useState<{ key: string; ids: readonly string[] }>({ key: '', ids: [] })
  const byId = useMemo(() => new Map(students.map((student) => [student.personId, student])), [students])

  let ids: readonly string[] = frozen.ids
  const present = students.filter(({ leftAt }) => withLeft || leftAt === null)
  if (frozen.key !== key) {
    const shown = present.filter(
      (student) =>
        isFound(
          `${student.first} ${student.last} ${student.email ?? ''} ${student.number ?? ''} ${Object.values(student.cells).join(' ')}`,
          find,
        ) &&
        (!filter || hasValue(shownText(student, filter.field, groupOf), filter.value)),
    )
    ids = (sort ? shown.toSorted(inOrder(sort, groupOf)) : shown).map(({ personId }) => personId)
    setFrozen({ key, ids })
  } else {
    // Who came since stands at the end, who went is gone.
    const known = new Set(frozen.ids)
    const shownIds = new Set(present.map(({ personId }) => personId))
    const fresh = find || filter ? [] : present.filter(({ personId }) => !known.has(personId))
    if (fresh.length || frozen.ids.some((id) => !shownIds.has(id))) {
      ids = [...frozen.ids.filter((id) => shownIds.has(id)), ...fresh.map(({ personId }) => personId)]
      setFrozen({ key, ids })
    }
  }
  return ids.flatMap((id) => byId.get(id) ?? [])
}

const hasValue = (cell: string, value: string) =>
  value === ''
    ? cell === ''
    : foldText(cell) === foldText(value) || tagsOf(cell).some((tag) => foldText(tag) === foldText(value))

function inOrder({ field, descending }: Sort, groupOf: ReadonlyMap<string, ReadonlyMap<string, string>>) {
  const byName = nameOrder(navigator.language)
  return (a: Student, b: Student) => {
    const [one, two] = [shownText(a, field, groupOf), shownText(b, field, groupOf)]
    // Empty cells stand at the end, whichever way it is sorted.
    if (!one !== !two) return one ? -1 : 1
    const order = field === 'last' ? byName(a, b) : collator.compare(one, two) || byName(a, b)
    return descending ? -order : order
  }
}
