import { type UseQueryResult, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { api } from './api'
import { writeTimesAs } from './time'

/** The person who is signed in. */
export interface SignedIn {
  readonly id: string
  readonly role: 'office' | 'teacher' | 'student' | 'guest'
  readonly first: string
  readonly last: string
  readonly email: string
  readonly school: string
  /** IANA time zone of the school. */
  readonly timeZone: string
  /** BCP 47 language tag of the school. */
  readonly locale: string
}

export interface DemoPerson {
  readonly email: string
  readonly first: string
  readonly last: string
  readonly role: SignedIn['role']
  readonly classes: string
}

export interface SessionAnswer {
  readonly person: SignedIn | null
  /** In demo mode only. */
  readonly demo?: { readonly password: string; readonly people: readonly DemoPerson[] }
}

const KEY = ['session']

/** Times are written as the school of whoever is signed in writes them; a page for all says itself whose they are. */
export function hear(answer: SessionAnswer): SessionAnswer {
  if (answer.person) writeTimesAs(answer.person)
  return answer
}

export function useSession(): UseQueryResult<SessionAnswer> {
  const client = useQueryClient()
  useEffect(() => {
    const ended = () => void client.invalidateQueries({ queryKey: KEY })
    window.addEventListener('gavrin:signed-out', ended)
    return () => window.removeEventListener('gavrin:signed-out', ended)
  }, [client])
  return useQuery({
    queryKey: KEY,
    queryFn: async () => hear(await api.get<SessionAnswer>('session')),
    staleTime: 60_000,
  })
}
