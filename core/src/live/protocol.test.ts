import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { readClientMessage, readSpaceUpdate, writeSpaceUpdate } from './protocol.js'

test('a binary frame is read back as it was written', () => {
  const update = fc.record({
    channel: fc.nat(),
    space: fc.stringMatching(/^[A-Za-z0-9_-]{1,64}$/),
    number: fc.nat(),
    bytes: fc.uint8Array(),
  })
  fc.assert(fc.property(update, (given) => expect(readSpaceUpdate(writeSpaceUpdate(given))).toEqual(given)))
})

test('any other frame is null or within the limits, never a throw', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 40 }), (frame) => {
      const read = readSpaceUpdate(frame)
      if (read) expect(read.space).toMatch(/^[A-Za-z0-9_-]{1,64}$/)
    }),
  )
})

test.each([
  ['{"type":"open","channel":1,"copyId":"c1"}', true],
  ['{"type":"writer","channel":1,"space":"s1","client":4294967295}', true],
  ['{"type":"watch","handoutId":"h1"}', true],
  ['{"type":"close","channel":1}', true],
  ['{"type":"writer","channel":1,"space":"s1","client":4294967296}', false],
  ['{"type":"open","channel":-1,"copyId":"c1"}', false],
  ['{"type":"open","channel":1,"copyId":"../x"}', false],
  ['{"type":"saved","channel":1}', false],
  ['null', false],
  ['[', false],
])('%s', (text, good) => {
  expect(readClientMessage(text) !== null).toBe(good)
})

test('where somebody is in a copy is read strictly, and nothing more of it', () => {
  const here = { type: 'here', channel: 1, space: 'q1', at: 'AAEC', away: false }
  const read = (message: object) => readClientMessage(JSON.stringify(message))
  expect(read({ ...here, name: 'somebody else', key: 3 })).toEqual(here)
  expect(read({ ...here, space: null, at: null, away: true })).toEqual({ ...here, space: null, at: null, away: true })
  // A place that cannot be one is none.
  expect(read({ ...here, at: 'x'.repeat(401) })).toEqual({ ...here, at: null })
  expect(read({ ...here, at: { a: 1 } })).toEqual({ ...here, at: null })
  for (const bad of [{ space: '../q' }, { space: 7 }, { channel: -1 }, { away: 'no' }, { away: undefined }])
    expect(read({ ...here, ...bad })).toBeNull()
})
