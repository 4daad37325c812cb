import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import type { CopyView } from '../live/openCopy'
import type { CopyPageData } from './queries'
import './handedBack.css'

type Checks = Readonly<Record<string, boolean>>

/** Which answers of a copy are right, for whoever writes in it where its slip says so; null: they are not told. */
export function useChecks(data: CopyPageData, view: CopyView | undefined): Checks | null {
  const client = useQueryClient()
  const state = view?.state ?? null
  // Submitted elsewhere, or taken back: what may be told is another.
  const isOther = state !== null && state !== data.state
  useEffect(() => {
    if (isOther) void client.invalidateQueries({ queryKey: ['copy', data.id] })
  }, [isOther, client, data.id, state])
  return data.checks && (view?.checks ?? data.checks)
}

/** `5 of 9 answers are right so far`. */
export function checkedInWords(checks: Checks): string {
  const all = Object.values(checks)
  const right = all.filter(Boolean).length
  return all.length === 0
    ? 'This sheet checks itself: what is right is said beside each answer.'
    : `${right} of ${all.length} checked ${all.length === 1 ? 'answer is' : 'answers are'} right.`
}

/** Whether an answer is right, under it; nothing where it cannot be told. */
export function Checked({ right }: { readonly right: boolean | undefined }) {
  if (right === undefined) return null
  return (
    <span className={right ? 'checked checked-right' : 'checked checked-not'}>{right ? 'right' : 'not right yet'}</span>
  )
}
