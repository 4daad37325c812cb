import type * as Y from 'yjs'

/** One replacement in a text: where, how much goes, and what comes. In UTF-16 units, as Yjs counts. */
export interface TextChange {
  readonly at: number
  readonly remove: number
  readonly insert: string
}

const isLow = (text: string, index: number) => (text.charCodeAt(index) & 0xfc00) === 0xdc00

/**
 * The one replacement that makes `before` into `after`, as small as can be; null if they are the same.
 * @param caret where the caret stands in `after`: which of several equal letters was typed, it alone can tell
 */
export function changeBetween(before: string, after: string, caret: number = after.length): TextChange | null {
  if (before === after) return null
  const longestTail = Math.min(before.length, after.length, Math.max(0, after.length - caret))
  let tail = 0
  while (tail < longestTail && before[before.length - 1 - tail] === after[after.length - 1 - tail]) tail++
  const longestHead = Math.min(before.length, after.length) - tail
  let head = 0
  while (head < longestHead && before[head] === after[head]) head++
  const fullTail = Math.min(before.length, after.length) - head
  while (tail < fullTail && before[before.length - 1 - tail] === after[after.length - 1 - tail]) tail++
  // Never between the halves of one character.
  if (head > 0 && (isLow(before, head) || isLow(after, head))) head--
  if (tail > 0 && (isLow(before, before.length - tail) || isLow(after, after.length - tail))) tail--
  return { at: head, remove: before.length - tail - head, insert: after.slice(head, after.length - tail) }
}

/** Makes a shared text read `after` by the smallest change. */
export function writeText(text: Y.Text, after: string, caret?: number): void {
  const change = changeBetween(text.toJSON(), after, caret)
  if (!change || !text.doc) return
  text.doc.transact(() => {
    if (change.remove) text.delete(change.at, change.remove)
    if (change.insert) text.insert(change.at, change.insert)
  })
}

/** Where a caret stands after somebody else's change. */
export function caretAfter(
  caret: number,
  delta: readonly { retain?: number; insert?: unknown; delete?: number }[],
): number {
  let at = 0
  let moved = caret
  for (const part of delta) {
    if (part.retain !== undefined) at += part.retain
    else if (part.delete !== undefined) moved -= Math.max(0, Math.min(part.delete, moved - at))
    else {
      const length = typeof part.insert === 'string' ? part.insert.length : 1
      if (at < moved) moved += length
      at += length
    }
  }
  return moved
}
