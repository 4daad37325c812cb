import type { ClassRole } from '@gavrin/core'
import { type UseQueryResult, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { useLocation } from 'react-router'
import { useIntendedClass } from './intended'
import { live } from '../live/connection'
import { api } from '../ui/api'
import { remember, remembered } from '../ui/cookies'
import { readAgain } from './whileWriting'
import type { Answers } from '../contract'

export type ClassListed = Answers['GET classes'][number]

export interface StaffMember {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly canSignIn: boolean
  readonly role: ClassRole
  readonly studentIds: readonly string[]
}

export interface Unit {
  readonly id?: string
  readonly name: string
}

/** A class, as its staff sees it. */
export type ClassOpened = Extract<Answers['GET classes/{classId}'], { readonly columns: unknown }>

export type Student = Answers['GET classes/{classId}/roster'][number]

export type GroupSet = Answers['GET classes/{classId}/group-sets'][number]

export const classKey = (classId: string) => ['class', classId] as const
export const rosterKey = (classId: string) => ['class', classId, 'roster'] as const
export const groupsKey = (classId: string) => ['class', classId, 'groups'] as const
export const joinKey = (classId: string) => ['class', classId, 'join page'] as const

export function useClasses(): UseQueryResult<ClassListed[]> {
  return useQuery({ queryKey: ['classes'], queryFn: () => api.get<ClassListed[]>('classes') })
}

export function useClass(classId: string): UseQueryResult<ClassOpened> {
  return useQuery({ queryKey: classKey(classId), queryFn: () => api.get<ClassOpened>(`classes/${classId}`) })
}

export function useRoster(classId: string): UseQueryResult<Student[]> {
  return useQuery({ queryKey: rosterKey(classId), queryFn: () => api.get<Student[]>(`classes/${classId}/roster`) })
}

export function useGroupSets(classId: string): UseQueryResult<GroupSet[]> {
  return useQuery({ queryKey: groupsKey(classId), queryFn: () => api.get<GroupSet[]>(`classes/${classId}/group-sets`) })
}

/** Reads again what colleagues change in a class while its pages are open. */
export function useClassWatch(classId: string): void {
  const client = useQueryClient()
  useEffect(
    () =>
      live().watchClass(classId, (part) => {
        if (part === 'everything') readAgain(client, classKey(classId))
        else if (part === 'class') {
          readAgain(client, classKey(classId), true)
          readAgain(client, ['classes'])
        } else readAgain(client, ['class', classId, part])
      }),
    [client, classId],
  )
}

/** The class that the address speaks of, else the one that was looked at last, else the first that is not archived. */
export function useCurrentClass(): ClassListed | undefined {
  const { pathname } = useLocation()
  const { data } = useClasses()
  const inAddress = /^\/class\/([^/]+)/.exec(pathname)?.[1]
  useEffect(() => {
    if (inAddress) remember('class', inAddress)
  }, [inAddress])
  const intended = useIntendedClass(pathname)
  const found = data?.find(({ id }) => id === (intended ?? inAddress))
  if (found) return found
  const current = data?.filter(({ archived }) => !archived)
  const last = remembered('class')
  return current?.find(({ id }) => id === last) ?? current?.find(({ role }) => role === 'lead') ?? current?.[0]
}
