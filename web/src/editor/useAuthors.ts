import type { WorksheetWriter } from '@gavrin/core'
import type { Editor } from '@tiptap/react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { live } from '../live/connection'
import { blockAt } from './AnswerSpaceNode'
import { AUTHORS } from './authorMarks'

/** How often where the caret is is told, in milliseconds. */
const CARET_PAUSE = 150

/** The others who have this worksheet open, and where in it they are; hears when one of them kept the draft. */
export function useAuthors(
  worksheetId: string,
  editor: Editor | null,
  self: string,
  changed: (version: number | null) => void,
): readonly WorksheetWriter[] {
  const [writers, setWriters] = useState<readonly WorksheetWriter[]>([])
  const changedNow = useRef(changed)
  useEffect(() => {
    changedNow.current = changed
  })
  useEffect(
    () =>
      live().watchWorksheet(worksheetId, {
        writers: setWriters,
        changed: (version) => changedNow.current(version),
      }),
    [worksheetId],
  )
  useEffect(() => {
    if (!editor) return
    let timer: ReturnType<typeof setTimeout> | null = null
    const tell = () => {
      timer = null
      const { selection } = editor.state
      const block = editor.isFocused ? blockAt(selection) : null
      const id = (block?.node.attrs['blockId'] as string | null | undefined) ?? null
      const isInWords = block && selection.$head.parent.inlineContent
      live().standAt(worksheetId, id, isInWords ? selection.head - block.from : null)
    }
    // Typing moves the caret with each key.
    const moved = () => {
      timer ??= setTimeout(tell, CARET_PAUSE)
    }
    editor.on('selectionUpdate', moved)
    editor.on('update', moved)
    editor.on('blur', moved)
    return () => {
      if (timer) clearTimeout(timer)
      editor.off('selectionUpdate', moved)
      editor.off('update', moved)
      editor.off('blur', moved)
    }
  }, [editor, worksheetId])
  const others = useMemo(() => writers.filter(({ personId }) => personId !== self), [writers, self])
  useEffect(() => {
    if (editor) editor.view.dispatch(editor.state.tr.setMeta(AUTHORS, others).setMeta('addToHistory', false))
  }, [editor, others])
  return others
}
