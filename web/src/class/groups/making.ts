import {
  type Arrangement,
  type Group,
  type GroupDraft,
  type Outcome,
  fullName,
  groupNames,
  groupsOfSize,
} from '@gavrin/core'
import { makeInWorker } from '../../workers/makeInWorker'
import type { Student } from '../queries'

/** How groups are to be made by the program. */
export interface Making {
  readonly by: 'size' | 'number'
  readonly amount: number
  /** Ids of the columns to spread evenly; none: at random. */
  readonly balance: readonly string[]
}

export const howMany = ({ by, amount }: Making, people: number): number =>
  by === 'number' ? amount : groupsOfSize(people, amount)

export const draftsAsGroups = (drafts: readonly GroupDraft[]): Group[] =>
  drafts.map(({ name, personIds }) => ({ id: crypto.randomUUID(), name, places: null, personIds }))

/** Makes groups out of the whole class: names, kept places and pairs of the arrangement stay. */
export async function makeArrangement(
  students: readonly Student[],
  { groups, locked, pairs }: Arrangement,
  making: Making,
): Promise<Outcome<Arrangement>> {
  const count = howMany(making, students.length)
  // Groups in which somebody is kept stay; then as many of the others as are wanted, and new ones for the rest.
  const holds = (group: Group) => group.personIds.some((id) => locked.includes(id))
  const staying = [...groups.filter(holds), ...groups.filter((group) => !holds(group))].slice(
    0,
    Math.max(count, groups.filter(holds).length),
  )
  const ordered = groups.filter((group) => staying.includes(group))
  const names = groupNames(
    Math.max(0, count - ordered.length),
    ordered.map(({ name }) => name),
  )
  const frames: Group[] = [
    ...ordered,
    ...names.map((name) => ({ id: crypto.randomUUID(), name, places: null, personIds: [] })),
  ]
  const outcome = await makeInWorker({
    people: students.map((student) => ({
      id: student.personId,
      name: fullName(student),
      values: making.balance.map((column) => student.cells[column] ?? ''),
    })),
    groups: frames.length,
    pairs,
    locked: new Map(
      frames.flatMap(({ personIds }, at) =>
        personIds.filter((id) => locked.includes(id)).map((id) => [id, at] as const),
      ),
    ),
    seed: crypto.getRandomValues(new Uint32Array(1))[0]!,
  })
  if (!outcome.ok) return outcome
  return {
    ok: true,
    value: {
      groups: frames.map((group, at) => ({ ...group, personIds: outcome.value.groups[at]! })),
      locked,
      pairs,
    },
  }
}
