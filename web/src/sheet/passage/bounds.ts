import { PASSAGE_LIMITS } from '@gavrin/core'
import { Extension } from '@tiptap/core'
import { Fragment, type Node, Slice } from '@tiptap/pm/model'
import { Plugin, type Transaction } from '@tiptap/pm/state'
import { ySyncPluginKey } from '@tiptap/y-tiptap'
import { dateLanguage } from '../../ui/time'

const NEARLY = 0.9
/** Pasted paragraphs come in pieces of this size: the first is joined to what stands there. */
const PIECE = PASSAGE_LIMITS.paragraph / 2
const count = (value: number) => value.toLocaleString(dateLanguage())

const PARAGRAPH_FULL = `A paragraph takes up to ${count(PASSAGE_LIMITS.paragraph)} letters: begin a new one.`
const PASSAGE_FULL = `An answer takes up to ${count(PASSAGE_LIMITS.passage)} letters. This was not put in.`

/** The size of the longest paragraph of an answer. */
function longestOf(doc: Node): number {
  let longest = 0
  doc.descendants((node) => {
    if (node.isTextblock) longest = Math.max(longest, node.content.size)
    return !node.isTextblock
  })
  return longest
}

/**
 * Keeps an answer within what every key can be quick in. What is pasted with longer paragraphs comes in shorter ones; what would
 * not fit is not put in, and why is said; that it is nearly full is said before.
 * @param say what is to be said; empty: nothing
 */
export function bounds(say: (sentence: string) => void): Extension {
  let said = ''
  const tell = (sentence: string) => {
    if (sentence !== said) say((said = sentence))
  }
  const plugin = new Plugin({
    filterTransaction: (tr: Transaction, { doc: before }) => {
      // What others wrote, and what was undone, stands.
      if (!tr.docChanged || tr.getMeta(ySyncPluginKey)) return true
      const { doc } = tr
      const size = doc.content.size
      if (size > PASSAGE_LIMITS.passage && size > before.content.size) {
        tell(PASSAGE_FULL)
        return false
      }
      const longest = longestOf(doc)
      if (longest > PASSAGE_LIMITS.paragraph && longest > longestOf(before)) {
        tell(PARAGRAPH_FULL)
        return false
      }
      const left = Math.min(PASSAGE_LIMITS.paragraph - longest, PASSAGE_LIMITS.passage - size)
      const isNear = longest > NEARLY * PASSAGE_LIMITS.paragraph || size > NEARLY * PASSAGE_LIMITS.passage
      tell(
        isNear && left >= 0
          ? `${count(left)} more letters fit into this ${size > NEARLY * PASSAGE_LIMITS.passage ? 'answer' : 'paragraph'}.`
          : '',
      )
      return true
    },
    props: {
      transformPasted: (slice) => new Slice(shortened(slice.content), slice.openStart, slice.openEnd),
    },
  })
  return Extension.create({ name: 'bounds', addProseMirrorPlugins: () => [plugin] })
}

/** The same in paragraphs of which none is too long, parted at spaces. */
function shortened(fragment: Fragment): Fragment {
  const nodes: Node[] = []
  fragment.forEach((node) => {
    if (!node.isTextblock) return nodes.push(node.isText ? node : node.copy(shortened(node.content)))
    let from = 0
    while (node.content.size - from > PIECE) {
      const to = from + partOf(node.textBetween(from, from + PIECE, undefined, '\n'))
      nodes.push(node.cut(from, to))
      from = to
    }
    return nodes.push(node.cut(from))
  })
  return Fragment.fromArray(nodes)
}

/** How much of a text goes into one paragraph: up to its last space, or all. */
function partOf(text: string): number {
  const space = text.lastIndexOf(' ')
  return space > text.length / 2 ? space + 1 : text.length
}
