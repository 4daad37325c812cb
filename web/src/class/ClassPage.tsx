import { type RosterField, type RosterRow, fullName } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button, Dropdown } from 'react-bootstrap'
import { Link, useParams } from 'react-router'
import { FindField, isFound } from '../ui/FindField'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { ApiError, api, sentenceOf } from '../ui/api'
import { inkName } from '../ui/inks'
import { WindowedTable } from '../ui/WindowedTable'
import { type ClassOpened, type Student, rosterKey, useClass, useRoster } from './queries'
import './class.css'

/** A class and its roster. */
export function ClassPage() {
  const { classId = '' } = useParams()
  const opened = useClass(classId)
  const roster = useRoster(classId)
  return (
    <Loaded query={opened}>
      {(found) => (
        <Loaded query={roster}>{(students) => <OpenedClass key={classId} opened={found} students={students} />}</Loaded>
      )}
    </Loaded>
  )
}

const STAFF: Record<string, string> = { lead: 'leads', 'co-teacher': 'teaches too', helper: 'helps' }

function OpenedClass({ opened, students }: { opened: ClassOpened; students: readonly Student[] }) {
  const [find, setFind] = useState('')
  const may = opened.role === 'lead' || opened.role === 'co-teacher'
  const present = students.filter(({ leftAt }) => leftAt === null)
  const cannotSignIn = present.filter(({ canSignIn, email }) => !canSignIn && email)
  const shown = students.filter(({ first, last, email }) => isFound(`${first} ${last} ${email ?? ''}`, find))
  useEffect(() => {
    document.title = `${opened.name} – Gavrin`
  }, [opened.name])
  return (
    <main className="page class-page">
      <div className="page-head">
        <h1>{opened.name}</h1>
        <span className="soft">
          {opened.subject}, {opened.year} · {present.length} {present.length === 1 ? 'student' : 'students'} ·{' '}
          {opened.staff.map((person) => `${fullName(person)} ${STAFF[person.role] ?? ''}`).join(', ')} ·{' '}
          <span className="ink-sample" data-ink={inkName(opened.ink)}>
            answers in {opened.ink}
          </span>
        </span>
        <span className="page-acts">
          {may && cannotSignIn.length > 0 && (
            <Link className="btn btn-outline-dark" to={`/class/${opened.id}/cards`}>
              Sign-in cards for {cannotSignIn.length}
            </Link>
          )}
          {may && (
            <Link
              className={students.length ? 'btn btn-outline-dark' : 'btn btn-primary'}
              to={`/class/${opened.id}/bring-in`}
            >
              Bring in a list
            </Link>
          )}
        </span>
      </div>
      {students.length === 0 ? (
        <div className="empty">
          <h2>No students yet</h2>
          <p>
            Copy the rows of your class in a spreadsheet and paste them here; you see what was understood before
            anything is saved.
          </p>
          {may && (
            <Link className="btn btn-primary" to={`/class/${opened.id}/bring-in`}>
              Bring in a list
            </Link>
          )}
        </div>
      ) : (
        <>
          <div className="table-tools">
            <FindField label="Find in this class" value={find} change={setFind} />
            {find && (
              <span className="soft">
                {shown.length} of {students.length}
              </span>
            )}
          </div>
          <RosterTable classId={opened.id} students={shown} may={may} />
        </>
      )}
    </main>
  )
}

const ROW = 32

function RosterTable({ classId, students, may }: { classId: string; students: readonly Student[]; may: boolean }) {
  return (
    <WindowedTable
      className="roster-grid"
      count={students.length}
      rowHeight={ROW}
      head={
        <>
          <th scope="col">Last name</th>
          <th scope="col">First name</th>
          <th scope="col">E-mail</th>
          <th scope="col">Sign-in</th>
          <th scope="col">
            <span className="visually-hidden">More</span>
          </th>
        </>
      }
      row={(index) => (
        <RosterRowView key={students[index]!.personId} classId={classId} student={students[index]!} may={may} />
      )}
    />
  )
}

function RosterRowView({ classId, student, may }: { classId: string; student: Student; may: boolean }) {
  const client = useQueryClient()
  const [editing, setEditing] = useState<RosterField | null>(null)
  const [typed, setTyped] = useState('')
  const done = () => client.invalidateQueries({ queryKey: rosterKey(classId) })
  const row: RosterRow = { first: student.first, last: student.last, email: student.email ?? '' }
  const correct = useMutation({
    mutationFn: (corrected: RosterRow) =>
      api.put<Student>(`classes/${classId}/roster/${student.personId}`, {
        first: corrected.first,
        last: corrected.last,
        email: corrected.email,
      }),
    onSuccess: async () => {
      setEditing(null)
      await done()
    },
  })
  const setLeft = useMutation({
    mutationFn: (left: boolean) =>
      left
        ? api.delete<void>(`classes/${classId}/roster/${student.personId}`)
        : api.post<void>(`classes/${classId}/roster/${student.personId}/return`),
    onSettled: done,
  })
  const begin = (field: RosterField) => {
    correct.reset()
    setTyped(row[field])
    setEditing(field)
  }
  const keep = () => {
    if (editing === null || correct.isPending) return
    if (typed === row[editing]) return setEditing(null)
    correct.mutate({ ...row, [editing]: typed })
  }
  const problem = correct.error
    ? (correct.error instanceof ApiError && correct.error.errors[0]?.sentence) || sentenceOf(correct.error)
    : null
  const left = student.leftAt !== null
  const cell = (field: RosterField, label: string) =>
    editing === field ? (
      <td className="editing">
        <input
          autoFocus
          dir="auto"
          aria-label={`${label} of ${fullName(student)}`}
          aria-invalid={!!problem}
          value={typed}
          onChange={({ target }) => setTyped(target.value)}
          onBlur={keep}
          onKeyDown={({ key }) => {
            if (key === 'Enter') keep()
            if (key === 'Escape') setEditing(null)
          }}
        />
        {problem && (
          <div className="cell-problem" role="alert">
            {problem}
          </div>
        )}
      </td>
    ) : (
      <td>
        {may && !left ? (
          <button
            type="button"
            className="cell"
            onClick={() => begin(field)}
            aria-label={`${label} of ${fullName(student)}: ${row[field] || (field === 'email' ? 'none yet' : '–')}. Change`}
          >
            {row[field] ? (
              <bdi>{row[field]}</bdi>
            ) : field === 'email' ? (
              <span className="warn">none yet</span>
            ) : (
              <span className="soft">–</span>
            )}
          </button>
        ) : (
          <span className="cell">
            <bdi>{row[field]}</bdi>
          </span>
        )}
      </td>
    )
  return (
    <tr className={left ? 'has-left' : undefined}>
      {cell('last', 'Last name')}
      {cell('first', 'First name')}
      {cell('email', 'E-mail')}
      <td>
        <span className="cell soft">
          {left ? (
            'left the class'
          ) : student.canSignIn ? (
            'ready'
          ) : student.email ? (
            <span className="warn">no password yet</span>
          ) : (
            <span className="warn">needs an e-mail</span>
          )}
        </span>
      </td>
      <td className="row-acts">
        {may &&
          (left ? (
            <Button size="sm" variant="link" onClick={() => setLeft.mutate(false)}>
              Take back in
            </Button>
          ) : (
            <Dropdown align="end">
              <Dropdown.Toggle size="sm" variant="link" aria-label={`More for ${fullName(student)}`}>
                ···
              </Dropdown.Toggle>
              <Dropdown.Menu>
                <Dropdown.Item onClick={() => setLeft.mutate(true)}>
                  Remove from the class <span className="soft">the work is kept</span>
                </Dropdown.Item>
              </Dropdown.Menu>
            </Dropdown>
          ))}
        {setLeft.error && <Notice kind="bad">{sentenceOf(setLeft.error)}</Notice>}
      </td>
    </tr>
  )
}
