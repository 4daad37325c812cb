import { type SubmitEvent, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useNavigate } from 'react-router'
import { PublicPage } from './PublicPage'

interface Props {
  readonly title: string
  readonly label: string
  /** The address that the code is put at the end of. */
  readonly to: string
  /** A code that was tried and leads nowhere, and what is said of it. */
  readonly wrong?: string
  readonly wrongSentence: string
}

/** Where somebody types a code from the board. */
export function CodeForm({ title, label, to, wrong = '', wrongSentence }: Props) {
  const navigate = useNavigate()
  const [typed, setTyped] = useState(wrong)
  const submit = (event: SubmitEvent) => {
    event.preventDefault()
    const code = typed.replace(/[^A-Za-z0-9]/g, '').toUpperCase()
    if (code) void navigate(`${to}/${code}`)
  }
  return (
    <PublicPage title={title}>
      <Form onSubmit={submit} noValidate>
        <Form.Group className="mb-3" controlId="typed-code">
          <Form.Label>{label}</Form.Label>
          <Form.Control
            autoFocus
            autoCapitalize="characters"
            autoComplete="off"
            className="code-field"
            value={typed}
            isInvalid={!!wrong && typed === wrong}
            onChange={({ target }) => setTyped(target.value)}
          />
          <Form.Control.Feedback type="invalid">{wrongSentence}</Form.Control.Feedback>
        </Form.Group>
        <Button type="submit">Go on</Button>
      </Form>
      <p className="mt-3">
        <Link to="/">I have an account: sign in</Link>
      </p>
    </PublicPage>
  )
}
