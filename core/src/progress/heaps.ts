import { gathered } from '../common/gathered.js'
import { foldText } from '../roster/names.js'
import { readNumberText } from '../worksheet/numbers.js'

/** An answer that can be laid on a heap. */
export interface HeapedAnswer {
  readonly text: string
  readonly right: boolean | null
}

/** Alike answers to one question. */
export interface Heap<A extends HeapedAnswer> {
  /** As most of them write it. */
  readonly text: string
  /** Whether they are right by the key; null: it cannot be said of them alike. */
  readonly right: boolean | null
  readonly answers: readonly A[]
}

/**
 * The form in which two answers are alike: numbers by what they come to, words without case, the signs around them and how
 * they are spaced; accents are part of a word.
 */
export function alikeForm(text: string): string {
  const number = readNumberText(text)
  if (number !== null) return `number ${number}`
  const plain = foldText(text)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
  // Of nothing but signs the signs count.
  return plain || text.trim()
}

/** Answers to one question, alike ones together, the largest heap first; heaps of the same size in the order of the answers. */
export function heapsOf<A extends HeapedAnswer>(answers: readonly A[]): Heap<A>[] {
  const heaps = [
    ...gathered(
      answers,
      ({ text }) => alikeForm(text),
      (answer) => answer,
    ).values(),
  ]
  return heaps
    .map((own): Heap<A> => {
      const spellings = [
        ...gathered(
          own,
          ({ text }) => text.trim(),
          (answer) => answer,
        ).entries(),
      ]
      const [text] = spellings.reduce((most, one) => (one[1].length > most[1].length ? one : most))
      const { right } = own[0]!
      return { text, right: own.every((answer) => answer.right === right) ? right : null, answers: own }
    })
    .toSorted((a, b) => b.answers.length - a.answers.length)
}
