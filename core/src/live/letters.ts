import * as Y from 'yjs'
import type { AnswerKind } from '../worksheet/content.js'
import { openRoot } from './space.js'

/** A run of letters of an answer: a line has one, a passage one for each stretch of a paragraph. */
interface Piece {
  readonly type: Y.Text
  readonly text: string
  /** Where it begins in the letters of the answer. */
  readonly at: number
}

/** The letters of an answer, without what parts its paragraphs, and the runs that they stand in. */
export interface Letters {
  readonly text: string
  readonly pieces: readonly Piece[]
  readonly doc: Y.Doc
}

/** The letters of an answer, in the order in which they are read: what the offsets of its words count. None in a choice or a drawing. */
export function lettersOf(kind: AnswerKind, doc: Y.Doc): Letters {
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
  return { text: pieces.map(({ text }) => text).join(''), pieces, doc }
}

const toBase64 = (bytes: Uint8Array) => btoa(String.fromCharCode(...bytes))
const fromBase64 = (text: string) => Uint8Array.from(atob(text), (sign) => sign.charCodeAt(0))

/**
 * A place between the letters of an answer that stays where it is while they are edited: a relative position of Yjs, in Base64;
 * null: there is no such place.
 * @param keepsTo the letter that it keeps to: what is written there comes on the other side of it
 */
export function positionAt({ pieces }: Letters, offset: number, keepsTo: 'before' | 'after'): string | null {
  const piece = pieces.find(({ at, text }) =>
    keepsTo === 'after' ? offset >= at && offset < at + text.length : offset > at && offset <= at + text.length,
  )
  if (!piece) return null
  const side = keepsTo === 'after' ? 0 : -1
  return toBase64(Y.encodeRelativePosition(Y.createRelativePositionFromTypeIndex(piece.type, offset - piece.at, side)))
}

/** Where such a place is now in the letters of an answer; null: nowhere. It may come from anybody. */
export function offsetAt({ pieces, doc }: Letters, position: string): number | null {
  try {
    const found = Y.createAbsolutePositionFromRelativePosition(Y.decodeRelativePosition(fromBase64(position)), doc)
    const piece = found && pieces.find(({ type }) => type === found.type)
    return piece ? piece.at + Math.min(found.index, piece.text.length) : null
  } catch {
    return null
  }
}

const POSITION = /^[A-Za-z0-9+/]{1,400}={0,2}$/

/** Whether something reads as such a place; whether it leads anywhere is told by {@link offsetAt}. */
export const isPosition = (value: unknown): value is string => typeof value === 'string' && POSITION.test(value)
