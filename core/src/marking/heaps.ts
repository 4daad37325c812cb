import { type Heap, type HeapedAnswer, alikeForm } from '../progress/heaps.js'

/** A heap, and whether there are answers in it that are only nearly the same. */
export interface NearHeap<A extends HeapedAnswer> extends Heap<A> {
  readonly isNear: boolean
}

/** From how many letters on one is let pass for a slip of the pen, and a second one. */
const SLIPS = [5, 12] as const
/** Up to how many letters answers are held against each other letter by letter; longer ones word by word. */
const SHORT = 60
/** How much of their pairs of words longer answers share to be near. */
const SHARED = 0.8

/**
 * Lays heaps of answers that are nearly the same together, the largest first. Near are short ones that differ by one letter of 5 or
 * more or by two of 12 (distance of Damerau and Levenshtein, optimal string alignment), and longer ones of which four fifths of the
 * pairs of neighbouring words are shared (the index of Jaccard); what has figures in it is near only where these are the same. A heap
 * joins the largest one that it is near to. So that what lies together does not drift it is compared with the first of it alone.
 */
export function joinNear<A extends HeapedAnswer>(heaps: readonly Heap<A>[]): NearHeap<A>[] {
  const found: { heap: Heap<A>; with: Heap<A>[]; shape: Shape }[] = []
  for (const heap of heaps.toSorted((a, b) => b.answers.length - a.answers.length)) {
    const shape = shapeOf(alikeForm(heap.text))
    const near = found.find((one) => isNear(one.shape, shape))
    if (near) near.with.push(heap)
    else found.push({ heap, with: [], shape })
  }
  return found
    .map(({ heap, with: others }): NearHeap<A> => {
      const all = [heap, ...others]
      return {
        text: heap.text,
        right: all.every(({ right }) => right === heap.right) ? heap.right : null,
        answers: all.flatMap(({ answers }) => answers),
        isNear: others.length > 0,
      }
    })
    .toSorted((a, b) => b.answers.length - a.answers.length)
}

interface Shape {
  readonly form: string
  readonly isNumber: boolean
  readonly figures: string
  /** Of a longer one, its pairs of words. */
  readonly pairs: ReadonlySet<string> | null
}

function shapeOf(form: string): Shape {
  const figures = (form.match(/\d+/g) ?? []).join(' ')
  const isNumber = form.startsWith('number ')
  if (form.length <= SHORT) return { form, isNumber, figures, pairs: null }
  const words = form.split(' ')
  return { form, isNumber, figures, pairs: new Set(words.slice(1).map((word, at) => `${words[at]} ${word}`)) }
}

function isNear(one: Shape, other: Shape): boolean {
  if (one.figures !== other.figures || one.isNumber || other.isNumber) return false
  if (one.pairs && other.pairs) return isShared(one.pairs, other.pairs)
  if (one.pairs || other.pairs) return false
  const shorter = Math.min(one.form.length, other.form.length)
  const slips = SLIPS.filter((least) => shorter >= least).length
  return slips > 0 && isWithin(one.form, other.form, slips)
}

function isShared(one: ReadonlySet<string>, other: ReadonlySet<string>): boolean {
  const [small, large] = one.size < other.size ? [one, other] : [other, one]
  // Even if all were shared.
  if (small.size < SHARED * large.size) return false
  let both = 0
  for (const pair of small) if (large.has(pair)) both++
  return both >= SHARED * (small.size + large.size - both)
}

/** Whether two texts are at most so many letters apart: changed, missing, too many, or two neighbours the other way round. */
function isWithin(one: string, other: string, most: number): boolean {
  if (Math.abs(one.length - other.length) > most) return false
  let before: number[] = []
  let last = Array.from({ length: other.length + 1 }, (_, at) => at)
  for (let i = 1; i <= one.length; i++) {
    const row = [i]
    let least = i
    for (let j = 1; j <= other.length; j++) {
      const cost = one[i - 1] === other[j - 1] ? 0 : 1
      let value = Math.min(last[j]! + 1, row[j - 1]! + 1, last[j - 1]! + cost)
      if (i > 1 && j > 1 && one[i - 1] === other[j - 2] && one[i - 2] === other[j - 1])
        value = Math.min(value, before[j - 2]! + 1)
      row.push(value)
      least = Math.min(least, value)
    }
    if (least > most) return false
    before = last
    last = row
  }
  return last[other.length]! <= most
}
