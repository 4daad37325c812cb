import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import * as encoding from 'lib0/encoding'
import * as Y from 'yjs'
import type { AnswerKind } from '../worksheet/content.js'
import { inspectUpdate } from './inspect.js'
import { newAnswerDoc } from './space.js'

const LINE = 2_000
const PARAGRAPH = 20_000
const PASSAGE = 200_000

const judge = (doc: Y.Doc, kind: AnswerKind, bytes: Uint8Array, hasRoom = true) =>
  inspectUpdate(doc, bytes, {
    kind,
    owns: () => true,
    maxStructs: 10_000,
    maxSteps: 1_000_000,
    maxItems: 1_000_000,
    hasRoom,
  })

/** What a page sends when it does something to this document. */
function change(doc: Y.Doc, act: (doc: Y.Doc) => void, gc = true): Uint8Array {
  const page = new Y.Doc({ gc })
  Y.applyUpdate(page, Y.encodeStateAsUpdate(doc))
  const before = Y.encodeStateVector(page)
  page.transact(() => act(page))
  return Y.encodeStateAsUpdate(page, before)
}

const lineOf = (letters: number): Y.Doc => {
  const doc = newAnswerDoc('line')
  doc.getText('line').insert(0, 'x'.repeat(letters))
  return doc
}
const line = (doc: Y.Doc) => doc.getText('line')

function paragraph(doc: Y.Doc, ...pieces: string[]): void {
  const element = new Y.XmlElement('paragraph')
  doc.getXmlFragment('passage').push([element])
  for (const piece of pieces) element.push(piece === '\n' ? [new Y.XmlElement('hardBreak')] : [new Y.XmlText(piece)])
}

const passageOf = (...letters: number[]): Y.Doc => {
  const doc = newAnswerDoc('passage')
  for (const count of letters) paragraph(doc, 'x'.repeat(count))
  return doc
}
const text = (doc: Y.Doc, at: number, piece = 0) =>
  (doc.getXmlFragment('passage').get(at) as Y.XmlElement).get(piece) as Y.XmlText

const FULL = { verdict: 'refuse', code: 'full' }
const APPLY = { verdict: 'apply' }

describe('a line', () => {
  test.each([
    ['grows up to its room', LINE - 5, 5, 0, APPLY],
    ['and not beyond', LINE - 5, 6, 0, FULL],
    ['is changed where it has more already', 3 * LINE, 50, 50, APPLY],
    ['and shortened', 3 * LINE, 0, 50, APPLY],
    ['but grows no more', 3 * LINE, 51, 50, FULL],
  ])('%s', (_, has, added, deleted, verdict) => {
    const doc = lineOf(has)
    const bytes = change(doc, (page) => {
      line(page).delete(0, deleted)
      line(page).insert(0, 'y'.repeat(added))
    })
    expect(judge(doc, 'line', bytes)).toMatchObject(verdict)
    expect(judge(doc, 'line', bytes, false)).toMatchObject(APPLY)
  })

  test('what was written and taken out again between two messages does not count', () => {
    const doc = lineOf(10)
    const bytes = change(
      doc,
      (page) => {
        line(page).insert(0, 'y'.repeat(5 * LINE))
        line(page).delete(0, 5 * LINE)
      },
      false,
    )
    expect(bytes.length).toBeGreaterThan(5 * LINE)
    expect(judge(doc, 'line', bytes)).toMatchObject(APPLY)
  })

  test('a deletion said many times makes no room', () => {
    const doc = lineOf(LINE)
    const grown = change(doc, (page) => line(page).insert(0, 'y'.repeat(30)))
    const deleting = (times: number) => {
      const encoder = encoding.createEncoder()
      // All but the empty set of deletions at its end.
      encoding.writeUint8Array(encoder, grown.slice(0, -1))
      for (const value of [1, doc.clientID, times]) encoding.writeVarUint(encoder, value)
      for (let time = 0; time < times; time++) for (const value of [0, 10]) encoding.writeVarUint(encoder, value)
      return encoding.toUint8Array(encoder)
    }
    expect(judge(doc, 'line', deleting(1))).toMatchObject(FULL)
    expect(judge(doc, 'line', deleting(3))).toMatchObject({ verdict: 'refuse', code: 'malformed' })
  })

  test('random changes are refused when they leave it longer than its room and longer than it was, and only then', () => {
    const step = fc.record({ at: fc.nat(), insert: fc.integer({ min: 0, max: 900 }), remove: fc.nat(600) })
    fc.assert(
      fc.property(
        fc.constantFrom(0, 900, LINE - 300, LINE, 2 * LINE),
        fc.array(step, { maxLength: 6 }),
        fc.array(step, { maxLength: 4 }),
        fc.boolean(),
        (has, steps, others, gc) => {
          const edit = (page: Y.Doc, all: typeof steps) => {
            for (const { at, insert, remove } of all) {
              line(page).insert(at % (line(page).length + 1), 'z'.repeat(insert))
              const from = at % (line(page).length + 1)
              line(page).delete(from, Math.min(remove, line(page).length - from))
            }
          }
          const doc = lineOf(has)
          const bytes = change(doc, (page) => edit(page, steps), gc)
          // Somebody else wrote meanwhile.
          Y.applyUpdate(
            doc,
            change(doc, (page) => edit(page, others)),
          )
          const before = line(doc).length
          const after = newAnswerDoc('line')
          Y.applyUpdate(after, Y.encodeStateAsUpdate(doc))
          Y.applyUpdate(after, bytes)
          const isOver = line(after).length > LINE && line(after).length > before
          expect(judge(doc, 'line', bytes).verdict === 'refuse').toBe(isOver)
        },
      ),
      { numRuns: 200 },
    )
  })
})

describe('a passage', () => {
  test('a paragraph grows up to its room, over line breaks, and not beyond; the next one may', () => {
    const doc = passageOf(100, 100)
    Y.applyUpdate(
      doc,
      change(doc, (page) => paragraph(page, 'a'.repeat(PARAGRAPH - 100), '\n', 'b'.repeat(90))),
    )
    const typed = (at: number, piece: number, letters: number) =>
      judge(
        doc,
        'passage',
        change(doc, (page) => text(page, at, piece).insert(0, 'c'.repeat(letters))),
      )
    expect(typed(2, 0, 10)).toMatchObject(APPLY)
    expect(typed(2, 0, 11)).toMatchObject(FULL)
    expect(typed(2, 2, 11)).toMatchObject(FULL)
    expect(typed(1, 0, 11)).toMatchObject(APPLY)
  })

  test('a new paragraph has the same room', () => {
    const doc = passageOf(5)
    const brought = (letters: number) =>
      judge(
        doc,
        'passage',
        change(doc, (page) => paragraph(page, 'a'.repeat(letters), '\n', 'b'.repeat(100))),
      )
    expect(brought(PARAGRAPH - 100)).toMatchObject(APPLY)
    expect(brought(PARAGRAPH - 99)).toMatchObject(FULL)
  })

  test('all paragraphs together have room, and what was deleted makes room again', () => {
    const doc = passageOf(...Array.from({ length: 10 }, () => PARAGRAPH))
    const bytes = change(doc, (page) => paragraph(page, 'one more'))
    expect(judge(doc, 'passage', bytes)).toMatchObject(FULL)
    Y.applyUpdate(
      doc,
      change(doc, (page) => page.getXmlFragment('passage').delete(0, 1)),
    )
    expect(judge(doc, 'passage', bytes)).toMatchObject(APPLY)
    expect(PASSAGE).toBe(10 * PARAGRAPH)
  })

  test('one that has more than its room is still shortened, and marked', () => {
    const doc = passageOf(PARAGRAPH + 500)
    expect(
      judge(
        doc,
        'passage',
        change(doc, (page) => text(page, 0).delete(0, 1)),
      ),
    ).toMatchObject(APPLY)
    expect(
      judge(
        doc,
        'passage',
        change(doc, (page) => text(page, 0).format(5, 5, { bold: true })),
      ),
    ).toMatchObject(APPLY)
  })
})
