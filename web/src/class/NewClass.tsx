import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { useNavigate } from 'react-router'
import { Notice } from '../ui/Notice'
import { api } from '../ui/api'
import { problemAt, problemBeside } from '../ui/problems'
import { INKS } from '../ui/inks'
import { type ClassEntry, ClassFields } from './ClassFields'
import { schoolYear } from './schoolYear'
import type { Answers, Bodies } from '../contract'

/** Asks for what a new class needs. */
export function NewClass({ close }: { readonly close: () => void }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [entry, setEntry] = useState<ClassEntry>(() => ({
    name: '',
    subject: '',
    year: schoolYear(new Date()),
    ink: INKS[0],
  }))
  const create = useMutation({
    mutationFn: () => api.post<Answers['POST classes']>('classes', entry satisfies Bodies['POST classes']),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: ['classes'] })
      close()
      await navigate(`/class/${id}/bring-in`)
    },
  })
  const beside = problemBeside(create.error, ['name', 'subject', 'year'])
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
          <ClassFields entry={entry} change={setEntry} error={(field) => problemAt(create.error, field)} autoFocus />
          {beside && <Notice kind="bad">{beside}</Notice>}
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
