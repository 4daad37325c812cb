import { fullName } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type ReactNode, type SubmitEvent, useEffect, useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import type { Bodies } from '../contract'
import { type SessionAnswer, type SignedIn, hear } from './session'

/** Tells the other windows of this browser that somebody has signed out, and means it. */
const WINDOWS = 'gavrin.signed-out'

/** To be called by who signs out: other windows of theirs show nothing of them any more. */
export function tellSignedOut(): void {
  if (typeof BroadcastChannel === 'undefined') return
  const channel = new BroadcastChannel(WINDOWS)
  channel.postMessage('')
  channel.close()
}

interface Props {
  readonly person: SignedIn | null
  readonly children: (person: SignedIn | null) => ReactNode
}

/**
 * Keeps a page as it is when the session of its person ends by itself, as after a long night, unseen behind a place to sign in again.
 * Who signs out themselves, in whichever window, leaves nothing behind; nor does a guest, who has no password.
 */
export function KeptPage({ person, children }: Props) {
  const [last, setLast] = useState(person)
  const [meant, setMeant] = useState(false)
  if (person && person !== last) {
    setLast(person)
    setMeant(false)
  }
  useEffect(() => {
    if (typeof BroadcastChannel === 'undefined') return
    const channel = new BroadcastChannel(WINDOWS)
    channel.onmessage = () => setMeant(true)
    return () => channel.close()
  }, [])
  const kept = person ?? (last && last.role !== 'guest' && !meant ? last : null)
  const isAway = kept !== null && person === null
  return (
    <>
      <div className="kept-page" style={isAway ? { visibility: 'hidden' } : undefined} inert={isAway}>
        {children(kept)}
      </div>
      {isAway && <SignInAgain person={kept} leave={() => setMeant(true)} />}
    </>
  )
}

/** Signs the person of a page in again, in front of it. */
function SignInAgain({ person, leave }: { readonly person: SignedIn; readonly leave: () => void }) {
  const client = useQueryClient()
  const [email, setEmail] = useState(person.email ?? '')
  const [password, setPassword] = useState('')
  const field = useRef<HTMLInputElement>(null)
  useEffect(() => field.current?.focus(), [])
  const signIn = useMutation({
    mutationFn: async () => {
      await api.post<void>('session', { email, password } satisfies Bodies['POST session'])
      return hear(await api.get<SessionAnswer>('session'))
    },
    onSuccess: (session) => {
      // Somebody else: nothing of this page is theirs.
      if (session.person?.id !== person.id) return window.location.assign('/')
      client.setQueryData(['session'], session)
      void client.invalidateQueries()
      window.dispatchEvent(new Event('gavrin:signed-in'))
    },
  })
  const submit = (event: SubmitEvent) => {
    event.preventDefault()
    signIn.mutate()
  }
  return (
    <main className="sign-in-again" role="dialog" aria-modal="true" aria-labelledby="sign-in-again">
      <Form method="dialog" onSubmit={submit} noValidate>
        <h1 id="sign-in-again">You have been signed out</h1>
        <p>
          Sign in again as <bdi>{fullName(person)}</bdi>, and this page goes on where it was. What was not saved yet is
          kept in this browser, and saved then.
        </p>
        {person.email === null && (
          <Form.Group className="mb-3" controlId="again-name">
            <Form.Label>E-mail, or the name on your card</Form.Label>
            <Form.Control
              type="text"
              autoCapitalize="none"
              autoComplete="username"
              value={email}
              onChange={({ target }) => setEmail(target.value)}
            />
          </Form.Group>
        )}
        <Form.Group className="mb-3" controlId="again-password">
          <Form.Label>Password</Form.Label>
          <Form.Control
            ref={field}
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={({ target }) => setPassword(target.value)}
          />
        </Form.Group>
        {signIn.error && <Notice kind="bad">{sentenceOf(signIn.error)}</Notice>}
        <Button type="submit" disabled={signIn.isPending}>
          {signIn.isPending ? 'Signing in …' : 'Sign in again'}
        </Button>{' '}
        <Button variant="link" onClick={leave}>
          I am somebody else
        </Button>
      </Form>
    </main>
  )
}
