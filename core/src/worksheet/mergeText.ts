import type { Mark, RichNode } from './content.js'
import { isSame } from './same.js'

/** Words of which both sides together have more are compared at their ends only; the middle counts as replaced. */
const COMPARED = 4_000_000

/** What texts are made of, for {@link mergeTokens}. */
export interface Tokens {
  /** Whether a token is part of a word; all others stand for themselves. */
  readonly isLetter: (token: string) => boolean
  /** What parts two words. */
  readonly space: string
}

/**
 * Puts together what two made of the same list of tokens: whatever one of them put in is in it, and what one of them took out is
 * not. They are compared word by word, and within words that differ letter by letter, so that letters which two other words happen
 * to share are not taken for the same. A word that one of them wrote anew and the other changed too stands there in both ways,
 * theirs first; if one of the ways has the other in it, it stands there once.
 */
export function mergeTokens(
  base: readonly string[],
  mine: readonly string[],
  theirs: readonly string[],
  of: Tokens,
): string[] {
  const my = changesFrom(base, mine, of.isLetter)
  const their = changesFrom(base, theirs, of.isLetter)
  const tokens: string[] = []
  let at = 0
  let [m, t] = [0, 0]
  while (m < my.length || t < their.length) {
    const from = Math.min(my[m]?.from ?? Infinity, their[t]?.from ?? Infinity)
    push(tokens, base.slice(at, from))
    // All that touches: changes of both that reach into each other.
    let to = from
    const [firstMine, firstTheirs] = [m, t]
    for (let grows = true; grows;) {
      grows = false
      while (my[m] && (my[m]!.from < to || my[m]!.from === from)) {
        to = Math.max(to, my[m++]!.to)
        grows = true
      }
      while (their[t] && (their[t]!.from < to || their[t]!.from === from)) {
        to = Math.max(to, their[t++]!.to)
        grows = true
      }
    }
    const was = base.slice(from, to)
    const one = applied(was, from, my.slice(firstMine, m))
    const other = applied(was, from, their.slice(firstTheirs, t))
    push(tokens, m === firstMine ? other : t === firstTheirs ? one : both(was, one, other, of))
    at = to
  }
  push(tokens, base.slice(at))
  return tokens
}

function push(to: string[], part: readonly string[]): void {
  for (const token of part) to.push(token)
}

/** From one place in the base to another there is something else now. */
interface Change {
  readonly from: number
  readonly to: number
  readonly put: readonly string[]
}

function applied(was: readonly string[], start: number, changes: readonly Change[]): string[] {
  const now: string[] = []
  let at = start
  for (const { from, to, put } of changes) {
    push(now, was.slice(at - start, from - start))
    push(now, put)
    at = to
  }
  push(now, was.slice(at - start))
  return now
}

/** A piece that both changed, from what it was. */
function both(
  was: readonly string[],
  mine: readonly string[],
  theirs: readonly string[],
  of: Tokens,
): readonly string[] {
  const my = oneChange(was, mine)
  const their = oneChange(was, theirs)
  // In places of their own, letter by letter.
  if (my.to < their.from || (my.to === their.from && my.from < their.from)) return applied(was, 0, [my, their])
  if (their.to < my.from || (their.to === my.from && their.from < my.from)) return applied(was, 0, [their, my])
  // Taken out by one, what the other wrote there stays.
  if (mine.length === 0 || holds(theirs, mine)) return theirs
  if (theirs.length === 0 || holds(mine, theirs)) return mine
  if (my.from === my.to && their.from === their.to) {
    // Both only put something in, at the same place.
    const put = holds(my.put, their.put) ? my.put : holds(their.put, my.put) ? their.put : [...their.put, ...my.put]
    return applied(was, 0, [{ ...my, put }])
  }
  const meet = of.isLetter(theirs.at(-1)!) && of.isLetter(mine[0]!)
  return [...theirs, ...(meet ? [of.space] : []), ...mine]
}

/** Whether the one list has the other in it, as a piece. */
const holds = (long: readonly string[], piece: readonly string[]) =>
  // What is too long to look for everywhere counts as another text.
  long.length * piece.length <= COMPARED &&
  long.some((_, at) => at + piece.length <= long.length && piece.every((token, index) => token === long[at + index]))

/** The one change that makes something of something else: what both begin and end with stays. */
function oneChange(was: readonly string[], now: readonly string[]): Change {
  let head = 0
  while (head < was.length && head < now.length && was[head] === now[head]) head++
  let tail = 0
  while (tail < was.length - head && tail < now.length - head && was.at(-1 - tail) === now.at(-1 - tail)) tail++
  return { from: head, to: was.length - tail, put: now.slice(head, now.length - tail) }
}

/** The words of a list of tokens; what is no letter stands for itself. */
function wordsOf(tokens: readonly string[], isLetter: (token: string) => boolean): string[][] {
  const words: string[][] = []
  let isOpen = false
  for (const token of tokens) {
    const goesOn = isLetter(token)
    if (goesOn && isOpen) words.at(-1)!.push(token)
    else words.push([token])
    isOpen = goesOn
  }
  return words
}

/** What was changed, word by word, and within a run of changed words from the first letter that differs to the last. */
function changesFrom(base: readonly string[], now: readonly string[], isLetter: (token: string) => boolean): Change[] {
  const whole = oneChange(base, now)
  if (whole.from === whole.to && whole.put.length === 0) return []
  if (whole.from === whole.to || whole.put.length === 0) return [whole]
  const one = wordsOf(base, isLetter)
  const other = wordsOf(now, isLetter)
  const keys = (words: readonly string[][]) => words.map((word) => word.join('\u0000'))
  const [was, is] = [keys(one), keys(other)]
  const changes: Change[] = []
  let from = 0
  let [i, j] = [0, 0]
  for (const [at, to] of [...commonWords(was, is), [was.length, is.length] as const]) {
    const gone = one.slice(i, at).flat()
    const put = other.slice(j, to).flat()
    if (gone.length > 0 || put.length > 0) {
      const change = oneChange(gone, put)
      changes.push({ from: from + change.from, to: from + change.to, put: change.put })
    }
    from += gone.length + (one[at]?.length ?? 0)
    ;[i, j] = [at + 1, to + 1]
  }
  return changes
}

/** The places of the longest common subsequence, in both. */
function commonWords(one: readonly string[], other: readonly string[]): (readonly [number, number])[] {
  const { from: head, to, put } = oneChange(one, other)
  const [rows, columns] = [to - head, put.length]
  const pairs: (readonly [number, number])[] = Array.from({ length: head }, (_, at) => [at, at] as const)
  if (rows * columns <= COMPARED) {
    const width = columns + 1
    const length = new Uint16Array((rows + 1) * width)
    for (let i = rows - 1; i >= 0; i--)
      for (let j = columns - 1; j >= 0; j--)
        length[i * width + j] =
          one[head + i] === put[j]
            ? length[(i + 1) * width + j + 1]! + 1
            : Math.max(length[(i + 1) * width + j]!, length[i * width + j + 1]!)
    for (let i = 0, j = 0; i < rows && j < columns;) {
      if (one[head + i] === put[j]) pairs.push([head + i++, head + j++])
      else if (length[(i + 1) * width + j]! >= length[i * width + j + 1]!) i++
      else j++
    }
  }
  for (let at = to; at < one.length; at++) pairs.push([at, at - to + head + columns])
  return pairs
}

const WORD = /[\p{L}\p{N}\p{M}]/u

/** A plain text that two changed, letter by letter. */
export const mergeWords = (base: string, mine: string, theirs: string): string =>
  mergeTokens(Array.from(base), Array.from(mine), Array.from(theirs), {
    isLetter: (token) => WORD.test(token),
    space: ' ',
  }).join('')

/** A paragraph or heading, in which lists it stands, and whether it begins an item there. */
interface Line {
  readonly type: string
  readonly attrs?: RichNode['attrs']
  readonly lists: readonly (readonly [type: string, attrs: RichNode['attrs'] | null])[]
  readonly begins: boolean
}

type Token =
  | { readonly line: Line }
  | { readonly letter: string; readonly marks?: readonly Mark[] }
  | { readonly node: RichNode }

const asText = (token: Token) => JSON.stringify(token)
const PRINT: Tokens = {
  isLetter: (token) => token.startsWith('{"letter":') && WORD.test((JSON.parse(token) as { letter: string }).letter),
  space: asText({ letter: ' ' }),
}

/** Print as a list of letters, of what stands between them, and of the beginnings of lines. */
function tokensOf(nodes: readonly RichNode[]): string[] {
  const tokens: string[] = []
  const line = (node: RichNode, lists: Line['lists'], begins: boolean) => {
    const { type, attrs } = node
    tokens.push(asText({ line: { type, ...(attrs && { attrs }), lists, begins } }))
    for (const child of node.content ?? [])
      if (child.type === 'text')
        for (const letter of child.text ?? '')
          tokens.push(asText({ letter, ...(child.marks?.length && { marks: child.marks }) }))
      else tokens.push(asText({ node: child }))
  }
  const walk = (all: readonly RichNode[], lists: Line['lists']) =>
    all.forEach((node, at) => {
      if (!node.type.endsWith('List')) return line(node, lists, lists.length === 0 || at === 0)
      const inside = [...lists, [node.type, node.attrs ?? null] as const]
      for (const item of node.content ?? []) walk(item.content ?? [], inside)
    })
  walk(nodes, [])
  return tokens
}

interface Growing {
  type: string
  attrs?: RichNode['attrs']
  content?: Growing[]
  text?: string
  marks?: readonly Mark[]
}

/** The print that tokens make, whatever was taken out between them. */
function nodesOf(tokens: readonly string[], otherwise: Line): RichNode[] {
  const nodes: Growing[] = []
  let open: Growing | null = null
  const begin = ({ type, attrs, lists, begins }: Line) => {
    open = { type, ...(attrs && { attrs }) }
    let into = nodes
    lists.forEach(([listType, listAttrs], depth) => {
      const last = into.at(-1)
      const isInner = depth === lists.length - 1
      const goesOn = last && isSame([last.type, last.attrs ?? null], [listType, listAttrs])
      const list: Growing = goesOn ? last : { type: listType, ...(listAttrs && { attrs: listAttrs }), content: [] }
      if (!goesOn) into.push(list)
      const items = list.content!
      // A list within a list stands in an item that has words of its own.
      if (isInner ? begins || items.length === 0 : items.length === 0)
        items.push({ type: 'listItem', content: isInner ? [] : [{ type: 'paragraph' }] })
      into = items.at(-1)!.content!
    })
    into.push(open)
  }
  for (const text of tokens) {
    const token = JSON.parse(text) as Token
    if ('line' in token) {
      begin(token.line)
      continue
    }
    if (!open) begin(otherwise)
    const content: Growing[] = ((open as unknown as Growing).content ??= [])
    if ('node' in token) {
      content.push(token.node as Growing)
      continue
    }
    const last = content.at(-1)
    if (last?.type === 'text' && isSame(last.marks, token.marks)) last.text += token.letter
    else content.push({ type: 'text', text: token.letter, ...(token.marks && { marks: token.marks }) })
  }
  return nodes
}

/**
 * Print that two changed, letter by letter; null if it cannot be put together so: then one of them must stand.
 * @param base what both began with
 */
export function mergeRich(
  base: readonly RichNode[],
  mine: readonly RichNode[],
  theirs: readonly RichNode[],
): RichNode[] | null {
  const all = [base, mine, theirs].map((nodes) => {
    const tokens = tokensOf(nodes)
    const first = tokens[0] === undefined ? null : (JSON.parse(tokens[0]) as { line: Line }).line
    return { tokens, first }
  })
  const otherwise = all[1]!.first ?? all[2]!.first ?? { type: 'paragraph', lists: [], begins: true }
  // What cannot be written as tokens and read again the same is left alone.
  const isWhole = [base, mine, theirs].every((nodes, at) => isSame(nodesOf(all[at]!.tokens, otherwise), nodes))
  if (!isWhole) return null
  const [one, my, their] = all.map(({ tokens }) => tokens)
  return nodesOf(mergeTokens(one!, my!, their!, PRINT), otherwise)
}
