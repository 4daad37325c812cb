import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { Notice } from '../../ui/Notice'
import { TextField } from '../../ui/TextField'
import { api } from '../../ui/api'
import { problemAt, problemBeside } from '../../ui/problems'
import { type ClassOpened, classKey } from '../queries'
import type { Bodies } from '../../contract'

const NOBODY = { last: '', first: '', email: '' }

/** Adds students one by one. */
export function AddStudent({ opened, close }: { readonly opened: ClassOpened; readonly close: () => void }) {
  const client = useQueryClient()
  const [entry, setEntry] = useState(NOBODY)
  const [added, setAdded] = useState<readonly string[]>([])
  const add = useMutation({
    mutationFn: () =>
      api.post(`classes/${opened.id}/roster`, {
        rows: [{ ...entry, number: '', cells: {} }],
      } satisfies Bodies['POST classes/{classId}/roster']),
    onSuccess: async () => {
      setAdded([...added, `${entry.first} ${entry.last}`.trim()])
      setEntry(NOBODY)
      await client.invalidateQueries({ queryKey: classKey(opened.id) })
      document.getElementById('new-last')?.focus()
    },
  })
  const field = (key: keyof typeof NOBODY, label: string) => (
    <TextField
      id={`new-${key}`}
      label={label}
      autoFocus={key === 'last'}
      type={key === 'email' ? 'email' : 'text'}
      value={entry[key]}
      change={(value) => {
        setEntry({ ...entry, [key]: value })
        add.reset()
      }}
      problem={problemAt(add.error, key)}
    />
  )
  const beside = problemBeside(add.error, ['last', 'first', 'email'])
  const submit = (event: SubmitEvent) => {
    event.preventDefault()
    add.mutate()
  }
  return (
    <Modal show onHide={close} centered animation={false}>
      <Form onSubmit={submit} noValidate>
        <Modal.Header closeButton>
          <Modal.Title>Add a student</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          {field('last', 'Last name')}
          {field('first', 'First name')}
          {field('email', 'E-mail (empty, if there is none)')}
          {beside && <Notice kind="bad">{beside}</Notice>}
          {added.length > 0 && (
            <p className="soft" role="status">
              Added: <bdi>{added.join(', ')}</bdi>. They get what was handed out before where the handout says so.
            </p>
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="link" onClick={close}>
            {added.length > 0 ? 'Done' : 'Cancel'}
          </Button>
          <Button type="submit" disabled={add.isPending || !(entry.last.trim() || entry.first.trim())}>
            Add
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
