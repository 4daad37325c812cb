import { escapeMarkup } from '../formats/escape.js'
import { type NamePattern, NAME_TOKENS, type NameToken, type NameValues } from '../naming/pattern.js'
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
      if (typeof token === 'string' && Object.hasOwn(NAME_TOKENS, token)) return { type, attrs: { token } }
      if (typeof column === 'string' && column && column.length <= 100) return { type, attrs: { column } }
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

function readMark(raw: unknown): NonNullable<NoteNode['marks']>[number][] {
  const mark = (typeof raw === 'object' && raw !== null ? raw : {}) as { type?: unknown; attrs?: { href?: unknown } }
  if (mark.type === 'bold' || mark.type === 'italic') return [{ type: mark.type }]
  const href = mark.attrs?.href
  return mark.type === 'link' && typeof href === 'string' && isLinkAddress(href)
    ? [{ type: 'link', attrs: { href } }]
    : []
}

/** The word on a token. */
function wordOn({ attrs }: NoteNode): string {
  const { token, column } = attrs ?? {}
  if (typeof token === 'string') return NAME_TOKENS[token as NameToken] ?? ''
  return typeof column === 'string' ? column : ''
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

/** A note with its tokens filled in for one person. */
export function fillNote(note: NoteText, values: NameValues): NoteText {
  const fill = (node: NoteNode): NoteNode[] => {
    if (node.type === 'nameToken') {
      const { token, column } = node.attrs ?? {}
      const text =
        typeof token === 'string'
          ? (values[token as NameToken] ?? '')
          : (values.columns?.get(foldText(String(column))) ?? '')
      return cleanText(text) ? [{ type: 'text', text: cleanText(text), ...(node.marks && { marks: node.marks }) }] : []
    }
    return [node.content ? { ...node, content: node.content.flatMap(fill) } : node]
  }
  return fill(note)[0] as NoteText
}

/** A note as plain text, as mail programs show it that show no more; tokens that are not filled in by their words. */
export function noteAsText(note: NoteNode): string {
  const inline = (node: NoteNode): string => {
    if (node.type === 'hardBreak') return '\n'
    if (node.type === 'nameToken') return wordOn(node)
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
