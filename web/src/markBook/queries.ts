import { type BookCopy, type CellValue, type MarkCell, NO_PARTS, bookCopies, markOf, memberParts } from '@gavrin/core'
import { type QueryClient, type UseQueryResult, useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { live } from '../live/connection'
import type { Answers, Bodies } from '../contract'
import { ApiError, api, sentenceOf } from '../ui/api'
import { untilReached, useLeavingAsked } from '../ui/untilReached'

type Sent = Answers['GET classes/{classId}/mark-book']
export type { CellValue } from '@gavrin/core'

export type BookRead = Omit<Sent, 'copies'> & { readonly copies: readonly BookCopy[] }

const bookKey = (classId: string): readonly string[] => ['class', classId, 'mark book']

/** How often it is read again while it is looked at, in milliseconds: states of copies are not told. */
const AGAIN = 60_000

export function useMarkBook(classId: string): UseQueryResult<BookRead> {
  const client = useQueryClient()
  useEffect(
    () =>
      live().watchClass(classId, (part, columnId) => {
        if (part === 'marks' && columnId !== undefined) void readColumn(client, classId, columnId)
        else void client.invalidateQueries({ queryKey: bookKey(classId) })
      }),
    [client, classId],
  )
  return useQuery({
    queryKey: bookKey(classId),
    queryFn: async (): Promise<BookRead> => {
      const sent = await api.get<Sent>(`classes/${classId}/mark-book`)
      return { ...sent, copies: bookCopies(sent.copies, sent.students) }
    },
    staleTime: 0,
    refetchInterval: AGAIN,
    // To compare ten thousands of copies one by one takes longer than to draw them.
    structuralSharing: false,
  })
}

type Column = Answers['GET classes/{classId}/mark-book/columns/{columnId}']

/** Reads what is told to have changed, and no more of a book that may be large. */
async function readColumn(client: QueryClient, classId: string, columnId: string): Promise<void> {
  const key = bookKey(classId)
  const before = client.getQueryData<BookRead>(key)
  const isThere = before && [...before.handouts, ...before.paper].some(({ id }) => id === columnId)
  const column = isThere
    ? await api.get<Column>(`classes/${classId}/mark-book/columns/${columnId}`).catch(() => null)
    : null
  if (!column) return client.invalidateQueries({ queryKey: key })
  const copies = bookCopies(column.copies, column.students)
  client.setQueryData<BookRead>(
    key,
    (read) =>
      read && {
        ...read,
        copies: [...read.copies.filter(({ handoutId }) => handoutId !== columnId), ...copies],
        earlier: [...read.earlier.filter(({ handoutId }) => handoutId !== columnId), ...column.earlier],
        paperMarks: [...read.paperMarks.filter((mark) => mark.columnId !== columnId), ...column.paperMarks],
      },
  )
}

/** A change of a cell, with what stood there. */
export interface CellEdit {
  readonly personId: string
  readonly columnId: string
  readonly was: CellValue
  readonly to: CellValue
  /** Of a copy that several hold: it is this student's alone, and the others keep theirs. */
  readonly alone?: boolean
}

export const valueOf = (cell: MarkCell): CellValue => ({
  total: cell.is === 'mark' ? cell.total : null,
  excused: cell.is === 'excused',
})

/** Keeps what is typed into cells: it is the mark of the copy, and no other one. */
export function useCellEdits(classId: string, read: BookRead) {
  const client = useQueryClient()
  const [problem, setProblem] = useState<string | null>(null)
  const [isAway, setAway] = useState(false)
  const [waiting, setWaiting] = useState(0)
  const [past, setPast] = useState<readonly (readonly CellEdit[])[]>([])
  const [future, setFuture] = useState<readonly (readonly CellEdit[])[]>([])
  const turn = useRef<Promise<unknown>>(Promise.resolve())
  const latest = useRef(read)
  latest.current = read
  const keep = useCallback(
    (edits: readonly CellEdit[]): Promise<boolean> => {
      client.setQueryData<BookRead>(bookKey(classId), (known) => known && withEdits(known, edits))
      setWaiting((all) => all + 1)
      const kept = turn.current.then(async () => {
        try {
          await untilReached(() => send(classId, latest.current, edits), setAway)
          return true
        } catch (error) {
          setProblem(sentenceOf(error))
          return false
        } finally {
          setWaiting((all) => all - 1)
          for (const columnId of new Set(edits.map((edit) => edit.columnId)))
            await readColumn(client, classId, columnId)
        }
      })
      turn.current = kept
      return kept
    },
    [client, classId],
  )
  useLeavingAsked(waiting > 0)
  const back = (edits: readonly CellEdit[]) => edits.map((edit) => ({ ...edit, was: edit.to, to: edit.was }))
  return {
    problem,
    isAway,
    forget: () => setProblem(null),
    edit: (edits: readonly CellEdit[]) => {
      setProblem(null)
      // At once: who takes it back before it is kept takes back this, and not what came before.
      setPast((before) => [...before.slice(-99), edits])
      setFuture([])
      void keep(edits).then((isKept) => !isKept && setPast((all) => all.filter((one) => one !== edits)))
    },
    undo: () => {
      const last = past.at(-1)
      if (!last) return
      setPast(past.slice(0, -1))
      void keep(back(last)).then((isKept) => isKept && setFuture((all) => [...all, last]))
    },
    redo: () => {
      const next = future.at(-1)
      if (!next) return
      setFuture(future.slice(0, -1))
      void keep(next).then((isKept) => isKept && setPast((all) => [...all, next]))
    },
  }
}

function withEdits(read: BookRead, edits: readonly CellEdit[]): BookRead {
  const byCell = new Map(edits.map((edit) => [`${edit.personId} ${edit.columnId}`, edit]))
  const paper = new Set(read.paper.map(({ id }) => id))
  const touched = edits.filter(({ columnId }) => paper.has(columnId))
  return {
    ...read,
    copies: read.copies.map((copy) => {
      const edit = byCell.get(`${copy.personId} ${copy.handoutId}`)
      if (!edit) return copy
      const { total, excused } = edit.to
      return { ...copy, total: total ?? copy.total, excused, isDone: total !== null || excused }
    }),
    paperMarks: [
      ...read.paperMarks.filter(({ personId, columnId }) => !byCell.has(`${personId} ${columnId}`)),
      ...touched.map(({ personId, columnId, to }) => ({ personId, columnId, ...to })),
    ],
  }
}

async function send(classId: string, read: BookRead, edits: readonly CellEdit[]): Promise<void> {
  const columns = new Map<string, CellEdit[]>()
  for (const edit of edits) columns.set(edit.columnId, [...(columns.get(edit.columnId) ?? []), edit])
  const paper = new Set(read.paper.map(({ id }) => id))
  for (const [columnId, own] of columns)
    if (paper.has(columnId))
      await api.put(`classes/${classId}/mark-book/columns/${columnId}/marks`, {
        marks: own.map(({ personId, was, to }) => ({ personId, was, to })),
      } satisfies Bodies['PUT classes/{classId}/mark-book/columns/{columnId}/marks'])
    else await sendMarks(columnId, own)
}

async function sendMarks(handoutId: string, edits: readonly CellEdit[]): Promise<void> {
  // What stands there now, in parts: the book shows only what they come to.
  const { copies, way } = await api.get<Answers['GET handouts/{handoutId}/marks']>(`handouts/${handoutId}/marks`)
  const marks = edits.map(({ personId, was, to, alone = false }) => {
    const copy = copies.find(({ holders }) => holders.some((holder) => holder.personId === personId))
    if (!copy) throw new ApiError(409, 'no-copy', 'There is no copy to mark here any more.')
    const own = copy.own[personId]
    if (own && !alone && (own.total !== null || own.excused || own.step !== null))
      throw new ApiError(
        409,
        'own-mark',
        'This student has a mark of their own in this copy: change that one, or mark it on the marking page.',
      )
    if (alone) return aloneMark(way, copy, { personId, was, to })
    const { total, excused } = copy.parts
    const stands = markOf(way, copy.spaces, copy.parts, copy.daysLate)
    const isShown = copy.isDone || excused ? stands.total : null
    // Whoever typed saw something else: it is looked at again, and not overwritten. Sent twice it is there already.
    const isThere = isShown === to.total && excused === to.excused
    if (!isThere && ((excused ? null : isShown) !== was.total || excused !== was.excused))
      throw new ApiError(409, 'changed-meanwhile', CHANGED)
    // What its parts come to without it is not typed over them.
    const sum = markOf(way, copy.spaces, { ...copy.parts, total: null }, copy.daysLate).total
    const typed = to.total === sum ? null : to.total
    return {
      copyId: copy.copyId,
      personId: null,
      changes: [
        ...(total === typed ? [] : [{ of: 'total' as const, was: total, to: typed }]),
        ...(excused === to.excused ? [] : [{ of: 'excused' as const, was: excused, to: to.excused }]),
      ],
      done: to.total !== null || to.excused,
    }
  })
  await api.put(`handouts/${handoutId}/marks`, { marks } satisfies Bodies['PUT handouts/{handoutId}/marks'])
}

type Marks = Answers['GET handouts/{handoutId}/marks']

/** A mark that is to be one holder's alone. */
function aloneMark(
  way: Marks['way'],
  copy: Marks['copies'][number],
  { personId, was, to }: CellEdit | Omit<CellEdit, 'columnId'>,
) {
  const own = copy.own[personId] ?? NO_PARTS
  const stands = markOf(way, copy.spaces, memberParts(copy.parts, own), copy.daysLate)
  const isExcused = own.excused || copy.parts.excused
  const isThere = stands.total === to.total && isExcused === to.excused
  if (!isThere && ((isExcused ? null : stands.total) !== was.total || isExcused !== was.excused))
    throw new ApiError(409, 'changed-meanwhile', CHANGED)
  // The same as the others': then it is theirs too, and nobody's alone.
  const ofAll = markOf(way, copy.spaces, copy.parts, copy.daysLate).total
  const total = to.total === ofAll ? null : to.total
  return {
    copyId: copy.copyId,
    personId,
    changes: [
      ...(own.total === total ? [] : [{ of: 'total' as const, was: own.total, to: total }]),
      ...(own.excused === to.excused ? [] : [{ of: 'excused' as const, was: own.excused, to: to.excused }]),
    ],
  }
}

const CHANGED = 'This was changed by somebody else meanwhile: look at it again.'
