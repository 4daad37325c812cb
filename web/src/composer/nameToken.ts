import {
  NAME_TOKENS,
  type NameToken,
  type PatternPart,
  column,
  partOf,
  token,
  tokenWithWords,
  wordOnToken,
} from '@gavrin/core'
import { InputRule, type JSONContent, Node } from '@tiptap/core'

/** What stands in the document for a part that is no text. */
export const tokenAttrs = (part: PatternPart): { token?: string; column?: string } =>
  part.kind === 'token' ? { token: part.token } : part.kind === 'column' ? { column: part.column } : {}

/** The part that a node of the document stands for; null for any other node. */
export function tokenPart(node: JSONContent): PatternPart | null {
  if (node.type !== 'nameToken') return null
  const { token: name, column: named } = (node.attrs ?? {}) as { token?: unknown; column?: unknown }
  if (typeof name === 'string' && name in NAME_TOKENS) return token(name as NameToken)
  return typeof named === 'string' && named ? column(named) : null
}

/**
 * A token: one piece with its word on it. Typed between square brackets it becomes one as the bracket closes.
 * @param columns the names of the columns of the roster
 * @param withWords it may bring words along, as in `[, due Date]`
 */
export const tokenNode = (columns: () => readonly string[], withWords = false) =>
  Node.create({
    name: 'nameToken',
    group: 'inline',
    inline: true,
    atom: true,
    selectable: true,
    addAttributes() {
      const attribute = (name: 'token' | 'column' | 'before' | 'after') => ({
        default: null,
        parseHTML: (element: HTMLElement) => element.getAttribute(`data-${name}`),
        renderHTML: (attrs: Record<string, unknown>) =>
          typeof attrs[name] === 'string' ? { [`data-${name}`]: attrs[name] } : {},
      })
      return {
        token: attribute('token'),
        column: attribute('column'),
        ...(withWords && { before: attribute('before'), after: attribute('after') }),
      }
    },
    parseHTML() {
      return [{ tag: 'span[data-token]' }, { tag: 'span[data-column]' }]
    },
    renderHTML({ node, HTMLAttributes }) {
      return ['span', { ...HTMLAttributes, class: 'token' }, wordOnToken(node.attrs)]
    },
    renderText({ node }) {
      return wordOnToken(node.attrs)
    },
    addInputRules() {
      return [
        new InputRule({
          find: /(?<!\[)\[([^[\]]{1,100})\]$/,
          handler: ({ range, match, chain }) => {
            const typed = match[1] ?? ''
            const part = partOf(typed, columns())
            const found = part ? { part, before: '', after: '' } : withWords ? tokenWithWords(typed, columns()) : null
            if (!found) return
            const { before, after } = found
            const attrs = { ...tokenAttrs(found.part), ...(before && { before }), ...(after && { after }) }
            chain().deleteRange(range).insertContentAt(range.from, { type: 'nameToken', attrs }).run()
          },
        }),
      ]
    },
  })

/** All tokens that can be put in, with the columns of the roster after them. */
export const offeredTokens = (columns: readonly string[]): PatternPart[] => [
  ...(Object.keys(NAME_TOKENS) as NameToken[]).map(token),
  ...columns.map(column),
]
