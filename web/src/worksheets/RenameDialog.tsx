import { useMutation } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { api, sentenceOf } from '../ui/api'
import type { WorksheetListed } from './queries'
import type { Bodies } from '../contract'

interface Props {
  readonly worksheets: readonly WorksheetListed[]
  readonly close: () => void
}

/** Gives one or several worksheets other titles; for several, words can be replaced in all of them. */
export function RenameDialog({ worksheets, close }: Props) {
  const [titles, setTitles] = useState<Readonly<Record<string, string>>>(
    Object.fromEntries(worksheets.map(({ id, title }) => [id, title])),
  )
  const [find, setFind] = useState('')
  const [put, setPut] = useState('')
  const rename = useMutation({
    mutationFn: () =>
      api.post('worksheets/rename', {
        titles: worksheets.flatMap(({ id, title: before }) => {
          const title = titles[id] ?? before
          return title === before ? [] : [{ id, title }]
        }),
      } satisfies Bodies['POST worksheets/rename']),
    onSuccess: close,
  })
  const replace = () =>
    setTitles(
      Object.fromEntries(Object.entries(titles).map(([id, title]) => [id, find ? title.replaceAll(find, put) : title])),
    )
  const submit = (event: FormEvent) => {
    event.preventDefault()
    rename.mutate()
  }
  return (
    <Modal show onHide={close} aria-labelledby="rename-title" scrollable>
      <Form onSubmit={submit} noValidate className="modal-form">
        <Modal.Header closeButton>
          <Modal.Title id="rename-title">
            {worksheets.length === 1 ? 'Rename' : `Rename ${worksheets.length} worksheets`}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          {worksheets.length > 1 && (
            <div className="replace-words">
              <Form.Control
                size="sm"
                aria-label="Words to replace"
                placeholder="these words"
                value={find}
                onChange={({ target }) => setFind(target.value)}
              />
              <Form.Control
                size="sm"
                aria-label="Words to put in their place"
                placeholder="by these"
                value={put}
                onChange={({ target }) => setPut(target.value)}
              />
              <Button size="sm" variant="outline-dark" onClick={replace} disabled={!find}>
                Replace
              </Button>
            </div>
          )}
          {worksheets.map(({ id, title }) => (
            <Form.Control
              key={id}
              className="mb-2"
              dir="auto"
              maxLength={200}
              aria-label={`Title of ${title}`}
              isInvalid={!titles[id]?.trim()}
              value={titles[id] ?? ''}
              onChange={({ target }) => setTitles({ ...titles, [id]: target.value })}
            />
          ))}
          {rename.error && <p className="bad">{sentenceOf(rename.error)}</p>}
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={rename.isPending || worksheets.some(({ id }) => !titles[id]?.trim())}>
            Rename
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
