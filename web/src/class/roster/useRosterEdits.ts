import type { Problem } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useRef, useState } from 'react'
import { ApiError, api, sentenceOf } from '../../ui/api'
import { useInLine } from '../../ui/useInLine'
import { type Student, rosterKey } from '../queries'
import { whileWriting } from '../whileWriting'
import type { Bodies } from '../../contract'

/** One cell to change: a fixed field (last, first, email, number), or the id of a column. */
export interface CellEdit {
  readonly personId: string
  readonly field: string
  readonly value: string
}

/** What was typed into a cell and why it could not be kept. */
export interface CellTrouble {
  readonly typed: string
  readonly sentence: string
}

export const cellKey = (personId: string, field: string) => `${personId} ${field}`

/** What stands in a cell. */
export function cellOf(student: Student, field: string): string {
  if (field === 'last' || field === 'first') return student[field]
  if (field === 'email' || field === 'number') return student[field] ?? ''
  return student.cells[field] ?? ''
}

function withCell(student: Student, field: string, value: string): Student {
  if (field === 'last' || field === 'first') return { ...student, [field]: value }
  if (field === 'email' || field === 'number') return { ...student, [field]: value || null }
  return { ...student, cells: { ...student.cells, [field]: value } }
}

const UNDO_STEPS = 100

/**
 * Changes cells of a roster: shown at once, kept by the server, taken back step by step. What cannot be kept stays as typed at
 * its cell, with the reason.
 */
export function useRosterEdits(classId: string) {
  const client = useQueryClient()
  const [troubles, setTroubles] = useState<ReadonlyMap<string, CellTrouble>>(new Map())
  const [steps, setSteps] = useState({ undo: 0, redo: 0 })
  const undone = useRef<CellEdit[][]>([])
  const done = useRef<CellEdit[][]>([])
  const [problem, setProblem] = useState<string | null>(null)
  // One after the other, so that an undo takes back what was done just before it, also while that is still on its way.
  const inLine = useInLine()

  const write = useCallback(
    (edits: readonly CellEdit[]): Promise<CellEdit[] | null> => {
      const key = rosterKey(classId)
      return whileWriting(client, key, async () => {
        const before: CellEdit[] = []
        const change = (list: readonly CellEdit[], remember: boolean) =>
          client.setQueryData<Student[]>(key, (students) =>
            students?.map((student) =>
              list
                .filter(({ personId }) => personId === student.personId)
                .reduce((changed, { field, value }) => {
                  if (remember) before.push({ personId: student.personId, field, value: cellOf(changed, field) })
                  return withCell(changed, field, value.trim())
                }, student),
            ),
          )
        setProblem(null)
        setTroubles((now) => {
          const next = new Map(now)
          for (const { personId, field } of edits) next.delete(cellKey(personId, field))
          return next
        })
        change(edits, true)
        try {
          const kept = await api.patch<Student[]>(`classes/${classId}/roster`, {
            edits,
          } satisfies Bodies['PATCH classes/{classId}/roster'])
          const byId = new Map(kept.map((student) => [student.personId, student]))
          client.setQueryData<Student[]>(key, (students) =>
            students?.map((student) => byId.get(student.personId) ?? student),
          )
          return before
        } catch (error) {
          change(before.toReversed(), false)
          const errors =
            error instanceof ApiError ? (error.errors as readonly (Problem & { readonly personId: string })[]) : []
          setTroubles((now) => {
            const next = new Map(now)
            for (const { personId, field = '', sentence } of errors) {
              const typed = edits.findLast((edit) => edit.personId === personId && edit.field === field)
              if (typed) next.set(cellKey(personId, field), { typed: typed.value, sentence })
            }
            return next
          })
          setProblem(
            errors.length && edits.length > 1
              ? `Nothing of this change was kept: ${errors.length === 1 ? 'one cell is' : `${errors.length} cells are`} not right yet.`
              : errors.length
                ? null
                : sentenceOf(error),
          )
          return null
        }
      })
    },
    [classId, client],
  )

  const count = () => setSteps({ undo: done.current.length, redo: undone.current.length })

  const apply = (edits: readonly CellEdit[]): Promise<boolean> =>
    inLine(async () => {
      if (edits.length === 0) return true
      const before = await write(edits)
      if (!before) return false
      done.current = [...done.current, before].slice(-UNDO_STEPS)
      undone.current = []
      count()
      return true
    })
  const step = (from: typeof done, to: typeof done) =>
    inLine(async () => {
      const edits = from.current.at(-1)
      if (!edits) return
      const before = await write(edits.toReversed())
      if (!before) return
      from.current = from.current.slice(0, -1)
      to.current = [...to.current, before]
      count()
    })
  return {
    apply,
    undo: () => step(done, undone),
    redo: () => step(undone, done),
    steps,
    troubles,
    problem,
  }
}
