import type { Stretch } from '@gavrin/core'

/** What stands between the letters of an answer or of the print and is not of them. */
const NOT_LETTERS = '.starter, .visually-hidden, .other-caret, .gap-space, .cell-space, .formula, .katex'

/** The nodes with the letters of an element, as they are read; without those of answers that stand in the print. */
function textNodes(element: Element): Text[] {
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_TEXT, {
    acceptNode: (node) =>
      node instanceof Element
        ? node.matches(NOT_LETTERS)
          ? NodeFilter.FILTER_REJECT
          : NodeFilter.FILTER_SKIP
        : NodeFilter.FILTER_ACCEPT,
  })
  const found: Text[] = []
  for (let node = walker.nextNode(); node; node = walker.nextNode()) found.push(node as Text)
  return found
}

/** The letters of an element. */
export const lettersIn = (element: Element): string =>
  textNodes(element)
    .map(({ data }) => data)
    .join('')

/** How many letters of an element stand before a place in the document. */
function lettersBefore(nodes: readonly Text[], element: Element, place: Node, offset: number): number {
  const before = document.createRange()
  before.setStart(element, 0)
  before.setEnd(place, offset)
  let count = 0
  for (const node of nodes) {
    if (node === place) return count + offset
    if (before.comparePoint(node, node.length) > 0) return count
    count += node.length
  }
  return count
}

/** Which letters of an element a range covers. */
export function stretchOf(element: Element, range: Range): Stretch {
  const nodes = textNodes(element)
  const inside = (node: Node) => element.contains(node)
  return {
    from: inside(range.startContainer) ? lettersBefore(nodes, element, range.startContainer, range.startOffset) : 0,
    to: inside(range.endContainer)
      ? lettersBefore(nodes, element, range.endContainer, range.endOffset)
      : nodes.reduce((sum, { length }) => sum + length, 0),
  }
}

/** The range over these letters of an element; null: it has not so many. */
export function rangeOf(element: Element, { from, to }: Stretch): Range | null {
  const range = document.createRange()
  let at = 0
  let begun = false
  for (const node of textNodes(element)) {
    const end = at + node.length
    if (!begun && from < end) {
      range.setStart(node, from - at)
      begun = true
    }
    if (begun && to <= end) {
      range.setEnd(node, to - at)
      return range
    }
    at = end
  }
  return null
}
