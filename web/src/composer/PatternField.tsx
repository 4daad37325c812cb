import { type NamePattern, type PatternPart, literal, partOf, readTyped, writeTyped } from '@gavrin/core'
import type { JSONContent } from '@tiptap/core'
import { EditorContent, useEditor } from '@tiptap/react'
import StarterKit from '@tiptap/starter-kit'
import { useEffect, useRef } from 'react'
import '../ui/editable.css'
import { TokenMenu } from './TokenMenu'
import { TokenProblem } from './TokenProblem'
import { tokenAttrs, tokenNode, tokenPart } from './nameToken'

function toEditor(pattern: NamePattern): JSONContent {
  const content = pattern
    .filter((part) => part.kind !== 'text' || part.text !== '')
    .map((part): JSONContent =>
      part.kind === 'text' ? { type: 'text', text: part.text } : { type: 'nameToken', attrs: tokenAttrs(part) },
    )
  return { type: 'doc', content: [{ type: 'paragraph', content }] }
}

function fromEditor(document: JSONContent): NamePattern {
  return (document.content ?? [])
    .flatMap((paragraph) => paragraph.content ?? [])
    .flatMap((node): PatternPart[] => {
      const part = tokenPart(node)
      if (part) return [part]
      return node.text ? [literal(node.text.slice(0, 100))] : []
    })
}

interface Props {
  readonly id: string
  readonly pattern: NamePattern
  readonly columns: readonly string[]
  readonly change: (pattern: NamePattern) => void
}

/** The name of the copies: text to type, and tokens put in from a menu or typed between square brackets. */
export function PatternField({ id, pattern, columns, change }: Props) {
  const known = useRef(columns)
  known.current = columns
  const editor = useEditor({
    injectCSS: false,
    extensions: [
      StarterKit.configure({
        heading: false,
        bulletList: false,
        orderedList: false,
        listItem: false,
        listKeymap: false,
        blockquote: false,
        codeBlock: false,
        code: false,
        bold: false,
        italic: false,
        underline: false,
        strike: false,
        link: false,
        horizontalRule: false,
        hardBreak: false,
        trailingNode: false,
      }),
      tokenNode(() => known.current),
    ],
    content: toEditor(pattern),
    editorProps: {
      attributes: { class: 'pattern-field', role: 'textbox', 'aria-label': 'Name of the copies' },
      // One line: Enter leaves it as it is.
      handleKeyDown: (_view, event) => event.key === 'Enter',
      transformPastedText: (text) => text.replace(/\s+/g, ' '),
    },
    onUpdate: ({ editor: changed }) => change(fromEditor(changed.getJSON())),
  })
  // Another way of giving brings its own name along.
  const shown = JSON.stringify(pattern)
  useEffect(() => {
    if (editor && JSON.stringify(fromEditor(editor.getJSON())) !== shown)
      editor.commands.setContent(toEditor(JSON.parse(shown) as NamePattern), { emitUpdate: false })
  }, [editor, shown])
  const typed = pattern
    .filter((part) => part.kind === 'text')
    .flatMap((part) => readTyped(wordsOf(part), columns).problems)
  const [problem] = typed
  const mend = () => {
    if (!problem?.meant) return
    const next = readTyped(mended(writeTyped(pattern), problem.meant, columns), columns).parts
    change(next)
  }
  return (
    <span className="pattern">
      <EditorContent editor={editor} />
      <TokenMenu editor={editor} columns={columns} id={`add-token-${id}`} />
      <TokenProblem problem={problem} mend={mend} />
    </span>
  )
}

const wordsOf = (part: PatternPart) => (part.kind === 'text' ? part.text : '')

/** A typed pattern with what was nearly a token made the one that was meant. */
function mended(text: string, meant: string, columns: readonly string[]): string {
  // Brackets typed as text were doubled when the pattern was written down.
  const single = text.replaceAll('[[', '[').replaceAll(']]', ']')
  const [problem] = readTyped(single, columns).problems
  if (!problem || !partOf(meant, columns)) return text
  const rest = single.slice(problem.at)
  const closed = /^(?:\[[^[\]]*\]|<[^<>]*>|\{{1,2}[^{}]*\}{1,2}|%[^%]*%)/.exec(rest)
  const open = /^\[\s*\p{L}+(?:\s+name\b)?/iu.exec(rest)
  const length = closed?.[0].length ?? open?.[0].length ?? 1
  return `${single.slice(0, problem.at)}[${meant}]${rest.slice(length)}`
}
