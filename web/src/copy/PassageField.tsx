import type { PassageSpace } from '@gavrin/core'
import { Editor } from '@tiptap/core'
import { Bold } from '@tiptap/extension-bold'
import { Collaboration } from '@tiptap/extension-collaboration'
import { Document } from '@tiptap/extension-document'
import { HardBreak } from '@tiptap/extension-hard-break'
import { Italic } from '@tiptap/extension-italic'
import { BulletList, ListItem, ListKeymap, OrderedList } from '@tiptap/extension-list'
import { Paragraph } from '@tiptap/extension-paragraph'
import { Text } from '@tiptap/extension-text'
import { Underline } from '@tiptap/extension-underline'
import { useEffect, useRef } from 'react'
import type * as Y from 'yjs'
import '../ui/editable.css'

// One by one, not as the kit: a student's page loads nothing that a passage cannot hold.
const PASSAGE = [
  Document,
  Paragraph,
  Text,
  HardBreak,
  BulletList,
  OrderedList,
  ListItem,
  ListKeymap,
  Bold,
  Italic,
  Underline,
]

interface Props {
  readonly space: PassageSpace
  readonly doc: Y.Doc
  readonly label: string
}

/** A passage to write in: paragraphs and lists, bold, italic and underlined. */
export default function PassageField({ space, doc, label }: Props) {
  const place = useRef<HTMLDivElement>(null)
  const { lines } = space
  useEffect(() => {
    const editor = new Editor({
      element: place.current,
      injectCSS: false,
      extensions: [...PASSAGE, Collaboration.configure({ fragment: doc.getXmlFragment('passage') })],
      editorProps: {
        attributes: {
          class: 'answer answer-passage',
          role: 'textbox',
          'aria-multiline': 'true',
          'aria-label': label,
          dir: 'auto',
          style: `min-height: ${lines * 1.6 + 1}em`,
        },
      },
    })
    return () => editor.destroy()
  }, [doc, label, lines])
  return <div ref={place} />
}
