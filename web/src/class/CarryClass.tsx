import { useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { useNavigate } from 'react-router'
import { Notice } from '../ui/Notice'
import { TextField } from '../ui/TextField'
import { api } from '../ui/api'
import { problemAt, problemBeside } from '../ui/problems'
import { StudentTicks } from './StudentTicks'
import type { ClassOpened, Student } from './queries'
import { yearAfter } from './schoolYear'
import type { Answers, Bodies } from '../contract'

const ALONG = [
  ['staff', 'Staff', 'co-teachers and helpers of the whole class'],
  ['units', 'Units', ''],
  ['columns', 'Columns', ''],
  ['cells', 'What stands in the columns', 'of the students who come along'],
  ['groups', 'Group sets', 'with the students who come along in their groups'],
  ['handouts', 'Handouts', 'as drafts with their worksheets, without dates'],
  ['shelf', 'Shelf', 'what is on it, for whoever comes in'],
] as const

interface Props {
  readonly opened: ClassOpened
  /** Who is in the class now. */
  readonly students: readonly Student[]
  readonly close: () => void
}

/** Chooses what and who goes along into the class of the next year. */
export function CarryClass({ opened, students, close }: Props) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [entry, setEntry] = useState({
    name: opened.name,
    year: yearAfter(opened.year),
    staff: true,
    units: true,
    columns: true,
    cells: true,
    groups: true,
    handouts: true,
    shelf: true,
  })
  const everybody = students.map(({ personId }) => personId)
  const [who, setWho] = useState<'all' | 'some' | 'none'>(students.length > 0 ? 'all' : 'none')
  const [some, setSome] = useState<readonly string[]>(everybody)
  const count = who === 'all' ? students.length : who === 'some' ? some.length : 0
  const [problem, setProblem] = useState<unknown>(null)
  const submit = async (event: SubmitEvent) => {
    event.preventDefault()
    try {
      const { id } = await api.post<Answers['POST classes/{classId}/carry']>(`classes/${opened.id}/carry`, {
        ...entry,
        students: who === 'all' ? null : who === 'some' ? some : [],
        cells: entry.cells && entry.columns,
      } satisfies Bodies['POST classes/{classId}/carry'])
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
            <legend className="form-label">Students who go up</legend>
            {(
              [
                ['all', `all ${students.length}`],
                ['some', 'those I choose'],
                ['none', 'none: they come in by a list'],
              ] as const
            ).map(([value, words]) => (
              <Form.Check
                key={value}
                type="radio"
                id={`carry-who-${value}`}
                name="carry-who"
                label={words}
                disabled={value !== 'none' && students.length === 0}
                checked={who === value}
                onChange={() => setWho(value)}
              />
            ))}
            {who === 'some' && (
              <StudentTicks label="Who goes up" students={students} first={everybody} change={setSome} />
            )}
          </fieldset>
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
                checked={entry[key] && !(key === 'cells' && !entry.columns)}
                disabled={count === 0 && key === 'cells'}
                onChange={({ target }) => setEntry({ ...entry, [key]: target.checked })}
              />
            ))}
          </fieldset>
          <p className="soft mt-2 mb-0">
            {opened.name} {opened.year} stays as it is, with its students and their work. Archive it when it is over.
          </p>
          {beside && <Notice kind="bad">{beside}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="link" onClick={close}>
            Cancel
          </Button>
          <Button type="submit">
            {count > 0 ? `Make the class with ${count} ${count === 1 ? 'student' : 'students'}` : 'Make the class'}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
