import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import * as Y from 'yjs'
import type { AnswerKind } from '../worksheet/content.js'
import { itemsAdded, itemsOf, updateCost } from './cost.js'
import { newAnswerDoc } from './space.js'
import { parseUpdate } from './updateFormat.js'

const NO_END = 100_000_000

const costOf = (doc: Y.Doc, update: Uint8Array, kind: AnswerKind = 'line', budget = NO_END) => {
  const parsed = parseUpdate(update, 1_000_000)
  if (!parsed || parsed === 'too many') throw new Error('not an update')
  return updateCost(doc, parsed, kind, budget)
}

/** The looks that Yjs takes at other items while it puts new ones in their places: it keeps each in two sets. */
function looksOf(doc: Y.Doc, update: Uint8Array): number {
  let added = 0
  // oxlint-disable-next-line typescript/unbound-method -- called with the set it is called on
  const add = Set.prototype.add
  Set.prototype.add = function (this: Set<unknown>, value: unknown) {
    if (value instanceof Y.Item) added++
    return add.call(this, value)
  }
  try {
    Y.applyUpdate(doc, update)
  } finally {
    Set.prototype.add = add
  }
  return added / 2
}

const change = (doc: Y.Doc, act: (doc: Y.Doc) => void): Uint8Array => {
  const before = Y.encodeStateVector(doc)
  act(doc)
  return Y.encodeStateAsUpdate(doc, before)
}

/** Each item put before the last, then items without a left neighbour whose right ones are the first, the second … */
function dear(items: number, structs = 290): { doc: Y.Doc; update: Uint8Array } {
  const doc = newAnswerDoc('line')
  const builder = newAnswerDoc('line')
  builder.clientID = 7
  const first = change(builder, (into) =>
    into.transact(() => {
      for (let at = 0; at < items; at++) into.getText('line').insert(0, 'x')
    }),
  )
  Y.applyUpdate(doc, first)
  // Items that were all made before one another was known: as many writers, each in front of another item.
  const updates = Array.from({ length: structs }, (_, at) => {
    const writer = newAnswerDoc('line')
    const known = newAnswerDoc('line')
    known.clientID = 7
    const part = change(known, (into) =>
      into.transact(() => {
        for (let before = 0; before <= at; before++) into.getText('line').insert(0, 'x')
      }),
    )
    Y.applyUpdate(writer, part)
    writer.clientID = 1_000 + at
    return change(writer, (into) => into.getText('line').insert(0, 'y'))
  })
  return { doc, update: Y.mergeUpdates(updates) }
}

/** What a writer does to a text or a passage. */
const actArb = fc.record({
  writer: fc.nat(2),
  what: fc.constantFrom('insert', 'insert', 'insert', 'delete', 'mark', 'paragraph', 'sync', 'front'),
  at: fc.nat(1_000),
  length: fc.integer({ min: 1, max: 12 }),
})

function act(kind: 'line' | 'passage', doc: Y.Doc, { what, at, length }: { what: string; at: number; length: number }) {
  if (kind === 'line') {
    const text = doc.getText('line')
    const place = what === 'front' ? 0 : at % (text.length + 1)
    if (what === 'delete') text.delete(place, Math.min(length, text.length - place))
    else text.insert(place, 'x'.repeat(length))
    return
  }
  const fragment = doc.getXmlFragment('passage')
  if (what === 'paragraph' || fragment.length === 0) {
    const paragraph = new Y.XmlElement('paragraph')
    paragraph.insert(0, [new Y.XmlText()])
    fragment.insert(at % (fragment.length + 1), [paragraph])
    return
  }
  const index = at % fragment.length
  const paragraph = fragment.get(index) as Y.XmlElement
  if (what === 'delete' && at % 5 === 0) return fragment.delete(index, 1)
  const text = paragraph.get(0) as Y.XmlText
  const place = what === 'front' ? 0 : at % (text.length + 1)
  const some = Math.min(length, text.length - place)
  if (what === 'mark' && some > 0) text.format(place, some, { bold: at % 2 === 0 ? true : null })
  else if (what === 'delete') text.delete(place, some)
  else text.insert(place, 'x'.repeat(length))
}

describe('what an update will cost', () => {
  test('writing as people write costs next to nothing', () => {
    const doc = newAnswerDoc('line')
    const writer = newAnswerDoc('line')
    for (let key = 0; key < 500; key++) {
      const update = change(writer, (into) => into.getText('line').insert((key * 7) % (key + 1), 'x'))
      expect(costOf(doc, update)).toBeLessThanOrEqual(2)
      Y.applyUpdate(doc, update)
    }
  })

  test('an hour offline in one update stays far below the limit', () => {
    const doc = newAnswerDoc('line')
    Y.applyUpdate(
      doc,
      change(newAnswerDoc('line'), (into) => into.getText('line').insert(0, 'high water at six '.repeat(20))),
    )
    const [one, two] = [newAnswerDoc('line'), newAnswerDoc('line')]
    for (const writer of [one, two]) Y.applyUpdate(writer, Y.encodeStateAsUpdate(doc))
    // Some letters here, some there, a word taken out again.
    const write = (writer: Y.Doc, stride: number) =>
      change(writer, (into) => {
        const text = into.getText('line')
        for (let place = 0; place < 150; place++) {
          const at = (place * stride) % text.length
          for (let key = 0; key < 15; key++) text.insert(at + key, 'y')
          if (place % 4 === 0) text.delete((place * 17) % (text.length - 6), 6)
        }
      })
    const [first, second] = [write(one, 31), write(two, 83)]
    expect(costOf(doc, first)).toBeLessThan(2_000)
    Y.applyUpdate(doc, first)
    expect(costOf(doc, second)).toBeLessThan(5_000)
  })

  test('two kilobytes that cost millions of looks are told by them, and counting stops at the budget', () => {
    const { doc, update } = dear(2_000)
    expect(update.length).toBeLessThan(6_000)
    const counted = costOf(doc, update)
    expect(costOf(doc, update, 'line', 20_000)).toBe(20_001)
    const looks = looksOf(doc, update)
    expect(looks).toBeGreaterThan(40_000)
    expect(counted).toBeGreaterThanOrEqual(looks)
  })

  test.each(['line', 'passage'] as const)(
    'is never less than what Yjs looks at: three writers of a %s, returning at any time',
    (kind) => {
      let worst = 0
      fc.assert(
        fc.property(fc.array(actArb, { maxLength: 80 }), (acts) => {
          const server = newAnswerDoc(kind)
          const writers = [0, 1, 2].map((at) => {
            const doc = newAnswerDoc(kind)
            doc.clientID = 10 + at
            return doc
          })
          const bring = (doc: Y.Doc) => {
            const update = Y.encodeStateAsUpdate(doc, Y.encodeStateVector(server))
            // Only what is new, as the inspection hands it on.
            const counted = costOf(server, update, kind)
            const items = itemsOf(server)
            const added = itemsAdded(parseUpdate(update, 1_000_000) as never)
            const looks = looksOf(server, update)
            expect(counted).toBeGreaterThanOrEqual(looks)
            expect(itemsOf(server)).toBeLessThanOrEqual(items + added)
            worst = Math.max(worst, counted)
            Y.applyUpdate(doc, Y.encodeStateAsUpdate(server, Y.encodeStateVector(doc)))
          }
          for (const one of acts) {
            const doc = writers[one.writer]!
            if (one.what === 'sync') bring(doc)
            else act(kind, doc, one)
          }
          writers.forEach(bring)
        }),
        { numRuns: 400 },
      )
      expect(worst).toBeLessThan(20_000)
    },
  )

  test('deleting a paragraph counts all that is in it', () => {
    const doc = newAnswerDoc('passage')
    const paragraph = new Y.XmlElement('paragraph')
    doc.getXmlFragment('passage').insert(0, [paragraph])
    const text = new Y.XmlText()
    paragraph.insert(0, [text])
    for (let at = 0; at < 300; at++) text.insert(0, 'x')
    const other = newAnswerDoc('passage')
    Y.applyUpdate(other, Y.encodeStateAsUpdate(doc))
    const update = change(other, (into) => into.getXmlFragment('passage').delete(0, 1))
    expect(costOf(doc, update, 'passage')).toBeGreaterThanOrEqual(300)
  })
})

test('the same deletion many times in one update is not read', () => {
  const bytes = Uint8Array.from([0, 1, 5, 2, 0, 9, 0, 9])
  expect(parseUpdate(bytes, 300)).toBeNull()
  expect(parseUpdate(Uint8Array.from([0, 1, 5, 2, 0, 9, 9, 9]), 300)).not.toBeNull()
})
