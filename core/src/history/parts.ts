import { diffArrays } from 'diff'
import * as Y from 'yjs'
import { openRoot, readAnswer, richText } from '../live/space.js'
import { answerText } from '../progress/answers.js'
import type { AnswerSpace } from '../worksheet/content.js'
import { compareWords } from '../worksheet/wordDiff.js'

/** What is other between two states of an answer: a paragraph or list of a passage, or the whole of any other answer. */
export interface AnswerPart {
  /** The same in both states. */
  readonly key: string
  readonly is: 'new' | 'gone' | 'changed'
  readonly before: string
  readonly after: string
}

/** A part of late writing that was decided on. */
export interface DecidedPart extends AnswerPart {
  readonly taken: boolean
}

/**
 * What is other in a later (or earlier) state of an answer, in the order in which it stands there; empty: they read the same.
 * Paragraphs are known by the item of Yjs that they are, which no edit moves: both states must have grown from one document.
 */
export function partsBetween(space: AnswerSpace, before: Y.Doc, after: Y.Doc): AnswerPart[] {
  const [was, is] = [openRoot(before, space.kind), openRoot(after, space.kind)]
  if (was instanceof Y.XmlFragment && is instanceof Y.XmlFragment)
    return aligned(was, is).flatMap(({ key, was: one, is: other }): AnswerPart[] => {
      if (one && other && sameNode(one, other)) return []
      const texts = { before: one ? richText(one) : '', after: other ? richText(other) : '' }
      return [{ key, is: !one ? 'new' : !other ? 'gone' : 'changed', ...texts }]
    })
  if (JSON.stringify(kept(was)) === JSON.stringify(kept(is))) return []
  const text = (doc: Y.Doc) => answerText(space, readAnswer(space, doc))
  return [{ key: '', is: 'changed', before: text(before), after: text(after) }]
}

/**
 * Brings parts of another state into a document, by changes of its own: what is the same in both keeps its letters, so that what
 * points to them still does.
 * @param keys of the parts that are brought in, see {@link partsBetween}; null: all
 */
export function bringParts(space: AnswerSpace, into: Y.Doc, from: Y.Doc, keys: ReadonlySet<string> | null): void {
  const [to, source] = [openRoot(into, space.kind), openRoot(from, space.kind)]
  const isTaken = (key: string) => keys === null || keys.has(key)
  into.transact(() => {
    if (to instanceof Y.XmlFragment && source instanceof Y.XmlFragment) bringNodes(to, source, isTaken)
    else if (!isTaken('')) return
    else if (to instanceof Y.Text && source instanceof Y.Text) bringLetters(to, source)
    else if (to instanceof Y.Map && source instanceof Y.Map) bringEntries(to, source)
  })
}

type Node = Y.XmlElement | Y.XmlText

interface Pair {
  readonly key: string
  readonly was: Y.XmlElement | null
  readonly is: Y.XmlElement | null
}

/** Paragraphs that came or went in a row beyond which none is looked for among the others. */
const LOOKED_AT = 500

type Keyed = readonly [key: string, node: Y.XmlElement]

/** The nodes of both states, each once, in an order that is that of either. */
function aligned(before: Y.XmlFragment, after: Y.XmlFragment): Pair[] {
  const nodes = (root: Y.XmlFragment): Keyed[] =>
    (root.toArray() as Y.XmlElement[]).map((node) => [`${node._item!.id.client}:${node._item!.id.clock}`, node])
  const [one, other] = [nodes(before), nodes(after)]
  const earlier = new Map(one.map(([key], at) => [key, at]))
  const pairs: Pair[] = []
  let [at, from] = [0, 0]
  for (const [index, [key, is]] of other.entries()) {
    const place = earlier.get(key)
    if (place === undefined) continue
    pairs.push(...alike(one.slice(at, place), other.slice(from, index)), { key, was: one[place]![1], is })
    ;[at, from] = [place + 1, index + 1]
  }
  pairs.push(...alike(one.slice(at), other.slice(from)))
  return pairs
}

/** Nodes that only one of the states has by their keys: those that read the same are the same, as what was once brought back. */
function alike(gone: readonly Keyed[], come: readonly Keyed[]): Pair[] {
  const shapes = (nodes: readonly Keyed[]) => nodes.map(([, node]) => JSON.stringify(shape(node)))
  const pairs: Pair[] = []
  let [i, j] = [0, 0]
  const [one, other] = [shapes(gone), shapes(come)]
  const runs = diffArrays(one, other, { maxEditLength: LOOKED_AT }) ?? [
    { count: one.length, added: false, removed: true },
    { count: other.length, added: true, removed: false },
  ]
  for (const { count, added, removed } of runs)
    for (let left = count; left > 0; left--) {
      const was = added ? null : gone[i++]!
      const is = removed ? null : come[j++]!
      pairs.push({ key: (is ?? was)![0], was: was?.[1] ?? null, is: is?.[1] ?? null })
    }
  return pairs
}

function bringNodes(to: Y.XmlFragment, source: Y.XmlFragment, isTaken: (key: string) => boolean): void {
  let at = 0
  for (const { key, was, is } of aligned(to, source)) {
    if (!isTaken(key)) at += was ? 1 : 0
    else if (!is) to.delete(at)
    else {
      if (!was) to.insert(at, [is.clone()])
      else if (!sameNode(was, is)) bringNode(was, is)
      at++
    }
  }
}

function bringNode(to: Y.XmlElement, source: Y.XmlElement): void {
  const [one, other] = [to.toArray() as Node[], source.toArray() as Node[]]
  if (one.length === 1 && other.length === 1 && one[0] instanceof Y.XmlText && other[0] instanceof Y.XmlText)
    return bringLetters(one[0], other[0])
  to.delete(0, to.length)
  to.insert(
    0,
    other.map((node) => node.clone()),
  )
}

interface Run {
  readonly insert: string
  readonly attributes: Readonly<Record<string, unknown>>
}

/** The runs of a text that differ in their marks; Yjs may part what has the same ones. */
function runsOf(text: Y.Text): Run[] {
  const runs: Run[] = []
  for (const { insert, attributes = {} } of text.toDelta() as { insert?: unknown; attributes?: Run['attributes'] }[]) {
    const words = typeof insert === 'string' ? insert : ''
    const last = runs.at(-1)
    if (last && JSON.stringify(sorted(last.attributes)) === JSON.stringify(sorted(attributes)))
      runs[runs.length - 1] = { ...last, insert: last.insert + words }
    else runs.push({ insert: words, attributes })
  }
  return runs
}

/** Makes the letters of a text those of another, and their marks. */
function bringLetters(to: Y.Text, source: Y.Text): void {
  const plain = (text: Y.Text) =>
    runsOf(text)
      .map(({ insert }) => insert)
      .join('')
  let at = 0
  for (const { is, text } of compareWords(plain(to), plain(source))) {
    if (is === 'gone') to.delete(at, text.length)
    else {
      if (is === 'new') to.insert(at, text, {})
      at += text.length
    }
  }
  const marks = (runs: readonly Run[]) =>
    JSON.stringify(runs.map(({ insert, attributes }) => [insert.length, sorted(attributes)]))
  const wanted = runsOf(source)
  const present = runsOf(to)
  if (marks(wanted) === marks(present)) return
  const clear = Object.fromEntries(
    present.flatMap(({ attributes }) => Object.keys(attributes)).map((key) => [key, null]),
  )
  let from = 0
  for (const { insert, attributes } of wanted) {
    to.format(from, insert.length, { ...clear, ...attributes })
    from += insert.length
  }
}

function bringEntries(to: Y.Map<unknown>, source: Y.Map<unknown>): void {
  for (const key of [...to.keys()]) if (!source.has(key)) to.delete(key)
  for (const [key, value] of source.entries()) if (to.get(key) !== value) to.set(key, value)
}

const sorted = (entries: Readonly<Record<string, unknown>>) =>
  Object.entries(entries).sort(([one], [other]) => (one < other ? -1 : 1))

const kept = (root: Y.Text | Y.Map<unknown> | Y.XmlFragment): unknown =>
  root instanceof Y.Map ? sorted(root.toJSON()) : root.toJSON()

const sameNode = (one: Node, other: Node): boolean => JSON.stringify(shape(one)) === JSON.stringify(shape(other))

const shape = (node: Node): unknown =>
  node instanceof Y.XmlText
    ? runsOf(node).map(({ insert, attributes }) => [insert, sorted(attributes)])
    : [node.nodeName, (node.toArray() as Node[]).map(shape)]
