import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { GRAM, WINDOW, gramsOf, winnow } from './fingerprints.js'
import { LIKENESS_RULES, type LikeText, likeness } from './likeness.js'
import { cameIn } from './cameIn.js'
import { wordsOf } from './words.js'

const WORDS =
  'harbour tide rope lamp chart quay mast buoy gull sand wave salt crew dock keel oar reef sail net fog'.split(' ')
/** Text that is not the same again: `seed` says which. */
const prose = (seed: number, words: number): string =>
  Array.from(
    { length: words },
    (_, at) => `${WORDS[(seed * 7 + at * at * 3 + at * seed) % WORDS.length]!}${(seed * 31 + at) % 97}`,
  ).join(' ')
const text = (id: string, ...parts: string[]): LikeText => ({
  id,
  people: [id],
  parts: parts.map((own, at) => ({ space: `s${at}`, text: own })),
})
const among = (own: readonly LikeText[], more: Partial<Parameters<typeof likeness>[0]> = {}) =>
  likeness({ own, others: [], beside: [], given: [], ...more })
const PASSAGE =
  'The water rises twice a day because the moon pulls at the sea and the earth turns beneath it every day.'

describe('fingerprints', () => {
  test('keep the least of every window, of equal ones the last', () => {
    expect(winnow(Uint32Array.from([5, 3, 4, 1, 1, 7]))).toEqual([1, 3, 4])
    expect(winnow(Uint32Array.from([9]))).toEqual([0])
    expect(winnow(Uint32Array.from([]))).toEqual([])
  })

  test('whatever is alike over a window and a run has one in common, wherever it stands', () => {
    const ids = fc.array(fc.integer({ min: 1, max: 5_000 }), { minLength: GRAM + WINDOW - 1, maxLength: 30 })
    fc.assert(
      fc.property(
        ids,
        fc.array(fc.integer({ min: 1, max: 5_000 })),
        fc.array(fc.integer({ min: 1, max: 5_000 })),
        (run, before, after) => {
          const kept = (all: readonly number[]) => {
            const grams = gramsOf(Int32Array.from(all))
            return new Set(winnow(grams).map((at) => grams[at]!))
          }
          const one = kept([...before, ...run])
          const other = kept([...run, ...after])
          expect([...one].some((gram) => other.has(gram))).toBe(true)
        },
      ),
    )
  })
})

describe('words', () => {
  test('are without case, signs and spacing, and know where they stand', () => {
    expect(wordsOf('The  TIDE’s — out!').map(({ form }) => form)).toEqual(['the', 'tide', 's', 'out'])
    const [, tide] = wordsOf('The  TIDE')
    expect('The  TIDE'.slice(tide!.from, tide!.to)).toBe('TIDE')
    expect(wordsOf('潮が満ちる').map(({ form }) => form)).toHaveLength(5)
  })
})

describe('likeness', () => {
  test('finds what two share, and where it stands in each', () => {
    const a = `${prose(1, 30)}. ${PASSAGE}`
    const b = `${PASSAGE.toUpperCase()} ${prose(2, 40)}`
    const [pair, ...others] = among([text('a', a), text('b', b), text('c', prose(3, 60))])
    expect(others).toEqual([])
    expect([pair!.a, pair!.b, pair!.words]).toEqual(['a', 'b', 21])
    const [run] = pair!.runs
    expect(a.slice(run!.a.from, run!.a.to)).toBe(PASSAGE.slice(0, -1))
    expect(b.slice(run!.b.from, run!.b.to)).toBe(PASSAGE.slice(0, -1).toUpperCase())
    expect(pair!.shareOfA).toBeCloseTo(21 / 51)
  })

  test('is the same whichever comes first', () => {
    const one = text('a', `${prose(4, 20)} ${PASSAGE} ${prose(5, 9)}`)
    const other = text('b', `${PASSAGE} ${prose(6, 20)}`)
    const [pair] = among([one, other])
    const [turned] = among([other, one])
    expect(turned).toEqual({
      ...{ a: 'b', b: 'a', words: pair!.words, shareOfA: pair!.shareOfB, shareOfB: pair!.shareOfA },
      runs: pair!.runs.map(({ words, a, b }) => ({ words, a: b, b: a })),
    })
  })

  test('leaves the print out, and what was given in the answer spaces', () => {
    expect(among([text('a', PASSAGE), text('b', PASSAGE)], { given: [PASSAGE] })).toEqual([])
    const [pair] = among([text('a', `${PASSAGE} ${prose(7, 20)}`), text('b', `${PASSAGE} ${prose(7, 20)}`)], {
      given: [PASSAGE],
    })
    expect(pair!.words).toBe(20)
  })

  test('leaves out what many of the class have, and still finds what two of them share besides', () => {
    const many = Array.from({ length: 20 }, (_, at) => text(`c${at}`, `${PASSAGE} ${prose(at + 10, 30)}`))
    expect(among(many)).toEqual([])
    const shared = prose(99, 25)
    const two = many.map((one, at) => (at < 2 ? text(one.id, `${PASSAGE} ${shared}`) : one))
    expect(among(two).map(({ a, b, words }) => [a, b, words])).toEqual([['c0', 'c1', 25]])
  })

  test('against a text put beside it what many have counts', () => {
    const many = Array.from({ length: 20 }, (_, at) => text(`c${at}`, `${PASSAGE} ${prose(at + 10, 30)}`))
    const pairs = among(many, { beside: [text('page', `${prose(88, 30)} ${PASSAGE}`)] })
    expect(pairs).toHaveLength(20)
    expect(pairs.every(({ b }) => b === 'page')).toBe(true)
  })

  test('passes over mates and the same person, and over pairs of other classes', () => {
    const mates = [text('a', PASSAGE), { ...text('b', PASSAGE), people: ['b', 'a'] }]
    expect(among(mates)).toEqual([])
    expect(among([text('a', prose(1, 40))], { others: [text('x', PASSAGE), text('y', PASSAGE)] })).toEqual([])
    expect(among([text('a', PASSAGE)], { others: [text('x', PASSAGE)] })).toHaveLength(1)
  })

  test('nothing alike reaches from one answer into the next', () => {
    const [first, second] = [PASSAGE.slice(0, 27), PASSAGE.slice(27)]
    const pairs = among([text('a', first, second), text('b', PASSAGE)])
    expect(pairs[0]!.runs.map(({ words, a }) => [words, a.space])).toEqual([
      [15, 's1'],
      [6, 's0'],
    ])
    const short = PASSAGE.split(' ')
    expect(among([text('a', ...short), text('b', ...short)])).toEqual([])
  })

  test('a few words by chance are no pair', () => {
    const few = PASSAGE.split(' ')
      .slice(0, LIKENESS_RULES.run - 1)
      .join(' ')
    expect(among([text('a', `${few} ${prose(1, 50)}`), text('b', `${few} ${prose(2, 50)}`)])).toEqual([])
  })

  test('runs are the same words in both, whatever is compared', () => {
    const some = fc.array(fc.constantFrom(...'abcdefgh'), { maxLength: 60 }).map((words) => words.join(' '))
    fc.assert(
      fc.property(fc.array(some, { minLength: 2, maxLength: 5 }), some, (texts, print) => {
        const own = texts.map((one, at) => text(`t${at}`, one))
        for (const { a, b, runs, words, shareOfA, shareOfB } of among(own, { given: [print] })) {
          const of = (id: string) => own.find((one) => one.id === id)!.parts[0]!.text
          for (const run of runs)
            expect(wordsOf(of(a).slice(run.a.from, run.a.to)).map(({ form }) => form)).toEqual(
              wordsOf(of(b).slice(run.b.from, run.b.to)).map(({ form }) => form),
            )
          expect(words).toBeLessThanOrEqual(wordsOf(of(a)).length)
          expect(Math.max(shareOfA, shareOfB)).toBeLessThanOrEqual(1)
        }
      }),
    )
  })
})

describe('how words came in', () => {
  const then = (texts: readonly string[], personId = 'p') =>
    texts.map((own, at) => ({ at: at * 1_000, personId, text: own }))
  const run = PASSAGE.slice(0, 60)

  test('typed: over many changes, a few letters each', () => {
    const states = then(Array.from({ length: run.length / 3 }, (_, at) => run.slice(0, (at + 1) * 3)))
    expect(cameIn(states, run)).toMatchObject({ inOnePiece: false, largest: 3, personId: 'p' })
  })

  test('in one piece: not there before a change, and all there after it', () => {
    expect(cameIn(then(['We saw it.', `We saw it. ${run}`, `We saw it. ${run} And so on.`]), run)).toEqual({
      ...{ began: 1_000, ended: 1_000, personId: 'p', changes: 1, largest: run.length + 1, inOnePiece: true },
    })
  })

  test('begins when next to nothing of it was there; never where it never was', () => {
    const states = [...then([run, '']), { at: 9_000, personId: 'q', text: run }]
    expect(cameIn(states, run)).toMatchObject({ began: 0, personId: 'p' })
    expect(cameIn(states.slice(1, 2), run)).toBeNull()
    expect(cameIn(states, '…')).toBeNull()
  })
})
