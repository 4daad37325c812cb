import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { Notice } from '../ui/Notice'
import { TextField } from '../ui/TextField'
import { api } from '../ui/api'
import { problemAt, problemBeside } from '../ui/problems'
import type { Bodies } from '../contract'

/** Changes the own password. */
export default function OwnPassword({ close }: { readonly close: () => void }) {
  const [entry, setEntry] = useState({ current: '', password: '' })
  const [problem, setProblem] = useState<unknown>(null)
  const [done, setDone] = useState(false)
  const submit = async (event: SubmitEvent) => {
    event.preventDefault()
    try {
      await api.put('account/password', entry satisfies Bodies['PUT account/password'])
      setProblem(null)
      setDone(true)
    } catch (error) {
      setProblem(error)
    }
  }
  const beside = problemBeside(problem, ['current', 'password'])
  const field = (key: 'current' | 'password', label: string, complete: string) => (
    <TextField
      id={`own-${key}`}
      label={label}
      type="password"
      autoComplete={complete}
      value={entry[key]}
      change={(value) => setEntry({ ...entry, [key]: value })}
      problem={problemAt(problem, key)}
    />
  )
  return (
    <Modal show onHide={close} centered animation={false}>
      <Form onSubmit={(event) => void submit(event)} noValidate>
        <Modal.Header closeButton>
          <Modal.Title>Change my password</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          {done ? (
            <p role="status">Changed. Everywhere else you are signed out.</p>
          ) : (
            <>
              {field('current', 'The password I have now', 'current-password')}
              {field('password', 'The new one', 'new-password')}
              {beside && <Notice kind="bad">{beside}</Notice>}
            </>
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="link" onClick={close}>
            {done ? 'Close' : 'Cancel'}
          </Button>
          {!done && <Button type="submit">Change it</Button>}
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
