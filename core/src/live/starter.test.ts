import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import * as Y from 'yjs'
import { inspectUpdate } from './inspect.js'
import { newAnswerDoc, readAnswer } from './space.js'
import { isStarter, starterClient, starterUpdate } from './starter.js'
import { parseUpdate } from './updateFormat.js'

const SPACE = { kind: 'passage', id: 'a', label: '', lines: 3, required: false } as never
const textOf = (doc: Y.Doc) => (readAnswer(SPACE, doc) as { text: string }).text
const rules = (starter: string, own: number[] = []) => ({
  kind: 'passage' as const,
  owns: (client: number, structs: Parameters<typeof isStarter>[1]) =>
    client === starterClient(starter) ? isStarter(starter, structs) : own.includes(client),
  maxStructs: 20_000,
  maxSteps: 60_000,
  maxItems: 30_000,
  hasRoom: true,
})

describe('a given beginning', () => {
  test('is the answer once, also when two begin at once and write on', () => {
    const starter = 'On Tuesday morning,\nafter the storm'
    const [one, other] = [newAnswerDoc('passage'), newAnswerDoc('passage')]
    for (const [doc, words] of [
      [one, ' we sailed'],
      [other, ' I slept'],
    ] as const) {
      Y.applyUpdate(doc, starterUpdate(starter))
      const last = doc.getXmlFragment('passage').get(1) as Y.XmlElement
      ;(last.get(0) as Y.XmlText).insert(15, words)
    }
    const [from, back] = [Y.encodeStateAsUpdate(one), Y.encodeStateAsUpdate(other)]
    Y.applyUpdate(other, from)
    Y.applyUpdate(one, back)
    expect(textOf(one)).toBe(textOf(other))
    expect(textOf(one).startsWith(starter)).toBe(true)
    expect(textOf(one).split('On Tuesday')).toHaveLength(2)
    expect(textOf(one)).toContain(' we sailed')
    expect(textOf(one)).toContain(' I slept')
  })

  test('whatever its words, it is taken from anybody, alone or with what they wrote on it, and nothing else under its name', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1, maxLength: 60, unit: 'grapheme' }), fc.string(), (starter, other) => {
        const update = starterUpdate(starter)
        const server = newAnswerDoc('passage')
        expect(inspectUpdate(server, update, rules(starter)).verdict).toBe('apply')
        // With what the writer added, as it is sent after the connection was gone.
        const writer = newAnswerDoc('passage')
        Y.applyUpdate(writer, update)
        writer.getXmlFragment('passage').insert(0, [new Y.XmlElement('paragraph')])
        const both = Y.encodeStateAsUpdate(writer)
        expect(inspectUpdate(server, both, rules(starter, [writer.clientID])).verdict).toBe('apply')
        expect(inspectUpdate(server, both, rules(starter))).toMatchObject({ code: 'not-yours' })
        Y.applyUpdate(server, update)
        expect(inspectUpdate(server, update, rules(starter)).verdict).toBe('known')
        expect(textOf(server)).toBe(starter)
        if (other === starter) return
        // Other words under its client id.
        const forger = newAnswerDoc('passage')
        forger.clientID = starterClient(starter)
        const text = new Y.XmlElement('paragraph')
        text.insert(0, [new Y.XmlText(other || 'x')])
        if ((other || 'x') === starter) return
        forger.getXmlFragment('passage').insert(0, [text])
        const forged = Y.encodeStateAsUpdate(forger)
        expect(inspectUpdate(newAnswerDoc('passage'), forged, rules(starter))).toMatchObject({ code: 'not-yours' })
        // More after it.
        const longer = newAnswerDoc('passage')
        Y.applyUpdate(longer, update)
        longer.clientID = starterClient(starter)
        longer.getXmlFragment('passage').insert(0, [new Y.XmlElement('paragraph')])
        expect(inspectUpdate(newAnswerDoc('passage'), Y.encodeStateAsUpdate(longer), rules(starter))).toMatchObject({
          code: 'not-yours',
        })
      }),
    )
  })

  test('is read as structs of one client', () => {
    const parsed = parseUpdate(starterUpdate('a\n\nb'), 300)
    expect(parsed && parsed !== 'too many' && [...parsed.clients.keys()]).toEqual([starterClient('a\n\nb')])
  })
})
