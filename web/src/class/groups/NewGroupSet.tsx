import { type Arrangement, type GroupPair, cleanText, fullName, groupsFromColumn, groupsFromPaste } from '@gavrin/core'
import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { Notice } from '../../ui/Notice'
import { TextField } from '../../ui/TextField'
import { ApiError, api } from '../../ui/api'
import { problemAt, problemBeside } from '../../ui/problems'
import type { ClassOpened, GroupSet, Student } from '../queries'
import { MakingFields } from './MakingFields'
import { Pairs } from './Pairs'
import { type Making, draftsAsGroups, makeArrangement } from './making'
import type { Answers, Bodies } from '../../contract'

interface Props {
  readonly opened: ClassOpened
  readonly students: readonly Student[]
  readonly sets: readonly GroupSet[]
  readonly close: () => void
  readonly made: (id: string) => Promise<void>
}

type From = 'make' | 'column' | 'paste' | 'sign-up' | 'empty'

const FROM: Record<From, string> = {
  make: 'Let Gavrin make the groups',
  column: 'From a column of the roster',
  paste: 'From a pasted list',
  'sign-up': 'Let the students sign up',
  empty: 'Empty: I fill it by hand',
}
const NOTHING: Arrangement = { groups: [], locked: [], pairs: [] }

/** Begins a group set, in one of five ways. */
export function NewGroupSet({ opened, students, sets, close, made }: Props) {
  const [name, setName] = useState('')
  const [from, setFrom] = useState<From>('make')
  const [making, setMaking] = useState<Making>({ by: 'size', amount: 4, balance: [] })
  const [pairs, setPairs] = useState<readonly GroupPair[]>([])
  const [column, setColumn] = useState(opened.columns[0]?.id ?? '')
  const [pasted, setPasted] = useState('')
  const [topics, setTopics] = useState('')
  const [places, setPlaces] = useState('5')
  const [problem, setProblem] = useState<unknown>(null)
  const [busy, setBusy] = useState(false)
  const understood = from === 'paste' && pasted.trim() ? groupsFromPaste(pasted, students) : null

  const arrangement = async (): Promise<Arrangement> => {
    switch (from) {
      case 'make': {
        const outcome = await makeArrangement(students, { ...NOTHING, pairs }, making)
        if (!outcome.ok) throw new ApiError(422, 'groups', outcome.problems[0]!.sentence)
        return outcome.value
      }
      case 'column':
        return {
          ...NOTHING,
          groups: draftsAsGroups(
            groupsFromColumn(
              students.map(({ personId, cells }) => ({ personId, value: cells[column] ?? '' })),
              navigator.language,
            ),
          ),
        }
      case 'paste':
        return { ...NOTHING, groups: draftsAsGroups(understood?.groups ?? []) }
      case 'sign-up':
        return {
          ...NOTHING,
          groups: topics
            .split('\n')
            .map(cleanText)
            .filter(Boolean)
            .map((topic) => ({ id: crypto.randomUUID(), name: topic, places: Number(places) || null, personIds: [] })),
        }
      case 'empty':
        return NOTHING
    }
  }
  const submit = async (event: SubmitEvent) => {
    event.preventDefault()
    setBusy(true)
    setProblem(null)
    try {
      const { id } = await api.post<Answers['POST classes/{classId}/group-sets']>(`classes/${opened.id}/group-sets`, {
        name,
        balanceColumn: from === 'make' ? (making.balance[0] ?? null) : null,
        arrangement: await arrangement(),
      } satisfies Bodies['POST classes/{classId}/group-sets'])
      if (from === 'sign-up')
        await api.put(`group-sets/${id}`, {
          name,
          balanceColumn: null,
          signUp: { open: true, opensAt: null, closesAt: null },
        } satisfies Bodies['PUT group-sets/{setId}'])
      await made(id)
      close()
    } catch (error) {
      setProblem(error)
      setBusy(false)
    }
  }
  const beside = problemBeside(problem, ['name'])
  return (
    <Modal show onHide={close} centered animation={false}>
      <Form onSubmit={(event) => void submit(event)} noValidate>
        <Modal.Header closeButton>
          <Modal.Title>New group set</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <TextField
            id="set-name"
            label="Name, e.g. Survey crews"
            autoFocus
            value={name}
            change={(value) => {
              setName(value)
              setProblem(null)
            }}
            problem={problemAt(problem, 'name')}
          />
          <Form.Group className="mb-3" controlId="set-from">
            <Form.Label>Where the groups come from</Form.Label>
            <Form.Select value={from} onChange={({ target }) => setFrom(target.value as From)}>
              {(Object.keys(FROM) as From[])
                .filter((key) => key !== 'column' || opened.columns.length > 0)
                .map((key) => (
                  <option key={key} value={key}>
                    {FROM[key]}
                  </option>
                ))}
            </Form.Select>
          </Form.Group>
          {from === 'make' && (
            <>
              <MakingFields making={making} change={setMaking} people={students.length} columns={opened.columns} />
              <Pairs students={students} pairs={pairs} change={setPairs} />
            </>
          )}
          {from === 'column' && (
            <Form.Group controlId="set-column">
              <Form.Label>A group for each value of</Form.Label>
              <Form.Select value={column} onChange={({ target }) => setColumn(target.value)}>
                {opened.columns.map((found) => (
                  <option key={found.id} value={found.id}>
                    {found.name}
                  </option>
                ))}
              </Form.Select>
            </Form.Group>
          )}
          {from === 'paste' && (
            <>
              <Form.Group controlId="set-paste">
                <Form.Label>A student and a group in each line, or “Group: student, student”</Form.Label>
                <Form.Control
                  as="textarea"
                  rows={6}
                  dir="auto"
                  value={pasted}
                  placeholder={
                    students[0]
                      ? `${fullName(students[0])}\tCrane\nSlipway: ${students.slice(1, 3).map(fullName).join(', ')}`
                      : ''
                  }
                  onChange={({ target }) => setPasted(target.value)}
                />
              </Form.Group>
              {understood && (
                <div className="paste-read" role="status">
                  <p className="soft">
                    {understood.groups.length} groups with{' '}
                    {understood.groups.reduce((sum, { personIds }) => sum + personIds.length, 0)} students.
                  </p>
                  {understood.problems.slice(0, 5).map(({ row, sentence }) => (
                    <p key={`${row} ${sentence}`} className="warn">
                      Line {(row ?? 0) + 1}: {sentence}
                    </p>
                  ))}
                  {understood.problems.length > 5 && (
                    <p className="warn">and {understood.problems.length - 5} more lines in doubt</p>
                  )}
                </div>
              )}
            </>
          )}
          {from === 'sign-up' && (
            <>
              <Form.Group controlId="set-topics">
                <Form.Label>Topics, one in each line</Form.Label>
                <Form.Control
                  as="textarea"
                  rows={5}
                  dir="auto"
                  value={topics}
                  onChange={({ target }) => setTopics(target.value)}
                />
              </Form.Group>
              <Form.Group controlId="set-places" className="mt-2">
                <Form.Label>Places for each topic (empty: no limit)</Form.Label>
                <Form.Control
                  type="number"
                  min={1}
                  max={500}
                  value={places}
                  onChange={({ target }) => setPlaces(target.value)}
                />
              </Form.Group>
            </>
          )}
          {beside && <Notice kind="bad">{beside}</Notice>}
          {sets.length === 0 && from === 'empty' && <p className="soft">You add groups by name afterwards.</p>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="link" onClick={close}>
            Cancel
          </Button>
          <Button type="submit" disabled={busy || (from === 'make' && making.amount < 1)}>
            {from === 'sign-up' ? 'Open the sign-up' : 'Make the set'}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
