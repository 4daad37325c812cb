import { type SchoolRole, fullName, listName } from '@gavrin/core'
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button, Modal } from 'react-bootstrap'
import { Link, useSearchParams } from 'react-router'
import { Arrived } from '../mail/Arrived'
import { FindField } from '../ui/FindField'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { WindowedTable } from '../ui/WindowedTable'
import { api, sentenceOf } from '../ui/api'
import { timeInWords } from '../ui/time'
import type { SignedIn } from '../frame/session'
import { Doubles, type Pair, useDoubles } from './Doubles'
import { OfficeActs } from './OfficeActs'
import { OfficeScales } from './OfficeScales'
import { PersonForm } from './PersonForm'
import type { OfficePerson } from './personRecord'
import './people.css'
import type { Answers, Bodies } from '../contract'

/** A page of the people who are found. */
type PeoplePage = Answers['GET office/people']

/** People on one page, as the server parts them. */
const PAGE = 100
const ROLES: readonly { readonly role: SchoolRole | 'all'; readonly word: string }[] = [
  { role: 'all', word: 'Everybody' },
  { role: 'student', word: 'Students' },
  { role: 'teacher', word: 'Teachers' },
  { role: 'office', word: 'Office' },
]

/** The office: everybody of the school, their accounts, and doubles to be merged. */
export function OfficePage({ person }: { readonly person: SignedIn }) {
  useEffect(() => {
    document.title = 'People – Gavrin'
  }, [])
  return (
    <>
      <SignInTrouble />
      <Office school={person.school} />
      <Arrived folded />
    </>
  )
}

type Trouble = Answers['GET office/sign-in-trouble'][number]

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

function Office({ school }: { school: string }) {
  const [search, setSearch] = useSearchParams()
  const [asked, setAsked] = useState<Asked>(() => askedBy(search))
  const [adding, setAdding] = useState(false)
  const [isScales, setScales] = useState(false)
  const [chosen, setChosen] = useState<readonly OfficePerson[]>([])
  const [merging, setMerging] = useState<Pair | null>(null)
  const [doublesShown, setDoublesShown] = useState(false)
  const { find, role, page } = asked
  // The address says what is shown: whoever comes back from a person's page finds it as it was.
  useEffect(() => {
    const next = new URLSearchParams()
    if (find) next.set('find', find)
    if (role !== 'all') next.set('role', role)
    if (page) next.set('page', String(page + 1))
    setSearch(next, { replace: true })
  }, [find, role, page, setSearch])
  const query = useQuery({
    queryKey: ['office', 'people', asked],
    queryFn: () => api.get<PeoplePage>(`office/people?${queryOf(asked)}`),
    placeholderData: keepPreviousData,
  })
  // A page that is no longer there, as from an old address.
  const isBeyond = page > 0 && !query.isPlaceholderData && query.data?.people.length === 0
  useEffect(() => {
    if (isBeyond) setAsked((before) => ({ ...before, page: 0 }))
  }, [isBeyond])
  const doubles = useDoubles()
  const count = (doubles.data?.pairs.length ?? 0) + (doubles.data?.more ?? 0)
  return (
    <main className="page">
      <div className="page-head">
        <h1>People</h1>
        <span className="soft">
          {school}
          {query.data && ` · ${query.data.everybody}`}
        </span>
        <span className="page-acts">
          {(count > 0 || doublesShown) && (
            <Button variant="outline-dark" aria-expanded={doublesShown} onClick={() => setDoublesShown(!doublesShown)}>
              {doubles.data?.isAll === false && 'at least '}
              {count} possible {count === 1 ? 'double' : 'doubles'}
            </Button>
          )}
          <Button variant="outline-dark" onClick={() => setScales(true)}>
            Scales
          </Button>
          <Button onClick={() => setAdding(true)}>Add a person</Button>
        </span>
      </div>
      {doublesShown && doubles.data && <Doubles found={doubles.data} look={setMerging} />}
      <div className="table-tools">
        <FindField
          label="Find in the school"
          value={find}
          change={(next) => setAsked({ ...asked, find: next, page: 0 })}
        />
        <span className="office-filters" role="group" aria-label="Who is shown">
          {ROLES.map(({ role: key, word }) => (
            <Button
              key={key}
              size="sm"
              variant={role === key ? 'outline-dark' : 'link'}
              aria-pressed={role === key}
              onClick={() => setAsked({ ...asked, role: key, page: 0 })}
            >
              {word}
            </Button>
          ))}
        </span>
        {query.data && (
          <span className="soft" role="status">
            {query.isPlaceholderData ? 'looking …' : placeOf(query.data, page)}
          </span>
        )}
        {query.data && query.data.total > PAGE && (
          <span className="office-pages" role="group" aria-label="Pages">
            <Button
              size="sm"
              variant="outline-dark"
              disabled={page === 0}
              onClick={() => setAsked({ ...asked, page: page - 1 })}
            >
              Back
            </Button>
            <Button
              size="sm"
              variant="outline-dark"
              disabled={(page + 1) * PAGE >= query.data.total}
              onClick={() => setAsked({ ...asked, page: page + 1 })}
            >
              Next
            </Button>
          </span>
        )}
        {chosen.length > 0 && (
          <span className="soft">
            ticked: <bdi>{chosen.map(fullName).join(', ')}</bdi>
          </span>
        )}
        {chosen.length === 2 && (
          <Button size="sm" variant="outline-dark" onClick={() => setMerging([chosen[0]!, chosen[1]!])}>
            Merge the two
          </Button>
        )}
      </div>
      <Loaded query={query}>
        {({ people }) =>
          people.length === 0 ? (
            <p className="page-message">
              {find ? `Nobody of the school is found by “${find}”.` : 'There is nobody of these in the school yet.'}
            </p>
          ) : (
            <PeopleTable
              people={people}
              chosen={chosen}
              choose={(person) =>
                setChosen(
                  chosen.some(({ personId }) => personId === person.personId)
                    ? chosen.filter(({ personId }) => personId !== person.personId)
                    : [...chosen, person].slice(-2),
                )
              }
            />
          )
        }
      </Loaded>
      {isScales && <OfficeScales close={() => setScales(false)} />}
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

/** What is asked of the people of the school. */
interface Asked {
  readonly find: string
  readonly role: SchoolRole | 'all'
  /** Counted from 0. */
  readonly page: number
}

const askedBy = (search: URLSearchParams): Asked => ({
  find: search.get('find') ?? '',
  role: ROLES.find(({ role }) => role === search.get('role'))?.role ?? 'all',
  page: Math.max(0, Math.floor(Number(search.get('page') ?? 1)) - 1 || 0),
})

const queryOf = ({ find, role, page }: Asked) =>
  new URLSearchParams({
    find,
    page: String(page),
    language: navigator.language,
    ...(role !== 'all' && { role }),
  }).toString()

function placeOf({ people, total, everybody }: PeoplePage, page: number): string {
  const from = page * PAGE + 1
  const shown = total > PAGE && people.length ? `${from}–${from + people.length - 1} of ${total}` : String(total)
  return total === everybody ? shown : `${shown}, of ${everybody} in all`
}

interface TableProps {
  readonly people: readonly OfficePerson[]
  readonly chosen: readonly OfficePerson[]
  readonly choose: (person: OfficePerson) => void
}

function PeopleTable({ people, chosen, choose }: TableProps) {
  return (
    <WindowedTable
      label="People of the school"
      count={people.length}
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
        const found = people[index]!
        return (
          <tr key={found.personId}>
            <td>
              <input
                type="checkbox"
                aria-label={`Choose ${fullName(found)}`}
                checked={chosen.some(({ personId }) => personId === found.personId)}
                onChange={() => choose(found)}
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
  )
}

function Merge({ pair: [keep, other], swap, close }: { pair: Pair; swap: () => void; close: () => void }) {
  const client = useQueryClient()
  const [problem, setProblem] = useState<string | null>(null)
  const merge = async () => {
    try {
      await api.post('office/merge', {
        keepId: keep.personId,
        otherId: other.personId,
      } satisfies Bodies['POST office/merge'])
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
