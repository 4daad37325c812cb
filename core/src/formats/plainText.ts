import { type Block, EMPTY_CONTENT, type RichNode } from '../worksheet/content.js'
import type { MarkupRead } from './markup.js'
import { DOCUMENT_LIMITS } from './broughtIn.js'

const ITEM = /^\s*(?:([-*•–])|(\d{1,3})[.)])\s+(.*)$/u

/**
 * Reads plain text into a worksheet: paragraphs are parted by empty lines, lines that begin with a sign or a number and a
 * bracket or point make lists, a short first line is the heading.
 */
export function readPlainText(text: string, newId: () => string): MarkupRead {
  const blocks: Block[] = []
  const add = (rich: RichNode) => void blocks.push({ id: newId(), kind: 'text', rich })
  const words = (line: string): RichNode[] => (line ? [{ type: 'text', text: line }] : [])
  const groups = text
    .replace(/\r\n?/g, '\n')
    // oxlint-disable-next-line no-control-regex -- control signs (but tab and line end) have no place in print
    .replace(/[\u0000-\u0008\u000B\u000C\u000E-\u001F]/g, '')
    .split(/\n[ \t]*\n+/)
    .map((group) => group.split('\n').map((line) => line.replace(/\t/g, ' ').trimEnd()))
    .filter((group) => group.some((line) => line.trim()))
  const notes =
    groups.length > DOCUMENT_LIMITS.blocks ? [`Only the first ${DOCUMENT_LIMITS.blocks} paragraphs were taken.`] : []
  groups.slice(0, DOCUMENT_LIMITS.blocks).forEach((lines, at) => {
    const first = lines[0]!.trim()
    if (at === 0 && lines.length === 1 && first.length <= 80 && !/[.:_]$/.test(first) && groups.length > 1)
      return add({ type: 'heading', attrs: { level: 1 }, content: words(first) })
    let items: RichNode[] = []
    let kind: 'bulletList' | 'orderedList' = 'bulletList'
    let start = 1
    const close = () => {
      if (items.length) add({ type: kind, ...(kind === 'orderedList' && { attrs: { start } }), content: items })
      items = []
    }
    let run: string[] = []
    const closeRun = () => {
      // A line of nothing but blanks is a place to write on: it stays a paragraph of its own.
      for (const part of parted(run))
        add({
          type: 'paragraph',
          content: part.flatMap((line, index) => [...(index ? [{ type: 'hardBreak' }] : []), ...words(line)]),
        })
      run = []
    }
    const isList = lines.filter((line) => ITEM.test(line)).length > 1
    for (const line of lines) {
      const item = isList ? ITEM.exec(line) : null
      if (!item) {
        close()
        if (line.trim()) run.push(line.trim())
        continue
      }
      closeRun()
      const found = item[1] ? 'bulletList' : 'orderedList'
      if (items.length && found !== kind) close()
      if (items.length === 0) start = Number(item[2] ?? 1)
      kind = found
      items.push({ type: 'listItem', content: [{ type: 'paragraph', content: words(item[3]!) }] })
    }
    close()
    closeRun()
  })
  const [heading] = blocks
  return {
    title: heading?.kind === 'text' && heading.rich.type === 'heading' ? heading.rich.content![0]!.text! : '',
    content: { ...EMPTY_CONTENT, blocks },
    notes,
  }
}

function parted(lines: readonly string[]): string[][] {
  const parts: string[][] = []
  let last: string[] | null = null
  for (const line of lines) {
    const isBlank = /^[_.…\s-]{4,}$/u.test(line)
    if (isBlank) {
      parts.push([line])
      last = null
    } else if (last) last.push(line)
    else parts.push((last = [line]))
  }
  return parts
}
