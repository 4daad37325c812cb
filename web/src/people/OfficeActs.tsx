import { fullName } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Dropdown, Modal } from 'react-bootstrap'
import { Menu } from '../ui/Menu'
import { api, sentenceOf } from '../ui/api'
import { PersonForm } from './PersonForm'
import type { PersonRecord } from './personRecord'
import type { Answers, Bodies } from '../contract'

interface Props {
  readonly person: PersonRecord
}

interface Card {
  readonly signInName: string
  readonly password: string
}

/** What the office does for one person: corrects the record, sends a link, prints a card. */
export function OfficeActs({ person }: Props) {
  const client = useQueryClient()
  const [said, setSaid] = useState<{ bad: boolean; text: string } | null>(null)
  const [card, setCard] = useState<Card | null>(null)
  const [changing, setChanging] = useState(false)
  const reset = async (how: 'mail' | 'card') => {
    try {
      const { card: made } = await api.post<Answers['POST office/people/{personId}/reset']>(
        `office/people/${person.personId}/reset`,
        { how } satisfies Bodies['POST office/people/{personId}/reset'],
      )
      setCard(made)
      setSaid(made ? null : { bad: false, text: `A link is on its way to ${person.email}.` })
      await client.invalidateQueries({ queryKey: ['person', person.personId] })
      await client.invalidateQueries({ queryKey: ['office'] })
    } catch (error) {
      setSaid({ bad: true, text: sentenceOf(error) })
    }
  }
  return (
    <>
      {said && (
        <span className={said.bad ? 'bad' : 'soft'} role={said.bad ? 'alert' : 'status'}>
          {said.text}
        </span>
      )}
      <Menu label="New password" name={`New password for ${fullName(person)}`} variant="link" small align="end">
        <Dropdown.Item disabled={!person.email} onClick={() => void reset('mail')}>
          Send a link by mail <span className="soft">{person.email ? '' : 'no e-mail'}</span>
        </Dropdown.Item>
        {person.role === 'student' && (
          <Dropdown.Item onClick={() => void reset('card')}>
            Make a card <span className="soft">the old password stops working</span>
          </Dropdown.Item>
        )}
      </Menu>
      <Button size="sm" variant="link" onClick={() => setChanging(true)} aria-label={`Correct ${fullName(person)}`}>
        Correct
      </Button>
      {changing && <PersonForm person={person} close={() => setChanging(false)} />}
      {card && (
        <Modal show onHide={() => setCard(null)} centered animation={false}>
          <Modal.Header closeButton>
            <Modal.Title>Card for {fullName(person)}</Modal.Title>
          </Modal.Header>
          <Modal.Body>
            <p>Print or copy this now: the password is shown this once.</p>
            <dl className="person-facts">
              <dt>Sign in with</dt>
              <dd>{card.signInName}</dd>
              <dt>Password</dt>
              <dd>
                <code>{card.password}</code>
              </dd>
            </dl>
          </Modal.Body>
          <Modal.Footer>
            <Button onClick={() => window.print()}>Print</Button>
          </Modal.Footer>
        </Modal>
      )}
    </>
  )
}
