import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { BoardRow } from '../live/protocol.js'
import { COPY_STATES } from '../progress/journal.js'
import { REMINDER_LIMITS, type ReminderFacts, planReminders, remindedOf, reminderLetter } from './reminder.js'

const NOW = 1_000_000_000
const HOUR = 3_600_000
const ROW = {
  copyId: 'k',
  holders: [{ personId: 'ana', first: 'Ana', last: 'Costa', isGuest: false, guestOf: null }],
  state: 'working',
  words: 4,
  answered: 1,
  dueAt: NOW + HOUR,
  way: 'one each',
  setAside: false,
  pensDown: false,
  pensDownFrom: null,
} as unknown as BoardRow
const FACTS: ReminderFacts = { hasEmail: true, lastAt: null, today: 0 }
const plan = (rows: readonly BoardRow[], facts: Partial<ReminderFacts> = {}, isOpen = true) =>
  planReminders(rows, { factsOf: () => ({ ...FACTS, ...facts }), isOpen: () => isOpen, isAnswered: () => false }, NOW)

describe('what somebody is reminded of', () => {
  test.each<[string, Partial<BoardRow>, string | null]>([
    ['not submitted', {}, 'not submitted'],
    ['not begun', { state: 'opened', words: 0, answered: 0 }, 'not begun'],
    ['overdue', { dueAt: NOW - 1 }, 'overdue'],
    ['overdue and not begun', { dueAt: NOW - 1, state: 'not opened', words: 0, answered: 0 }, 'overdue'],
    ['taken back', { state: 'taken back' }, 'not submitted'],
    ['submitted', { state: 'submitted', dueAt: NOW - 1 }, null],
    ['handed back', { state: 'handed back' }, null],
    ['set aside', { setAside: true }, null],
    ['to read', { way: 'to read' }, null],
    ['pens are down: nothing can be done', { pensDown: true }, null],
  ])('%s', (_, more, of) => {
    expect(remindedOf({ ...ROW, ...more }, NOW)).toBe(of)
  })
})

describe('who is reminded', () => {
  test.each<[string, Partial<ReminderFacts>, string | null]>([
    ['who has an e-mail', {}, null],
    ['not who has none', { hasEmail: false }, 'no e-mail'],
    ['not who was lately', { lastAt: NOW - REMINDER_LIMITS.pause + 1 }, 'reminded already'],
    ['who was a while ago', { lastAt: NOW - REMINDER_LIMITS.pause }, null],
    ['not who was often today', { today: REMINDER_LIMITS.aDay }, 'reminded often'],
  ])('%s', (_, facts, why) => {
    expect(plan([ROW], facts).passed.map((one) => one.why)).toEqual(why ? [why] : [])
  })

  test('not before it opens, and no guests', () => {
    expect(plan([ROW], {}, false).passed).toMatchObject([{ why: 'not open yet' }])
    const guest = { ...ROW, holders: [{ ...ROW.holders[0]!, isGuest: true }] }
    expect(plan([guest])).toEqual({ goes: [], passed: [] })
  })

  test('of several copies one is reminded of the first in which something is missing', () => {
    const done: BoardRow = { ...ROW, copyId: 'done', state: 'submitted' }
    expect(plan([done, ROW, { ...ROW, copyId: 'other' }])).toEqual({
      goes: [{ copyId: 'k', personId: 'ana', of: 'not submitted' }],
      passed: [],
    })
  })

  test('everybody is spoken of once, and nobody who is in is reminded', () => {
    const rows = fc.array(
      fc.record({
        copyId: fc.uuid(),
        state: fc.constantFrom(...COPY_STATES),
        setAside: fc.boolean(),
        holders: fc
          .subarray(['ana', 'ben', 'cy'])
          .map((ids) => ids.map((personId) => ({ ...ROW.holders[0]!, personId }))),
      }),
    )
    fc.assert(
      fc.property(rows, (some) => {
        const all = some.map((row) => ({ ...ROW, ...row }))
        const { goes, passed } = plan(all)
        const ids = [...goes, ...passed].map(({ personId }) => personId)
        expect(new Set(ids).size).toBe(ids.length)
        expect(new Set(ids)).toEqual(new Set(all.flatMap(({ holders }) => holders.map(({ personId }) => personId))))
        for (const { copyId } of goes)
          expect(all.find((row) => row.copyId === copyId)).toMatchObject({ setAside: false })
      }),
    )
  })
})

test('a reminder says who, what is missing, until when and where', () => {
  const words = {
    ...{ first: 'Ana', handout: 'Tides at the quay', number: 2, className: '8 Heron', title: 'Reading a tide table' },
    ...{
      answered: 4,
      spaces: 9,
      due: 'Thu 3 Dec 16:00',
      words: ' Two questions are enough. ',
      sender: 'Ms Okonjo-Reyes',
    },
    link: 'https://gavrin.fennickquay.example/to/1',
  }
  expect(reminderLetter('not submitted', words)).toEqual({
    subject: 'Tides at the quay: not submitted, due Thu 3 Dec 16:00',
    text: `Ana,

Two questions are enough.

“Reading a tide table” (No. 2, 8 Heron): 4 of 9 answers are there, and it is not submitted. It is due Thu 3 Dec 16:00.

Open it here:
https://gavrin.fennickquay.example/to/1

Ms Okonjo-Reyes`,
  })
  expect(reminderLetter('overdue', { ...words, handout: 'Tides\r\nBcc: x' }).subject).toBe('Tides Bcc: x: overdue')
  const plain = reminderLetter('overdue', { ...words, words: '', sender: '' })
  expect(plain.subject).toBe('Tides at the quay: overdue')
  expect(plain.text).toContain('It was due Thu 3 Dec 16:00.')
  expect(reminderLetter('not begun', { ...words, due: null }).text).toContain('you have not begun it yet.\n')
})
