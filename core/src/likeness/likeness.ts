import { GRAM, gramsOf, winnow } from './fingerprints.js'
import { type Word, wordsOf } from './words.js'

/** What is written in a copy, or a text that is put beside the copies. */
export interface LikeText {
  readonly id: string
  /** Whoever has a part in it: two texts of the same person, or of mates, are not compared. */
  readonly people: readonly string[]
  /** In order; nothing alike reaches from one part into the next. */
  readonly parts: readonly { readonly space: string; readonly text: string }[]
}

/** Where something alike stands, in UTF-16 units of the text of a part. */
export interface LikePlace {
  readonly space: string
  readonly from: number
  readonly to: number
}

/** The same words in a row in two texts. */
export interface LikeRun {
  readonly words: number
  readonly a: LikePlace
  readonly b: LikePlace
}

/** Two texts that share more than others do: a place to look, and no verdict. */
export interface LikePair {
  readonly a: string
  readonly b: string
  /** How many words of `a` are in `b` too, but for the print and what many have. */
  readonly words: number
  /** Of all words of each, 0 to 1. */
  readonly shareOfA: number
  readonly shareOfB: number
  /** The longest first. */
  readonly runs: readonly LikeRun[]
}

/** What is compared. */
export interface LikenessInput {
  /** Compared with each other, and with all others. */
  readonly own: readonly LikeText[]
  /** Copies of other classes and years: compared with one's own alone. */
  readonly others: readonly LikeText[]
  /** Texts that somebody puts beside them: what many have of these counts as well. */
  readonly beside: readonly LikeText[]
  /** The print of the worksheet, and what stood in its answer spaces when it was given out. */
  readonly given: readonly string[]
}

export const LIKENESS_RULES = {
  /** Words that two have to share, all together and in the longest run. */
  words: 14,
  run: 8,
  /** A run that more of the copies have than this share of them, but no fewer than `commonAtLeast`, is common to the class. */
  commonShare: 0.15,
  commonAtLeast: 5,
  commonAtMost: 12,
  /** Pairs that are told. */
  pairs: 100,
} as const

interface Read extends LikeText {
  readonly words: readonly Word[]
  readonly ids: Int32Array
  /** Of each word, its part. */
  readonly partOf: Uint16Array
  /** Of each word, whether it is given in a run of the print. */
  readonly isGiven: Uint8Array
  /** Of each word, whether it stands in a run that many of the class have. */
  readonly isCommon: Uint8Array
  readonly grams: Uint32Array
}

/**
 * Which texts share more than the print, and more than the class has in common, with what they share; those that share most
 * first, up to {@link LIKENESS_RULES}`.pairs`. Found by fingerprints ({@link winnow}), and each run made certain word by word.
 */
export function likeness({ own, others, beside, given }: LikenessInput): LikePair[] {
  const numbers = new Map<string, number>()
  const idsOf = (words: readonly Word[]) =>
    Int32Array.from(words, ({ form }) => {
      let id = numbers.get(form)
      if (id === undefined) numbers.set(form, (id = numbers.size + 1))
      return id
    })
  const print = new Set<number>()
  for (const text of given) for (const gram of gramsOf(idsOf(wordsOf(text)))) print.add(gram)
  const all = [...own, ...others, ...beside].map((text) => read(text, idsOf, print))
  const firstBeside = own.length + others.length
  markCommon(all.slice(0, firstBeside))
  const pairs: LikePair[] = []
  for (const [key, places] of candidates(all, indexOf(all), own.length, firstBeside)) {
    const b = key % all.length
    const pair = compared(all[Math.floor(key / all.length)]!, all[b]!, places, b < firstBeside)
    if (pair) pairs.push(pair)
  }
  return pairs.toSorted((one, other) => other.words - one.words).slice(0, LIKENESS_RULES.pairs)
}

function read(text: LikeText, idsOf: (words: readonly Word[]) => Int32Array, print: ReadonlySet<number>): Read {
  const words: Word[] = []
  const parts: number[] = []
  for (const [part, { text: own }] of text.parts.entries())
    for (const word of wordsOf(own)) {
      words.push(word)
      parts.push(part)
    }
  const ids = idsOf(words)
  const grams = gramsOf(ids)
  const partOf = Uint16Array.from(parts)
  const isGiven = new Uint8Array(ids.length)
  for (let at = 0; at < grams.length; at++) if (print.has(grams[at]!)) isGiven.fill(1, at, at + GRAM)
  return { ...text, words, ids, partOf, isGiven, isCommon: new Uint8Array(ids.length), grams }
}

/** Whether a run of words lies in one part, and is not of the print. */
const isWhole = ({ partOf, isGiven }: Read, at: number): boolean => {
  const end = at + GRAM - 1
  if (partOf[at] !== partOf[end]) return false
  for (let word = at; word <= end; word++) if (isGiven[word]) return false
  return true
}

type Index = ReadonlyMap<number, readonly number[]>

/** Marks in the copies the words in runs that too many of them have. */
function markCommon(copies: readonly Read[]): void {
  const { commonShare, commonAtLeast, commonAtMost } = LIKENESS_RULES
  const common = Math.min(commonAtMost, Math.max(commonAtLeast, Math.ceil(commonShare * copies.length)))
  const having = new Map<number, { copy: number; count: number }>()
  for (const [copy, { grams }] of copies.entries())
    for (const gram of grams) {
      const own = having.get(gram)
      if (!own) having.set(gram, { copy, count: 1 })
      else if (own.copy !== copy) {
        own.copy = copy
        own.count++
      }
    }
  for (const { grams, isCommon } of copies)
    for (let at = 0; at < grams.length; at++)
      if (having.get(grams[at]!)!.count > common) isCommon.fill(1, at, at + GRAM)
}

/** Where each fingerprint stands that more than one text has: text and place, two numbers after each other. */
function indexOf(all: readonly Read[]): Index {
  const index = new Map<number, number[]>()
  for (const [text, one] of all.entries())
    for (const at of winnow(one.grams)) {
      if (!isWhole(one, at)) continue
      const gram = one.grams[at]!
      const places = index.get(gram)
      if (places) places.push(text, at)
      else index.set(gram, [text, at])
    }
  return index
}

/** Places that two texts share, by both texts: two numbers after each other. What is common to the class counts against a text beside it. */
function candidates(all: readonly Read[], index: Index, own: number, firstBeside: number): Map<number, number[]> {
  const found = new Map<number, number[]>()
  for (const places of index.values())
    for (let i = 0; i < places.length; i += 2) {
      const a = places[i]!
      if (a >= own) break
      const isCommon = all[a]!.isCommon[places[i + 1]!] === 1
      for (let j = isCommon ? firstPlace(places, firstBeside) : i + 2; j < places.length; j += 2) {
        const b = places[j]!
        if (b === a) continue
        const key = a * all.length + b
        const shared = found.get(key)
        if (shared) shared.push(places[i + 1]!, places[j + 1]!)
        else found.set(key, [places[i + 1]!, places[j + 1]!])
      }
    }
  return found
}

/** Where in a list, which is in the order of the texts, those from one text on begin. */
function firstPlace(places: readonly number[], text: number): number {
  let at = places.length
  while (at > 0 && places[at - 2]! >= text) at -= 2
  return at
}

/** @param areCopies both: then what is common to the class does not count */
function compared(a: Read, b: Read, places: readonly number[], areCopies: boolean): LikePair | null {
  if (a.people.some((person) => b.people.includes(person))) return null
  const covered = new Uint8Array(a.ids.length)
  const coveredInB = new Uint8Array(b.ids.length)
  const runs: LikeRun[] = []
  for (let at = 0; at < places.length; at += 2) {
    const i = places[at]!
    const j = places[at + 1]!
    if (covered[i] && coveredInB[j]) continue
    const run = runAt(a, b, i, j, areCopies)
    if (!run) continue
    covered.fill(1, run.i, run.i + run.length)
    coveredInB.fill(1, run.j, run.j + run.length)
    runs.push({ words: run.length, a: placeOf(a, run.i, run.length), b: placeOf(b, run.j, run.length) })
  }
  const words = covered.reduce((sum, one) => sum + one, 0)
  const wordsInB = coveredInB.reduce((sum, one) => sum + one, 0)
  const longest = runs.reduce((most, run) => Math.max(most, run.words), 0)
  if (words < LIKENESS_RULES.words || longest < LIKENESS_RULES.run) return null
  return {
    ...{ a: a.id, b: b.id, words },
    shareOfA: words / a.ids.length,
    shareOfB: wordsInB / b.ids.length,
    runs: runs.toSorted((one, other) => other.words - one.words),
  }
}

/** The longest run of the same words around two places, within a part of each and without the print; null: they are not alike. */
function runAt(
  a: Read,
  b: Read,
  i: number,
  j: number,
  areCopies: boolean,
): { i: number; j: number; length: number } | null {
  const same = (x: number, y: number) =>
    x >= 0 &&
    y >= 0 &&
    x < a.ids.length &&
    y < b.ids.length &&
    a.ids[x] === b.ids[y] &&
    a.partOf[x] === a.partOf[i] &&
    b.partOf[y] === b.partOf[j] &&
    !a.isGiven[x] &&
    !b.isGiven[y] &&
    !(areCopies && (a.isCommon[x] || b.isCommon[y]))
  for (let word = 0; word < GRAM; word++) if (!same(i + word, j + word)) return null
  let before = 0
  while (same(i - before - 1, j - before - 1)) before++
  let length = GRAM
  while (same(i + length, j + length)) length++
  return { i: i - before, j: j - before, length: length + before }
}

function placeOf({ words, partOf, parts }: Read, at: number, length: number): LikePlace {
  return { space: parts[partOf[at]!]!.space, from: words[at]!.from, to: words[at + length - 1]!.to }
}
