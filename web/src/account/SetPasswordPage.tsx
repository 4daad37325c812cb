import { fullName } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { Loaded } from '../ui/Loaded'
import { PublicPage } from '../frame/PublicPage'
import { TextField } from '../ui/TextField'
import { ApiError, api } from '../ui/api'
import { problemAt, problemBeside } from '../ui/problems'
import type { Answers, Bodies } from '../contract'

type LinkHolder = Answers['POST account/link']

/** Where the link of an invitation or of a forgotten password leads. The token stands behind "#" and so is in no log. */
export default function SetPasswordPage() {
  const token = location.hash.slice(1)
  const holder = useQuery({
    queryKey: ['link', token],
    queryFn: () => api.post<LinkHolder>('account/link', { token } satisfies Bodies['POST account/link']),
    retry: false,
  })
  if (holder.error instanceof ApiError && holder.error.status === 410)
    return (
      <PublicPage title="This link is used up">
        <p>{holder.error.message}</p>
        <Link className="btn btn-primary" to="/forgotten">
          New password
        </Link>
      </PublicPage>
    )
  return (
    <Loaded query={holder}>
      {(found) => (
        <PublicPage
          title={
            found.purpose === 'invitation' ? `Welcome, ${fullName(found)}` : `A new password for ${fullName(found)}`
          }
        >
          <p className="soft">
            {found.school}
            {found.email && ` · you sign in with ${found.email}`}
          </p>
          <NewPassword token={token} email={found.email ?? ''} />
        </PublicPage>
      )}
    </Loaded>
  )
}

function NewPassword({ token, email }: { token: string; email: string }) {
  const client = useQueryClient()
  const [password, setPassword] = useState('')
  const [shown, setShown] = useState(false)
  const set = useMutation({
    mutationFn: () =>
      api.post<void>('account/password-by-link', { token, password } satisfies Bodies['POST account/password-by-link']),
    onSuccess: () => {
      window.history.replaceState(null, '', '/')
      client.clear()
      window.location.assign('/')
    },
  })
  const submit = (event: SubmitEvent) => {
    event.preventDefault()
    set.mutate()
  }
  return (
    <Form onSubmit={submit} noValidate>
      <input type="email" autoComplete="username" value={email} readOnly hidden />
      <TextField
        id="new-password"
        label="Choose a password"
        autoFocus
        type={shown ? 'text' : 'password'}
        autoComplete="new-password"
        value={password}
        change={(value) => {
          setPassword(value)
          set.reset()
        }}
        problem={problemAt(set.error, 'password') ?? problemBeside(set.error, ['password'])}
        hint="At least 10 characters; three or four words are good."
      />
      <Form.Check
        className="mb-3"
        id="show-password"
        label="Show what I type"
        checked={shown}
        onChange={({ target }) => setShown(target.checked)}
      />
      <Button type="submit" disabled={set.isPending}>
        Keep it and sign in
      </Button>
    </Form>
  )
}
