import type { SchoolRole } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { Notice } from '../ui/Notice'
import { TextField } from '../ui/TextField'
import { api } from '../ui/api'
import { problemAt, problemBeside } from '../ui/problems'
import type { PersonRecord } from './personRecord'
import type { Bodies } from '../contract'

interface Props {
  /** Null: somebody new. */
  readonly person: PersonRecord | null
  readonly close: () => void
}

/** What the office writes down of a person. */
export function PersonForm({ person, close }: Props) {
  const client = useQueryClient()
  const [entry, setEntry] = useState({
    first: person?.first ?? '',
    last: person?.last ?? '',
    email: person?.email ?? '',
    number: person?.number ?? '',
    role: person?.role ?? 'teacher',
  })
  const [problem, setProblem] = useState<unknown>(null)
  const submit = async (event: SubmitEvent) => {
    event.preventDefault()
    try {
      if (person)
        await api.put(`office/people/${person.personId}`, entry satisfies Bodies['PUT office/people/{personId}'])
      else await api.post('office/people', entry satisfies Bodies['POST office/people'])
      await client.invalidateQueries({ queryKey: ['office'] })
      await client.invalidateQueries({ queryKey: ['person'] })
      close()
    } catch (error) {
      setProblem(error)
    }
  }
  const beside = problemBeside(problem, ['first', 'last', 'email', 'number', 'role'])
  const field = (key: 'first' | 'last' | 'email' | 'number', label: string, autoFocus = false) => (
    <TextField
      id={`person-${key}`}
      label={label}
      autoFocus={autoFocus}
      value={entry[key]}
      change={(value) => setEntry({ ...entry, [key]: value })}
      problem={problemAt(problem, key)}
    />
  )
  return (
    <Modal show onHide={close} centered animation={false}>
      <Form onSubmit={(event) => void submit(event)} noValidate>
        <Modal.Header closeButton>
          <Modal.Title>{person ? 'Correct a person' : 'Add a person'}</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          {field('first', 'First name', true)}
          {field('last', 'Last name')}
          {field('email', 'E-mail')}
          {field('number', 'Student number')}
          <Form.Group controlId="person-role">
            <Form.Label>In the school</Form.Label>
            <Form.Select
              value={entry.role}
              isInvalid={!!problemAt(problem, 'role')}
              onChange={({ target }) => setEntry({ ...entry, role: target.value as SchoolRole })}
            >
              <option value="teacher">teacher</option>
              <option value="student">student</option>
              <option value="office">office</option>
            </Form.Select>
            <Form.Control.Feedback type="invalid">{problemAt(problem, 'role')}</Form.Control.Feedback>
          </Form.Group>
          {!person && <p className="soft mt-2 mb-0">Whoever has an e-mail is invited by mail.</p>}
          {beside && <Notice kind="bad">{beside}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="link" onClick={close}>
            Cancel
          </Button>
          <Button type="submit">{person ? 'Keep' : 'Add'}</Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
