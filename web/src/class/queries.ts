import type { ClassRole } from '@gavrin/core'
import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { useLocation } from 'react-router'
import { api } from '../ui/api'

export interface ClassListed {
  readonly id: string
  readonly name: string
  readonly subject: string
  readonly year: string
  readonly ink: string
  readonly role: ClassRole
  readonly students: number
}

export interface ClassOpened extends Omit<ClassListed, 'students'> {
  readonly staff: readonly { readonly first: string; readonly last: string; readonly role: ClassRole }[]
}

export interface Student {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly joinedAt: number
  readonly leftAt: number | null
  readonly canSignIn: boolean
}

export const classKey = (classId: string) => ['class', classId] as const
export const rosterKey = (classId: string) => ['class', classId, 'roster'] as const

export function useClasses(): UseQueryResult<ClassListed[]> {
  return useQuery({ queryKey: ['classes'], queryFn: () => api.get<ClassListed[]>('classes') })
}

export function useClass(classId: string): UseQueryResult<ClassOpened> {
  return useQuery({ queryKey: classKey(classId), queryFn: () => api.get<ClassOpened>(`classes/${classId}`) })
}

export function useRoster(classId: string): UseQueryResult<Student[]> {
  return useQuery({ queryKey: rosterKey(classId), queryFn: () => api.get<Student[]>(`classes/${classId}/roster`) })
}

const REMEMBERED = 'gavrin.class'

/** The class that the address speaks of, else the one that was looked at last, else the first. */
export function useCurrentClass(): ClassListed | undefined {
  const { pathname } = useLocation()
  const { data } = useClasses()
  const inAddress = /^\/class\/([^/]+)/.exec(pathname)?.[1]
  useEffect(() => {
    if (inAddress) localStorage.setItem(REMEMBERED, inAddress)
  }, [inAddress])
  const wanted = inAddress ?? localStorage.getItem(REMEMBERED)
  return data?.find(({ id }) => id === wanted) ?? data?.find(({ role }) => role === 'lead') ?? data?.[0]
}
