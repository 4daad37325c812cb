import { type SchoolRole, fullName, isFound, listName, nameOrder, personTwins } from '@gavrin/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { Button, Modal } from 'react-bootstrap'
import { Link } from 'react-router'
import { Arrived } from '../mail/Arrived'
import { FindField } from '../ui/FindField'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { WindowedTable } from '../ui/WindowedTable'
import { api, sentenceOf } from '../ui/api'
import { timeInWords } from '../ui/time'
import type { SignedIn } from '../ui/session'
import { OfficeActs } from './OfficeActs'
import { PersonForm } from './PersonForm'
import type { PersonRecord } from './personRecord'
import './people.css'

interface OfficePerson extends PersonRecord {
  /** What somebody without an e-mail signs in with. */
  readonly cardName: string | null
  readonly classes: string
  readonly copies: number
}

type Pair = readonly [keep: OfficePerson, other: OfficePerson]
const ROLES: readonly { readonly role: SchoolRole | 'all'; readonly word: string }[] = [
  { role: 'all', word: 'Everybody' },
  { role: 'student', word: 'Students' },
  { role: 'teacher', word: 'Teachers' },
  { role: 'office', word: 'Office' },
]

/** The office: everybody of the school, their accounts, and doubles to be merged. */
export function OfficePage({ person }: { readonly person: SignedIn }) {
  const people = useQuery({ queryKey: ['office'], queryFn: () => api.get<OfficePerson[]>('office/people') })
  useEffect(() => {
    document.title = 'People – Gavrin'
  }, [])
  return (
    <>
      <SignInTrouble />
      <Loaded query={people}>{(found) => <Office people={found} school={person.school} />}</Loaded>
      <Arrived folded />
    </>
  )
}

interface Trouble {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly failures: number
  readonly addresses: number
  readonly lastAt: number
}

/** Accounts at which somebody tries passwords. They are slowed down by themselves; the office may give a new password. */
function SignInTrouble() {
  const { data } = useQuery({
    queryKey: ['office', 'sign-in trouble'],
    queryFn: () => api.get<Trouble[]>('office/sign-in-trouble'),
    refetchInterval: 60_000,
  })
  if (!data?.length) return null
  return (
    <div className="office-trouble">
      <Notice kind="look">
        Many wrong passwords within a day:{' '}
        {data.map(({ personId, first, last, failures, addresses, lastAt }, at) => (
          <span key={personId}>
            {at > 0 && '; '}
            <Link to={`/person/${personId}`}>
              <bdi>{fullName({ first, last })}</bdi>
            </Link>{' '}
            {failures} times from {addresses === 1 ? 'one address' : `${addresses} addresses`}, last{' '}
            {timeInWords(lastAt)}
          </span>
        ))}
        . Whoever tries is slowed down; in browsers where they signed in before these people come in as ever.
      </Notice>
    </div>
  )
}

function Office({ people, school }: { people: readonly OfficePerson[]; school: string }) {
  const [find, setFind] = useState('')
  const [role, setRole] = useState<SchoolRole | 'all'>('all')
  const [adding, setAdding] = useState(false)
  const [chosen, setChosen] = useState<readonly string[]>([])
  const [merging, setMerging] = useState<Pair | null>(null)
  const [doublesShown, setDoublesShown] = useState(false)
  const byName = nameOrder(navigator.language)
  const isStudent = ({ role: found }: OfficePerson) => Number(found === 'student')
  const shown = people
    .toSorted((a, b) => isStudent(a) - isStudent(b) || byName(a, b))
    .filter(
      (found) =>
        (role === 'all' || found.role === role) &&
        isFound(`${found.first} ${found.last} ${found.email ?? ''} ${found.number ?? ''} ${found.classes}`, find),
    )
  const doubles = useMemo(() => doublesAmong(people), [people])
  const pair = chosen.flatMap((id) => people.find(({ personId }) => personId === id) ?? [])
  return (
    <main className="page">
      <div className="page-head">
        <h1>People</h1>
        <span className="soft">
          {school} · {people.length}
        </span>
        <span className="page-acts">
          {doubles.length > 0 && (
            <Button variant="outline-dark" aria-expanded={doublesShown} onClick={() => setDoublesShown(!doublesShown)}>
              {doubles.length} possible {doubles.length === 1 ? 'double' : 'doubles'}
            </Button>
          )}
          <Button onClick={() => setAdding(true)}>Add a person</Button>
        </span>
      </div>
      {doublesShown && (
        <ul className="doubles">
          {doubles.map(([keep, other]) => (
            <li key={`${keep.personId} ${other.personId}`}>
              <bdi>{fullName(keep)}</bdi> <span className="soft">{keep.classes || 'in no class'}</span> and{' '}
              <bdi>{fullName(other)}</bdi> <span className="soft">{other.classes || 'in no class'}</span>{' '}
              <Button size="sm" variant="outline-dark" onClick={() => setMerging([keep, other])}>
                Look at the two
              </Button>
            </li>
          ))}
        </ul>
      )}
      <div className="table-tools">
        <FindField label="Find in the school" value={find} change={setFind} />
        <span className="office-filters" role="group" aria-label="Who is shown">
          {ROLES.map(({ role: key, word }) => (
            <Button
              key={key}
              size="sm"
              variant={role === key ? 'outline-dark' : 'link'}
              aria-pressed={role === key}
              onClick={() => setRole(key)}
            >
              {word}
            </Button>
          ))}
        </span>
        <span className="soft" role="status">
          {shown.length} of {people.length}
        </span>
        {pair.length === 2 && (
          <Button size="sm" variant="outline-dark" onClick={() => setMerging([pair[0]!, pair[1]!])}>
            Merge the two
          </Button>
        )}
      </div>
      <WindowedTable
        label="People of the school"
        count={shown.length}
        rowHeight={38}
        head={
          <>
            <th scope="col">
              <span className="visually-hidden">Choose</span>
            </th>
            <th scope="col">Name</th>
            <th scope="col">E-mail</th>
            <th scope="col">Number</th>
            <th scope="col">In the school</th>
            <th scope="col">Classes</th>
            <th scope="col">Sign-in</th>
            <th scope="col">
              <span className="visually-hidden">Acts</span>
            </th>
          </>
        }
        row={(index) => {
          const found = shown[index]!
          return (
            <tr key={found.personId}>
              <td>
                <input
                  type="checkbox"
                  aria-label={`Choose ${fullName(found)}`}
                  checked={chosen.includes(found.personId)}
                  onChange={() =>
                    setChosen(
                      chosen.includes(found.personId)
                        ? chosen.filter((id) => id !== found.personId)
                        : [...chosen, found.personId].slice(-2),
                    )
                  }
                />
              </td>
              <td>
                <Link className="row-link" to={`/person/${found.personId}`}>
                  <bdi>{listName(found)}</bdi>
                </Link>
              </td>
              <td className="title-cell">{found.email ?? <span className="warn">none</span>}</td>
              <td>{found.number}</td>
              <td>{found.role}</td>
              <td className="title-cell">{found.classes}</td>
              <td>
                {found.canSignIn ? (
                  <span className="soft">{found.email ? 'ready' : `card ${found.cardName ?? ''}`}</span>
                ) : (
                  <span className="warn">no password yet</span>
                )}
              </td>
              <td>
                <span className="tools-end">
                  <OfficeActs person={found} />
                </span>
              </td>
            </tr>
          )
        }}
      />
      {adding && <PersonForm person={null} close={() => setAdding(false)} />}
      {merging && (
        <Merge
          pair={merging}
          swap={() => setMerging([merging[1], merging[0]])}
          close={() => {
            setMerging(null)
            setChosen([])
          }}
        />
      )}
    </main>
  )
}

/** Pairs of one role that have the same name, or the same but for a slip of the pen; the one with more work to keep. */
function doublesAmong(people: readonly OfficePerson[]): Pair[] {
  const byFirstLetters = new Map<string, OfficePerson[]>()
  // Compared only with those of whom a part of the name begins alike: a school has thousands of people.
  for (const person of people)
    for (const key of new Set(
      `${person.first} ${person.last}`
        .toLowerCase()
        .split(/\s+/)
        .map((word) => word.slice(0, 3)),
    ))
      byFirstLetters.set(key, [...(byFirstLetters.get(key) ?? []), person])
  const pairs = new Map<string, Pair>()
  for (const some of byFirstLetters.values())
    some.forEach((one, at) => {
      const others = some.slice(at + 1).filter(({ role, personId }) => role === one.role && personId !== one.personId)
      for (const { person: two } of personTwins(one, others)) {
        const [keep, other] = two.copies > one.copies ? [two, one] : [one, two]
        pairs.set([one.personId, two.personId].toSorted().join(' '), [keep, other])
      }
    })
  return [...pairs.values()]
}

function Merge({ pair: [keep, other], swap, close }: { pair: Pair; swap: () => void; close: () => void }) {
  const client = useQueryClient()
  const [problem, setProblem] = useState<string | null>(null)
  const merge = async () => {
    try {
      await api.post('office/merge', { keepId: keep.personId, otherId: other.personId })
      await client.invalidateQueries({ queryKey: ['office'] })
      close()
    } catch (error) {
      setProblem(sentenceOf(error))
    }
  }
  const side = (person: OfficePerson, title: string) => (
    <div>
      <h3>{title}</h3>
      <p className="mb-1">
        <strong>
          <bdi>{fullName(person)}</bdi>
        </strong>
      </p>
      <p className="soft">
        {person.email ?? 'no e-mail'}
        <br />
        {person.number ?? 'no number'}
        <br />
        {person.classes || 'in no class'}
        <br />
        {person.copies} {person.copies === 1 ? 'copy' : 'copies'}
      </p>
    </div>
  )
  return (
    <Modal show onHide={close} centered animation={false}>
      <Modal.Header closeButton>
        <Modal.Title>Merge two into one</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <div className="merge-sides">
          {side(keep, 'Stays')}
          {side(other, 'Goes into it')}
        </div>
        <p>
          {other.copies} {other.copies === 1 ? 'copy' : 'copies'} and the classes and groups of the second go to the
          first; its e-mail and number are kept where the first has none. This cannot be undone.
        </p>
        {problem && <Notice kind="bad">{problem}</Notice>}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="link" onClick={swap}>
          The other way round
        </Button>
        <Button variant="link" onClick={close}>
          Cancel
        </Button>
        <Button onClick={() => void merge()}>Merge</Button>
      </Modal.Footer>
    </Modal>
  )
}
