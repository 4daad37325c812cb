import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import * as encoding from 'lib0/encoding'
import * as Y from 'yjs'
import type { AnswerKind } from '../worksheet/content.js'
import { inspectUpdate } from './inspect.js'
import { ONE_CHOICE, chooseOne, newAnswerDoc, readAnswer } from './space.js'
import { parseUpdate } from './updateFormat.js'
import { runs } from '../../../scripts/lib/runs.mjs'

const rules = (kind: AnswerKind, owns: (client: number) => boolean = () => true, maxStructs = 300) => ({
  kind,
  owns,
  maxStructs,
  maxSteps: 60_000,
  maxItems: 1_000_000,
  hasRoom: true,
})

/** What a browser sends when it does something to a document it has in this state. */
function updateOf(state: Y.Doc, kind: AnswerKind, act: (doc: Y.Doc) => void, client?: number): Uint8Array {
  const doc = newAnswerDoc(kind)
  Y.applyUpdate(doc, Y.encodeStateAsUpdate(state))
  if (client !== undefined) doc.clientID = client
  const before = Y.encodeStateVector(doc)
  act(doc)
  return Y.encodeStateAsUpdate(doc, before)
}

function written(kind: AnswerKind, act: (doc: Y.Doc) => void): Y.Doc {
  const doc = newAnswerDoc(kind)
  act(doc)
  return doc
}

const textDoc = (text: string) => written('line', (doc) => doc.getText('line').insert(0, text))

/** Hand-made bytes in the first binary format of Yjs. */
function forge(write: (encoder: encoding.Encoder) => void): Uint8Array {
  const encoder = encoding.createEncoder()
  write(encoder)
  return encoding.toUint8Array(encoder)
}
const numbers = (...values: number[]) =>
  forge((encoder) => values.forEach((value) => encoding.writeVarUint(encoder, value)))

/** One block of one text item at the root `line`, without deletions. */
const rootText = (client: number, clock: number, text: string, root = 'line') =>
  forge((encoder) => {
    for (const value of [1, 1, client, clock]) encoding.writeVarUint(encoder, value)
    encoding.writeUint8(encoder, 4)
    encoding.writeVarUint(encoder, 1)
    encoding.writeVarString(encoder, root)
    encoding.writeVarString(encoder, text)
    encoding.writeVarUint(encoder, 0)
  })

/** A text item with origins. */
const originText = (
  client: number,
  clock: number,
  origin: [number, number] | null,
  right: [number, number] | null,
  text = 'x',
) =>
  forge((encoder) => {
    for (const value of [1, 1, client, clock]) encoding.writeVarUint(encoder, value)
    encoding.writeUint8(encoder, 4 | (origin ? 0x80 : 0) | (right ? 0x40 : 0))
    for (const id of [origin, right]) if (id) id.forEach((value) => encoding.writeVarUint(encoder, value))
    encoding.writeVarString(encoder, text)
    encoding.writeVarUint(encoder, 0)
  })

const deletion = (client: number, ...ranges: [number, number][]) =>
  numbers(0, 1, client, ranges.length, ...ranges.flat())

test('one choice is one value: of two who choose at once both see the last; what was ticked before still counts', () => {
  const space = {
    id: 's',
    kind: 'choice' as const,
    many: false,
    options: ['a', 'b', 'c'].map((id) => ({ id, text: id })),
  }
  const [one, other] = [newAnswerDoc('choice'), newAnswerDoc('choice')]
  const chosen = (doc: Y.Doc, many = false) => readAnswer({ ...space, many }, doc)
  // As it was kept before.
  one.getMap('choice').set('b', true)
  Y.applyUpdate(other, Y.encodeStateAsUpdate(one))
  expect(chosen(other)).toEqual({ chosen: ['b'] })
  chooseOne(one, 'a')
  chooseOne(other, 'c')
  Y.applyUpdate(other, Y.encodeStateAsUpdate(one))
  Y.applyUpdate(one, Y.encodeStateAsUpdate(other))
  expect(chosen(one)).toEqual(chosen(other))
  expect((chosen(one) as { chosen: string[] }).chosen).toHaveLength(1)
  chooseOne(one, null)
  expect(chosen(one)).toEqual({ chosen: [] })
  // A later edition lets several be chosen.
  chooseOne(one, 'c')
  expect(chosen(one, true)).toEqual({ chosen: ['b', 'c'] })
  one.getMap('choice').set('c', false)
  expect(chosen(one, true)).toEqual({ chosen: ['b'] })
})

describe('sound updates pass', () => {
  test.each<[string, AnswerKind, (doc: Y.Doc) => void]>([
    ['typing', 'line', (doc) => doc.getText('line').insert(0, '05:48 🦭 ليلى')],
    ['a number', 'number', (doc) => doc.getText('number').insert(0, '3,7')],
    ['a gap', 'gap', (doc) => doc.getText('gap').insert(0, 'ebb')],
    ['a table cell', 'cell', (doc) => doc.getText('cell').insert(0, '12,5')],
    ['a stroke', 'drawing', (doc) => doc.getMap('drawing').set('k1', '3 0,0 120,45 1000,450')],
    ['a file', 'file', (doc) => doc.getMap('file').set('7c9e6679-7425-40de-944b-e07fc1f90ae7', 'ebb.png')],
    ['rubbing out', 'drawing', (doc) => (doc.getMap('drawing').set('k1', '3 0,0'), doc.getMap('drawing').delete('k1'))],
    ['choosing', 'choice', (doc) => doc.getMap('choice').set('o1', true)],
    ['choosing one', 'choice', (doc) => chooseOne(doc, 'o1')],
    ['choosing none', 'choice', (doc) => chooseOne(doc, null)],
    [
      'choosing another',
      'choice',
      (doc) => doc.transact(() => (doc.getMap('choice').set('o1', false), doc.getMap('choice').set('o2', true))),
    ],
    [
      'a paragraph with bold words, a list and a line break',
      'passage',
      (doc) => {
        const text = new Y.XmlText()
        text.insert(0, 'high water')
        text.format(0, 4, { bold: {} })
        const paragraph = new Y.XmlElement('paragraph')
        paragraph.insert(0, [text, new Y.XmlElement('hardBreak')])
        const list = new Y.XmlElement('bulletList')
        const item = new Y.XmlElement('listItem')
        item.insert(0, [new Y.XmlElement('paragraph')])
        list.insert(0, [item])
        doc.getXmlFragment('passage').insert(0, [paragraph, list])
      },
    ],
  ])('%s', (_, kind, act) => {
    const doc = newAnswerDoc(kind)
    const inspected = inspectUpdate(doc, updateOf(doc, kind, act), rules(kind))
    expect(inspected.verdict).toBe('apply')
  })

  test('what is known already is known, for everybody', () => {
    const doc = textDoc('05:48')
    doc.getText('line').delete(0, 2)
    expect(
      inspectUpdate(
        doc,
        Y.encodeStateAsUpdate(doc),
        rules('line', () => false),
      ).verdict,
    ).toBe('known')
  })

  test('only what is new in it is applied', () => {
    const doc = textDoc('05')
    const whole = written(
      'line',
      (other) => (Y.applyUpdate(other, Y.encodeStateAsUpdate(doc)), other.getText('line').insert(2, ':48')),
    )
    const inspected = inspectUpdate(
      doc,
      Y.encodeStateAsUpdate(whole),
      rules('line', (client) => client === whole.clientID),
    )
    expect(inspected.verdict).toBe('apply')
    if (inspected.verdict === 'apply') Y.applyUpdate(doc, inspected.bytes)
    expect(doc.getText('line').toJSON()).toBe('05:48')
  })

  test('what rests on something that is not here is asked for', () => {
    const far = textDoc('05')
    const late = updateOf(far, 'line', (doc) => doc.getText('line').insert(2, ':48'))
    expect(inspectUpdate(newAnswerDoc('line'), late, rules('line')).verdict).toBe('missing')
    expect(inspectUpdate(newAnswerDoc('line'), deletion(7, [0, 3]), rules('line')).verdict).toBe('missing')
    expect(inspectUpdate(newAnswerDoc('line'), rootText(7, 3, 'gap'), rules('line')).verdict).toBe('missing')
  })
})

describe('forged updates are refused, and leave the document as it was', () => {
  const doc = textDoc('05:48')
  const own = doc.clientID
  const passage = written('passage', (made) => {
    const paragraph = new Y.XmlElement('paragraph')
    paragraph.insert(0, [new Y.XmlText('words')])
    made.getXmlFragment('passage').insert(0, [paragraph])
  })
  const intoPassage = (act: (made: Y.Doc) => void) => updateOf(passage, 'passage', act)
  const put = (element: Y.XmlElement | Y.XmlText) =>
    intoPassage((made) => made.getXmlFragment('passage').insert(0, [element]))

  test.each<[string, Uint8Array]>([
    ['nothing', new Uint8Array()],
    ['noise', new Uint8Array([255, 255, 255, 255, 255, 255, 255])],
    ['a header that counts more clients than there are', numbers(9, 0)],
    ['a header that counts more structs than there are', numbers(1, 9, 77, 0)],
    ['a client twice', numbers(2, 1, 77, 0, 0, 1, 1, 77, 1, 0, 1, 0)],
    ['an empty client', numbers(1, 0, 77, 0, 0)],
    ['bytes after the end', new Uint8Array([...rootText(77, 0, 'x'), 0])],
    ['an empty text', rootText(77, 0, '')],
    ['a reference to itself', originText(77, 0, [77, 0], null)],
    ['a forward reference', originText(77, 0, [77, 5], null)],
    ['a right neighbour that is itself', originText(77, 0, null, [77, 0])],
    ['a delete range of no length', deletion(own, [0, 0])],
    ['a delete set that counts wrong', numbers(0, 1, own, 3, 0, 1)],
    ['a clock beyond reach', rootText(77, 2 ** 31, 'x')],
    ['a length beyond reach', numbers(1, 1, 77, 0, 0, 2 ** 31, 0)],
    ['another root', rootText(77, 0, 'x', 'print')],
    ['the root of another kind', rootText(77, 0, 'x', 'passage')],
  ])('%s', (_, bytes) => {
    const before = Y.encodeStateAsUpdate(doc)
    expect(inspectUpdate(doc, bytes, rules('line')).verdict).toBe('refuse')
    expect(Y.encodeStateAsUpdate(doc)).toEqual(before)
  })

  test('two structs that wait for each other', () => {
    const ring = forge((encoder) => {
      encoding.writeVarUint(encoder, 2)
      for (const [client, other] of [
        [91, 92],
        [92, 91],
      ] as const) {
        for (const value of [1, client, 0]) encoding.writeVarUint(encoder, value)
        encoding.writeUint8(encoder, 4 | 0x80)
        encoding.writeVarUint(encoder, other)
        encoding.writeVarUint(encoder, 0)
        encoding.writeVarString(encoder, 'x')
      }
      encoding.writeVarUint(encoder, 0)
    })
    expect(inspectUpdate(doc, ring, rules('line'))).toMatchObject({ verdict: 'refuse', code: 'malformed' })
  })

  test('another writer’s client id', () => {
    const theirs = updateOf(doc, 'line', (made) => made.getText('line').insert(0, 'x'), own)
    expect(
      inspectUpdate(
        doc,
        theirs,
        rules('line', (client) => client !== own),
      ),
    ).toMatchObject({ verdict: 'refuse', code: 'not-yours' })
    // Eight bytes that would burn the clock of somebody who has not written yet.
    const burn = numbers(1, 1, 4242, 0, 0, 1_000, 0)
    expect(
      inspectUpdate(
        doc,
        burn,
        rules('line', (client) => client !== 4242),
      ),
    ).toMatchObject({ verdict: 'refuse', code: 'not-yours' })
  })

  test('more structs than are looked at in one go', () => {
    const many = written('line', (made) => {
      for (let at = 0; at < 400; at++) made.getText('line').insert(0, 'x')
    })
    expect(inspectUpdate(newAnswerDoc('line'), Y.encodeStateAsUpdate(many), rules('line'))).toMatchObject({
      verdict: 'refuse',
      code: 'too-many',
    })
  })

  test('a mark whose value is no JSON, on which Yjs throws in mid-transaction', () => {
    const mark = (json: string) =>
      forge((encoder) => {
        for (const value of [1, 1, 77, 0]) encoding.writeVarUint(encoder, value)
        encoding.writeUint8(encoder, 6 | 0x80)
        encoding.writeVarUint(encoder, passage.clientID)
        encoding.writeVarUint(encoder, 3)
        encoding.writeVarString(encoder, 'bold')
        encoding.writeVarString(encoder, json)
        encoding.writeVarUint(encoder, 0)
      })
    expect(inspectUpdate(passage, mark('true'), rules('passage')).verdict).toBe('apply')
    for (const json of ['n(ll', '', '{', 'undefined', `"${'x'.repeat(100)}"`])
      expect(inspectUpdate(passage, mark(json), rules('passage')).verdict).toBe('refuse')
  })

  test.each<[string, AnswerKind, Uint8Array]>([
    [
      'a sub-document',
      'choice',
      updateOf(newAnswerDoc('choice'), 'choice', (made) => made.getMap('choice').set('x', new Y.Doc())),
    ],
    ...(
      [
        ['a stroke that is none', 'k1', '3 M0,0 L9,9'],
        ['a stroke of a thousand points', 'k1', `3 ${Array(1_000).fill('1,1').join(' ')}`],
        ['a stroke without points', 'k1', '3'],
        ['a stroke under an odd key', '../k1', '3 1,1'],
        ['a number for a stroke', 'k1', 3],
        ['an object for a stroke', 'k1', { points: [] }],
      ] as const
    ).map(([name, key, value]): [string, AnswerKind, Uint8Array] => [
      name,
      'drawing',
      updateOf(newAnswerDoc('drawing'), 'drawing', (made) => made.getMap('drawing').set(key, value)),
    ]),
    ...(
      [
        ['a file that was never handed in by an id', 'x', 'a.png'],
        ['a file without a name', '7c9e6679-7425-40de-944b-e07fc1f90ae7', ''],
        ['a file with an endless name', '7c9e6679-7425-40de-944b-e07fc1f90ae7', 'x'.repeat(201)],
        ['a tick for a file', '7c9e6679-7425-40de-944b-e07fc1f90ae7', true],
      ] as const
    ).map(([name, key, value]): [string, AnswerKind, Uint8Array] => [
      name,
      'file',
      updateOf(newAnswerDoc('file'), 'file', (made) => made.getMap('file').set(key, value)),
    ]),
    [
      'words where ticks go',
      'choice',
      updateOf(newAnswerDoc('choice'), 'choice', (made) => made.getMap('choice').set('o1', 'yes')),
    ],
    [
      'a tick where the one option goes',
      'choice',
      updateOf(newAnswerDoc('choice'), 'choice', (made) => made.getMap('choice').set(ONE_CHOICE, true)),
    ],
    [
      'an endless option',
      'choice',
      updateOf(newAnswerDoc('choice'), 'choice', (made) => made.getMap('choice').set(ONE_CHOICE, 'x'.repeat(65))),
    ],
    [
      'an object in a choice',
      'choice',
      updateOf(newAnswerDoc('choice'), 'choice', (made) => made.getMap('choice').set('x', { deep: [1] })),
    ],
    [
      'a nested type in a choice',
      'choice',
      updateOf(newAnswerDoc('choice'), 'choice', (made) => made.getMap('choice').set('x', new Y.Map())),
    ],
    [
      'binary data in a choice',
      'choice',
      updateOf(newAnswerDoc('choice'), 'choice', (made) => made.getMap('choice').set('x', new Uint8Array(9))),
    ],
    [
      'an option name of 65 characters',
      'choice',
      updateOf(newAnswerDoc('choice'), 'choice', (made) => made.getMap('choice').set('x'.repeat(65), true)),
    ],
    [
      'formatting in a line',
      'line',
      updateOf(newAnswerDoc('line'), 'line', (made) => made.getText('line').insert(0, 'x', { bold: true })),
    ],
    [
      'an embed in a line',
      'line',
      updateOf(newAnswerDoc('line'), 'line', (made) => made.getText('line').insertEmbed(0, { image: 'x' })),
    ],
    ['another element in a passage', 'passage', put(new Y.XmlElement('script'))],
    ['bare text at the root of a passage', 'passage', put(new Y.XmlText('x'))],
    [
      'another mark',
      'passage',
      intoPassage((made) =>
        ((made.getXmlFragment('passage').get(0) as Y.XmlElement).get(0) as Y.XmlText).format(0, 2, {
          link: { href: 'x' },
        }),
      ),
    ],
    [
      'an attribute that is an object',
      'passage',
      intoPassage((made) =>
        (made.getXmlFragment('passage').get(0) as unknown as Y.XmlElement<Record<string, object>>).setAttribute(
          'style',
          { x: 1 },
        ),
      ),
    ],
    [
      'lists nested without end',
      'passage',
      intoPassage((made) => {
        let parent: Y.XmlFragment = made.getXmlFragment('passage')
        for (let depth = 0; depth < 40; depth++) {
          const inner = new Y.XmlElement('bulletList')
          parent.insert(0, [inner])
          parent = inner
        }
      }),
    ],
  ])('%s', (_, kind, bytes) => {
    const target = kind === 'passage' ? passage : newAnswerDoc(kind)
    const inspected = inspectUpdate(target, bytes, rules(kind))
    expect(inspected.verdict).toBe('refuse')
  })
})

describe('against the ground truth', () => {
  const KINDS: readonly AnswerKind[] = ['line', 'choice', 'drawing', 'passage']

  type Step = { writer: number; act: number; at: number; text: string }
  const anySteps = fc.array(
    fc.record({ writer: fc.nat(2), act: fc.nat(5), at: fc.nat(40), text: fc.constantFrom('a', 'tide ', '🦭', 'ليل') }),
    { minLength: 1, maxLength: 40 },
  )

  function edit(doc: Y.Doc, kind: AnswerKind, { act, at, text }: Step): void {
    if (kind === 'choice') return void doc.getMap('choice').set(`o${at % 4}`, act % 2 === 0)
    if (kind === 'drawing') {
      const root = doc.getMap('drawing')
      if (act < 4) root.set(`k${at}`, `3 ${at},${at} ${act},9`)
      else root.delete(`k${at}`)
      return
    }
    if (kind === 'line') {
      const root = doc.getText('line')
      const place = at % (root.length + 1)
      if (act < 4) root.insert(place, text)
      else if (place < root.length) root.delete(place, 1)
      return
    }
    const root = doc.getXmlFragment('passage')
    const place = at % (root.length + 1)
    const node = root.length ? root.get(at % root.length) : null
    if (act < 2 || !node) {
      const paragraph = new Y.XmlElement('paragraph')
      paragraph.insert(0, [new Y.XmlText(text)])
      root.insert(place, [paragraph])
    } else if (act < 4 && node instanceof Y.XmlElement && node.get(0) instanceof Y.XmlText) {
      const words = node.get(0) as Y.XmlText
      words.insert(at % (words.length + 1), text, act === 3 ? { bold: {} } : {})
    } else root.delete(at % root.length, 1)
  }

  test('edits of three writers, delivered late and out of order: none refused, the document ends as theirs', () => {
    fc.assert(
      fc.property(fc.constantFrom(...KINDS), anySteps, fc.infiniteStream(fc.nat(5)), (kind, steps, chance) => {
        const server = newAnswerDoc(kind)
        const writers = [0, 1, 2].map(() => ({ doc: newAnswerDoc(kind), waiting: [] as Uint8Array[] }))
        const owner = new Map(writers.map(({ doc }, index) => [doc.clientID, index]))
        for (const writer of writers)
          writer.doc.on(
            'update',
            (bytes: Uint8Array, origin: unknown) => origin !== 'server' && writer.waiting.push(bytes),
          )
        const deliver = (index: number) => {
          const writer = writers[index]!
          const bytes = writer.waiting.shift()
          if (!bytes) return
          const inspected = inspectUpdate(
            server,
            bytes,
            rules(kind, (client) => owner.get(client) === index),
          )
          expect(['apply', 'known']).toContain(inspected.verdict)
          if (inspected.verdict !== 'apply') return
          const clone = newAnswerDoc(kind)
          Y.applyUpdate(clone, Y.encodeStateAsUpdate(server))
          Y.applyUpdate(clone, bytes)
          Y.applyUpdate(server, inspected.bytes)
          expect(Y.encodeStateAsUpdate(server)).toEqual(Y.encodeStateAsUpdate(clone))
          expect(server.store.pendingStructs).toBeNull()
        }
        for (const step of steps) {
          edit(writers[step.writer]!.doc, kind, step)
          const dice = Number(chance.next().value)
          if (dice < 3) deliver(dice)
          if (dice === 4) for (const { doc } of writers) Y.applyUpdate(doc, Y.encodeStateAsUpdate(server), 'server')
        }
        writers.forEach((writer, index) => {
          while (writer.waiting.length) deliver(index)
        })
        for (const { doc } of writers) Y.applyUpdate(doc, Y.encodeStateAsUpdate(server), 'server')
        const space =
          kind === 'choice'
            ? { id: 's', kind, many: true, options: [0, 1, 2, 3].map((at) => ({ id: `o${at}`, text: 'x' })) }
            : kind === 'line'
              ? ({ id: 's', kind, width: 'full' } as const)
              : ({ id: 's', kind: 'passage', lines: 3 } as const)
        for (const { doc } of writers) expect(readAnswer(space, doc)).toEqual(readAnswer(space, server))
      }),
      { numRuns: runs(50, 500) },
    )
  })

  test('sound updates with bytes changed: never a throw; what passes applies without one, leaves nothing parked, and only the writer’s ids grow', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...KINDS),
        anySteps,
        fc.array(fc.tuple(fc.nat(), fc.nat(255)), { minLength: 1, maxLength: 4 }),
        fc.nat(3),
        (kind, steps, changes, mode) => {
          const server = newAnswerDoc(kind)
          const writer = newAnswerDoc(kind)
          steps.forEach((step) => edit(server, kind, step))
          Y.applyUpdate(writer, Y.encodeStateAsUpdate(server))
          const before = Y.encodeStateVector(writer)
          steps.slice(0, 3).forEach((step) => edit(writer, kind, step))
          let bytes = Y.encodeStateAsUpdate(writer, before)
          if (mode === 0) bytes = bytes.slice(0, changes[0]![0] % (bytes.length + 1))
          else for (const [at, value] of changes) bytes[at % bytes.length] = value
          const inspected = inspectUpdate(
            server,
            bytes,
            rules(kind, (client) => client === writer.clientID),
          )
          if (inspected.verdict !== 'apply') return
          const others = new Map(Y.decodeStateVector(Y.encodeStateVector(server)))
          expect(() => Y.applyUpdate(server, inspected.bytes)).not.toThrow()
          expect(server.store.pendingStructs).toBeNull()
          expect(server.store.pendingDs).toBeNull()
          for (const [client, clock] of Y.decodeStateVector(Y.encodeStateVector(server)))
            if (client !== writer.clientID) expect(clock).toBe(others.get(client))
          expect(() =>
            newAnswerDoc(kind).transact(() => Y.applyUpdate(newAnswerDoc(kind), Y.encodeStateAsUpdate(server))),
          ).not.toThrow()
        },
      ),
      { numRuns: runs(800, 10_000) },
    )
  })

  test('any bytes at all are refused or sound', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 60 }), (bytes) => {
        const doc = textDoc('05:48')
        const inspected = inspectUpdate(
          doc,
          bytes,
          rules('line', (client) => client !== doc.clientID),
        )
        if (inspected.verdict === 'apply') expect(() => Y.applyUpdate(doc, inspected.bytes)).not.toThrow()
        expect(doc.store.pendingStructs).toBeNull()
      }),
      { numRuns: runs(1_500, 20_000) },
    )
  })

  test('what the strict reader reads, Yjs reads the same', () => {
    fc.assert(
      fc.property(fc.constantFrom(...KINDS), anySteps, (kind, steps) => {
        const doc = newAnswerDoc(kind)
        steps.forEach((step) => edit(doc, kind, step))
        const bytes = Y.encodeStateAsUpdate(doc)
        const parsed = parseUpdate(bytes, 10_000)
        if (parsed === null || parsed === 'too many') throw new Error('a sound update was not read')
        const { structs, ds } = Y.decodeUpdate(bytes)
        expect(parsed.structs).toBe(structs.length)
        expect(parsed.deletions).toHaveLength([...ds.clients.values()].flat().length)
      }),
      { numRuns: 100 },
    )
  })
})

test('an item between neighbours that stand in different places is refused: it would tear the list they are in', () => {
  const doc = written('passage', (made) => {
    for (const words of ['ebb', 'flood']) {
      const paragraph = new Y.XmlElement('paragraph')
      made.getXmlFragment('passage').push([paragraph])
      const text = new Y.XmlText()
      paragraph.insert(0, [text])
      text.insert(0, words)
    }
  })
  const [first, second] = doc.getXmlFragment('passage').toArray() as Y.XmlElement[]
  const startOf = (paragraph: Y.XmlElement) => {
    const { id } = (paragraph.get(0) as Y.XmlText)._start!
    return [id.client, id.clock] as [number, number]
  }
  const between = originText(77, 0, startOf(first!), startOf(second!))
  expect(inspectUpdate(doc, between, rules('passage'))).toMatchObject({ verdict: 'refuse', code: 'malformed' })
  const [client, clock] = startOf(first!)
  const beside = originText(77, 0, [client, clock], [client, clock + 1])
  expect(inspectUpdate(doc, beside, rules('passage')).verdict).toBe('apply')
})
