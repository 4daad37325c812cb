import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import Button from 'react-bootstrap/Button'
import Modal from 'react-bootstrap/Modal'
import type { Answers } from '../contract'
import { Loaded } from '../ui/Loaded'
import { api } from '../ui/api'

type Access = Answers['GET copies/{copyId}/access']
type Seen = Access['people'][number]

const GROUNDS: Readonly<Record<Seen['ground'], string>> = {
  holder: 'it is theirs',
  guest: 'came in by a link',
  teacher: 'teaches the class',
  helper: 'helps in the class',
  'peer reader': 'chosen to read it',
  'let in': 'let in by whose it is',
  classmate: 'of the class',
}
const MAY = { none: '', view: 'reads', comment: 'reads and comments', edit: 'writes' } as const

/** Who sees a copy, and why. */
export function WhoSees({ copyId }: { readonly copyId: string }) {
  const [isOpen, setOpen] = useState(false)
  return (
    <>
      <Button variant="link" size="sm" onClick={() => setOpen(true)}>
        Who sees this copy
      </Button>
      {isOpen && (
        <Modal show scrollable onHide={() => setOpen(false)} aria-labelledby="who-sees-title">
          <Modal.Header closeButton>
            <Modal.Title id="who-sees-title">Who sees this copy</Modal.Title>
          </Modal.Header>
          <Modal.Body>
            <People copyId={copyId} />
          </Modal.Body>
        </Modal>
      )}
    </>
  )
}

function People({ copyId }: { copyId: string }) {
  const query = useQuery({
    queryKey: ['access', copyId],
    queryFn: () => api.get<Access>(`copies/${copyId}/access`),
    staleTime: 0,
  })
  return (
    <Loaded query={query}>
      {({ people, classmates }) => (
        <>
          <ul className="who-sees">
            {people.map(({ name, ground, permission, isSelf }, at) => (
              <li key={name ?? `reader ${at}`}>
                <span>
                  {name === null ? 'A peer reader' : <bdi>{name}</bdi>}
                  {isSelf && ' (you)'}
                </span>
                <span className="soft">
                  {isSelf && ground === 'holder' ? 'it is yours' : GROUNDS[ground]}: {MAY[permission]}
                </span>
              </li>
            ))}
          </ul>
          {classmates.count > 0 && (
            <p className="soft">
              {classmates.count === 1 ? 'One other' : `${classmates.count} others`} of the class:{' '}
              {MAY[classmates.permission]}.
            </p>
          )}
          <p className="soft">The teachers of the class always see it. The slip it was given by says who else does.</p>
        </>
      )}
    </Loaded>
  )
}
