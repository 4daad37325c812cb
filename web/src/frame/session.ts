import { type UseQueryResult, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { api } from '../ui/api'
import { writeTimesAs } from '../ui/time'
import type { Answers, PersonSignedIn } from '../contract'

/** The person who is signed in. */
export type SignedIn = PersonSignedIn

export type SessionAnswer = Answers['GET session']

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
