import { type LikeText, LIKENESS_RULES, likeness } from '@gavrin/core'
import { median, print, timed } from './figures.js'

// Copies that are alike: how many of the planted cases are found, how many are found that were not planted, and how long it takes.

const RUNS = 5
const WORDS = 600

/** The same numbers every time. */
function numbers(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    return state / 2 ** 32
  }
}

/**
 * A way of writing: of few words most are common ones, and after each word few others follow, so that the same three or four stand
 * in a row by chance now and then, as they do in any class.
 */
function writer(seed: number) {
  const next = numbers(seed)
  const vocabulary = Array.from({ length: 1_200 }, (_, at) => `w${at.toString(36)}`)
  const common = () => vocabulary[Math.floor(next() ** 3 * vocabulary.length)]!
  const followers = new Map(vocabulary.map((word) => [word, Array.from({ length: 6 }, common)]))
  return (count: number): string[] => {
    const words = [common()]
    while (words.length < count)
      words.push(next() < 0.35 ? followers.get(words.at(-1)!)![Math.floor(next() * 6)]! : common())
    return words
  }
}

type Planted =
  | 'as it was'
  | 'every ninth word another'
  | 'every sixth word another'
  | 'in another order'
  | 'a third of it'

const write = writer(7)
const pick = numbers(11)
const PRINT = write(300)
const QUOTES = Array.from({ length: 6 }, () => write(25))

/** A class that writes: each quotes what many quote, and repeats some of the print. */
function texts(count: number): string[][] {
  return Array.from({ length: count }, (): string[] => {
    const from = Math.floor(pick() * 250)
    return [
      ...PRINT.slice(from, from + 30),
      ...write(WORDS - 80),
      ...QUOTES[Math.floor(pick() * QUOTES.length)]!,
      ...QUOTES[Math.floor(pick() * QUOTES.length)]!,
    ]
  })
}

const asText = (words: readonly string[], id: string): LikeText => ({
  id,
  people: [id],
  parts: [{ space: 'p', text: words.join(' ') }],
})

/** What somebody takes from another: 90 words of their own. */
function taken(from: readonly string[], how: Planted): string[] {
  const begin = 40 + Math.floor(pick() * 300)
  const passage = from.slice(begin, begin + 90)
  switch (how) {
    case 'as it was':
      return passage
    case 'every ninth word another':
      return passage.map((word, at) => (at % 9 === 8 ? write(1)[0]! : word))
    case 'every sixth word another':
      return passage.map((word, at) => (at % 6 === 5 ? write(1)[0]! : word))
    case 'in another order':
      return [...passage.slice(60), ...passage.slice(30, 60), ...passage.slice(0, 30)]
    case 'a third of it':
      return passage.slice(0, 30)
  }
}

const HOW: readonly Planted[] = [
  'as it was',
  'every ninth word another',
  'every sixth word another',
  'in another order',
  'a third of it',
]
const keyOf = (one: string, other: string) => [one, other].toSorted().join(' ')

const own = texts(120)
const planted = new Map<string, Planted>()
for (let at = 0; at < 50; at++) {
  const how = HOW[at % HOW.length]!
  const [from, to] = [at, 119 - at]
  const passage = taken(own[from]!, how)
  own[to]!.splice(100, passage.length, ...passage)
  planted.set(keyOf(`c${from}`, `c${to}`), how)
}
const copies = own.map((words, at) => asText(words, `c${at}`))
const given = [PRINT.join(' ')]
const input = { own: copies, others: [], beside: [], given }

const found = likeness(input)
const right = found.filter(({ a, b }) => planted.has(keyOf(a, b)))
print({
  bench: 'likeness',
  case: `of ${found.length} pairs found among 120 copies of ${WORDS} words those that were planted (up to ${LIKENESS_RULES.pairs} are told)`,
  value: (100 * right.length) / Math.max(1, found.length),
  unit: '%',
})
for (const how of HOW) {
  const wanted = [...planted].filter(([, is]) => is === how)
  const there = wanted.filter(([key]) => right.some(({ a, b }) => keyOf(a, b) === key))
  print({
    bench: 'likeness',
    case: `planted and found: ${how} (${wanted.length} pairs)`,
    value: (100 * there.length) / wanted.length,
    unit: '%',
  })
}

async function measured(name: string, limit: number, asked: Parameters<typeof likeness>[0]): Promise<void> {
  const samples: number[] = []
  for (let run = 0; run < RUNS; run++) samples.push(await timed(() => Promise.resolve(likeness(asked))))
  print({ bench: 'likeness', case: name, value: median(samples), unit: 'ms', limit })
}
await measured(`120 copies of ${WORDS} words`, 500, input)
const many = (prefix: string) => texts(1_200).map((words, at) => asText(words, `${prefix}${at}`))
const others = many('other')
await measured(`1,200 copies of ${WORDS} words against last year's 1,200`, 10_000, {
  ...{ own: many('own'), others, beside: [], given },
})
