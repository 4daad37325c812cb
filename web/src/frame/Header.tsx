import { fullName, mayInClass } from '@gavrin/core'
import { Dropdown } from 'react-bootstrap'
import { Link, NavLink, useLocation, useNavigate } from 'react-router'
import { intendClass } from '../class/intended'
import { useClasses, useCurrentClass } from '../class/queries'
import { Finder } from './Finder'
import { PersonMenu } from './PersonMenu'
import { Wordmark } from './Wordmark'
import type { SignedIn } from './session'

/** The one header line: wordmark, class switch, the places, the person. */
export function Header({ person }: { readonly person: SignedIn }) {
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const classes = useClasses()
  const current = useCurrentClass()
  const at = current ? `/class/${current.id}` : ''
  // What one has just been writing is what is given out.
  const open = /^\/worksheets\/([0-9a-f-]{36})/.exec(pathname)?.[1]
  const worksheet = open ? `?worksheet=${open}` : ''
  const office = person.role === 'office'
  const may = current !== undefined && mayInClass(current.role, 'hand out', current.archived).may
  const seesMarks = current !== undefined && mayInClass(current.role, 'see marks').may
  const mayWrite = current !== undefined && mayInClass(current.role, 'change the roster').may
  return (
    <header className="top">
      <Link to="/" className="word">
        <Wordmark />
      </Link>
      {current && (
        <Dropdown className="class-switch">
          <Dropdown.Toggle
            variant="link"
            id="class-switch"
            aria-label={`Class: ${current.name}, ${current.subject}. Change`}
          >
            <strong>{current.name}</strong> <span className="soft">{current.subject}</span>
          </Dropdown.Toggle>
          <Dropdown.Menu>
            {classes.data
              ?.filter(({ id, archived }) => !archived || id === current.id)
              .map(({ id, name, subject, year, students }) => (
                <Dropdown.Item
                  key={id}
                  active={id === current.id}
                  onClick={() => {
                    intendClass(id)
                    void navigate(`/class/${id}`)
                  }}
                >
                  {name}{' '}
                  <span className="soft">
                    {subject} {year} · {students}
                  </span>
                </Dropdown.Item>
              ))}
            <Dropdown.Divider />
            <Dropdown.Item as={Link} to="/classes">
              All classes, archived too
            </Dropdown.Item>
          </Dropdown.Menu>
        </Dropdown>
      )}
      <nav className="places" aria-label="Places">
        <NavLink to="/" end>
          {office ? 'People' : 'Desk'}
        </NavLink>
        {current && (
          <NavLink
            to={at}
            end={false}
            className={({ isActive }) =>
              isActive &&
              !['handouts', 'slip', 'marks', 'mailroom'].some((place) => pathname.startsWith(`${at}/${place}`))
                ? 'active'
                : 'inactive'
            }
          >
            Class
          </NavLink>
        )}
        {!office && <NavLink to="/worksheets">Worksheets</NavLink>}
        {current && (
          <NavLink
            to={`${at}/handouts`}
            className={({ isActive }) => (isActive || pathname.startsWith(`${at}/slip`) ? 'active' : 'inactive')}
          >
            Handouts
          </NavLink>
        )}
        {current && seesMarks && <NavLink to={`${at}/marks`}>Mark book</NavLink>}
        {current && mayWrite && <NavLink to={`${at}/mailroom`}>Mailroom</NavLink>}
      </nav>
      <span className="top-end">
        <Finder isOffice={office} />
        {current && may && (
          <Link to={`${at}/slip${worksheet}`} reloadDocument={false} className="btn btn-outline-dark">
            New handout
          </Link>
        )}
        <PersonMenu person={person} name={fullName(person)} />
      </span>
    </header>
  )
}
