import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { CopyLine } from '../ui/CopyLine'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { TextField } from '../ui/TextField'
import { ApiError, api, sentenceOf } from '../ui/api'
import { sinceInWords, timeInWords } from '../ui/time'
import { useNow } from '../ui/useNow'

type Hook = Answers['GET webhooks'][number]
type Made = Answers['POST webhooks']
type Wish = Bodies['POST webhooks']
type Kind = Wish['kinds'][number]

const KEY = ['webhooks']
const KINDS: readonly Kind[] = [
  ...(['handed out', 'opened', 'submitted', 'taken back', 'pens down', 'pens up'] as const),
  ...(['set aside', 'brought back', 'marked', 'handed back'] as const),
]

/** The addresses that are told what happens in one's classes. */
export function Webhooks() {
  const client = useQueryClient()
  const hooks = useQuery({ queryKey: KEY, queryFn: () => api.get<Hook[]>('webhooks'), staleTime: 0 })
  const [made, setMade] = useState<Made | null>(null)
  const renew = () => client.invalidateQueries({ queryKey: KEY })
  const again = useMutation({ mutationFn: (id: string) => api.post(`webhooks/${id}/again`), onSettled: renew })
  const remove = useMutation({
    mutationFn: (id: string) => api.delete(`webhooks/${id}`),
    onSuccess: (_, id) => {
      if (made?.id === id) setMade(null)
    },
    onSettled: renew,
  })
  const problem = again.error ?? remove.error
  return (
    <section aria-labelledby="webhooks-title">
      <h2 id="webhooks-title">Addresses that are told what happens</h2>
      <p className="soft">
        On the internet alone, never in the network of the school. Each message is signed; what is not taken is sent
        again with growing pauses, and given up after fifteen times. Who needs no address asks for{' '}
        <code>/api/events</code>.
      </p>
      {made && (
        <Notice kind="plain">
          The secret with which messages to it are signed. It is shown this once.
          <CopyLine label="Secret of the address" text={made.secret} />
        </Notice>
      )}
      {problem && <Notice kind="bad">{sentenceOf(problem)}</Notice>}
      <Loaded query={hooks}>
        {(all) => (
          <List
            all={all}
            isBusy={again.isPending || remove.isPending}
            again={(id) => again.mutate(id)}
            remove={(id) => remove.mutate(id)}
          />
        )}
      </Loaded>
      <NewHook
        done={(hook) => {
          setMade(hook)
          void renew()
        }}
      />
    </section>
  )
}

interface ListProps {
  readonly all: readonly Hook[]
  readonly isBusy: boolean
  readonly again: (id: string) => void
  readonly remove: (id: string) => void
}

function List({ all, isBusy, again, remove }: ListProps) {
  const now = useNow()
  if (all.length === 0) return <p className="soft">No address yet.</p>
  return (
    <table className="grid automation-list">
      <thead>
        <tr>
          <th scope="col">Address</th>
          <th scope="col">Told of</th>
          <th scope="col">Last message</th>
          <th scope="col">
            <span className="visually-hidden">Do</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {all.map((hook) => (
          <tr key={hook.id}>
            <td className="automation-address">{hook.address}</td>
            <td>{hook.kinds.join(', ')}</td>
            <td className={hook.problem ? 'bad' : undefined}>{stateInWords(hook, now)}</td>
            <td className="automation-acts">
              {hook.problem !== null && (
                <Button size="sm" variant="link" disabled={isBusy} onClick={() => again(hook.id)}>
                  Try now
                </Button>
              )}
              <Button size="sm" variant="link" disabled={isBusy} onClick={() => remove(hook.id)}>
                Remove
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function stateInWords({ lastAt, problem, failures, stoppedAt, nextAt }: Hook, now: number): string {
  if (lastAt === null) return stoppedAt === null ? 'none yet' : (problem ?? '')
  if (problem === null) return `taken ${sinceInWords(lastAt, now)}`
  const times = failures === 1 ? 'once' : `${failures} times`
  return stoppedAt === null
    ? `${problem} Tried ${times}, next ${timeInWords(Math.max(nextAt, now), now)}.`
    : `${problem} Given up after ${times}.`
}

function NewHook({ done }: { readonly done: (hook: Made) => void }) {
  const [address, setAddress] = useState('')
  const [kinds, setKinds] = useState<readonly Kind[]>(['submitted', 'taken back'])
  const add = useMutation({
    mutationFn: () => api.post<Made>('webhooks', { address, kinds: [...kinds] } satisfies Wish),
    onSuccess: (hook) => {
      done(hook)
      setAddress('')
    },
  })
  const of = (field: string) =>
    add.error instanceof ApiError ? add.error.errors.find((problem) => problem.field === field)?.sentence : undefined
  const inField = of('address') ?? of('kinds')
  return (
    <Form
      className="automation-new"
      onSubmit={(event: FormEvent) => {
        event.preventDefault()
        add.mutate()
      }}
    >
      <h3>New address</h3>
      <TextField
        id="webhook-address"
        label="Address, beginning with https://"
        value={address}
        change={setAddress}
        problem={of('address')}
      />
      <fieldset className="automation-kinds">
        <legend>It is told when a copy is</legend>
        {KINDS.map((kind) => (
          <Form.Check
            key={kind}
            inline
            type="checkbox"
            id={`kind-${kind}`}
            label={kind.replace('pens', 'with pens')}
            checked={kinds.includes(kind)}
            onChange={({ target }) =>
              setKinds(target.checked ? [...kinds, kind] : kinds.filter((other) => other !== kind))
            }
          />
        ))}
        {of('kinds') && <p className="bad">{of('kinds')}</p>}
      </fieldset>
      {add.error && !inField && <Notice kind="bad">{sentenceOf(add.error)}</Notice>}
      <Button type="submit" disabled={add.isPending}>
        Add the address
      </Button>
    </Form>
  )
}
