import { type PassageSpace, countWords, starterOf } from '@gavrin/core'
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
import { yUndoPluginKey } from '@tiptap/y-tiptap'
import { useId, useLayoutEffect, useRef, useState } from 'react'
import { idle } from '../ui/whenIdle'
import type * as Y from 'yjs'
import '../ui/editable.css'
import { bounds } from './passage/bounds'
import { wantedWords } from './passage/wantedWords'
import { inOrder, undoByKey } from './ownUndo'
import { useSheet } from './surroundings'
import type { SpaceProps } from './place'
import { starterShown } from './passage/starterShown'

// One by one, not as the kit: a student's page loads nothing that a passage cannot hold.
const PASSAGE = [
  Document,
  // Each paragraph runs as its own words do.
  Paragraph.configure({ HTMLAttributes: { dir: 'auto' } }),
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

/** A passage to write in: paragraphs and lists, bold, italic and underlined. */
export default function PassageField({ space, doc, label }: SpaceProps<PassageSpace>) {
  const place = useRef<HTMLDivElement>(null)
  const { lines, wanted } = space
  const starter = starterOf(space)
  const { spelling } = useSheet()
  const begins = useId()
  const [words, setWords] = useState(0)
  const [room, setRoom] = useState('')
  // Before it is painted: nothing beneath it moves.
  useLayoutEffect(() => {
    const editor = new Editor({
      element: place.current,
      injectCSS: false,
      extensions: [
        ...PASSAGE,
        Collaboration.configure({ fragment: doc.getXmlFragment('passage') }),
        ...(starter ? [starterShown(doc, starter)] : []),
        bounds(setRoom),
      ],
      editorProps: {
        // Before the editor's own keys: what was done last is undone, be it in another answer.
        handleKeyDown: (_, event) => undoByKey(event),
        attributes: {
          class: 'answer answer-passage',
          role: 'textbox',
          'aria-multiline': 'true',
          'aria-label': label,
          spellcheck: String(spelling),
          ...(starter && { 'aria-describedby': begins }),
          style: `min-height: ${lines * 1.6 + 1}em`,
        },
      },
    })
    const undoing = yUndoPluginKey.getState(editor.state) as { readonly undoManager: Y.UndoManager } | undefined
    if (undoing) inOrder(undoing.undoManager, space.id)
    // Counted between keys, not in them: an answer may be long.
    let waiting = false
    const count = () => {
      waiting = false
      if (!editor.isDestroyed) setWords(countWords(editor.getText({ blockSeparator: '\n' })))
    }
    if (wanted) {
      count()
      editor.on('update', () => {
        if (!waiting) idle(count)
        waiting = true
      })
    }
    return () => editor.destroy()
  }, [doc, space.id, label, lines, starter, wanted, begins, spelling])
  return (
    <>
      <div ref={place} className="passage-place" />
      {starter && (
        <span id={begins} className="visually-hidden">
          Begins with: {starter}
        </span>
      )}
      {wanted && <div className="wanted-words">{wantedWords(words, wanted)}</div>}
      {room && (
        <div className="answer-hint" role="status">
          {room}
        </div>
      )}
    </>
  )
}
