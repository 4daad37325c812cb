import { Suspense, lazy, useState } from 'react'
import { Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { api } from '../ui/api'
import { forgetPages } from '../offline/keepPages'
import { tellSignedOut } from './KeptPage'
import type { SignedIn } from './session'

// Seldom wanted, and on the page of a copy every kilobyte counts.
const OwnPassword = lazy(() => import('../account/OwnPassword'))
const CalendarDialog = lazy(() => import('../account/CalendarDialog'))

/** Who is signed in, and the way out. */
export function PersonMenu({ person, name }: { readonly person: SignedIn; readonly name: string }) {
  const [open, setOpen] = useState<'password' | 'calendar' | null>(null)
  const close = () => setOpen(null)
  const signOut = async () => {
    await api.delete('session').catch(() => undefined)
    tellSignedOut()
    await forgetPages()
    // Loaded anew, so that nothing of this person stays in the page.
    window.location.assign('/')
  }
  return (
    <>
      <Dropdown align="end" className="person-menu">
        <Dropdown.Toggle variant="link" id="person-menu">
          <span className="person-name">{name}</span>
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <Dropdown.ItemText className="soft">
            {person.email}
            <br />
            {person.school}
          </Dropdown.ItemText>
          <Dropdown.Divider />
          {person.role !== 'guest' && (
            <>
              <Dropdown.Item onClick={() => setOpen('password')}>Change my password</Dropdown.Item>
              {person.role !== 'office' && (
                <Dropdown.Item onClick={() => setOpen('calendar')}>Due times in my calendar</Dropdown.Item>
              )}
            </>
          )}
          {person.role === 'teacher' && (
            <>
              <Dropdown.Item as={Link} to="/saved-copies">
                Copies as documents
              </Dropdown.Item>
              <Dropdown.Item as={Link} to="/programs">
                Own programs
              </Dropdown.Item>
            </>
          )}
          <Dropdown.Item as={Link} to="/about">
            About Gavrin
          </Dropdown.Item>
          <Dropdown.Item onClick={() => void signOut()}>Sign out</Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      <Suspense>
        {open === 'password' && <OwnPassword close={close} />}
        {open === 'calendar' && <CalendarDialog close={close} />}
      </Suspense>
    </>
  )
}
