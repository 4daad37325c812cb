import type { WorksheetWriter } from '@gavrin/core'
import type { Editor } from '@tiptap/react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { live } from '../live/connection'
import { blockAt } from './AnswerSpaceNode'
import { AUTHORS } from './authorMarks'

/** The others who have this worksheet open, and in which block they are; hears when one of them kept the draft. */
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
    const tell = () => {
      const block = editor.isFocused ? blockAt(editor.state.selection) : null
      live().standAt(worksheetId, (block?.node.attrs['blockId'] as string | null | undefined) ?? null)
    }
    editor.on('selectionUpdate', tell)
    editor.on('blur', tell)
    return () => {
      editor.off('selectionUpdate', tell)
      editor.off('blur', tell)
    }
  }, [editor, worksheetId])
  const others = useMemo(() => writers.filter(({ personId }) => personId !== self), [writers, self])
  useEffect(() => {
    if (editor) editor.view.dispatch(editor.state.tr.setMeta(AUTHORS, others).setMeta('addToHistory', false))
  }, [editor, others])
  return others
}
