import { SCOPES, type Scope } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { CopyLine } from '../ui/CopyLine'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { TextField } from '../ui/TextField'
import { ApiError, api, sentenceOf } from '../ui/api'
import { exactTime, sinceInWords, timeInWords } from '../ui/time'
import { useNow } from '../ui/useNow'

type Token = Answers['GET tokens'][number]
type Made = Answers['POST tokens']
type Wish = Bodies['POST tokens']

const KEY = ['tokens']

const DOES: Readonly<Record<Scope, string>> = {
  read: 'read what you see: classes, boards, files',
  rosters: 'change rosters, columns, units and groups',
  worksheets: 'change worksheets',
  'hand out': 'hand out, mend and take back; save copies',
  copies: 'pens, comments, reminders, late writing',
}
const DAYS = [30, 90, 366] as const

/** The tokens that programs of one's own have. */
export function Tokens() {
  const client = useQueryClient()
  const tokens = useQuery({ queryKey: KEY, queryFn: () => api.get<Token[]>('tokens') })
  const [made, setMade] = useState<(Made & { readonly name: string }) | null>(null)
  const takeBack = useMutation({
    mutationFn: (id: string) => api.delete(`tokens/${id}`),
    onSuccess: (_, id) => {
      if (made?.id === id) setMade(null)
    },
    onSettled: () => client.invalidateQueries({ queryKey: KEY }),
  })
  return (
    <section aria-labelledby="tokens-title">
      <h2 id="tokens-title">Tokens</h2>
      <p className="soft">
        A program that has a token does what it is for, in your name, until it ends or you take it back.
      </p>
      {made && (
        <Notice kind="plain">
          The token for “<bdi>{made.name}</bdi>”. It is shown this once: put it where the program finds it.
          <CopyLine label={`Token for ${made.name}`} text={made.token} />
        </Notice>
      )}
      {takeBack.error && <Notice kind="bad">{sentenceOf(takeBack.error)}</Notice>}
      <Loaded query={tokens}>
        {(all) => <List all={all} isBusy={takeBack.isPending} takeBack={(id) => takeBack.mutate(id)} />}
      </Loaded>
      <NewToken
        done={(token) => {
          setMade(token)
          void client.invalidateQueries({ queryKey: KEY })
        }}
      />
    </section>
  )
}

interface ListProps {
  readonly all: readonly Token[]
  readonly isBusy: boolean
  readonly takeBack: (id: string) => void
}

function List({ all, isBusy, takeBack }: ListProps) {
  const now = useNow()
  if (all.length === 0) return <p className="soft">No token yet.</p>
  return (
    <table className="grid automation-list">
      <thead>
        <tr>
          <th scope="col">For</th>
          <th scope="col">May</th>
          <th scope="col">Ends</th>
          <th scope="col">Used</th>
          <th scope="col">
            <span className="visually-hidden">Take back</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {all.map(({ id, name, scopes, endsAt, usedAt }) => (
          <tr key={id}>
            <td>
              <bdi>{name}</bdi>
            </td>
            <td>{scopes.join(', ')}</td>
            <td title={exactTime(endsAt)} className={endsAt < now ? 'bad' : undefined}>
              {endsAt < now ? `ended ${timeInWords(endsAt, now)}` : timeInWords(endsAt, now)}
            </td>
            <td>{usedAt === null ? <span className="soft">never</span> : sinceInWords(usedAt, now)}</td>
            <td>
              <Button size="sm" variant="link" disabled={isBusy} onClick={() => takeBack(id)}>
                Take back<span className="visually-hidden"> the token for {name}</span>
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function NewToken({ done }: { readonly done: (token: Made & { readonly name: string }) => void }) {
  const [name, setName] = useState('')
  const [scopes, setScopes] = useState<readonly Scope[]>(['read'])
  const [days, setDays] = useState<number>(90)
  const make = useMutation({
    mutationFn: () => api.post<Made>('tokens', { name, scopes: [...scopes], days } satisfies Wish),
    onSuccess: (token) => {
      done({ ...token, name })
      setName('')
      setScopes(['read'])
    },
  })
  const of = (field: string) =>
    make.error instanceof ApiError ? make.error.errors.find((problem) => problem.field === field)?.sentence : undefined
  const inField = of('name') ?? of('scopes')
  return (
    <Form
      className="automation-new"
      onSubmit={(event: FormEvent) => {
        event.preventDefault()
        make.mutate()
      }}
    >
      <h3>New token</h3>
      <TextField id="token-name" label="What it is for" value={name} change={setName} problem={of('name')} />
      <fieldset>
        <legend>It may</legend>
        {SCOPES.map((scope) => (
          <Form.Check
            key={scope}
            type="checkbox"
            id={`scope-${scope}`}
            label={DOES[scope]}
            checked={scopes.includes(scope)}
            onChange={({ target }) =>
              setScopes(target.checked ? [...scopes, scope] : scopes.filter((other) => other !== scope))
            }
          />
        ))}
        {of('scopes') && <p className="bad">{of('scopes')}</p>}
      </fieldset>
      <Form.Group controlId="token-days" className="automation-days">
        <Form.Label>It ends after</Form.Label>
        <Form.Select value={days} onChange={({ target }) => setDays(Number(target.value))}>
          {DAYS.map((one) => (
            <option key={one} value={one}>
              {one === 366 ? 'a year' : `${one} days`}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      {make.error && !inField && <Notice kind="bad">{sentenceOf(make.error)}</Notice>}
      <Button type="submit" disabled={make.isPending}>
        Make the token
      </Button>
    </Form>
  )
}
