import type { PassageSpace } from '@gavrin/core'
import Collaboration from '@tiptap/extension-collaboration'
import { EditorContent, useEditor } from '@tiptap/react'
import StarterKit from '@tiptap/starter-kit'
import type * as Y from 'yjs'
import '../ui/editable.css'

interface Props {
  readonly space: PassageSpace
  readonly doc: Y.Doc
  readonly label: string
}

/** A passage to write in: paragraphs and lists, bold, italic and underlined. */
export default function PassageField({ space, doc, label }: Props) {
  const editor = useEditor(
    {
      injectCSS: false,
      extensions: [
        StarterKit.configure({
          undoRedo: false,
          heading: false,
          blockquote: false,
          codeBlock: false,
          code: false,
          horizontalRule: false,
          link: false,
          strike: false,
          dropcursor: false,
          gapcursor: false,
          trailingNode: false,
        }),
        Collaboration.configure({ fragment: doc.getXmlFragment('passage') }),
      ],
      editorProps: {
        attributes: {
          class: 'answer answer-passage',
          role: 'textbox',
          'aria-multiline': 'true',
          'aria-label': label,
          dir: 'auto',
          style: `min-height: ${space.lines * 1.6 + 1}em`,
        },
      },
    },
    [doc],
  )
  return <EditorContent editor={editor} />
}
