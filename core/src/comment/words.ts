import * as Y from 'yjs'
import { openRoot } from '../live/space.js'
import type { AnswerKind } from '../worksheet/content.js'
import { type Anchor, type Stretch, findWords, wordsAt } from './anchor.js'

type AtWords = Extract<Anchor, { is: 'words' }>

/** A run of letters of an answer: a line has one, a passage one for each stretch of a paragraph. */
interface Piece {
  readonly type: Y.Text
  readonly text: string
  /** Where it begins in the letters of the answer. */
  readonly at: number
}

/** The runs of letters of an answer, in the order in which they are read. None where nothing is written in letters. */
function piecesOf(kind: AnswerKind, doc: Y.Doc): readonly Piece[] {
  const pieces: Piece[] = []
  let at = 0
  const add = (type: Y.Text) => {
    const text = (type.toDelta() as { insert?: unknown }[])
      .map(({ insert }) => (typeof insert === 'string' ? insert : ''))
      .join('')
    pieces.push({ type, text, at })
    at += text.length
  }
  const walk = (parent: Y.XmlFragment) => {
    for (const node of parent.toArray()) {
      if (node instanceof Y.XmlText) add(node)
      else if (node instanceof Y.XmlElement) walk(node)
    }
  }
  const root = openRoot(doc, kind)
  if (root instanceof Y.XmlFragment) walk(root)
  else if (root instanceof Y.Text) add(root)
  return pieces
}

/** The letters of an answer, without what parts its paragraphs: what the offsets of its words count. */
export const lettersOf = (kind: AnswerKind, doc: Y.Doc): string =>
  piecesOf(kind, doc)
    .map(({ text }) => text)
    .join('')

const toBase64 = (bytes: Uint8Array) => btoa(String.fromCharCode(...bytes))
const fromBase64 = (text: string) => Uint8Array.from(atob(text), (sign) => sign.charCodeAt(0))

/**
 * What a comment on words of an answer is about; null: there are too many of them, or nothing but spaces.
 * @param from where the words begin in the letters of the answer, in UTF-16 units
 * @param to where they end
 */
export function anchorAtWords(
  { space, kind }: { readonly space: string; readonly kind: AnswerKind },
  doc: Y.Doc,
  { from, to }: Stretch,
): AtWords | null {
  const pieces = piecesOf(kind, doc)
  const around = wordsAt(pieces.map(({ text }) => text).join(''), from, to)
  const first = pieces.find(({ at, text }) => from >= at && from < at + text.length)
  const last = pieces.find(({ at, text }) => to > at && to <= at + text.length)
  if (!around || !first || !last) return null
  // The start keeps to the letter after it, the end to the one before: what is written beside the words is not of them.
  const position = (type: Y.Text, index: number, side: number) =>
    toBase64(Y.encodeRelativePosition(Y.createRelativePositionFromTypeIndex(type, index, side)))
  return {
    is: 'words',
    space,
    from: position(first.type, from - first.at, 0),
    to: position(last.type, to - last.at, -1),
    ...around,
  }
}

/** How long a run of letters must be alike to count as the same words. */
const ALIKE = 3

/** Whether two texts share a run of letters. */
function shareLetters(one: string, other: string): boolean {
  const length = Math.min(ALIKE, other.length)
  for (let at = 0; at + length <= other.length; at++) if (one.includes(other.slice(at, at + length))) return true
  return false
}

/** Where a relative position is in the letters of an answer; null: nowhere. It may come from anybody. */
function offsetOf(position: string, pieces: readonly Piece[], doc: Y.Doc): number | null {
  try {
    const found = Y.createAbsolutePositionFromRelativePosition(Y.decodeRelativePosition(fromBase64(position)), doc)
    const piece = found && pieces.find(({ type }) => type === found.type)
    return piece ? piece.at + Math.min(found.index, piece.text.length) : null
  } catch {
    return null
  }
}

/**
 * Where the words of a comment stand now in the letters of an answer: where their positions lead, as long as something of them is
 * left there; else where the same words are found, nearest to it; null: they are gone.
 */
export function wordsNow(anchor: AtWords, kind: AnswerKind, doc: Y.Doc): Stretch | null {
  const pieces = piecesOf(kind, doc)
  const letters = pieces.map(({ text }) => text).join('')
  const from = offsetOf(anchor.from, pieces, doc)
  const to = offsetOf(anchor.to, pieces, doc)
  if (from !== null && to !== null && from < to && shareLetters(letters.slice(from, to), anchor.words))
    return { from, to }
  return findWords(letters, anchor, from ?? to ?? 0)
}
