import { type PassageSpace, countWords } from '@gavrin/core'
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
import { useEffect, useRef, useState } from 'react'
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
  const { lines, starter, wanted } = space
  const [words, setWords] = useState(0)
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
    const count = () => setWords(wanted ? countWords(editor.getText({ blockSeparator: '\n' })) : 0)
    count()
    editor.on('update', count)
    // The given beginning is put down when somebody begins to write: an answer that nobody touched stays empty.
    editor.on('focus', () => {
      if (starter && doc.getXmlFragment('passage').length === 0 && editor.isEmpty)
        editor.commands.setContent(
          starter
            .split('\n')
            .map((line) => ({ type: 'paragraph', content: line ? [{ type: 'text', text: line }] : [] })),
        )
    })
    return () => editor.destroy()
  }, [doc, label, lines, starter, wanted])
  return (
    <>
      <div ref={place} className="passage-place" data-starter={starter} />
      {wanted && <div className="wanted-words">{wantedWords(words, wanted)}</div>}
    </>
  )
}

function wantedWords(words: number, { least, most }: NonNullable<PassageSpace['wanted']>): string {
  const range =
    least !== null && most !== null ? `${least} to ${most}` : least !== null ? `at least ${least}` : `up to ${most}`
  return `${words} ${words === 1 ? 'word' : 'words'}; wanted: ${range}`
}
