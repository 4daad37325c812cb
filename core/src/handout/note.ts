import { escapeMarkup } from '../formats/escape.js'
import { type NamePattern, NAME_TOKENS, type NameToken, type NameValues, type PatternPart } from '../naming/pattern.js'
import { type TypedPattern, partOf, readTyped } from '../naming/typed.js'
import { cleanText, foldText } from '../roster/names.js'
import { isLinkAddress } from '../worksheet/checkRich.js'

/** A part of a note: text with its marks, a token, a line break, or a paragraph or list that holds others. */
export interface NoteNode {
  readonly type: string
  readonly attrs?: Readonly<Record<string, unknown>>
  readonly content?: readonly NoteNode[]
  readonly text?: string
  readonly marks?: readonly { readonly type: string; readonly attrs?: Readonly<Record<string, unknown>> }[]
}

/** Rich text with name tokens in it: a document of ProseMirror. */
export type NoteText = NoteNode & { readonly type: 'doc' }

export const NOTE_LIMIT = 8_000

const INLINE = ['text', 'hardBreak', 'nameToken']
const CHILDREN: Readonly<Record<string, readonly string[]>> = {
  doc: ['paragraph', 'bulletList', 'orderedList'],
  paragraph: INLINE,
  bulletList: ['listItem'],
  orderedList: ['listItem'],
  listItem: ['paragraph', 'bulletList', 'orderedList'],
}

/** A note of plain paragraphs, one a line. */
export const plainNote = (text: string): NoteText => ({
  type: 'doc',
  content: text
    .split('\n')
    .map((line) => (line ? { type: 'paragraph', content: [{ type: 'text', text: line }] } : { type: 'paragraph' })),
})

/** Reads a note from anywhere; says at `field` what it cannot hold. Null without a problem: there is nothing in it. */
export function readNote(
  input: unknown,
  field: string,
  wrong: (field: string, sentence: string) => void,
): NoteText | null {
  if (input === null || input === undefined) return null
  let letters = 0
  let readable = true
  const read = (raw: unknown, allowed: readonly string[], depth: number): NoteNode | null => {
    const node = (typeof raw === 'object' && raw !== null ? raw : {}) as Record<string, unknown>
    const type = node['type']
    if (typeof type !== 'string' || !allowed.includes(type) || depth > 10) {
      readable = false
      return null
    }
    const attrs = (typeof node['attrs'] === 'object' && node['attrs'] !== null ? node['attrs'] : {}) as Record<
      string,
      unknown
    >
    if (type === 'text') {
      const text = typeof node['text'] === 'string' ? node['text'] : ''
      letters += text.length
      if (!text) return null
      const marks = (Array.isArray(node['marks']) ? node['marks'] : []).flatMap((mark: unknown) => readMark(mark))
      return marks.length ? { type, text, marks } : { type, text }
    }
    if (type === 'hardBreak') return { type }
    if (type === 'nameToken') {
      letters += 10
      const { token, column } = attrs
      const own = { ...ownWords(attrs, 'before'), ...ownWords(attrs, 'after') }
      if (typeof token === 'string' && Object.hasOwn(NAME_TOKENS, token)) return { type, attrs: { token, ...own } }
      if (typeof column === 'string' && column && column.length <= 100) return { type, attrs: { column, ...own } }
      readable = false
      return null
    }
    const content = (Array.isArray(node['content']) ? node['content'] : []).flatMap((child: unknown) => {
      const made = letters > NOTE_LIMIT ? null : read(child, CHILDREN[type]!, depth + 1)
      return made ? [made] : []
    })
    return content.length ? { type, content } : { type }
  }
  const note = read(input, ['doc'], 0) as NoteText | null
  if (letters > NOTE_LIMIT) wrong(field, `A note has up to ${NOTE_LIMIT} characters.`)
  else if (!readable || !note) wrong(field, 'This note has a part that cannot be sent.')
  return note && letters > 0 ? note : null
}

/** The longest words that a token brings along, before it or after it. */
export const TOKEN_WORDS_LIMIT = 60

function ownWords(attrs: Readonly<Record<string, unknown>>, side: 'before' | 'after'): Record<string, string> {
  const words = attrs[side]
  return typeof words === 'string' && words ? { [side]: words.slice(0, TOKEN_WORDS_LIMIT) } : {}
}

function readMark(raw: unknown): NonNullable<NoteNode['marks']>[number][] {
  const mark = (typeof raw === 'object' && raw !== null ? raw : {}) as { type?: unknown; attrs?: { href?: unknown } }
  if (mark.type === 'bold' || mark.type === 'italic') return [{ type: mark.type }]
  const href = mark.attrs?.href
  return mark.type === 'link' && typeof href === 'string' && isLinkAddress(href)
    ? [{ type: 'link', attrs: { href } }]
    : []
}

/** The word on a token, between the words that it brings along. */
export function wordOnToken(attrs: Readonly<Record<string, unknown>> = {}): string {
  const { token, column, before, after } = attrs
  const word =
    typeof token === 'string' ? (NAME_TOKENS[token as NameToken] ?? '') : typeof column === 'string' ? column : ''
  return [before, word, after].filter((part) => typeof part === 'string').join('')
}

/**
 * A token typed with words of its own, as in `[, due Date]`: they are left out where it has nothing to say.
 * @param inside what stands between the brackets
 * @returns null if no token or column is named in it
 */
export function tokenWithWords(
  inside: string,
  columns: readonly string[],
): { readonly part: PatternPart; readonly before: string; readonly after: string } | null {
  const whole = partOf(inside, columns)
  if (whole) return { part: whole, before: '', after: '' }
  // The longest name first: "First name" before "Name".
  const names = [...Object.values(NAME_TOKENS), ...columns].toSorted((a, b) => b.length - a.length)
  for (const name of names) {
    const escaped = name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replace(/\s+/g, '\\s+')
    const found = new RegExp(`^(.*?)(?<![\\p{L}\\p{N}])${escaped}(?![\\p{L}\\p{N}])(.*)$`, 'iu').exec(inside)
    const part = found && partOf(name, columns)
    if (!part) continue
    const [, before = '', after = ''] = found
    return before.length <= TOKEN_WORDS_LIMIT && after.length <= TOKEN_WORDS_LIMIT ? { part, before, after } : null
  }
  return null
}

/** The columns of the roster that a note or a pattern speaks of. */
export function columnsNamed(note: NoteText | null, pattern: NamePattern = []): string[] {
  const names: string[] = pattern.flatMap((part) => (part.kind === 'column' ? [part.column] : []))
  const walk = (node: NoteNode) => {
    if (node.type === 'nameToken' && typeof node.attrs?.['column'] === 'string') names.push(node.attrs['column'])
    node.content?.forEach(walk)
  }
  if (note) walk(note)
  return [...new Set(names)]
}

/** What a token says for one person; empty: nothing. */
function valueOf({ token, column }: NonNullable<NoteNode['attrs']>, values: NameValues): string {
  return cleanText(
    typeof token === 'string'
      ? (values[token as NameToken] ?? '')
      : (values.columns?.get(foldText(String(column))) ?? ''),
  )
}

/**
 * A note with its tokens filled in for one person. A token that says nothing leaves out the words it brings along, and no gap
 * between the words around it.
 */
export function fillNote(note: NoteText, values: NameValues): NoteText {
  const fill = (node: NoteNode): NoteNode => {
    if (!node.content) return node
    const content: NoteNode[] = []
    let gap = false
    for (const child of node.content) {
      if (child.type === 'nameToken') {
        const attrs = child.attrs ?? {}
        const value = valueOf(attrs, values)
        if (!value) {
          gap = true
          continue
        }
        const words = (side: 'before' | 'after') => (typeof attrs[side] === 'string' ? attrs[side] : '')
        const text = `${words('before')}${value}${words('after')}`
        content.push({ type: 'text', text, ...(child.marks && { marks: child.marks }) })
      } else if (child.type === 'text' && gap) {
        const before = content.at(-1)
        const closes = /^[\s,.;:!?)]/.test(child.text ?? '')
        if (closes && before?.type === 'text') {
          const text = (before.text ?? '').trimEnd()
          content.pop()
          if (text) content.push({ ...before, text })
        }
        const rest = before ? (child.text ?? '') : (child.text ?? '').trimStart()
        if (rest) content.push({ ...child, text: rest })
      } else content.push(fill(child))
      gap = false
    }
    return { ...node, content }
  }
  return fill(note) as NoteText
}

/** What stands between square brackets in a note and is no token, with what was probably meant. */
export function noteProblems(note: NoteText, columns: readonly string[]): TypedPattern['problems'] {
  const problems: TypedPattern['problems'][number][] = []
  const walk = (node: NoteNode) => {
    // A bracket without its other half is a bracket: in a letter that is nothing unusual.
    if (node.type === 'text')
      problems.push(...readTyped(node.text ?? '', columns).problems.filter(({ code }) => code === 'token-unknown'))
    node.content?.forEach(walk)
  }
  walk(note)
  return problems
}

/** The tokens of a note that say nothing for somebody and bring no words along, with the word on each. */
export function emptyTokens(note: NoteText, values: NameValues): string[] {
  const empty = new Set<string>()
  const walk = (node: NoteNode) => {
    const { attrs } = node
    if (node.type === 'nameToken' && attrs && !attrs['before'] && !attrs['after'] && !valueOf(attrs, values))
      empty.add(wordOnToken(attrs))
    node.content?.forEach(walk)
  }
  walk(note)
  return [...empty]
}

/** A note as plain text, as mail programs show it that show no more; tokens that are not filled in by their words. */
export function noteAsText(note: NoteNode): string {
  const inline = (node: NoteNode): string => {
    if (node.type === 'hardBreak') return '\n'
    if (node.type === 'nameToken') return wordOnToken(node.attrs)
    if (node.type === 'text') {
      const href = node.marks?.find(({ type }) => type === 'link')?.attrs?.['href']
      return typeof href === 'string' && href !== node.text ? `${node.text} (${href})` : (node.text ?? '')
    }
    return (node.content ?? []).map(inline).join('')
  }
  const block = (node: NoteNode, indent: string): string[] => {
    if (node.type === 'paragraph') return [indent + inline(node)]
    if (node.type === 'bulletList' || node.type === 'orderedList')
      return (node.content ?? []).map((item, at) =>
        (item.content ?? [])
          .flatMap((child) => block(child, `${indent}  `))
          .join('\n')
          .replace(/^(\s*)\s\s/, `$1${node.type === 'bulletList' ? '-' : `${at + 1}.`} `),
      )
    return (node.content ?? []).flatMap((child) => block(child, indent))
  }
  return block(note, '').join('\n')
}

/** A filled note as the body of an HTML message; everything in it is escaped. */
export function noteAsHtml(note: NoteNode): string {
  const inside = () => (note.content ?? []).map(noteAsHtml).join('')
  switch (note.type) {
    case 'text':
      return (note.marks ?? []).reduce(
        (html, { type, attrs }) => {
          if (type === 'bold') return `<strong>${html}</strong>`
          if (type === 'italic') return `<em>${html}</em>`
          const href = attrs?.['href']
          return `<a href="${escapeMarkup(typeof href === 'string' ? href : '')}">${html}</a>`
        },
        escapeMarkup(note.text ?? ''),
      )
    case 'hardBreak':
      return '<br>'
    case 'paragraph':
      return `<p>${inside()}</p>`
    case 'bulletList':
      return `<ul>${inside()}</ul>`
    case 'orderedList':
      return `<ol>${inside()}</ol>`
    case 'listItem':
      return `<li>${inside()}</li>`
    default:
      return inside()
  }
}

/** The first words of a note, for a line that names it. */
export function noteStart(note: NoteNode | null, limit = 40): string {
  const text = note ? cleanText(noteAsText(note)) : ''
  return text.length <= limit ? text : `${text.slice(0, limit - 1).trimEnd()}…`
}
