import { type UseQueryResult, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { api } from './api'

/** The person who is signed in. */
export interface SignedIn {
  readonly id: string
  readonly role: 'office' | 'teacher' | 'student' | 'guest'
  readonly first: string
  readonly last: string
  readonly email: string
  readonly school: string
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

export function useSession(): UseQueryResult<SessionAnswer> {
  const client = useQueryClient()
  useEffect(() => {
    const ended = () => void client.invalidateQueries({ queryKey: KEY })
    window.addEventListener('gavrin:signed-out', ended)
    return () => window.removeEventListener('gavrin:signed-out', ended)
  }, [client])
  return useQuery({ queryKey: KEY, queryFn: () => api.get<SessionAnswer>('session'), staleTime: 60_000 })
}
