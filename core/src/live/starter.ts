import * as Y from 'yjs'
import type { AnswerSpace } from '../worksheet/content.js'
import { kindOf } from '../worksheet/kinds/index.js'
import { isSame } from '../worksheet/same.js'
import { newAnswerDoc, openRoot } from './space.js'
import { type Struct, parseUpdate } from './updateFormat.js'

/** What an answer in this space begins with; empty: nothing. */
export const starterOf = (space: AnswerSpace): string => kindOf(space).starter?.(space) || ''

/** More than the structs of the longest beginning that an author can write. */
const MOST_STRUCTS = 50_000
const REMEMBERED = 500

/**
 * The client id under which a beginning comes into an answer: the same for whoever begins it (FNV-1a, 32 bit, of its UTF-16
 * units; http://www.isthe.com/chongo/tech/comp/fnv/). Nobody writes anything else under it.
 */
export function starterClient(starter: string): number {
  let hash = 0x811c9dc5
  for (let at = 0; at < starter.length; at++) hash = Math.imul(hash ^ starter.charCodeAt(at), 0x01000193)
  return hash >>> 0
}

/**
 * The change that puts a given beginning into an empty passage, each of its lines a paragraph. It is the same for whoever makes
 * it: of two who begin at once, both bring one and the same.
 * @returns an update in the first binary format of Yjs
 */
export function starterUpdate(starter: string): Uint8Array {
  const doc = newAnswerDoc('passage')
  doc.clientID = starterClient(starter)
  const root = openRoot(doc, 'passage') as Y.XmlFragment
  doc.transact(() => {
    const lines = starter.split('\n').map((line) => {
      const paragraph = new Y.XmlElement('paragraph')
      if (line) paragraph.insert(0, [new Y.XmlText(line)])
      return paragraph
    })
    root.insert(0, lines)
  })
  const update = Y.encodeStateAsUpdate(doc)
  doc.destroy()
  return update
}

const structsByStarter = new Map<string, readonly Struct[]>()

/** Whether these structs, all of one client, are just those with which a beginning comes into an answer. */
export function isStarter(starter: string, structs: readonly Struct[]): boolean {
  let own = structsByStarter.get(starter)
  if (!own) {
    const parsed = parseUpdate(starterUpdate(starter), MOST_STRUCTS)
    own = parsed && parsed !== 'too many' ? (parsed.clients.get(starterClient(starter)) ?? []) : []
    if (structsByStarter.size >= REMEMBERED) structsByStarter.clear()
    structsByStarter.set(starter, own)
  }
  return isSame(structs, own)
}
