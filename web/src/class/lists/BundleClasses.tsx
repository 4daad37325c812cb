import { type BundleClass, checkRoster, foldText, mayInClass, rosterMembers } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { Notice } from '../../ui/Notice'
import { ApiError, api, sentenceOf } from '../../ui/api'
import { INKS } from '../../ui/inks'
import { type ClassOpened, type Student, useClasses } from '../queries'
import type { Source } from './source'
import type { Answers, Bodies } from '../../contract'

interface Props {
  readonly source: Extract<Source, { kind: 'bundle' }>
  readonly opened: ClassOpened
}

/** Where the students of a class of the bundle go: nowhere, into a new class, or into one there is. */
type Aim = 'none' | 'new' | (string & {})
interface Done {
  readonly into: string
  readonly said: string
  readonly bad: boolean
  /** The list, where it must be looked at row by row. */
  readonly look?: string
}

/** The students of a class of the bundle as a list to be looked at. */
const listOf = ({ students }: BundleClass) =>
  [
    ['Last name', 'First name', 'E-mail', 'Student number'],
    ...students.map(({ last, first, email, number }) => [last, first, email, number]),
  ]
    .map((cells) => cells.map((cell) => cell.replace(/\s+/g, ' ')).join('\t'))
    .join('\n')

/** The classes of a rostering bundle, each to be brought in as a new class or into one there is already. */
export function BundleClasses({ source: { bundle }, opened }: Props) {
  const client = useQueryClient()
  const classes = useClasses().data ?? []
  const teaching = classes.filter(({ role, archived }) => mayInClass(role, 'change the roster', archived).may)
  // What one came for: the class whose list is brought in; all others only if they are chosen.
  const own =
    bundle.classes.length === 1
      ? bundle.classes[0]!.id
      : bundle.classes.find(({ name }) => foldText(name) === foldText(opened.name))?.id
  const guess = ({ id }: BundleClass): Aim => (id === own ? opened.id : 'none')
  const [aims, setAims] = useState<Readonly<Record<string, Aim>>>({})
  const [done, setDone] = useState<Readonly<Record<string, Done>>>({})
  const [busy, setBusy] = useState(false)
  const aimOf = (found: BundleClass): Aim => aims[found.id] ?? guess(found)
  const wanted = bundle.classes.filter((found) => aimOf(found) !== 'none' && (done[found.id]?.bad ?? true))
  const bring = async () => {
    setBusy(true)
    for (const found of wanted) {
      let into: string = aimOf(found)
      try {
        if (into === 'new')
          into = (
            await api.post<Answers['POST classes']>('classes', {
              name: found.name.slice(0, 100),
              subject: found.subject.slice(0, 100),
              year: found.year.slice(0, 20),
              ink: INKS[0],
            } satisfies Bodies['POST classes'])
          ).id
        else {
          const [aim, students] = await Promise.all([
            api.get<ClassOpened>(`classes/${into}`),
            api.get<Student[]>(`classes/${into}/roster`),
          ])
          const { asking } = checkRoster(found.students, rosterMembers(students, aim.columns)).counts
          if (asking > 0) {
            const said = `${asking === 1 ? 'One of them may' : `${asking} of them may`} be in ${aim.name} already, under another address: nothing is brought in yet.`
            setDone((before) => ({ ...before, [found.id]: { into, bad: true, said, look: listOf(found) } }))
            continue
          }
        }
        // A class that was made stays the aim, so that trying again makes no second one.
        setAims((before) => ({ ...before, [found.id]: into }))
        const saved = await api.post<Answers['POST classes/{classId}/roster']>(`classes/${into}/roster`, {
          rows: found.students.map(({ first, last, email, number }) => ({ first, last, email, number })),
        } satisfies Bodies['POST classes/{classId}/roster'])
        setDone((before) => ({
          ...before,
          [found.id]: {
            into,
            bad: false,
            said: `${saved.added} new, ${saved.changed} changed, ${saved.unchanged + saved.back} as before`,
          },
        }))
      } catch (error) {
        const first = error instanceof ApiError ? error.errors[0] : undefined
        const at = first?.row === undefined ? '' : ` (row ${first.row + 1})`
        setDone((before) => ({ ...before, [found.id]: { into, bad: true, said: `${sentenceOf(error)}${at}` } }))
      }
    }
    await client.invalidateQueries({ queryKey: ['classes'] })
    await client.invalidateQueries({ queryKey: ['class'] })
    setBusy(false)
  }
  return (
    <>
      <div className="understood-head">
        <h2>
          {bundle.classes.length} {bundle.classes.length === 1 ? 'class' : 'classes'} in the bundle
        </h2>
        <p className="soft">
          {bundle.school && `From ${bundle.school}. `}Students are known by student number and e-mail; nobody is
          removed.
        </p>
        {bundle.notes.map((note) => (
          <Notice key={note} kind="look">
            {note}
          </Notice>
        ))}
      </div>
      <div className="grid-scroll" tabIndex={0} role="group" aria-label="Classes of the bundle">
        <table className="grid">
          <thead>
            <tr>
              <th scope="col">Class</th>
              <th scope="col">Subject</th>
              <th scope="col">Year</th>
              <th scope="col" className="n">
                Students
              </th>
              <th scope="col">Bring in as</th>
              <th scope="col">
                <span className="visually-hidden">What to do</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {bundle.classes.map((found) => (
              <tr key={found.id}>
                <td>
                  <bdi>{found.name}</bdi>
                </td>
                <td>{found.subject}</td>
                <td>{found.year}</td>
                <td className="n">{found.students.length}</td>
                <td>
                  <Form.Select
                    size="sm"
                    aria-label={`Bring in ${found.name} as`}
                    value={aimOf(found)}
                    disabled={busy || done[found.id]?.bad === false}
                    onChange={({ target }) => setAims({ ...aims, [found.id]: target.value })}
                  >
                    <option value="none">not at all</option>
                    <option value="new">a new class</option>
                    {teaching.map(({ id, name, subject, year }) => (
                      <option key={id} value={id}>
                        into {name}, {subject} {year}
                      </option>
                    ))}
                  </Form.Select>
                </td>
                <td role="status">
                  {done[found.id] &&
                    (done[found.id]!.bad ? (
                      <span className="bad">
                        {done[found.id]!.said}{' '}
                        {done[found.id]!.look && (
                          <Link to={`/class/${done[found.id]!.into}/bring-in`} state={{ paste: done[found.id]!.look }}>
                            Look at the list
                          </Link>
                        )}
                      </span>
                    ) : (
                      <Link to={`/class/${done[found.id]!.into}`}>{done[found.id]!.said}</Link>
                    ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <footer className="bar">
        <Button disabled={wanted.length === 0 || busy} onClick={() => void bring()}>
          {busy ? 'Bringing in …' : `Bring in ${wanted.length} ${wanted.length === 1 ? 'class' : 'classes'}`}
        </Button>
        <Button
          variant="link"
          disabled={busy}
          onClick={() =>
            setAims(
              Object.fromEntries(
                bundle.classes.map((found) => [found.id, aimOf(found) === 'none' ? 'new' : aimOf(found)]),
              ),
            )
          }
        >
          All others as new classes
        </Button>
        <Link className="btn btn-link" to={`/class/${opened.id}`}>
          Back to the class
        </Link>
      </footer>
    </>
  )
}
