import { Suspense, lazy, useState } from 'react'
import { Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { api } from '../ui/api'
import { tellSignedOut } from './KeptPage'
import type { SignedIn } from './session'

// Seldom wanted, and on the page of a copy every kilobyte counts.
const OwnPassword = lazy(() => import('../account/OwnPassword'))

/** Who is signed in, and the way out. */
export function PersonMenu({ person, name }: { readonly person: SignedIn; readonly name: string }) {
  const [changing, setChanging] = useState(false)
  const signOut = async () => {
    await api.delete('session').catch(() => undefined)
    tellSignedOut()
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
          <Dropdown.Item onClick={() => setChanging(true)}>Change my password</Dropdown.Item>
          <Dropdown.Item as={Link} to="/about">
            About Gavrin
          </Dropdown.Item>
          <Dropdown.Item onClick={() => void signOut()}>Sign out</Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      <Suspense>{changing && <OwnPassword close={() => setChanging(false)} />}</Suspense>
    </>
  )
}
