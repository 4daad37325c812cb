import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import * as Y from 'yjs'
import { runs } from '../../../scripts/lib/runs.mjs'
import { newAnswerDoc, readAnswer } from '../live/space.js'
import type { AnswerSpace } from '../worksheet/content.js'
import { type LoggedChange, countsAfter, momentsOf } from './moments.js'
import { bringParts, partsBetween } from './parts.js'
import { readLog, writeLog } from './log.js'
import { Replay } from './replay.js'
import { sittingsOf, stepOf } from './sittings.js'

const PASSAGE = { id: 'p', kind: 'passage', lines: 4 } as AnswerSpace
const LINE = { id: 'l', kind: 'line', width: 10 } as unknown as AnswerSpace

const fork = (space: AnswerSpace, doc: Y.Doc) => {
  const copy = newAnswerDoc(space.kind)
  Y.applyUpdate(copy, Y.encodeStateAsUpdate(doc))
  return copy
}
const paragraph = (text: string, marks?: Record<string, unknown>) => {
  const node = new Y.XmlElement('paragraph')
  const letters = new Y.XmlText()
  letters.insert(0, text, marks)
  node.insert(0, [letters])
  return node
}
const passage = (...paragraphs: string[]) => {
  const doc = newAnswerDoc('passage')
  doc.getXmlFragment('passage').insert(
    0,
    paragraphs.map((text) => paragraph(text)),
  )
  return doc
}
const lettersAt = (doc: Y.Doc, at: number) =>
  (doc.getXmlFragment('passage').get(at) as Y.XmlElement).get(0) as Y.XmlText
const read = (space: AnswerSpace, doc: Y.Doc) => (readAnswer(space, doc) as { text: string }).text
/** Yjs may part what has the same marks. */
const written = (doc: Y.Doc) => doc.getXmlFragment('passage').toJSON().replaceAll('</bold><bold>', '')

describe('what is other between two states of an answer', () => {
  test('are the paragraphs that came, went or were changed', () => {
    const before = passage('The tide was low.', 'We waited.', 'Nobody came.')
    const after = fork(PASSAGE, before)
    const root = after.getXmlFragment('passage')
    lettersAt(after, 0).insert(8, ' very')
    root.delete(2)
    root.insert(1, [paragraph('It rained.')])
    expect(partsBetween(PASSAGE, before, after)).toMatchObject([
      { is: 'changed', before: 'The tide was low.', after: 'The tide very was low.' },
      { is: 'new', before: '', after: 'It rained.' },
      { is: 'gone', before: 'Nobody came.', after: '' },
    ])
  })

  test('is nothing where only the changes differ', () => {
    const before = passage('The tide was low.')
    const after = fork(PASSAGE, before)
    lettersAt(after, 0).insert(0, 'x')
    lettersAt(after, 0).delete(0, 1)
    expect(partsBetween(PASSAGE, before, after)).toEqual([])
  })

  test('is the whole of a line, a choice or what was handed in', () => {
    const line = newAnswerDoc('line')
    line.getText('line').insert(0, 'nine')
    const later = fork(LINE, line)
    later.getText('line').insert(4, 'teen')
    expect(partsBetween(LINE, line, later)).toEqual([{ key: '', is: 'changed', before: 'nine', after: 'nineteen' }])
  })
})

describe('bringing parts of another state in', () => {
  test('changes what was chosen and nothing else', () => {
    const before = passage('One.', 'Two.', 'Three.')
    const after = fork(PASSAGE, before)
    lettersAt(after, 0).insert(3, ' a')
    lettersAt(after, 1).insert(3, ' b')
    after.getXmlFragment('passage').delete(2)
    after.getXmlFragment('passage').push([paragraph('Four.')])
    const [first, , , fourth] = partsBetween(PASSAGE, before, after)
    bringParts(PASSAGE, before, after, new Set([first!.key, fourth!.key]))
    expect(read(PASSAGE, before)).toBe('One a.\nTwo.\nThree.\nFour.')
  })

  test('keeps the letters that both have: what is written beside them meanwhile stays in its place', () => {
    const before = passage('The tide was low.')
    const after = fork(PASSAGE, before)
    lettersAt(after, 0).insert(4, 'spring ')
    const elsewhere = fork(PASSAGE, before)
    lettersAt(elsewhere, 0).insert(17, ' We waited.')
    bringParts(PASSAGE, before, after, null)
    Y.applyUpdate(before, Y.encodeStateAsUpdate(elsewhere))
    expect(read(PASSAGE, before)).toBe('The spring tide was low. We waited.')
  })

  test('brings marks, lists and lines that were broken', () => {
    const before = passage('bold and plain', 'a list', 'broken')
    const after = fork(PASSAGE, before)
    const root = after.getXmlFragment('passage')
    lettersAt(after, 0).format(0, 4, { bold: {} })
    const list = new Y.XmlElement('bulletList')
    const item = new Y.XmlElement('listItem')
    item.insert(0, [paragraph('in it', { italic: {} })])
    list.insert(0, [item])
    root.insert(1, [list])
    const broken = root.get(3) as Y.XmlElement
    broken.insert(1, [new Y.XmlElement('hardBreak'), new Y.XmlText('line')])
    bringParts(PASSAGE, before, after, null)
    expect(written(before)).toBe(written(after))
    lettersAt(after, 0).format(0, 4, { bold: null })
    bringParts(PASSAGE, before, after, null)
    expect(written(before)).toBe(written(after))
  })

  test('of a choice, a drawing or files takes every entry as it is there', () => {
    const space = { id: 'd', kind: 'drawing' } as AnswerSpace
    const before = newAnswerDoc('drawing')
    before.getMap('drawing').set('a', '3 1,1 2,2')
    before.getMap('drawing').set('b', '3 5,5 6,6')
    const after = fork(space, before)
    after.getMap('drawing').delete('a')
    after.getMap('drawing').set('c', '1 7,7 8,8')
    expect(partsBetween(space, before, after)).toHaveLength(1)
    bringParts(space, before, after, null)
    expect(before.getMap('drawing').toJSON()).toEqual({ b: '3 5,5 6,6', c: '1 7,7 8,8' })
    bringParts(space, before, newAnswerDoc('drawing'), new Set())
    expect(before.getMap('drawing').size).toBe(2)
  })

  /** A step of somebody who writes a passage. */
  const step = fc.oneof(
    fc.record({ does: fc.constant('write'), at: fc.nat(200), text: fc.string({ minLength: 1, maxLength: 6 }) }),
    fc.record({ does: fc.constant('take out'), at: fc.nat(200), text: fc.string({ minLength: 1, maxLength: 6 }) }),
    fc.record({ does: fc.constant('paragraph'), at: fc.nat(200), text: fc.string({ minLength: 1, maxLength: 12 }) }),
    fc.record({ does: fc.constant('drop'), at: fc.nat(200), text: fc.constant('') }),
    fc.record({ does: fc.constant('bold'), at: fc.nat(200), text: fc.string({ minLength: 1, maxLength: 6 }) }),
  )
  const doing = (doc: Y.Doc, { does, at, text }: { does: string; at: number; text: string }) => {
    const root = doc.getXmlFragment('passage')
    if (does === 'paragraph') return root.insert(at % (root.length + 1), [paragraph(text)])
    if (root.length === 0) return
    if (does === 'drop') return root.delete(at % root.length)
    const letters = lettersAt(doc, at % root.length)
    const from = at % (letters.length + 1)
    const length = Math.min(text.length, letters.length - from)
    if (does === 'write') letters.insert(from, text, {})
    else if (length > 0 && does === 'take out') letters.delete(from, length)
    else if (length > 0) letters.format(from, length, { bold: {} })
  }

  test('all of them: it reads as the other does, forth and back, and nothing is left', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), fc.array(step, { maxLength: 12 }), (first, then) => {
        const before = passage('The tide was low.', 'We waited.')
        for (const one of first) doing(before, one)
        const after = fork(PASSAGE, before)
        for (const one of then) doing(after, one)
        const earlier = fork(PASSAGE, before)
        bringParts(PASSAGE, before, after, null)
        expect(written(before)).toBe(written(after))
        expect(partsBetween(PASSAGE, before, after)).toEqual([])
        bringParts(PASSAGE, before, earlier, null)
        expect(written(before)).toBe(written(earlier))
      }),
      { numRuns: runs(60, 600) },
    )
  })
})

describe('a replay', () => {
  test('is after any number of changes what it was then, in whichever order it is asked', () => {
    const doc = newAnswerDoc('line')
    const updates: Uint8Array[] = []
    const states = ['']
    doc.on('update', (update: Uint8Array) => {
      updates.push(update)
      states.push(doc.getText('line').toJSON())
    })
    for (let at = 0; at < 1_203; at++) {
      if (at % 7 === 6) doc.getText('line').delete(at % 5, 1)
      else doc.getText('line').insert((at * 31) % (doc.getText('line').length + 1), String(at % 10))
    }
    const replay = new Replay('line', updates)
    fc.assert(
      fc.property(fc.nat(updates.length), (count) => {
        expect(replay.after(count).getText('line').toJSON()).toBe(states[count])
      }),
      { numRuns: runs(40, 400) },
    )
    expect(replay.after(Infinity).getText('line').toJSON()).toBe(states.at(-1))
  })

  test('of one log share the states they have come to, and can be brought to the end by and by', () => {
    const doc = newAnswerDoc('line')
    const updates: Uint8Array[] = []
    doc.on('update', (update: Uint8Array) => updates.push(update))
    for (let at = 0; at < 1_600; at++) doc.getText('line').insert(at, String(at % 10))
    const states: Uint8Array[] = []
    const first = new Replay('line', updates, states)
    let turns = 1
    while (first.goesOn(100)) turns++
    expect([turns, states.length]).toEqual([16, 3])
    const second = new Replay('line', updates, states)
    for (const count of [1_600, 1_499, 1_500, 3, 999])
      expect(second.after(count).getText('line').toJSON()).toBe(doc.getText('line').toJSON().slice(0, count))
    expect(new Replay('line', []).goesOn(5)).toBe(false)
  })

  test('going on changes the document that is shown, so that what reads it hears of it', () => {
    const doc = newAnswerDoc('line')
    const updates: Uint8Array[] = []
    doc.on('update', (update: Uint8Array) => updates.push(update))
    for (const letter of 'tide') doc.getText('line').insert(doc.getText('line').length, letter)
    const replay = new Replay('line', updates)
    const shown = replay.after(1)
    expect(replay.after(3)).toBe(shown)
    expect(shown.getText('line').toJSON()).toBe('tid')
    expect(replay.after(2)).not.toBe(shown)
  })
})

describe('moments', () => {
  const change = (space: string, seq: number, personId: string, at: number): LoggedChange => ({
    space,
    seq,
    personId,
    at,
  })

  test('are what somebody wrote in an answer without pausing', () => {
    const changes = [
      change('a', 1, 'mira', 0),
      change('a', 2, 'mira', 1_000),
      change('b', 1, 'tom', 1_500),
      change('a', 3, 'mira', 2_500),
      change('a', 4, 'tom', 3_000),
      change('a', 5, 'tom', 9_000),
    ]
    expect(momentsOf(changes, [])).toEqual([
      { space: 'b', personId: 'tom', began: 1_500, at: 1_500, count: 1, changes: 1 },
      { space: 'a', personId: 'mira', began: 0, at: 2_500, count: 3, changes: 3 },
      { space: 'a', personId: 'tom', began: 3_000, at: 3_000, count: 4, changes: 1 },
      { space: 'a', personId: 'tom', began: 9_000, at: 9_000, count: 5, changes: 1 },
    ])
  })

  test('end when something happens to the copy: it can be seen as it was then', () => {
    const changes = [change('a', 1, 'mira', 0), change('a', 2, 'mira', 1_000)]
    expect(momentsOf(changes, [500]).map(({ count }) => count)).toEqual([1, 2])
  })

  test('have every change in exactly one of them, however the clock goes, and count up to all of them', () => {
    const any = fc.array(
      fc.record({ space: fc.constantFrom('a', 'b'), personId: fc.constantFrom('m', 't'), at: fc.nat(60_000) }),
      { maxLength: 60 },
    )
    fc.assert(
      fc.property(any, fc.array(fc.nat(60_000), { maxLength: 4 }), (written, steps) => {
        const seqs = new Map<string, number>()
        const changes = written.map(({ space, personId, at }) => {
          seqs.set(space, (seqs.get(space) ?? 0) + 1)
          return change(space, seqs.get(space)!, personId, at)
        })
        const moments = momentsOf(changes, steps)
        expect(moments.reduce((sum, moment) => sum + moment.changes, 0)).toBe(changes.length)
        expect(countsAfter(moments, moments.length)).toEqual(seqs)
        for (let shown = 1; shown < moments.length; shown++) {
          expect(moments[shown]!.at).toBeGreaterThanOrEqual(moments[shown - 1]!.at)
          for (const [space, count] of countsAfter(moments, shown - 1))
            expect(countsAfter(moments, shown).get(space)).toBeGreaterThanOrEqual(count)
        }
      }),
      { numRuns: runs(60, 600) },
    )
  })
})

describe('a history in a few lines', () => {
  const moment = (at: number, personId = 'mira', space = 'a') => ({
    space,
    personId,
    began: at,
    at,
    count: 1,
    changes: 1,
  })
  const MINUTE = 60_000

  test('has what was written in one sitting, and the steps between, with how far each is', () => {
    const steps = [
      { kind: 'given', at: 0, space: null },
      { kind: 'submitted', at: 3 * MINUTE, space: null },
      { kind: 'handed back', at: 90 * MINUTE, space: null },
    ]
    const moments = [moment(MINUTE), moment(2 * MINUTE, 'tom', 'b'), moment(4 * MINUTE), moment(30 * MINUTE)]
    expect(sittingsOf(moments, steps)).toMatchObject([
      { is: 'step', step: { kind: 'given' }, to: 0 },
      { is: 'written', from: 0, to: 2, personIds: ['mira', 'tom'], spaces: ['a', 'b'] },
      { is: 'step', step: { kind: 'submitted' }, to: 2 },
      { is: 'written', from: 2, to: 3 },
      { is: 'written', from: 3, to: 4 },
      { is: 'step', step: { kind: 'handed back' }, to: 4 },
    ])
  })

  test('of a copy in which nothing was written has its steps alone', () => {
    const given = { kind: 'given', at: 5, space: null }
    expect(sittingsOf([], [given])).toEqual([{ is: 'step', step: given, spaces: [], to: 0 }])
  })

  test('has what a step changed in the line of the step, all its answers together', () => {
    const back = (space: string) => ({ kind: 'answers brought back', at: 9 * MINUTE, space })
    const moments = [
      moment(MINUTE),
      moment(9 * MINUTE, 'teacher', 'a'),
      moment(9 * MINUTE, 'teacher', 'b'),
      moment(12 * MINUTE),
    ]
    expect(sittingsOf(moments, [back('a'), back('b')])).toMatchObject([
      { is: 'written', from: 0, to: 1 },
      { is: 'step', spaces: ['a', 'b'], to: 3 },
      { is: 'written', from: 3, to: 4 },
    ])
    expect(moments.map((one) => stepOf(one, [back('a'), back('b')])?.space ?? null)).toEqual([null, 'a', 'b', null])
  })

  test('a piece of a log comes out as it went in, and anything else is told', () => {
    const entries = [
      { space: 'a', seq: 1, personId: 'mira', at: 1_796_007_753_456, bytes: new Uint8Array([1, 2]) },
      // The clock was set back meanwhile.
      { space: 'a', seq: 2, personId: 'tom', at: 1_796_007_753_000, bytes: new Uint8Array([3]) },
      { space: 'line_0f', seq: 20_000, personId: 'mira', at: 1_796_007_753_999, bytes: new Uint8Array() },
    ]
    expect(readLog(writeLog(entries))).toEqual(entries)
    expect(readLog(writeLog([]))).toEqual([])
    expect(() => readLog(new Uint8Array())).toThrow()
    expect(() => readLog(new Uint8Array([200, 1, 2]))).toThrow()
  })
})
