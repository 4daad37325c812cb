import { useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { useNavigate } from 'react-router'
import { Notice } from '../ui/Notice'
import { TextField } from '../ui/TextField'
import { api } from '../ui/api'
import { problemAt, problemBeside } from '../ui/problems'
import type { ClassOpened } from './queries'
import { yearAfter } from './schoolYear'

const ALONG = [
  ['staff', 'Staff', 'co-teachers and helpers of the whole class'],
  ['units', 'Units', ''],
  ['columns', 'Columns', 'without what stands in them'],
  ['handouts', 'Handouts', 'as drafts with their worksheets, without dates'],
  ['shelf', 'Shelf', 'what is on it, for whoever comes in'],
] as const

/** Chooses what goes along into the class of the next year. */
export function CarryClass({ opened, close }: { readonly opened: ClassOpened; readonly close: () => void }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [entry, setEntry] = useState({
    name: opened.name,
    year: yearAfter(opened.year),
    staff: true,
    units: true,
    columns: true,
    handouts: true,
    shelf: true,
  })
  const [problem, setProblem] = useState<unknown>(null)
  const submit = async (event: SubmitEvent) => {
    event.preventDefault()
    try {
      const { id } = await api.post<{ id: string }>(`classes/${opened.id}/carry`, entry)
      await client.invalidateQueries({ queryKey: ['classes'] })
      close()
      await navigate(`/class/${id}`)
    } catch (error) {
      setProblem(error)
    }
  }
  const beside = problemBeside(problem, ['name', 'year'])
  const text = (key: 'name' | 'year', label: string) => (
    <TextField
      id={`carry-${key}`}
      label={label}
      value={entry[key]}
      change={(value) => setEntry({ ...entry, [key]: value })}
      problem={problemAt(problem, key)}
    />
  )
  return (
    <Modal show onHide={close} centered animation={false}>
      <Form onSubmit={(event) => void submit(event)} noValidate>
        <Modal.Header closeButton>
          <Modal.Title>Carry {opened.name} to the next year</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          {text('name', 'Name of the new class')}
          {text('year', 'School year')}
          <fieldset>
            <legend className="form-label">What goes along</legend>
            {ALONG.map(([key, label, about]) => (
              <Form.Check
                key={key}
                id={`carry-${key}`}
                label={
                  <>
                    {label} {about && <span className="soft">{about}</span>}
                  </>
                }
                checked={entry[key]}
                onChange={({ target }) => setEntry({ ...entry, [key]: target.checked })}
              />
            ))}
          </fieldset>
          <p className="soft mt-2 mb-0">
            The students stay in {opened.name} {opened.year}.
          </p>
          {beside && <Notice kind="bad">{beside}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="link" onClick={close}>
            Cancel
          </Button>
          <Button type="submit">Make the new class</Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
