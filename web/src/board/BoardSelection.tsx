import { type BoardRow, mayInClass } from '@gavrin/core'
import { useState } from 'react'
import { Button, Dropdown } from 'react-bootstrap'
import { useClass } from '../class/queries'
import type { Acted } from '../ui/ActedLine'
import { PensButton } from '../pens/PensButton'
import { ReminderButton } from '../reminder/ReminderButton'
import { copiesInWords } from '../pens/words'
import { SaveCopiesButton } from '../savedCopies/SaveCopiesButton'
import { Menu } from '../ui/Menu'
import { GiveToKeep } from '../toKeep/GiveToKeep'
import { SaveTableMenu } from '../ui/SaveTableMenu'
import { DueDialog } from './DueDialog'
import { boardOut } from './boardOut'
import { SayOfAll } from './SayOfAll'
import { SingleDialog, type SingleOf } from './SingleDialog'
import { SubmitForThem } from './SubmitForThem'
import { TakeBackSome } from './TakeBackSome'
import { WATCHED } from './watched'

interface Props {
  readonly handout: { readonly id: string; readonly classId: string; readonly dueAt: number | null }
  readonly rows: readonly BoardRow[]
  readonly clear: () => void
  /** Shows those that are selected beside each other. */
  readonly watch: () => void
  readonly done: (acted: Acted) => void
}

type Shown = 'due' | 'aside' | 'back' | 'say' | 'submit' | 'take back' | 'keep' | SingleOf

/** What can be done with the copies that are selected. */
export function BoardSelection({ handout, rows, clear, watch, done }: Props) {
  const [shown, setShown] = useState<Shown | null>(null)
  const opened = useClass(handout.classId).data
  const there = rows.filter(({ setAside }) => !setAside)
  const aside = rows.filter(({ setAside }) => setAside)
  const written = there.filter(({ way }) => way !== 'to read')
  if (!opened || !mayInClass(opened.role, 'hand out').may) return null
  const close = () => setShown(null)
  const setAside = (count: number, what: string) => () => {
    clear()
    done({ id: `${what} ${Date.now()}`, words: `${copiesInWords(count)} ${what}.`, undo: 'shown first' })
  }
  return (
    <div className="selection-bar board-selection" role="region" aria-label="Selected copies">
      <strong>{copiesInWords(rows.length)} selected</strong>
      {written.length > 0 && (
        <>
          <PensButton handout={handout} rows={written} done={done} small />
          <ReminderButton handout={handout} rows={written} small />
        </>
      )}
      {rows.length > 1 && rows.length <= WATCHED && (
        <Button size="sm" variant="outline-dark" onClick={watch}>
          Side by side
        </Button>
      )}
      {aside.length > 0 && (
        <Button size="sm" variant="outline-dark" onClick={() => setShown('back')}>
          Bring {aside.length} back
        </Button>
      )}
      {there.length > 0 && (
        <Menu label="Change" small drop="up">
          {written.length > 0 && (
            <>
              <Dropdown.Item as="button" type="button" onClick={() => setShown('due')}>
                Another due time …
              </Dropdown.Item>
              <Dropdown.Item as="button" type="button" onClick={() => setShown('name')}>
                Rename …
              </Dropdown.Item>
              <Dropdown.Item as="button" type="button" onClick={() => setShown('permission')}>
                What is permitted …
              </Dropdown.Item>
              <Dropdown.Item as="button" type="button" onClick={() => setShown('edition')}>
                To the newest edition …
              </Dropdown.Item>
              <Dropdown.Divider />
              <Dropdown.Item as="button" type="button" onClick={() => setShown('submit')}>
                Submit for them …
              </Dropdown.Item>
              <Dropdown.Item as="button" type="button" onClick={() => setShown('take back')}>
                Take back for them …
              </Dropdown.Item>
              <Dropdown.Item as="button" type="button" onClick={() => setShown('keep')}>
                Give to keep …
              </Dropdown.Item>
              <Dropdown.Divider />
            </>
          )}
          <Dropdown.Item as="button" type="button" onClick={() => setShown('aside')}>
            Set {there.length} aside …
          </Dropdown.Item>
        </Menu>
      )}
      {written.length > 0 && (
        <>
          <Button size="sm" variant="outline-dark" onClick={() => setShown('say')}>
            Comment
          </Button>
          <SaveCopiesButton
            of={{ handoutId: handout.id, copyIds: written.map(({ copyId }) => copyId) }}
            what={copiesInWords(written.length)}
            small
          />
        </>
      )}
      <SaveTableMenu {...boardOut(handout.id, { copyIds: rows.map(({ copyId }) => copyId) })} drop="up" />
      <Button size="sm" variant="link" onClick={clear}>
        Select none
      </Button>
      {(shown === 'name' || shown === 'permission' || shown === 'edition') && (
        <SingleDialog of={shown} handoutId={handout.id} rows={written} close={close} done={done} />
      )}
      {(shown === 'submit' || shown === 'take back') && (
        <SubmitForThem handoutId={handout.id} rows={written} submitted={shown === 'submit'} close={close} done={done} />
      )}
      {shown === 'keep' && (
        <GiveToKeep of={{ handoutId: handout.id, copyIds: written.map(({ copyId }) => copyId) }} close={close} />
      )}
      {shown === 'say' && <SayOfAll handoutId={handout.id} rows={written} close={close} done={done} />}
      {shown === 'due' && <DueDialog handout={handout} rows={written} close={close} done={done} />}
      {shown === 'aside' && (
        <TakeBackSome
          handoutId={handout.id}
          rows={there}
          back={false}
          close={close}
          done={setAside(there.length, 'set aside')}
        />
      )}
      {shown === 'back' && (
        <TakeBackSome
          handoutId={handout.id}
          rows={aside}
          back
          close={close}
          done={setAside(aside.length, 'brought back')}
        />
      )}
    </div>
  )
}
