import {
  type AnswerSpace,
  type CameIn,
  type LikePair,
  type LikeText,
  type TextThen,
  type WorksheetContent,
  Replay,
  answerSpaces,
  baseAddress,
  cameIn,
  contentWords,
  gathered,
  likeness,
  newAnswerDoc,
  readAnswer,
} from '@gavrin/core'
import { applyWithin } from '../kept/docLoader.js'

/** What a thread is told of copies to be compared. */
export interface LikenessJob {
  /** By worksheet and edition. */
  readonly contents: readonly { readonly key: string; readonly content: WorksheetContent }[]
  readonly copies: readonly {
    readonly copyId: string
    readonly key: string
    readonly people: readonly string[]
    /** Of the handout that is looked at, and not of another. */
    readonly isOwn: boolean
  }[]
  /** What is kept of their answers, in order. */
  readonly pieces: readonly { readonly copyId: string; readonly space: string; readonly bytes: Uint8Array }[]
  readonly beside: readonly { readonly name: string; readonly text: string }[]
}

/** What it answers. */
export interface LikenessFound {
  readonly pairs: readonly LikePair[]
  /** What is written in the answers of which something is told. */
  readonly texts: readonly LikeText[]
  /** Copies in which an answer takes too long to be read. */
  readonly unread: readonly string[]
}

/** What it costs to read an answer: one that costs more is left out, and said. */
const BORNE = { bytes: 1_000_000, steps: 60_000 }
/** Letters of a text that is put beside, and of an answer. */
export const TEXT_LIMIT = 200_000

/** Which copies are alike. Runs in a thread of its own. */
export function likenessOf({ contents, copies, pieces, beside }: LikenessJob): LikenessFound {
  const spaces = new Map(
    contents.map(({ key, content }) => [key, new Map(answerSpaces(content).map((space) => [space.id, space]))]),
  )
  const ofCopy = gathered(pieces, ({ copyId }) => copyId)
  const unread: string[] = []
  const own: LikeText[] = []
  const others: LikeText[] = []
  for (const { copyId, key, people, isOwn } of copies) {
    const known = spaces.get(key)!
    const parts: { space: string; text: string }[] = []
    for (const [space, kept] of gathered(ofCopy.get(copyId) ?? [], (piece) => piece.space)) {
      const asked = known.get(baseAddress(space).base)
      if (!asked) continue
      const text = textOf(
        asked,
        kept.map(({ bytes }) => bytes),
      )
      if (text === null) unread.push(copyId)
      else if (text) parts.push({ space, text })
    }
    ;(isOwn ? own : others).push({ id: copyId, people, parts })
  }
  const put = beside.map(({ text }, at): LikeText => ({
    id: `beside ${at}`,
    people: [],
    parts: [{ space: '', text: text.slice(0, TEXT_LIMIT) }],
  }))
  const pairs = likeness({ own, others, beside: put, given: contents.map(({ content }) => contentWords(content)) })
  const told = gathered(
    pairs.flatMap(({ a, b, runs }) =>
      runs.flatMap((run) => [
        { id: a, space: run.a.space },
        { id: b, space: run.b.space },
      ]),
    ),
    ({ id }) => id,
    ({ space }) => space,
  )
  return {
    pairs,
    texts: [...own, ...others, ...put].flatMap((text) => {
      const shown = told.get(text.id)
      return shown ? [{ ...text, people: [], parts: text.parts.filter(({ space }) => shown.includes(space)) }] : []
    }),
    unread: [...new Set(unread)],
  }
}

/** What is written in an answer; '' where it is no text, null where it takes too long. */
function textOf(space: AnswerSpace, updates: readonly Uint8Array[]): string | null {
  const doc = newAnswerDoc(space.kind)
  const isRead = applyWithin(doc, space.kind, updates, BORNE)
  const value = isRead ? readAnswer(space, doc) : null
  doc.destroy()
  if (value === null) return null
  return 'text' in value ? value.text.slice(0, TEXT_LIMIT) : ''
}

/** What a thread is told of words that came into an answer. */
export interface CameInJob {
  readonly space: AnswerSpace
  readonly log: readonly { readonly at: number; readonly personId: string; readonly bytes: Uint8Array }[]
  readonly runs: readonly string[]
}

/** Changes of an answer that are gone through. */
export const LOG_LIMIT = 20_000
/** States of it that are looked at: between them it is said of when the words came, no finer. */
const STATES = 2_000

/** How runs of words came into an answer. Runs in a thread of its own. */
export function howTheyCame({ space, log, runs }: CameInJob): (CameIn | null)[] {
  const replay = new Replay(
    space.kind,
    log.map(({ bytes }) => bytes),
  )
  const states: TextThen[] = []
  let last = ''
  const stride = Math.ceil(log.length / STATES)
  for (let count = stride; count < log.length + stride; count += stride) {
    const value = readAnswer(space, replay.after(count))
    const text = 'text' in value ? value.text.slice(0, TEXT_LIMIT) : ''
    if (text === last) continue
    last = text
    const { at, personId } = log[Math.min(count, log.length) - 1]!
    states.push({ at, personId, text })
  }
  return runs.map((run) => cameIn(states, run))
}
