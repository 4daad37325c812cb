import { useMutation } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { PublicPage } from '../frame/PublicPage'
import { TextField } from '../ui/TextField'
import { api } from '../ui/api'
import { problemBeside } from '../ui/problems'
import type { Bodies } from '../contract'

/** Asks for a link for a new password. What is said afterwards is the same whether anybody has the address. */
export default function ForgottenPage() {
  const [email, setEmail] = useState('')
  const ask = useMutation({
    mutationFn: () => api.post<void>('account/forgotten', { email } satisfies Bodies['POST account/forgotten']),
  })
  const submit = (event: SubmitEvent) => {
    event.preventDefault()
    ask.mutate()
  }
  return (
    <PublicPage title="New password">
      {ask.isSuccess ? (
        <p role="status">
          If somebody here has the address {email}, a message with a link is on its way. It works for a day. Look in the
          folder for unwanted mail too.
        </p>
      ) : (
        <Form onSubmit={submit} noValidate>
          <p className="soft">
            Type your e-mail, and a link for a new password comes by mail. If you sign in with a card, ask your teacher
            for a new one.
          </p>
          <TextField
            id="forgotten-email"
            label="E-mail"
            type="email"
            autoFocus
            autoComplete="username"
            value={email}
            change={(value) => {
              setEmail(value)
              ask.reset()
            }}
            problem={problemBeside(ask.error, [])}
          />
          <Button type="submit" disabled={ask.isPending}>
            Send the link
          </Button>
        </Form>
      )}
      <p className="mt-3">
        <Link to="/">Back to signing in</Link>
      </p>
    </PublicPage>
  )
}
