import { useMutation, useQuery } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useParams } from 'react-router'
import { Notice } from '../ui/Notice'
import { CodeForm } from '../frame/CodeForm'
import { PublicPage } from '../frame/PublicPage'
import { TextField } from '../ui/TextField'
import { ApiError, api, sentenceOf } from '../ui/api'
import { problemAt, problemBeside } from '../ui/problems'
import type { SignedIn } from '../frame/session'
import { timeInWords, writeTimesAs } from '../ui/time'
import type { Answers, Bodies } from '../contract'

type JoinFace = Answers['GET join/{code}']

/** Where students ask to be let into a class, with its code. */
export default function JoinPage({ person }: { readonly person: SignedIn | null }) {
  const { code = '' } = useParams()
  return code ? <JoinClass key={code} code={code} person={person} /> : <TypeCode />
}

const TypeCode = ({ wrong = '' }: { wrong?: string }) => (
  <CodeForm
    title="Join a class"
    label="Class code, from the board"
    to="/join"
    wrong={wrong}
    wrongSentence="There is no class with this code: compare it with the board."
  />
)

function JoinClass({ code, person }: { code: string; person: SignedIn | null }) {
  const face = useQuery({
    queryKey: ['join', code],
    queryFn: async () => {
      const found = await api.get<JoinFace>(`join/${encodeURIComponent(code)}`)
      writeTimesAs(found)
      return found
    },
    retry: false,
  })
  const [entry, setEntry] = useState({
    first: person?.first ?? '',
    last: person?.last ?? '',
    email: person?.email ?? '',
  })
  const ask = useMutation({
    mutationFn: () => api.post<void>(`join/${encodeURIComponent(code)}`, entry satisfies Bodies['POST join/{code}']),
  })
  if (face.error instanceof ApiError && face.error.status === 404) return <TypeCode wrong={code} />
  if (!face.data)
    return (
      <PublicPage title="Join a class">
        {face.error ? <Notice kind="bad">{sentenceOf(face.error)}</Notice> : <p className="soft">One moment …</p>}
      </PublicPage>
    )
  const { class: name, subject, school, state, opensAt } = face.data
  const beside = problemBeside(ask.error, ['first', 'last', 'email'])
  const field = (key: 'first' | 'last' | 'email', label: string, complete: string, autoFocus = false) => (
    <TextField
      id={`join-${key}`}
      label={label}
      autoFocus={autoFocus}
      type={key === 'email' ? 'email' : 'text'}
      autoComplete={complete}
      value={entry[key]}
      change={(value) => setEntry({ ...entry, [key]: value })}
      problem={problemAt(ask.error, key)}
    />
  )
  const submit = (event: SubmitEvent) => {
    event.preventDefault()
    ask.mutate()
  }
  return (
    <PublicPage title={`Join ${name}`}>
      <p className="soft">{[subject, school].filter(Boolean).join(' · ')}</p>
      {ask.isSuccess ? (
        <div role="status">
          <p>
            <strong>Your teacher has your name now</strong> and decides who is let in.{' '}
            {person ? (
              'Once you are, the class is on your desk. No message comes.'
            ) : (
              <>
                If you have no password for Gavrin yet, a message with the way in comes then, to <b>{entry.email}</b> or
                to the address that the school has of you. If you have one, sign in as always: no message comes.
              </>
            )}
          </p>
          <p className="soft">
            If nothing comes by tomorrow, ask your teacher: whoever is not let in is not written to.
          </p>
          <Button variant="link" onClick={() => ask.reset()}>
            Something is wrong: correct it
          </Button>
        </div>
      ) : state === 'open' ? (
        <Form onSubmit={submit} noValidate>
          {field('first', 'First name', 'given-name', true)}
          {field('last', 'Last name (leave it empty if you have one name)', 'family-name')}
          {field('email', 'E-mail', 'email')}
          {beside && <Notice kind="bad">{beside}</Notice>}
          <Button type="submit" disabled={ask.isPending}>
            Ask to join
          </Button>
        </Form>
      ) : (
        <Notice kind="look">
          {state === 'not yet' && opensAt
            ? `This page opens ${timeInWords(opensAt)}.`
            : 'This page is closed. Ask your teacher.'}
        </Notice>
      )}
    </PublicPage>
  )
}
