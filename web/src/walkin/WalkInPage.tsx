import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useNavigate, useParams } from 'react-router'
import { Notice } from '../ui/Notice'
import { CodeForm } from '../frame/CodeForm'
import { PublicPage } from '../frame/PublicPage'
import { TextField } from '../ui/TextField'
import { ApiError, api, sentenceOf } from '../ui/api'
import { problemAt, problemBeside } from '../ui/problems'
import type { SignedIn } from '../frame/session'
import type { Answers, Bodies } from '../contract'

type WalkInFace = Answers['GET walk-in/{code}']

/** Where people without an account come in by a code, under a name. */
export default function WalkInPage({ person }: { readonly person: SignedIn | null }) {
  const { code = '' } = useParams()
  return code ? <Enter key={code} code={code} person={person} /> : <TypeCode />
}

const TypeCode = ({ wrong = '' }: { wrong?: string }) => (
  <CodeForm
    title="Come in by a code"
    label="Code, from the board"
    to="/in"
    wrong={wrong}
    wrongSentence="Nothing has this code: compare it with the board."
  />
)

const MAY = { edit: 'You can write in it.', comment: 'You can read it and comment.', view: 'You can read it.' } as const

function Enter({ code, person }: { code: string; person: SignedIn | null }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const face = useQuery({
    queryKey: ['walk-in', code],
    queryFn: () => api.get<WalkInFace>(`walk-in/${encodeURIComponent(code)}`),
    retry: false,
  })
  const [name, setName] = useState(person?.role === 'guest' ? person.first.replace(/ \(\d+\)$/, '') : '')
  const enter = useMutation({
    mutationFn: () =>
      api.post<Answers['POST walk-in/{code}']>(`walk-in/${encodeURIComponent(code)}`, {
        name,
      } satisfies Bodies['POST walk-in/{code}']),
    onSuccess: async ({ copyId }) => {
      await client.invalidateQueries({ queryKey: ['session'] })
      await navigate(copyId ? `/copies/${copyId}` : '/')
    },
  })
  if (face.error instanceof ApiError && face.error.status === 404) return <TypeCode wrong={code} />
  if (!face.data)
    return (
      <PublicPage title="Come in">
        {face.error ? <Notice kind="bad">{sentenceOf(face.error)}</Notice> : <p className="soft">One moment …</p>}
      </PublicPage>
    )
  const beside = problemBeside(enter.error, ['name'])
  const hasAccount = person !== null && person.role !== 'guest'
  return (
    <PublicPage title={face.data.title || 'Come in'}>
      <p>
        <bdi>{face.data.class}</bdi>. {MAY[face.data.permission]}
      </p>
      {hasAccount && (
        <Notice kind="look">
          You are signed in as <bdi>{[person.first, person.last].filter(Boolean).join(' ')}</bdi>. Coming in by this
          code signs you out here; your own copies are on <Link to="/">your desk</Link>.
        </Notice>
      )}
      <Form
        noValidate
        onSubmit={(event) => {
          event.preventDefault()
          enter.mutate()
        }}
      >
        <TextField
          id="guest-name"
          label="Your name"
          autoFocus
          autoComplete="name"
          value={name}
          problem={problemAt(enter.error, 'name')}
          change={setName}
        />
        {beside && <Notice kind="bad">{beside}</Notice>}
        <p className="soft">
          Your teacher sees this name. If somebody else has it already, a number is put after yours. Come back in this
          browser under the same name to go on with what you began.
        </p>
        <Button type="submit" disabled={enter.isPending}>
          {enter.isPending ? 'One moment …' : 'Come in'}
        </Button>
      </Form>
    </PublicPage>
  )
}
