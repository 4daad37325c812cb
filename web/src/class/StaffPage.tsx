import { STAFF_ROLES, type StaffRole, fullName, mayInClass } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Notice } from '../ui/Notice'
import { TextField } from '../ui/TextField'
import { ApiError, api, sentenceOf } from '../ui/api'
import { ClassFrame } from './ClassFrame'
import { StudentTicks } from './StudentTicks'
import { WithClass } from './WithClass'
import { type ClassOpened, type StaffMember, type Student, classKey } from './queries'
import type { Answers, Bodies } from '../contract'

const PLACES = STAFF_ROLES.filter(({ role }) => role !== 'lead')
const WORDS: Record<string, string> = {
  lead: 'Lead',
  'co-teacher': 'Co-teacher',
  helper: 'Helper',
  'named helper': 'Helper of some students',
}

/** Who else teaches and helps in a class, and what each of them may do. */
export function StaffPage() {
  return (
    <WithClass>
      {(opened, students) => {
        const present = students.filter(({ leftAt }) => leftAt === null)
        return (
          <ClassFrame opened={opened} present={present.length}>
            <Staff key={opened.id} opened={opened} students={present} />
          </ClassFrame>
        )
      }}
    </WithClass>
  )
}

function Staff({ opened, students }: { opened: ClassOpened; students: readonly Student[] }) {
  const client = useQueryClient()
  const may = mayInClass(opened.role, 'change staff', opened.archived).may
  const [problem, setProblem] = useState<string | null>(null)
  const [naming, setNaming] = useState<string | null>(null)
  const mayHandOver = mayInClass(opened.role, 'hand over the class', opened.archived).may
  const [heir, setHeir] = useState<StaffMember | null>(null)
  const attempt = async (work: () => Promise<unknown>) => {
    setProblem(null)
    try {
      await work()
    } catch (error) {
      setProblem((error instanceof ApiError && error.errors[0]?.sentence) || sentenceOf(error))
    }
    await client.invalidateQueries({ queryKey: classKey(opened.id) })
  }
  const place = (person: StaffMember, role: StaffRole, studentIds: readonly string[]) =>
    attempt(() =>
      api.put(`classes/${opened.id}/staff/${person.personId}`, {
        role,
        studentIds,
      } satisfies Bodies['PUT classes/{classId}/staff/{personId}']),
    )
  return (
    <div className="set-up-page">
      {problem && <Notice kind="bad">{problem}</Notice>}
      <table className="grid staff-table">
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">E-mail</th>
            <th scope="col">In this class</th>
            <th scope="col">What they may do</th>
            <th scope="col">
              <span className="visually-hidden">Acts</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {opened.staff.map((person) => (
            <tr key={person.personId}>
              <td>
                <bdi>{fullName(person)}</bdi>
                {!person.canSignIn && <span className="tag tag-warn">invited</span>}
              </td>
              <td className="soft">{person.email}</td>
              <td>
                {may && person.role !== 'lead' ? (
                  <Form.Select
                    size="sm"
                    aria-label={`What ${fullName(person)} is in this class`}
                    value={naming === person.personId ? 'named helper' : person.role}
                    onChange={({ target }) => {
                      const role = target.value as StaffRole
                      if (role === 'named helper') setNaming(person.personId)
                      else {
                        setNaming(null)
                        void place(person, role, [])
                      }
                    }}
                  >
                    {PLACES.map(({ role }) => (
                      <option key={role} value={role}>
                        {WORDS[role]}
                      </option>
                    ))}
                  </Form.Select>
                ) : (
                  WORDS[person.role]
                )}
              </td>
              <td className="staff-may">
                {STAFF_ROLES.find(({ role }) => role === person.role)?.may}
                {person.role === 'named helper' && (
                  <div className="soft">
                    {students
                      .filter(({ personId }) => person.studentIds.includes(personId))
                      .map((student) => fullName(student))
                      .join(', ') || 'nobody who is in the class now'}
                    {may && naming !== person.personId && (
                      <Button size="sm" variant="link" onClick={() => setNaming(person.personId)}>
                        Change
                      </Button>
                    )}
                  </div>
                )}
                {naming === person.personId && (
                  <StudentTicks
                    label={`Whom ${fullName(person)} helps`}
                    students={students}
                    first={person.studentIds}
                    done="Keep"
                    keep={async (ids) => {
                      await place(person, 'named helper', ids)
                      setNaming(null)
                    }}
                    cancel={() => setNaming(null)}
                  />
                )}
              </td>
              <td>
                {may && person.role !== 'lead' && (
                  <Button
                    size="sm"
                    variant="link"
                    onClick={() => void attempt(() => api.delete(`classes/${opened.id}/staff/${person.personId}`))}
                    aria-label={`Take off: ${fullName(person)}`}
                  >
                    Take off
                  </Button>
                )}
                {mayHandOver && person.role !== 'lead' && (
                  <Button size="sm" variant="link" onClick={() => setHeir(person)}>
                    Hand over the lead
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {heir && (
        <Notice kind="look">
          <bdi>{fullName(heir)}</bdi> will lead {opened.name}, and may archive it and hand it over again. You stay in it
          as a co-teacher and cannot take it back by yourself.{' '}
          <Button
            size="sm"
            onClick={() =>
              void attempt(() => api.post(`classes/${opened.id}/staff/${heir.personId}/lead`)).then(() => setHeir(null))
            }
          >
            Hand it over
          </Button>{' '}
          <Button size="sm" variant="link" onClick={() => setHeir(null)}>
            Cancel
          </Button>
        </Notice>
      )}
      {may && <AddStaff opened={opened} students={students} />}
    </div>
  )
}

function AddStaff({ opened, students }: { opened: ClassOpened; students: readonly Student[] }) {
  const client = useQueryClient()
  const fresh = { email: '', role: 'co-teacher' as StaffRole, first: '', last: '' }
  const [entry, setEntry] = useState(fresh)
  const [unknown, setUnknown] = useState(false)
  const [named, setNamed] = useState<readonly string[]>([])
  const [said, setSaid] = useState<{
    readonly field?: string | undefined
    readonly sentence: string
    readonly bad: boolean
  } | null>(null)
  const submit = async (event: SubmitEvent) => {
    event.preventDefault()
    try {
      const { invited } = await api.post<Answers['POST classes/{classId}/staff']>(`classes/${opened.id}/staff`, {
        ...entry,
        studentIds: entry.role === 'named helper' ? named : [],
      } satisfies Bodies['POST classes/{classId}/staff'])
      setSaid({
        bad: false,
        sentence: invited ? `${entry.email} is invited by mail.` : `${entry.email} is on the staff of this class now.`,
      })
      setEntry(fresh)
      setNamed([])
      setUnknown(false)
      await client.invalidateQueries({ queryKey: classKey(opened.id) })
    } catch (error) {
      const first = error instanceof ApiError ? error.errors[0] : undefined
      setUnknown(unknown || first?.code === 'unknown-colleague')
      setSaid({ bad: true, field: first?.field, sentence: first?.sentence ?? sentenceOf(error) })
    }
  }
  const field = (key: 'email' | 'first' | 'last', label: string) => (
    <TextField
      id={`staff-${key}`}
      label={label}
      className=""
      value={entry[key]}
      change={(value) => setEntry({ ...entry, [key]: value })}
      problem={said?.bad && said.field === key ? said.sentence : null}
    />
  )
  return (
    <Form
      className="add-staff"
      onSubmit={(event) => void submit(event)}
      noValidate
      aria-label="Add somebody to the staff"
    >
      <h2>Add somebody</h2>
      <div className="add-staff-line">
        {field('email', 'Their e-mail')}
        <Form.Group controlId="staff-role">
          <Form.Label>In this class</Form.Label>
          <Form.Select
            value={entry.role}
            onChange={({ target }) => setEntry({ ...entry, role: target.value as StaffRole })}
          >
            {PLACES.map(({ role }) => (
              <option key={role} value={role}>
                {WORDS[role]}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        {unknown && (
          <>
            {field('first', 'First name')}
            {field('last', 'Last name')}
          </>
        )}
        <Button type="submit">{unknown ? 'Invite and add' : 'Add'}</Button>
      </div>
      <p className="soft">{PLACES.find(({ role }) => role === entry.role)?.may}</p>
      {entry.role === 'named helper' && (
        <StudentTicks label="Whom they help" students={students} first={named} change={setNamed} />
      )}
      {said && (!said.bad || !['email', 'first', 'last'].includes(said.field ?? '')) && (
        <Notice kind={said.bad ? 'bad' : 'plain'}>{said.sentence}</Notice>
      )}
    </Form>
  )
}
