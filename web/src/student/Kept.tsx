import { isFound } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import type { Answers } from '../contract'
import { Notice } from '../ui/Notice'
import { SheetMark } from '../ui/SheetMark'
import { api, sentenceOf } from '../ui/api'
import { inkName } from '../ui/inks'
import { exactTime, timeInWords } from '../ui/time'

const KEPT_KEY = ['to-keep']

type KeptCopies = Answers['GET to-keep']

export const useKept = (enabled: boolean) =>
  useQuery({
    queryKey: KEPT_KEY,
    queryFn: () => api.get<KeptCopies>('to-keep'),
    enabled,
    refetchInterval: 60_000,
    staleTime: 0,
  })

/** What of it is found by words. */
export const keptFound = (kept: KeptCopies, find: string): KeptCopies =>
  kept.filter(({ worksheet, handout, class: className, subject }) =>
    isFound([worksheet, handout, className, subject].join(' '), find),
  )

/** What a student was given to keep: theirs, also when the class has ended. */
export function Kept({ kept, now }: { readonly kept: KeptCopies; readonly now: number }) {
  return (
    <section>
      <h1>Kept</h1>
      <p className="soft">Given to you to keep: go on in it as you like, and save it. Only you see it.</p>
      <ul className="my-copies">
        {kept.map((one) => (
          <li key={one.id} data-ink={inkName(one.ink)}>
            <Link to={one.copyId ? `/copies/${one.copyId}` : `/kept/${one.id}`}>
              <SheetMark silent state="opened" size={24} />
              <span className="my-copy-title">
                <strong>{one.worksheet}</strong>
                <span className="soft">
                  {one.handout !== one.worksheet && `${one.handout} · `}No. {one.number} · {one.class}, {one.subject}{' '}
                  {one.year}
                </span>
              </span>
              <span className="my-copy-state">
                {one.copyId === null ? 'new' : one.lastActivityAt === null ? 'as it was given' : 'gone on with'}
              </span>
              <span className="my-copy-due">
                <span title={exactTime(one.at)}>given {timeInWords(one.at, now)}</span>
                <span className="soft">
                  by <bdi>{one.by}</bdi>
                </span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** Opened the first time, a copy to keep is made as it was when it was given. */
export default function OpenKept() {
  const { keptId } = useParams()
  const client = useQueryClient()
  const navigate = useNavigate()
  const { mutate, error } = useMutation({
    mutationFn: () => api.post<Answers['POST to-keep/{keptId}/copy']>(`to-keep/${keptId}/copy`),
    onSuccess: async ({ copyId }) => {
      await client.invalidateQueries({ queryKey: KEPT_KEY })
      await navigate(`/copies/${copyId}`, { replace: true })
    },
  })
  useEffect(() => mutate(), [mutate])
  return error ? (
    <main className="class-link">
      <Notice kind="bad">{sentenceOf(error)}</Notice>
      <Link to="/">Back to my desk</Link>
    </main>
  ) : (
    <p className="page-message loading">One moment …</p>
  )
}
