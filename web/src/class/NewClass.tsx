import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { useNavigate } from 'react-router'
import { Notice } from '../ui/Notice'
import { ApiError, api, sentenceOf } from '../ui/api'
import { INKS, inkName } from '../ui/inks'

/** Half of the northern school year that `now` falls in: "2026/27". */
function schoolYear(now: Date): string {
  const start = now.getMonth() >= 6 ? now.getFullYear() : now.getFullYear() - 1
  return `${start}/${String((start + 1) % 100).padStart(2, '0')}`
}

/** Asks for what a new class needs. */
export function NewClass({ close }: { readonly close: () => void }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [entry, setEntry] = useState<Record<'name' | 'subject' | 'year' | 'ink', string>>(() => ({
    name: '',
    subject: '',
    year: schoolYear(new Date()),
    ink: INKS[0],
  }))
  const create = useMutation({
    mutationFn: () => api.post<{ id: string }>('classes', entry),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: ['classes'] })
      close()
      await navigate(`/class/${id}/bring-in`)
    },
  })
  const errors = create.error instanceof ApiError ? create.error.errors : []
  const error = (field: string) => errors.find((problem) => problem.field === field)?.sentence
  const field = (name: 'name' | 'subject' | 'year', label: string, autoFocus = false) => (
    <Form.Group className="mb-3" controlId={`class-${name}`}>
      <Form.Label>{label}</Form.Label>
      <Form.Control
        autoFocus={autoFocus}
        value={entry[name]}
        isInvalid={!!error(name)}
        onChange={({ target }) => setEntry({ ...entry, [name]: target.value })}
      />
      <Form.Control.Feedback type="invalid">{error(name)}</Form.Control.Feedback>
    </Form.Group>
  )
  const submit = (event: SubmitEvent) => {
    event.preventDefault()
    create.mutate()
  }
  return (
    <Modal show onHide={close} centered animation={false}>
      <Form onSubmit={submit} noValidate>
        <Modal.Header closeButton>
          <Modal.Title>New class</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          {field('name', 'Name, as the school says it', true)}
          {field('subject', 'Subject')}
          {field('year', 'School year')}
          <fieldset className="ink-choice">
            <legend>Answer ink</legend>
            {INKS.map((ink) => (
              <label key={ink} data-ink={inkName(ink)}>
                <input
                  type="radio"
                  name="ink"
                  checked={entry.ink === ink}
                  onChange={() => setEntry({ ...entry, ink })}
                />
                <span>{ink}</span>
              </label>
            ))}
          </fieldset>
          {create.error && errors.length === 0 && <Notice kind="bad">{sentenceOf(create.error)}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="link" onClick={close}>
            Cancel
          </Button>
          <Button type="submit" disabled={create.isPending}>
            Make the class
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
