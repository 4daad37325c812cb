import { type NoteText, noteProblems, partOf } from '@gavrin/core'
import type { JSONContent } from '@tiptap/core'
import { EditorContent, useEditor } from '@tiptap/react'
import StarterKit from '@tiptap/starter-kit'
import { useRef } from 'react'
import { Button } from 'react-bootstrap'
import '../ui/editable.css'
import { TokenMenu } from './TokenMenu'
import { TokenProblem } from './TokenProblem'
import { tokenAttrs, tokenNode } from './nameToken'

interface Props {
  readonly id: string
  readonly label: string
  readonly value: NoteText | null
  readonly columns: readonly string[]
  /** Tokens can be put in. */
  readonly withTokens: boolean
  readonly change: (value: NoteText | null) => void
}

/** Rich text of a few paragraphs, with name tokens where they are wanted. */
export function NoteField({ id, label, value, columns, withTokens, change }: Props) {
  const known = useRef(columns)
  known.current = columns
  const editor = useEditor({
    injectCSS: false,
    extensions: [
      StarterKit.configure({
        heading: false,
        blockquote: false,
        codeBlock: false,
        code: false,
        underline: false,
        strike: false,
        horizontalRule: false,
        link: {
          openOnClick: false,
          protocols: ['http', 'https', 'mailto'],
          HTMLAttributes: { rel: null, target: null },
        },
        trailingNode: false,
      }),
      tokenNode(() => known.current, true),
    ],
    content: (value as JSONContent | null) ?? { type: 'doc', content: [{ type: 'paragraph' }] },
    editorProps: {
      attributes: { class: 'note-field', role: 'textbox', 'aria-multiline': 'true', 'aria-label': label },
    },
    onUpdate: ({ editor: changed }) => change(changed.isEmpty ? null : (changed.getJSON() as NoteText)),
  })
  const act = (name: 'bold' | 'italic' | 'bulletList') => {
    const chain = editor?.chain().focus()
    if (name === 'bold') chain?.toggleBold().run()
    else if (name === 'italic') chain?.toggleItalic().run()
    else chain?.toggleBulletList().run()
  }
  const [problem] = withTokens && value ? noteProblems(value, columns) : []
  /** Puts the token that was meant in place of the words in brackets. */
  const mend = () => {
    const part = problem?.meant ? partOf(problem.meant, columns) : null
    if (!editor || !problem || !part) return
    let from = -1
    editor.state.doc.descendants((node, at) => {
      const place = node.isText ? (node.text ?? '').indexOf(problem.typed) : -1
      if (from < 0 && place >= 0) from = at + place
    })
    if (from < 0) return
    editor
      .chain()
      .focus()
      .deleteRange({ from, to: from + problem.typed.length })
      .insertContentAt(from, { type: 'nameToken', attrs: tokenAttrs(part) })
      .run()
  }
  return (
    <div className="note-edit">
      <EditorContent editor={editor} />
      <div className="note-acts">
        <Button variant="link" size="sm" onClick={() => act('bold')} aria-label={`Bold in ${label.toLowerCase()}`}>
          <b>Bold</b>
        </Button>
        <Button variant="link" size="sm" onClick={() => act('italic')} aria-label={`Italic in ${label.toLowerCase()}`}>
          <i>Italic</i>
        </Button>
        <Button variant="link" size="sm" onClick={() => act('bulletList')}>
          List
        </Button>
        {withTokens && <TokenMenu editor={editor} columns={columns} id={`note-token-${id}`} />}
      </div>
      <TokenProblem problem={problem} mend={mend} />
      {withTokens && (
        <p className="soft note-hint">
          A token may bring words along: <b>[, due Date]</b> leaves out “, due” where there is no date.
        </p>
      )}
    </div>
  )
}
