import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import * as Y from 'yjs'
import { caretAfter, changeBetween, writeText } from '../src/sheet/textBinding'

const apply = (before: string, { at, remove, insert }: { at: number; remove: number; insert: string }) =>
  before.slice(0, at) + insert + before.slice(at + remove)
const anyText = fc.string({ unit: fc.constantFrom('a', 'b', '🦭', '🐋', 'ل'), maxLength: 12 })

describe('the change between two texts', () => {
  test('makes the one into the other, and never parts a character', () => {
    fc.assert(
      fc.property(anyText, anyText, fc.nat(30), (before, after, caret) => {
        const change = changeBetween(before, after, Math.min(caret, after.length))
        if (change === null) return expect(before).toBe(after)
        expect(apply(before, change)).toBe(after)
        for (const edge of [change.at, change.at + change.remove])
          expect((before.charCodeAt(edge) & 0xfc00) === 0xdc00).toBe(false)
      }),
      { numRuns: 2_000 },
    )
  })

  test('of equal letters it is the one at the caret', () => {
    expect(changeBetween('aa', 'aaa', 1)).toEqual({ at: 0, remove: 0, insert: 'a' })
    expect(changeBetween('aa', 'aaa', 3)).toEqual({ at: 2, remove: 0, insert: 'a' })
  })

  test('written by two at once, both stay', () => {
    const [one, two] = [new Y.Doc(), new Y.Doc()]
    writeText(one.getText('line'), 'harbour')
    Y.applyUpdate(two, Y.encodeStateAsUpdate(one))
    writeText(one.getText('line'), 'the harbour', 4)
    writeText(two.getText('line'), 'harbour wall')
    Y.applyUpdate(one, Y.encodeStateAsUpdate(two))
    expect(one.getText('line').toJSON()).toBe('the harbour wall')
  })
})

test('a caret stays with its character when somebody else writes', () => {
  const doc = new Y.Doc()
  const text = doc.getText('line')
  let caret = 0
  text.observe((event) => (caret = caretAfter(caret, event.delta)))
  fc.assert(
    fc.property(
      anyText,
      fc.array(fc.record({ at: fc.nat(12), insert: fc.constantFrom('', 'x', 'yy') }), { maxLength: 6 }),
      (start, edits) => {
        text.delete(0, text.length)
        text.insert(0, `${start}|${start}`)
        caret = start.length
        for (const { at, insert } of edits) {
          const bar = text.toJSON().indexOf('|')
          if (insert && bar > 0) text.insert(at % bar, insert)
          else if (bar > 0) text.delete(at % bar, 1)
        }
        expect(text.toJSON()[caret]).toBe('|')
      },
    ),
  )
})
