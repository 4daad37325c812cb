import { fullName, isFound } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { FindField } from '../ui/FindField'
import { Notice } from '../ui/Notice'
import { Wordmark } from '../frame/Wordmark'
import { ApiError, api, sentenceOf } from '../ui/api'
import type { Bodies, DemoPerson } from '../contract'
import type { SessionAnswer } from '../frame/session'
import './signin.css'

/** Signing in; in demo mode the demo people can be chosen by name. */
export default function SignInPage({ demo }: { readonly demo: SessionAnswer['demo'] }) {
  const client = useQueryClient()
  const [email, setEmail] = useState('')
  const [password, setPassword] = useState('')
  const signIn = useMutation({
    mutationFn: (entry: { email: string; password: string }) =>
      api.post<void>('session', entry satisfies Bodies['POST session']),
    onSuccess: () => client.invalidateQueries({ queryKey: ['session'] }),
  })
  const fieldError = (field: string) =>
    signIn.error instanceof ApiError
      ? signIn.error.errors.find((problem) => problem.field === field)?.sentence
      : undefined
  const submit = (event: SubmitEvent) => {
    event.preventDefault()
    signIn.mutate({ email, password })
  }
  const emailError = fieldError('email')
  const passwordError = fieldError('password')
  return (
    <main className={demo ? 'sign-in with-demo' : 'sign-in'}>
      <section className="sign-in-form">
        <h1 className="word">
          <Wordmark />
        </h1>
        <p className="lead-line">Worksheets, given out and followed until they are handed back.</p>
        {/* Sent before it is listened to, a form of this method does nothing. */}
        <Form method="dialog" onSubmit={submit} noValidate>
          <Form.Group className="mb-3" controlId="email">
            <Form.Label>E-mail, or the name on your card</Form.Label>
            <Form.Control
              type="text"
              inputMode="email"
              autoCapitalize="none"
              autoComplete="username"
              autoFocus
              value={email}
              isInvalid={!!emailError}
              onChange={({ target }) => setEmail(target.value)}
            />
            <Form.Control.Feedback type="invalid">{emailError}</Form.Control.Feedback>
          </Form.Group>
          <Form.Group className="mb-3" controlId="password">
            <Form.Label>Password</Form.Label>
            <Form.Control
              type="password"
              autoComplete="current-password"
              value={password}
              isInvalid={!!passwordError}
              onChange={({ target }) => setPassword(target.value)}
            />
            <Form.Control.Feedback type="invalid">{passwordError}</Form.Control.Feedback>
          </Form.Group>
          {signIn.error && !emailError && !passwordError && <Notice kind="bad">{sentenceOf(signIn.error)}</Notice>}
          <Button type="submit" disabled={signIn.isPending}>
            {signIn.isPending ? 'Signing in …' : 'Sign in'}
          </Button>
          <p className="sign-in-more">
            <Link to="/forgotten">New password</Link> · <Link to="/join">Join a class with its code</Link> ·{' '}
            <Link to="/about">About</Link>
          </p>
        </Form>
      </section>
      {demo && (
        <DemoPeople
          people={demo.people}
          busy={signIn.isPending}
          choose={(person) => signIn.mutate({ email: person.email, password: demo.password })}
        />
      )}
    </main>
  )
}

function DemoPeople({
  people,
  busy,
  choose,
}: {
  people: readonly DemoPerson[]
  busy: boolean
  choose: (person: DemoPerson) => void
}) {
  const [filter, setFilter] = useState('')
  const shown = people.filter(({ first, last, classes }) => isFound(`${first} ${last} ${classes}`, filter))
  const list = (title: string, role: 'teacher' | 'student') => {
    const group = shown.filter((person) => (person.role === 'student') === (role === 'student'))
    return (
      group.length > 0 && (
        <>
          <h3>{title}</h3>
          <ul>
            {group.map((person) => (
              <li key={person.email}>
                <button type="button" disabled={busy} onClick={() => choose(person)}>
                  <span dir="auto">{fullName(person)}</span>{' '}
                  <span className="soft">{person.classes || (person.role === 'office' ? 'office' : '')}</span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )
    )
  }
  return (
    <section className="demo-people" aria-label="Demo people">
      <h2>Fennick Quay School</h2>
      <p className="soft">This is the demo. Choose a person to be; in another browser window, choose another.</p>
      <FindField label="Find a name or class" value={filter} change={setFilter} />
      <div className="demo-lists">
        {list('Teachers', 'teacher')}
        {list('Students', 'student')}
        {shown.length === 0 && <p className="soft">Nobody of that name.</p>}
      </div>
    </section>
  )
}
