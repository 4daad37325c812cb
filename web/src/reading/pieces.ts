/** Something of a page that is read aloud at once: a sentence, or what stands in a field. */
export interface Piece {
  readonly text: string
  /** What is marked meanwhile. */
  readonly range: Range | null
  readonly element: Element
}

const SILENT = '[aria-hidden="true"], .visually-hidden, button, select, script, style, .other-caret, .wanted-words'
/** What stands on lines of its own. */
const BLOCK =
  'p, li, h1, h2, h3, h4, td, th, blockquote, .answer, .option, .space-about, figcaption, .sheet-source, .own-place'

function* nodesOf(root: Element): Generator<Text | HTMLInputElement | HTMLTextAreaElement> {
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT | NodeFilter.SHOW_ELEMENT, {
    acceptNode: (node) =>
      node instanceof Element && node.matches(SILENT) ? NodeFilter.FILTER_REJECT : NodeFilter.FILTER_ACCEPT,
  })
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    if (node instanceof Text || node instanceof HTMLTextAreaElement) yield node
    else if (node instanceof HTMLInputElement && ['text', 'number'].includes(node.type)) yield node
  }
}

/** What of a page is read aloud, in the order in which it stands there. */
export function piecesOf(sheet: Element, language: string): Piece[] {
  const pieces: Piece[] = []
  let block: Element | null = null
  let texts: Text[] = []
  const end = () => {
    if (block) pieces.push(...sentencesOf(texts, block, language))
    texts = []
  }
  for (const node of nodesOf(sheet)) {
    if (!(node instanceof Text)) {
      end()
      block = null
      const text = node.value.trim()
      if (text) pieces.push({ text, range: null, element: node })
      continue
    }
    const around = node.parentElement!.closest(BLOCK) ?? sheet
    if (around !== block) end()
    block = around
    texts.push(node)
  }
  end()
  return pieces
}

function sentencesOf(texts: readonly Text[], element: Element, language: string): Piece[] {
  const whole = texts.map(({ data }) => data).join('')
  if (!whole.trim()) return []
  const placeOf = (offset: number): [Text, number] => {
    let left = offset
    for (const text of texts) {
      if (left <= text.length) return [text, left]
      left -= text.length
    }
    return [texts.at(-1)!, texts.at(-1)!.length]
  }
  return sentences(whole, language).flatMap(({ text, from }) => {
    if (!/[\p{L}\p{N}]/u.test(text)) return []
    const range = document.createRange()
    range.setStart(...placeOf(from))
    range.setEnd(...placeOf(from + text.trimEnd().length))
    return [{ text: text.replace(/\s+/g, ' ').trim(), range, element }]
  })
}

function sentences(whole: string, language: string): { text: string; from: number }[] {
  const parts = new Intl.Segmenter(language || undefined, { granularity: 'sentence' }).segment(whole)
  return [...parts].map(({ segment, index }) => ({ text: segment, from: index }))
}

/** The piece from which is read on: the first at or after what is marked or written in; else the first. */
export function pieceAt(pieces: readonly Piece[], sheet: Element): number {
  const active = document.activeElement
  const selection = document.getSelection()
  const marked = selection?.rangeCount && !selection.isCollapsed ? selection.getRangeAt(0) : null
  const place = marked && sheet.contains(marked.startContainer) ? marked.startContainer : active
  if (!place || place === document.body || !sheet.contains(place)) return 0
  const found = pieces.findIndex(({ range, element }) => {
    if (marked && range && range.comparePoint(marked.startContainer, marked.startOffset) <= 0) return true
    if (marked && place === marked.startContainer) return false
    return (
      element === place ||
      element.contains(place) ||
      !!(place.compareDocumentPosition(element) & Node.DOCUMENT_POSITION_FOLLOWING)
    )
  })
  return Math.max(0, found)
}
