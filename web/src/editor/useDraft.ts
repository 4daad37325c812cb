import { type DraftState as Draft, contentWords, isSame, mergeDrafts } from '@gavrin/core'
import { useCallback, useEffect, useRef, useState } from 'react'
import { ApiError, api, sentenceOf } from '../ui/api'
import type { WorksheetOpened } from '../worksheets/queries'
import { type DraftKeeping, browserDrafts } from './unkept'
import type { Answers, Bodies } from '../contract'

/** Whether what stands on the page is kept on the server as the draft. */
export type DraftState =
  | { readonly is: 'kept'; readonly at: number }
  | { readonly is: 'changed' }
  | { readonly is: 'keeping' }
  | { readonly is: 'not kept'; readonly sentence: string; readonly stale: boolean }

export interface DraftEnds {
  /** The draft as it stands on the page now. */
  readonly read: () => Draft
  /** Shows a draft that somebody else changed too; `both`: blocks that both changed. */
  readonly show: (draft: Draft, both: readonly string[]) => void
}

/** What an earlier window of this browser had not brought to the server. */
export interface TakenUp {
  /** Some of it is in the worksheet again. */
  readonly isNew: boolean
  /** What it says in blocks that were changed otherwise since, so that it is not in the worksheet. */
  readonly words: readonly string[]
}

const wordsOf = ({ content }: Draft, blockId: string): string => {
  const block = content.blocks.find(({ id }) => id === blockId)
  return block ? contentWords({ ...content, source: '', blocks: [block] }).trim() : ''
}

const GATHER = 700
const AGAIN = 4_000
/** What is typed is kept in the browser this soon, until the server has it. */
const HERE = 150
/** Two authors keep their drafts in turns; more turns than this and something is wrong. */
const TURNS = 8

/**
 * Keeps the draft of a worksheet by itself, one request after the other, and says truly whether it is kept. What another
 * author kept meanwhile is put together with it, block by block. What the server does not have yet is kept in the browser, and
 * taken up when the worksheet is opened there again.
 * @param personId who writes
 */
export function useDraft(
  worksheet: WorksheetOpened,
  personId: string,
  ends: DraftEnds,
  here: DraftKeeping = browserDrafts,
) {
  const { id } = worksheet
  const [state, setState] = useState<DraftState>({ is: 'kept', at: worksheet.updatedAt })
  const [version, setVersion] = useState(worksheet.version)
  const endsNow = useRef(ends)
  useEffect(() => {
    endsNow.current = ends
  })
  const base = useRef<Draft>({ title: worksheet.title, content: worksheet.draft })
  const versionNow = useRef(worksheet.version)
  /** What was sent without an answer: the server may have one of them. */
  const sent = useRef<readonly Draft[]>([])
  const isDirty = useRef(false)
  const line = useRef<Promise<unknown>>(Promise.resolve())
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)
  const isFailing = useRef(false)
  const [takenUp, setTakenUp] = useState<TakenUp | null>(null)
  const [prefix] = useState(`${personId}/${id}/`)
  const [ownKey] = useState(() => prefix + crypto.randomUUID())
  const hereTimer = useRef<ReturnType<typeof setTimeout> | null>(null)
  /** What in the browser is in the draft as it stands here, so that it goes when that is kept. */
  const keysHere = useRef<readonly string[]>([ownKey])
  /** What in the browser holds words that are shown, and go when they are read. */
  const unreadKeys = useRef<readonly string[]>([])
  const flushNow = useRef<() => Promise<number | null>>(() => Promise.resolve(null))

  const keepHere = useCallback(() => {
    if (hereTimer.current) clearTimeout(hereTimer.current)
    hereTimer.current = null
    void here.keep({ key: ownKey, base: base.current, draft: endsNow.current.read() })
  }, [here, ownKey])
  const dropHere = useCallback(() => {
    if (hereTimer.current) clearTimeout(hereTimer.current)
    hereTimer.current = null
    void here.drop(keysHere.current)
    keysHere.current = [ownKey]
  }, [here, ownKey])

  /** Reads what the others kept, and puts it together with what stands here. */
  const takeIn = useCallback(async () => {
    const theirs = await api.get<WorksheetOpened>(`worksheets/${id}`)
    if (theirs.version <= versionNow.current) return
    const mine = endsNow.current.read()
    const other: Draft = { title: theirs.title, content: theirs.draft }
    // What came through though its answer was lost is nobody else's.
    if (sent.current.some((one) => isSame(one, other))) base.current = other
    sent.current = []
    const { both, ...merged } = mergeDrafts(base.current, mine, other)
    // That both changed a block is said, though mine stands there already.
    if (both.length > 0 || !isSame(merged, mine)) endsNow.current.show(merged, both)
    base.current = other
    versionNow.current = theirs.version
    setVersion(theirs.version)
    isDirty.current = !isSame(merged, other)
    if (!isDirty.current) {
      setState({ is: 'kept', at: theirs.updatedAt })
      dropHere()
    }
  }, [id, dropHere])

  const keep = useCallback(async (): Promise<number | null> => {
    for (let turn = 0; isDirty.current && turn < TURNS; turn++) {
      setState({ is: 'keeping' })
      isDirty.current = false
      const draft = endsNow.current.read()
      try {
        const kept = await api.putThrough<Answers['PUT worksheets/{worksheetId}/draft']>(`worksheets/${id}/draft`, {
          ...draft,
          version: versionNow.current,
        } satisfies Bodies['PUT worksheets/{worksheetId}/draft'])
        base.current = draft
        sent.current = []
        isFailing.current = false
        versionNow.current = kept.version
        setVersion(kept.version)
        if (!isDirty.current) {
          setState({ is: 'kept', at: kept.updatedAt })
          dropHere()
        }
      } catch (error) {
        isDirty.current = true
        const stale = error instanceof ApiError && error.code === 'changed-meanwhile'
        if (!stale) sent.current = [...sent.current, draft].slice(-TURNS)
        try {
          if (stale) {
            await takeIn()
            continue
          }
        } catch {
          // Said below, as what was not kept.
        }
        isFailing.current = true
        setState({ is: 'not kept', sentence: sentenceOf(error), stale })
        const passing = error instanceof ApiError && (error.status === 0 || error.status >= 500)
        if (passing) timer.current = setTimeout(() => void flushNow.current(), AGAIN)
        return null
      }
    }
    return isDirty.current ? null : versionNow.current
  }, [id, takeIn, dropHere])

  /** Keeps what is not kept yet; the version that is kept then, or null if it could not be. */
  const flush = useCallback((): Promise<number | null> => {
    if (timer.current) clearTimeout(timer.current)
    const mine = line.current.then(keep)
    line.current = mine.catch(() => undefined)
    return mine
  }, [keep])
  useEffect(() => {
    flushNow.current = flush
  }, [flush])

  /** Something on the page was changed. */
  const change = useCallback(() => {
    isDirty.current = true
    setState((before) => (before.is === 'changed' ? before : { is: 'changed' }))
    if (timer.current) clearTimeout(timer.current)
    timer.current = setTimeout(() => void flushNow.current(), GATHER)
    hereTimer.current ??= setTimeout(keepHere, HERE)
  }, [keepHere])

  /** Somebody kept a draft of this version; null: perhaps. */
  const changedElsewhere = useCallback(
    (other: number | null) => {
      if (other !== null && other <= versionNow.current) return
      line.current = line.current
        .then(async () => {
          if (other !== null && other <= versionNow.current) return
          await takeIn()
          if (isDirty.current) timer.current = setTimeout(() => void flushNow.current(), GATHER)
        })
        .catch(() => undefined)
    },
    [takeIn],
  )

  // What an earlier window of this browser could not bring to the server is put in again.
  useEffect(() => {
    let isGone = false
    const takeUp = async () => {
      const found = (await here.all(prefix)).filter(({ key }) => key !== ownKey)
      if (isGone || found.length === 0) return
      const now = endsNow.current.read()
      const words: string[] = []
      // What was kept since stands: it may be ours from the moment the window was closed. Of the rest nothing is lost unsaid.
      const merged = found.reduce<Draft>((so, { base: was, draft }) => {
        const { both, ...together } = mergeDrafts(was, so, draft, { whole: true })
        const before = new Set(was.content.blocks.map(({ id: blockId }) => blockId))
        const added = draft.content.blocks.flatMap(({ id: blockId }) => (before.has(blockId) ? [] : [blockId]))
        const there = new Set(so.content.blocks.map(({ id: blockId }) => blockId))
        for (const blockId of [...both, ...added.filter((one) => there.has(one))]) {
          const mine = wordsOf(draft, blockId)
          if (mine && !wordsOf(so, blockId).includes(mine)) words.push(mine)
        }
        return together
      }, now)
      const isNew = !isSame(merged, now)
      const keys = found.map(({ key }) => key)
      if (words.length > 0) unreadKeys.current = keys
      else keysHere.current = [ownKey, ...keys]
      if (!isNew && words.length === 0) return dropHere()
      setTakenUp({ isNew, words })
      if (!isNew) return
      endsNow.current.show(merged, [])
      change()
    }
    void takeUp()
    return () => {
      isGone = true
    }
  }, [here, prefix, ownKey, change, dropHere])

  useEffect(() => {
    const hidden = () => {
      if (document.visibilityState !== 'hidden' || !isDirty.current) return
      keepHere()
      void flushNow.current()
    }
    // Only where the server cannot be reached it is asked whether to leave: a browser may keep nothing.
    const leaving = (event: BeforeUnloadEvent) => {
      if (isDirty.current && isFailing.current) event.preventDefault()
    }
    document.addEventListener('visibilitychange', hidden)
    window.addEventListener('beforeunload', leaving)
    return () => {
      document.removeEventListener('visibilitychange', hidden)
      window.removeEventListener('beforeunload', leaving)
      void flushNow.current()
    }
  }, [keepHere])

  /** What was taken up has been read. */
  const readTakenUp = useCallback(() => {
    setTakenUp(null)
    if (isDirty.current) keysHere.current = [...keysHere.current, ...unreadKeys.current]
    else void here.drop(unreadKeys.current)
    unreadKeys.current = []
  }, [here])

  return { state, version, change, flush, changedElsewhere, takenUp, readTakenUp }
}
