import { wordsOf } from './words.js'

/** An answer after one of its changes. */
export interface TextThen {
  /** Milliseconds since 1970. */
  readonly at: number
  readonly personId: string
  /** The whole of the answer. */
  readonly text: string
}

/** How some words came into an answer. */
export interface CameIn {
  /** When the first and the last of them came, in milliseconds since 1970. */
  readonly began: number
  readonly ended: number
  /** Who wrote most of what came meanwhile. */
  readonly personId: string
  /** Changes in which letters came, from the first to the last. */
  readonly changes: number
  /** The most letters that came in one change, at once. */
  readonly largest: number
  /** Most of it was not there before one change, and all there after: brought in, not typed. */
  readonly inOnePiece: boolean
}

/** Of the words of a run, the share that is there when it has begun, and when it is complete. */
const BEGUN = 0.15
const COMPLETE = 0.9
/** Letters that nobody types between two changes. */
const PIECE = 40

/**
 * How a run of words came into an answer, from what the answer was after each change; null: it never was in it.
 * @param states in order
 */
export function cameIn(states: readonly TextThen[], run: string): CameIn | null {
  const wanted = wordsOf(run).map(({ form }) => form)
  if (wanted.length === 0) return null
  const shares = states.map(({ text }) => shareThere(text, wanted))
  const done = shares.findIndex((share) => share >= COMPLETE)
  if (done < 0) return null
  // From the last moment on at which next to nothing of it was there.
  let begun = done
  while (begun > 0 && shares[begun - 1]! >= BEGUN) begun--
  const lengthBefore = (at: number) => (at === 0 ? 0 : states[at - 1]!.text.length)
  const grown = new Map<string, number>()
  let changes = 0
  let largest = 0
  let leap = 0
  for (let at = begun; at <= done; at++) {
    const { text, personId } = states[at]!
    const letters = text.length - lengthBefore(at)
    if (letters > 0) {
      changes++
      largest = Math.max(largest, letters)
      grown.set(personId, (grown.get(personId) ?? 0) + letters)
    }
    leap = Math.max(leap, shares[at]! - (at === 0 ? 0 : shares[at - 1]!))
  }
  const [most] = [...grown].toSorted((one, other) => other[1] - one[1])
  return {
    began: states[begun]!.at,
    ended: states[done]!.at,
    personId: most?.[0] ?? states[done]!.personId,
    changes,
    largest,
    inOnePiece: leap >= 0.6 && largest >= Math.min(PIECE, run.length * 0.6),
  }
}

/** The share of words, in their order, that stand in a text: the longest stretch of them from any place in it. */
function shareThere(text: string, wanted: readonly string[]): number {
  const there = wordsOf(text).map(({ form }) => form)
  const places = new Map<string, number[]>()
  for (const [at, form] of there.entries()) {
    const own = places.get(form)
    if (own) own.push(at)
    else places.set(form, [at])
  }
  // On which diagonal most of them lie: the same run a word on is on the same one.
  const diagonals = new Map<number, number>()
  let most = 0
  for (const [at, form] of wanted.entries())
    for (const place of places.get(form) ?? []) {
      const count = (diagonals.get(place - at) ?? 0) + 1
      diagonals.set(place - at, count)
      most = Math.max(most, count)
    }
  return most / wanted.length
}
