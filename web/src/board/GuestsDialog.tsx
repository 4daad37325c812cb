import { fullName, listName, standsBeside, studentLike } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { Link } from 'react-router'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { timeInWords } from '../ui/time'
import type { Answers, Bodies } from '../contract'

type Guests = Answers['GET handouts/{handoutId}/guests']
type Guest = Guests['guests'][number]
type Student = Guests['students'][number]
type Wish = Bodies['POST handouts/{handoutId}/walk-ins/{itemId}/guests/{guestId}/match']

const guestsKey = (handoutId: string) => ['guests', handoutId] as const

interface DialogProps {
  readonly handoutId: string
  readonly close: () => void
}

/** Guests of walk-in links, each with the student of the class who they are. */
export function GuestsDialog({ handoutId, close }: DialogProps) {
  const client = useQueryClient()
  const query = useQuery({
    queryKey: guestsKey(handoutId),
    queryFn: () => api.get<Guests>(`handouts/${handoutId}/guests`),
    staleTime: 0,
  })
  const settled = (list: Guests) => {
    client.setQueryData(guestsKey(handoutId), list)
    void client.invalidateQueries({ queryKey: ['board', handoutId] })
  }
  return (
    <Modal show size="xl" scrollable onHide={close} aria-labelledby="guests-title">
      <Modal.Header closeButton>
        <Modal.Title id="guests-title">Guests, and who they are</Modal.Title>
      </Modal.Header>
      <Modal.Body className="guests-dialog">
        <Loaded query={query}>
          {({ guests, students }) =>
            guests.length === 0 ? (
              <p className="soft">Nobody has come in by a walk-in link yet.</p>
            ) : (
              <GuestsTable handoutId={handoutId} guests={guests} students={students} settled={settled} />
            )
          }
        </Loaded>
      </Modal.Body>
    </Modal>
  )
}

interface TableProps extends Guests {
  readonly handoutId: string
  readonly settled: (list: Guests) => void
}

function GuestsTable({ handoutId, guests, students, settled }: TableProps) {
  const [chosen, setChosen] = useState<Readonly<Record<string, string>>>({})
  const client = useQueryClient()
  const path = ({ itemId, personId }: Guest) => `handouts/${handoutId}/walk-ins/${itemId}/guests/${personId}/match`
  const matchOne = (guest: Guest, student: Student) =>
    api.post<Guests>(path(guest), { studentId: student.personId, beside: isBeside(guest, student) } satisfies Wish)
  const failed = () => client.invalidateQueries({ queryKey: guestsKey(handoutId) })
  const match = useMutation({
    mutationFn: async (pairs: readonly (readonly [Guest, Student])[]) => {
      // One after the other: each answer is the list as it is then.
      for (const [guest, student] of pairs) settled(await matchOne(guest, student))
    },
    onError: failed,
  })
  const unmatch = useMutation({
    mutationFn: (guest: Guest) => api.delete<Guests>(path(guest)),
    onSuccess: settled,
    onError: failed,
  })
  const proposals = new Map(
    guests.flatMap((guest) => {
      const like = guest.match ? null : studentLike(guest.name, students)
      return like ? [[idOf(guest), like] as const] : []
    }),
  )
  const studentOf = (guest: Guest): Student | undefined => {
    const id = chosen[idOf(guest)] ?? proposals.get(idOf(guest))?.student.personId
    return students.find(({ personId }) => personId === id)
  }
  // Proposed by name, not chosen otherwise, and nobody else's proposal too: what several guests are is looked at one by one.
  const sure = guests.flatMap((guest) => {
    const like = proposals.get(idOf(guest))
    const others = [...proposals.values()].filter(({ student }) => student === like?.student)
    return like && others.length === 1 && studentOf(guest) === like.student && guest.copyId
      ? [[guest, like.student] as const]
      : []
  })
  const busy = match.isPending || unmatch.isPending
  return (
    <>
      <p>
        Say which student of the class a guest is. What the guest wrote becomes the student’s: in place of their own
        copy where that is untouched, else beside it. The guest can go on meanwhile.
      </p>
      {match.error && <Notice kind="bad">{sentenceOf(match.error)}</Notice>}
      {unmatch.error && <Notice kind="bad">{sentenceOf(unmatch.error)}</Notice>}
      <table className="guests-table">
        <thead>
          <tr>
            <th scope="col">Guest</th>
            <th scope="col">Student of the class</th>
            <th scope="col">
              <span className="visually-hidden">What happens</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {guests.map((guest) => (
            <tr key={idOf(guest)}>
              <th scope="row">
                {guest.copyId ? (
                  <Link to={`/copies/${guest.copyId}`}>
                    <bdi>{guest.name}</bdi>
                  </Link>
                ) : (
                  <bdi>{guest.name}</bdi>
                )}
                <span className="soft">{didInWords(guest)}</span>
              </th>
              {guest.match ? (
                <>
                  <td>
                    <bdi>{guest.match.name}</bdi>
                    <span className="soft">
                      {guest.match.beside ? 'beside their own' : 'their own now'}, since {timeInWords(guest.match.at)}
                    </span>
                  </td>
                  <td className="guest-acts">
                    <Button
                      size="sm"
                      variant="link"
                      disabled={busy}
                      aria-label={`${guest.name} is not ${guest.match.name}`}
                      onClick={() => unmatch.mutate(guest)}
                    >
                      Take it back
                    </Button>
                  </td>
                </>
              ) : (
                <GuestChoice
                  guest={guest}
                  students={students}
                  student={studentOf(guest)}
                  likeness={chosen[idOf(guest)] === undefined ? proposals.get(idOf(guest))?.likeness : undefined}
                  choose={(id) => setChosen((before) => ({ ...before, [idOf(guest)]: id }))}
                  match={(student) => match.mutate([[guest, student]])}
                  busy={busy}
                />
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {sure.length > 1 && (
        <p className="guests-all">
          <Button variant="outline-dark" disabled={busy} onClick={() => match.mutate(sure)}>
            Match these {sure.length} as proposed
          </Button>{' '}
          <span className="soft">
            {sure.map(([guest, student]) => `${guest.name}: ${fullName(student)}`).join(' · ')}
          </span>
        </p>
      )}
    </>
  )
}

interface ChoiceProps {
  readonly guest: Guest
  readonly students: readonly Student[]
  readonly student: Student | undefined
  /** Why the student is proposed; undefined: they were chosen. */
  readonly likeness: string | undefined
  readonly choose: (studentId: string) => void
  readonly match: (student: Student) => void
  readonly busy: boolean
}

function GuestChoice({ guest, students, student, likeness, choose, match, busy }: ChoiceProps) {
  if (!guest.copyId)
    return (
      <td colSpan={2} className="soft">
        What they had is set aside: bring it back to say who they are.
      </td>
    )
  return (
    <>
      <td>
        <Form.Select
          size="sm"
          aria-label={`Who ${guest.name} is`}
          value={student?.personId ?? ''}
          onChange={({ target }) => choose(target.value)}
        >
          <option value="">nobody of the class</option>
          {students.map((one) => (
            <option key={one.personId} value={one.personId}>
              {listName(one)}
            </option>
          ))}
        </Form.Select>
        <span className="soft">
          {likeness && `${likeness}: `}
          {student && becomesInWords(guest, student)}
        </span>
      </td>
      <td className="guest-acts">
        <Button
          size="sm"
          variant="outline-dark"
          disabled={busy || !student}
          aria-label={student ? `${guest.name} is ${fullName(student)}` : `Match ${guest.name}`}
          onClick={() => student && match(student)}
        >
          Match
        </Button>
      </td>
    </>
  )
}

const idOf = ({ itemId, personId }: Guest) => `${itemId} ${personId}`

function isBeside(guest: Guest, student: Student): boolean {
  const has = student.has.find(({ itemId }) => itemId === guest.itemId)
  return standsBeside(guest.way ?? 'one each', guest.own, has?.own ?? null, has?.hasWritten ?? false)
}

function becomesInWords(guest: Guest, student: Student): string {
  const has = student.has.find(({ itemId }) => itemId === guest.itemId)
  if (guest.way === 'to read') return 'their comments are said to be by one person'
  if (guest.way === 'one together')
    return isBeside(guest, student)
      ? 'wrote in their own part too: both parts stand'
      : 'what the guest wrote in a part of their own is the student’s'
  if (!isBeside(guest, student)) return 'in place of their untouched copy'
  if (!has?.own) return 'has no copy of their own: gets this one'
  return has.own.isTouched
    ? 'beside their own copy, in which something was done'
    : 'beside their copy of another edition'
}

function didInWords({ answers, comments, cameAt }: Guest): string {
  const of = (count: number, one: string, many: string) => (count === 1 ? `1 ${one}` : `${count} ${many}`)
  const did = [
    answers > 0 && `wrote in ${of(answers, 'answer', 'answers')}`,
    comments > 0 && of(comments, 'comment', 'comments'),
  ].filter(Boolean)
  return `${did.join(', ') || 'wrote nothing yet'}, came ${timeInWords(cameAt)}`
}
