import type { BoardRow } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Dropdown, Form, Modal } from 'react-bootstrap'
import { Link, useNavigate } from 'react-router'
import { useClasses } from '../class/queries'
import { UndoDialog } from '../composer/UndoDialog'
import { handoutsKey } from '../composer/queries'
import { copiesInWords } from '../pens/words'
import { SaveCopies } from '../savedCopies/SaveCopiesButton'
import { GiveToKeep } from '../toKeep/GiveToKeep'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { GuestsDialog } from './GuestsDialog'
import { LinksDialog } from './LinksDialog'
import { TakeBackSome } from './TakeBackSome'
import { useTakeBack } from './useTakeBack'
import type { Answers, Bodies } from '../contract'

interface HandoutNamed {
  readonly id: string
  readonly classId: string
  readonly title: string
  readonly kind: 'handout' | 'shelf'
}

/** Takes one copy back, or brings it back. */
export function TakeBackOne({ row, handoutId }: { readonly row: BoardRow; readonly handoutId: string }) {
  const take = useTakeBack(handoutId)
  return (
    <>
      <Button
        size="sm"
        variant="link"
        disabled={take.isPending}
        onClick={() => take.mutate({ slotKeys: [row.slotKey], back: row.setAside })}
      >
        {row.setAside ? 'Bring it back' : row.state === 'not opened' ? 'Take it back' : 'Set it aside'}
      </Button>
      {take.error && (
        <span className="bad" role="alert">
          {sentenceOf(take.error)}
        </span>
      )}
    </>
  )
}

/** What can be done with a whole handout: links to it, copies taken back, the same again. */
export function BoardActs({ handout, rows }: { readonly handout: HandoutNamed; readonly rows: readonly BoardRow[] }) {
  const client = useQueryClient()
  const [shown, setShown] = useState<'links' | 'guests' | 'repeat' | 'take back' | 'undo' | 'save' | 'keep' | null>(
    null,
  )
  const unopened = rows.filter(({ state, setAside, way }) => state === 'not opened' && !setAside && way !== 'to read')
  const there = rows.filter(({ setAside, way }) => !setAside && way !== 'to read').length
  const close = () => setShown(null)
  return (
    <>
      <Dropdown>
        <Dropdown.Toggle variant="outline-dark" id="board-acts">
          More
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <Dropdown.Item as="button" type="button" onClick={() => setShown('links')}>
            Class link and walk-in link
          </Dropdown.Item>
          <Dropdown.Item as="button" type="button" onClick={() => setShown('guests')}>
            Guests, and who they are
          </Dropdown.Item>
          <Dropdown.Item as="button" type="button" onClick={() => setShown('repeat')}>
            Repeat for another class
          </Dropdown.Item>
          <Dropdown.Item as={Link} to={`/class/${handout.classId}/handouts/${handout.id}/likeness`}>
            Likeness between copies
          </Dropdown.Item>
          <Dropdown.Item as="button" type="button" disabled={there === 0} onClick={() => setShown('save')}>
            All copies as documents …
          </Dropdown.Item>
          {handout.kind === 'handout' && (
            <Dropdown.Item as="button" type="button" disabled={there === 0} onClick={() => setShown('keep')}>
              Give to keep …
            </Dropdown.Item>
          )}
          <Dropdown.Item
            as="button"
            type="button"
            disabled={unopened.length === 0}
            onClick={() => setShown('take back')}
          >
            Take back what nobody has opened
          </Dropdown.Item>
          {handout.kind === 'handout' && (
            <Dropdown.Item as="button" type="button" onClick={() => setShown('undo')}>
              Undo the last hand-out …
            </Dropdown.Item>
          )}
        </Dropdown.Menu>
      </Dropdown>
      {shown === 'undo' && (
        <UndoDialog
          handoutId={handout.id}
          several
          undone={() => {
            close()
            void client.invalidateQueries({ queryKey: ['board', handout.id] })
            void client.invalidateQueries({ queryKey: handoutsKey(handout.classId) })
          }}
          close={close}
        />
      )}
      {shown === 'links' && <LinksDialog handoutId={handout.id} close={close} />}
      {shown === 'guests' && <GuestsDialog handoutId={handout.id} close={close} />}
      {shown === 'save' && (
        <SaveCopies of={{ handoutId: handout.id }} what={`${copiesInWords(there)} of ${handout.title}`} close={close} />
      )}
      {shown === 'keep' && <GiveToKeep of={{ handoutId: handout.id }} close={close} />}
      {shown === 'repeat' && <RepeatDialog handout={handout} close={close} />}
      {shown === 'take back' && (
        <TakeBackSome handoutId={handout.id} rows={unopened} back={false} close={close} done={close} />
      )}
    </>
  )
}

function RepeatDialog({ handout, close }: { handout: HandoutNamed; close: () => void }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const classes = useClasses()
  const offered = (classes.data ?? []).filter(({ archived }) => !archived)
  const [chosen, setChosen] = useState('')
  const classId = chosen || offered.find(({ id }) => id !== handout.classId)?.id || handout.classId
  const repeat = useMutation({
    mutationFn: () =>
      api.post<Answers['POST handouts/{handoutId}/repeat']>(`handouts/${handout.id}/repeat`, {
        classId,
      } satisfies Bodies['POST handouts/{handoutId}/repeat']),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: handoutsKey(classId) })
      await navigate(`/class/${classId}/slip/${id}`)
    },
  })
  return (
    <Modal show onHide={close} aria-labelledby="repeat-title">
      <Modal.Header closeButton>
        <Modal.Title id="repeat-title">Repeat “{handout.title}”</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Form.Group controlId="repeat-class">
          <Form.Label>For which class</Form.Label>
          <Form.Select value={classId} onChange={({ target }) => setChosen(target.value)}>
            {offered.map(({ id, name, subject, year }) => (
              <option key={id} value={id}>
                {[name, subject, year].filter(Boolean).join(', ')}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <p className="soft mt-2">
          A new slip is written with the same worksheets in their newest editions, the same way and permissions. You
          look at its proof and set its times before anything is handed out.
        </p>
        {repeat.error && <Notice kind="bad">{sentenceOf(repeat.error)}</Notice>}
      </Modal.Body>
      <Modal.Footer>
        <Button disabled={repeat.isPending} onClick={() => repeat.mutate()}>
          Write the slip
        </Button>
      </Modal.Footer>
    </Modal>
  )
}
