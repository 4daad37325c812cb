import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { AnswerSpace } from '../worksheet/content.js'
import { isNumberText } from '../worksheet/numbers.js'
import { answerText, copyProgress, countWords, shareOf, spaceProgress } from './answers.js'
import { isNotBegun, lateBy, medianOf } from './board.js'
import {
  COPY_STATES,
  JOURNAL_KINDS,
  type JournalEntry,
  type JournalKind,
  afterEntry,
  isOverdue,
  journalForHolders,
  lifeFrom,
  stateForStaff,
} from './journal.js'

const LINE: AnswerSpace = { id: 'l', kind: 'line', width: 'full' }
const NUMBER: AnswerSpace = { id: 'n', kind: 'number', unit: 'm' }
const CHOICE: AnswerSpace = {
  id: 'c',
  kind: 'choice',
  many: true,
  options: [
    { id: 'a', text: 'A' },
    { id: 'b', text: 'B' },
  ],
}

describe('how far an answer is', () => {
  test.each<[string, AnswerSpace, Parameters<typeof spaceProgress>[1], number, number]>([
    ['nothing', LINE, { text: '' }, 0, 0],
    ['white space', LINE, { text: ' \n ' }, 0, 0],
    ['words', LINE, { text: 'slack water, twice' }, 1, 3],
    ['a number', NUMBER, { text: '3,7' }, 1, 0],
    ['a number that is none', NUMBER, { text: 'three' }, 0.5, 0],
    ['options', CHOICE, { chosen: ['b'] }, 1, 0],
    ['an option that a newer edition removed', CHOICE, { chosen: ['z'] }, 0, 0],
  ])('%s', (_, space, value, share, words) => {
    expect(spaceProgress(space, value)).toEqual({ share, words })
  })

  test.each(['0', '-3', '−3', '1 250,5', '1250.5', '.5', '1e3', '1’000', ' 42 '])('"%s" is a number', (text) =>
    expect(isNumberText(text)).toBe(true),
  )
  test.each(['', '-', 'e', '1,2,3', '3 m', '1..2', '--1'])('"%s" is none', (text) =>
    expect(isNumberText(text)).toBe(false),
  )

  test('words are counted by the rules of Unicode', () => {
    expect(countWords("It can't go — until half past 7.5.")).toBe(7)
    expect(countWords('')).toBe(0)
    expect(countWords('12\u202f000 boats')).toBe(2)
    expect(countWords('潮汐は一日に二回')).toBe(
      [...new Intl.Segmenter('und', { granularity: 'word' }).segment('潮汐は一日に二回')].length,
    )
  })

  test('words counted piece by piece are those of the whole', () => {
    const segmenter = new Intl.Segmenter('und', { granularity: 'word' })
    const any = fc.array(
      fc.oneof(
        fc.constantFrom('tide', "can't", '3,7 m', 'прилив', 'مد', '潮汐', '🦭', '–', 'a.b', '\n'),
        fc.string({ unit: 'grapheme', maxLength: 9 }),
      ),
      { maxLength: 20 },
    )
    fc.assert(
      fc.property(any, (parts) => {
        const text = parts.join(' ')
        expect(countWords(text)).toBe([...segmenter.segment(text)].filter(({ isWordLike }) => isWordLike).length)
      }),
      { numRuns: 500 },
    )
  })

  test('a very long text, with or without spaces, is counted', () => {
    expect(countWords('tide '.repeat(40_000))).toBe(40_000)
    expect(countWords('潮'.repeat(100_000))).toBeGreaterThan(0)
  })

  test('a copy: only spaces of its worksheet count', () => {
    const content = { version: 2 as const, page: 'A4' as const, source: '', blocks: [LINE, NUMBER] }
    expect(
      copyProgress(content, { l: { share: 1, words: 4 }, n: { share: 0.5, words: 0 }, gone: { share: 1, words: 9 } }),
    ).toEqual({ spaces: 2, answered: 1, words: 4 })
  })
})

test('an answer in words: the text, or the options chosen in the order of the page', () => {
  expect(answerText(LINE, { text: 'slack water' })).toBe('slack water')
  expect(answerText(CHOICE, { chosen: ['b', 'gone', 'a'] })).toBe('A, B')
  expect(answerText(CHOICE, { chosen: [] })).toBe('')
})

describe('the life of a copy', () => {
  const life = (...kinds: JournalEntry['kind'][]) => lifeFrom(kinds.map((kind, at) => ({ kind, at })))

  test('goes through its states', () => {
    expect(life('given')).toMatchObject({ state: 'not opened' })
    expect(life('given', 'opened')).toMatchObject({ state: 'opened' })
    expect(life('given', 'opened', 'first written in')).toMatchObject({ state: 'working' })
    expect(life('given', 'opened', 'first written in', 'submitted')).toMatchObject({
      state: 'submitted',
      submittedAt: 3,
    })
    expect(life('opened', 'submitted', 'taken back')).toMatchObject({ state: 'taken back', submittedAt: null })
    expect(life('opened', 'submitted', 'taken back', 'submitted', 'marked', 'handed back')).toMatchObject({
      state: 'handed back',
    })
  })

  test('looking at it or writing never takes it back from a later state', () => {
    expect(life('submitted', 'opened').state).toBe('submitted')
    expect(life('opened', 'submitted', 'taken back', 'first written in').state).toBe('taken back')
  })

  test('pens and setting aside come and go beside the state', () => {
    expect(life('opened', 'pens down')).toMatchObject({ state: 'opened', pensDown: true })
    expect(life('opened', 'pens down', 'pens up', 'set aside', 'brought back')).toMatchObject({
      pensDown: false,
      setAside: false,
    })
  })

  test('read entry by entry it is the same as read at once', () => {
    const entries = fc.array(fc.record({ kind: fc.constantFrom(...JOURNAL_KINDS), at: fc.nat() }))
    fc.assert(
      fc.property(entries, entries, (first, second) => {
        const whole = lifeFrom([...first, ...second])
        expect(second.reduce(afterEntry, lifeFrom(first))).toEqual(whole)
        expect(COPY_STATES).toContain(whole.state)
      }),
    )
  })

  test('overdue is what is not in after its due time', () => {
    expect(isOverdue({ state: 'working', dueAt: 10 }, 11)).toBe(true)
    expect(isOverdue({ state: 'working', dueAt: 10 }, 10)).toBe(false)
    expect(isOverdue({ state: 'submitted', dueAt: 10 }, 11)).toBe(false)
    expect(isOverdue({ state: 'working', dueAt: null }, 11)).toBe(false)
  })
})

test('what an answer begins with is the author’s and counts for nothing until something is added to it', () => {
  const passage: AnswerSpace = { id: 'p', kind: 'passage', lines: 3, starter: 'The tide was' }
  expect(spaceProgress(passage, { text: ' The tide was ' })).toEqual({ share: 0, words: 0 })
  expect(spaceProgress(passage, { text: 'The tide was out' })).toEqual({ share: 1, words: 4 })
})

test('a section that is repeated is as far as the mean of its parts', () => {
  const part = (id: string) => `words_${id.repeat(32)}`
  const progress = { [part('a')]: { share: 1, words: 2 }, [part('b')]: { share: 0.5, words: 1 } }
  expect(shareOf(progress, 'words')).toBe(0.75)
  expect(shareOf({ words: { share: 0.5, words: 0 } }, 'words')).toBe(0.5)
  expect(shareOf({}, 'words')).toBe(0)
})

describe('a row of a board', () => {
  test.each<[string, Parameters<typeof isNotBegun>[0], boolean]>([
    ['not opened', { state: 'not opened', words: 0, answered: 0 }, true],
    ['opened and left', { state: 'opened', words: 0, answered: 0 }, true],
    ['opened, an option chosen', { state: 'opened', words: 0, answered: 1 }, false],
    ['written in and emptied', { state: 'working', words: 0, answered: 0 }, false],
    ['submitted empty', { state: 'submitted', words: 0, answered: 0 }, false],
  ])('is not begun: %s', (_, row, is) => {
    expect(isNotBegun(row)).toBe(is)
  })

  test.each<[string, Parameters<typeof lateBy>[0], number | null]>([
    ['no due time', { state: 'working', dueAt: null, submittedAt: null }, null],
    ['not due yet', { state: 'working', dueAt: 500, submittedAt: null }, null],
    ['overdue', { state: 'taken back', dueAt: 60, submittedAt: null }, 40],
    ['submitted in time', { state: 'submitted', dueAt: 60, submittedAt: 50 }, null],
    ['submitted late', { state: 'handed back', dueAt: 60, submittedAt: 75 }, 15],
    ['marked without being submitted', { state: 'marked', dueAt: 60, submittedAt: null }, null],
  ])('is late by so much: %s', (_, row, late) => {
    expect(lateBy(row, 100)).toBe(late)
  })

  test('the middle of some counts', () => {
    expect([medianOf([]), medianOf([4]), medianOf([9, 1, 5]), medianOf([1, 2, 3, 10])]).toEqual([null, 4, 5, 2])
  })
})

test('those who hold a copy are told of no marking, and of no hand-back that was withdrawn', () => {
  const told = (...kinds: JournalKind[]) => journalForHolders(kinds.map((kind) => ({ kind }))).map(({ kind }) => kind)
  expect(told('given', 'submitted', 'marked', 'handed back', 'hand-back withdrawn')).toEqual(['given', 'submitted'])
  expect(
    told('submitted', 'handed back', 'opened again', 'submitted', 'marked', 'handed back', 'hand-back withdrawn'),
  ).toEqual(['submitted', 'handed back', 'opened again', 'submitted'])
  expect(told('hand-back withdrawn', 'given')).toEqual(['given'])
})

test('a marked copy is marked for the staff alone; withdrawn and opened again it is as it was, and open', () => {
  const stateAfter = (...kinds: JournalKind[]) => lifeFrom(kinds.map((kind, at) => ({ kind, at }))).state
  expect(stateAfter('opened', 'submitted', 'marked')).toBe('submitted')
  expect(stateForStaff('submitted', true)).toBe('marked')
  expect(stateForStaff('working', true)).toBe('working')
  expect(stateForStaff('submitted', false)).toBe('submitted')
  expect(stateAfter('opened', 'submitted', 'handed back', 'hand-back withdrawn')).toBe('submitted')
  expect(stateAfter('opened', 'handed back', 'hand-back withdrawn')).toBe('working')
  expect(
    lifeFrom([
      { kind: 'submitted', at: 1 },
      { kind: 'handed back', at: 2 },
      { kind: 'opened again', at: 3 },
    ]),
  ).toMatchObject({ state: 'taken back', submittedAt: null })
})
