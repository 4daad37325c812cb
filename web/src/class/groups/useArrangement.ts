import { type Arrangement, moved } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { api, sentenceOf } from '../../ui/api'
import { useInLine } from '../../ui/useInLine'
import { type GroupSet, groupsKey } from '../queries'
import { whileWriting } from '../whileWriting'
import type { Bodies } from '../../contract'

const UNDO_STEPS = 50

/** The arrangement of a set without the rest of it. */
export const arrangementOf = ({ groups, locked, pairs }: GroupSet): Arrangement => ({ groups, locked, pairs })

/** How a set was divided, with as many places as there are now: how many may sign up is not one of the steps. */
const withPlacesOf = (earlier: Arrangement, now: Arrangement): Arrangement => {
  const present = new Map(now.groups.map((group) => [group.id, group]))
  return {
    ...earlier,
    groups: earlier.groups.map((group) => ({ ...group, places: (present.get(group.id) ?? group).places })),
  }
}

/** Changes how a set is divided: shown at once, kept by the server, taken back step by step. */
export function useArrangement(classId: string, set: GroupSet) {
  const client = useQueryClient()
  const key = groupsKey(classId)
  const done = useRef<Arrangement[]>([])
  const undone = useRef<Arrangement[]>([])
  const [steps, setSteps] = useState({ undo: 0, redo: 0 })
  const [problem, setProblem] = useState<string | null>(null)
  // One after the other: each with the version the one before it made, and an undo after what it takes back.
  const inLine = useInLine()

  const current = () => client.getQueryData<GroupSet[]>(key)?.find(({ id }) => id === set.id) ?? set
  const show = (next: Partial<GroupSet>) =>
    client.setQueryData<GroupSet[]>(key, (sets) =>
      sets?.map((found) => (found.id === set.id ? { ...found, ...next } : found)),
    )

  const write = async (
    next: Arrangement,
    send: (version: number) => Promise<{ version: number }>,
  ): Promise<boolean> => {
    const before = current()
    setProblem(null)
    return whileWriting(client, key, async () => {
      show(next)
      try {
        const { version } = await send(before.version)
        // What was read meanwhile may be from before this change; the next one must not begin from it.
        await client.cancelQueries({ queryKey: key })
        show({ ...next, version })
        return true
      } catch (error) {
        show(arrangementOf(before))
        setProblem(sentenceOf(error))
        await client.invalidateQueries({ queryKey: key })
        return false
      }
    })
  }
  const put = (next: Arrangement) =>
    write(next, (version) =>
      api.put(`group-sets/${set.id}/arrangement`, {
        version,
        ...next,
      } satisfies Bodies['PUT group-sets/{setId}/arrangement']),
    )
  const differ = async (next: GroupSet['different'], send: () => Promise<unknown>) => {
    const { different } = current()
    show({ different: next })
    try {
      await send()
    } catch (error) {
      show({ different })
      setProblem(sentenceOf(error))
    }
  }
  const remember = (before: Arrangement) => {
    done.current = [...done.current, before].slice(-UNDO_STEPS)
    undone.current = []
    setSteps({ undo: done.current.length, redo: 0 })
  }
  const step = (from: typeof done, to: typeof done) =>
    inLine(async () => {
      const next = from.current.at(-1)
      if (!next) return
      const before = arrangementOf(current())
      if (!(await put(withPlacesOf(next, before)))) return
      from.current = from.current.slice(0, -1)
      to.current = [...to.current, before]
      setSteps({ undo: done.current.length, redo: undone.current.length })
    })
  return {
    arrange: (next: Arrangement) =>
      inLine(async () => {
        const before = arrangementOf(current())
        const kept = await put(next)
        if (kept) remember(before)
        return kept
      }),
    move: (personIds: readonly string[], groupId: string | null) =>
      inLine(async () => {
        const before = arrangementOf(current())
        const kept = await write(moved(before, personIds, groupId), () =>
          api.post(`group-sets/${set.id}/moves`, {
            personIds,
            groupId,
          } satisfies Bodies['POST group-sets/{setId}/moves']),
        )
        if (kept) remember(before)
      }),
    /** Shows another column beside the names. */
    showColumn: (columnId: string) =>
      inLine(async () => {
        const { name, signUp } = current()
        try {
          await api.put(`group-sets/${set.id}`, {
            name,
            balanceColumn: columnId,
            signUp,
          } satisfies Bodies['PUT group-sets/{setId}'])
          show({ balanceColumn: columnId })
        } catch (error) {
          setProblem(sentenceOf(error))
        }
      }),
    /** Two groups whose names look alike are two. */
    tellApart: (one: string, two: string) =>
      inLine(() =>
        differ([...current().different, [one, two].sort() as [string, string]], () =>
          api.post(`group-sets/${set.id}/different`, {
            one,
            two,
          } satisfies Bodies['POST group-sets/{setId}/different']),
        ),
      ),
    /** Asks again about all names that look alike. */
    askAgain: () => inLine(() => differ([], () => api.delete(`group-sets/${set.id}/different`))),
    undo: () => step(done, undone),
    redo: () => step(undone, done),
    steps,
    problem,
  }
}
