import type { BoardRow } from '@gavrin/core'
import { useMemo } from 'react'
import { useClass, useGroupSets, useRoster } from '../class/queries'

/** More different values than this nobody looks through in a list. */
const VALUES = 24

/** What the roster and the groups of a class say of those who hold copies. */
export function useBoardPeople(classId: string) {
  const columns = useClass(classId).data?.columns
  const students = useRoster(classId).data
  const sets = useGroupSets(classId).data
  return useMemo(() => {
    const fields = [
      ...(sets ?? []).map(({ id, name }) => ({ field: `set ${id}`, label: name })),
      ...(columns ?? []).map(({ id, name }) => ({ field: id, label: name })),
    ]
    const byField = new Map<string, Map<string, string>>()
    for (const { id, groups } of sets ?? [])
      byField.set(
        `set ${id}`,
        new Map(groups.flatMap(({ name, personIds }) => personIds.map((personId) => [personId, name] as const))),
      )
    for (const { id } of columns ?? [])
      byField.set(id, new Map((students ?? []).map(({ personId, cells }) => [personId, cells[id] ?? ''])))
    const valueOf = (personId: string, field: string) => byField.get(field)?.get(personId) ?? ''
    const valuesOf = (rows: readonly BoardRow[]) => {
      const holders = [...new Set(rows.flatMap((row) => row.holders.map(({ personId }) => personId)))]
      return fields.flatMap(({ field, label }) => {
        const values = [...new Set(holders.map((id) => valueOf(id, field)))].toSorted((a, b) =>
          a.localeCompare(b, undefined, { numeric: true }),
        )
        return values.length > 1 && values.length <= VALUES ? [{ field, label, values }] : []
      })
    }
    return { fields, valueOf, valuesOf }
  }, [columns, students, sets])
}
