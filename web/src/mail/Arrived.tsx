import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { ApiError, api } from '../ui/api'
import { sinceInWords } from '../ui/time'
import { useNow } from '../ui/useNow'
import type { Answers } from '../contract'

type Letter = Answers['GET mail/stand-in'][number]

const FRESH = 3_000

/** What the stand-in for a mail server took in, as far as it is the business of whoever looks. Only the demo shows it. */
export function Arrived({ folded = false }: { readonly folded?: boolean }) {
  const now = useNow()
  const letters = useQuery({
    queryKey: ['mail', 'stand-in'],
    queryFn: () => api.get<Letter[]>('mail/stand-in').catch(notThere),
    refetchInterval: FRESH,
  })
  const [open, setOpen] = useState<string | null>(null)
  if (!letters.data) return null
  const list = (
    <section aria-labelledby="arrived-title" tabIndex={0}>
      <h2 id="arrived-title">As it arrives</h2>
      <p className="soft">This is the demo: messages reach nobody but this page.</p>
      <ul className="list-unstyled">
        {letters.data.slice(0, 30).map(({ id, at, recipient, subject, body }) => (
          <li key={id} className="mb-2">
            <Button
              size="sm"
              variant="link"
              aria-expanded={open === id}
              onClick={() => setOpen(open === id ? null : id)}
            >
              {recipient}
            </Button>{' '}
            <span className="soft">
              {subject} · {sinceInWords(at, now)}
            </span>
            {open === id && <p className="letter">{linked(body)}</p>}
          </li>
        ))}
        {letters.data.length === 0 && <li className="soft">Nothing has arrived yet.</li>}
      </ul>
    </section>
  )
  return folded ? (
    <details className="arrived">
      <summary>The demo’s post: {letters.data.length}</summary>
      {list}
    </details>
  ) : (
    list
  )
}

const notThere = (error: unknown): null => {
  if (error instanceof ApiError && error.status === 404) return null
  throw error
}

const linked = (body: string) =>
  body.split(/(https?:\/\/\S+)/).map((part, at) =>
    at % 2 ? (
      <a key={at} href={part} target="_blank" rel="noreferrer">
        {part}
      </a>
    ) : (
      part
    ),
  )
