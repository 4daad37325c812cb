import { type BoardRow, mayInClass } from '@gavrin/core'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { useClass } from '../class/queries'
import type { Acted } from '../pens/ActedLine'
import { PensButton } from '../pens/PensButton'
import { ReminderButton } from '../reminder/ReminderButton'
import { copiesInWords } from '../pens/words'
import { SaveCopiesButton } from '../savedCopies/SaveCopiesButton'
import { SaveTableMenu } from '../ui/SaveTableMenu'
import { DueDialog } from './DueDialog'
import { boardOut } from './boardOut'
import { TakeBackSome } from './TakeBackSome'
import { WATCHED } from './watched'

interface Props {
  readonly handout: { readonly id: string; readonly classId: string; readonly dueAt: number | null }
  readonly rows: readonly BoardRow[]
  readonly now: number
  readonly clear: () => void
  /** Shows those that are selected beside each other. */
  readonly watch: () => void
  readonly done: (acted: Acted) => void
}

/** What can be done with the copies that are selected. */
export function BoardSelection({ handout, rows, now, clear, watch, done }: Props) {
  const [shown, setShown] = useState<'due' | 'aside' | 'back' | null>(null)
  const opened = useClass(handout.classId).data
  const there = rows.filter(({ setAside }) => !setAside)
  const aside = rows.filter(({ setAside }) => setAside)
  const written = there.filter(({ way }) => way !== 'to read')
  if (!opened || !mayInClass(opened.role, 'hand out').may) return null
  const close = () => setShown(null)
  return (
    <div className="selection-bar board-selection" role="region" aria-label="Selected copies">
      <strong>{copiesInWords(rows.length)} selected</strong>
      {written.length > 0 && (
        <>
          <PensButton handout={handout} rows={written} done={done} small />
          <ReminderButton handout={handout} rows={written} now={now} small />
          <Button size="sm" variant="outline-dark" onClick={() => setShown('due')}>
            Another due time
          </Button>
        </>
      )}
      {rows.length > 1 && rows.length <= WATCHED && (
        <Button size="sm" variant="outline-dark" onClick={watch}>
          Side by side
        </Button>
      )}
      {there.length > 0 && (
        <Button size="sm" variant="outline-dark" onClick={() => setShown('aside')}>
          Set {there.length} aside
        </Button>
      )}
      {aside.length > 0 && (
        <Button size="sm" variant="outline-dark" onClick={() => setShown('back')}>
          Bring {aside.length} back
        </Button>
      )}
      {written.length > 0 && (
        <SaveCopiesButton
          of={{ handoutId: handout.id, copyIds: written.map(({ copyId }) => copyId) }}
          what={copiesInWords(written.length)}
          small
        />
      )}
      <SaveTableMenu {...boardOut(handout.id, { copyIds: rows.map(({ copyId }) => copyId) })} drop="up" />
      <Button size="sm" variant="link" onClick={clear}>
        Select none
      </Button>
      {shown === 'due' && <DueDialog handout={handout} rows={written} close={close} />}
      {shown === 'aside' && (
        <TakeBackSome handoutId={handout.id} rows={there} back={false} close={close} done={clear} />
      )}
      {shown === 'back' && <TakeBackSome handoutId={handout.id} rows={aside} back close={close} done={clear} />}
    </div>
  )
}
