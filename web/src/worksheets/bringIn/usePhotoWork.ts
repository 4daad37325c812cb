import { type PhotoPage, PHOTO_LIMITS } from '@gavrin/core'
import { useCallback, useEffect, useReducer, useRef, useState } from 'react'
import { newId } from '../../editor/document'
import { ApiError, api, sentenceOf } from '../../ui/api'
import { PictureProblem, openPicture } from '../../workers/pages'
import { PhotoFiles } from './photoFiles'
import type { Answers } from '../../contract'

/** How long changes are gathered before they are kept, in milliseconds, and how soon a keeping that failed is tried again. */
const GATHER = 400
const AGAIN = 3_000
const STEPS = 60

type Kept = Answers['GET bring-in/{bringInId}/work']

export const newPage = (picture: string | null, { width, height }: { width: number; height: number }): PhotoPage => ({
  key: newId(),
  picture,
  width,
  height,
  corners: null,
  found: false,
  even: true,
  turn: 0,
  step: 'corners',
  cut: null,
  way: 'text',
  blocks: null,
  figures: [],
  places: [],
})

export type Change = (key: string, part: Partial<PhotoPage>, deed?: string | null) => void

/** The work on the photographs of an upload. It lies with the upload from the first change on, and every deed can be taken back. */
export function usePhotoWork(uploadId: string) {
  const [files] = useState(() => new PhotoFiles(uploadId))
  const [pages, show] = useState<readonly PhotoPage[] | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [state, setState] = useState<'saved' | 'saving' | 'away' | 'elsewhere'>('saved')
  const [adding, setAdding] = useState(0)
  const [, redraw] = useReducer((count: number) => count + 1, 0)
  const now = useRef<readonly PhotoPage[]>([])
  const kept = useRef({ version: 0, pages: now.current })
  const steps = useRef<{ deed: string | null; before: readonly PhotoPage[] }[]>([])
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined)
  const sending = useRef(false)
  const isGone = useRef(false)

  const send = useCallback(
    async (atLeaving = false): Promise<void> => {
      clearTimeout(timer.current)
      if (sending.current) return
      // Taken back to what is kept, there is nothing to keep.
      if (now.current === kept.current.pages) return setState((before) => (before === 'elsewhere' ? before : 'saved'))
      sending.current = true
      const sent = now.current
      try {
        const body = { version: kept.current.version, work: { pages: sent } }
        const path = `bring-in/${uploadId}/work`
        const { version } = await (atLeaving
          ? api.putThrough<Answers['PUT bring-in/{bringInId}/work']>(path, body)
          : api.put<Answers['PUT bring-in/{bringInId}/work']>(path, body))
        kept.current = { version, pages: sent }
        setState('saved')
      } catch (error) {
        if (error instanceof ApiError && error.code === 'changed-elsewhere') return setState('elsewhere')
        setState('away')
        // What is refused for good is said; what may only be late is tried again.
        if (error instanceof ApiError && error.status >= 400 && error.status < 500) setProblem(error.message)
        else if (!isGone.current) timer.current = setTimeout(() => void send(), AGAIN)
        return
      } finally {
        sending.current = false
      }
      if (now.current !== sent) void send()
    },
    [uploadId],
  )

  const put = useCallback(
    (next: readonly PhotoPage[], deed: string | null = null, isStep = true) => {
      const last = steps.current.at(-1)
      // Letters of one paragraph, and the way of one corner, are taken back at once.
      if (isStep && !(deed && last?.deed === deed)) {
        steps.current.push({ deed, before: now.current })
        if (steps.current.length > STEPS) steps.current.shift()
      }
      now.current = next
      show(next)
      setState((before) => (before === 'elsewhere' ? before : 'saving'))
      clearTimeout(timer.current)
      timer.current = setTimeout(() => void send(), GATHER)
    },
    [send],
  )

  const load = useCallback(async () => {
    const { version, work } = await api.get<Kept>(`bring-in/${uploadId}/work`)
    let next = work?.pages ?? []
    if (next.length === 0) {
      const picture = await openPicture(await files.picture(null))
      next = [newPage(null, picture)]
      picture.close()
    }
    now.current = next
    kept.current = { version, pages: next }
    steps.current = []
    show(next)
    setState('saved')
  }, [uploadId, files])

  useEffect(() => {
    isGone.current = false
    load().catch((error: unknown) => setProblem(wordsOf(error)))
    const leave = () => document.visibilityState === 'hidden' && void send(true)
    document.addEventListener('visibilitychange', leave)
    window.addEventListener('pagehide', leave)
    return () => {
      document.removeEventListener('visibilitychange', leave)
      window.removeEventListener('pagehide', leave)
      isGone.current = true
      void send(true)
      files.close()
    }
  }, [load, send, files])

  const isUnsaved = state === 'away'
  useEffect(() => {
    if (!isUnsaved) return
    const ask = (event: BeforeUnloadEvent) => event.preventDefault()
    window.addEventListener('beforeunload', ask)
    return () => window.removeEventListener('beforeunload', ask)
  }, [isUnsaved])

  const change: Change = (key, part, deed) =>
    put(
      now.current.map((page) => (page.key === key ? { ...page, ...part } : page)),
      deed ?? null,
      // What is found by itself is no deed of anybody's.
      deed !== null,
    )

  const add = async (chosen: readonly Blob[]) => {
    setProblem(null)
    for (const [at, file] of chosen.entries()) {
      setAdding(chosen.length - at)
      try {
        if (now.current.length >= PHOTO_LIMITS.pages)
          throw new PictureProblem(`One worksheet is made of up to ${PHOTO_LIMITS.pages} photographs.`)
        const picture = await openPicture(file)
        const { id } = await api.post<Answers['POST bring-in/{bringInId}/photos']>(
          `bring-in/${uploadId}/photos`,
          new Uint8Array(await file.arrayBuffer()),
        )
        put([...now.current, newPage(id, picture)])
        picture.close()
      } catch (error) {
        setProblem(wordsOf(error))
      }
    }
    setAdding(0)
  }

  return {
    files,
    pages,
    problem,
    state,
    adding,
    change,
    add,
    takeOut: (key: string) => put(now.current.filter((page) => page.key !== key)),
    canUndo: steps.current.length > 0,
    undo: () => {
      const last = steps.current.pop()
      if (last) put(last.before, null, false)
      redraw()
    },
    readAnew: () => load().catch((error: unknown) => setProblem(wordsOf(error))),
  }
}

const wordsOf = (error: unknown) => (error instanceof PictureProblem ? error.message : sentenceOf(error))
