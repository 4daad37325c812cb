import type { DataSource } from 'typeorm'
import { ProblemException } from '../common/problemDetails.js'
import { type Failures, attemptsOf, forgetOldAttempts } from './access.queries.js'
import { StrangerAttempt } from './access.entity.js'

/** From which failure on one has to wait, how long at first, and how long at most; each failure doubles it. */
export interface Growing {
  readonly free: number
  readonly first: number
  readonly most: number
}

/** Seconds until the next attempt: it grows with the failures, and is over by itself. Nobody is ever locked out. */
export function waitAfter({ count, sinceLast }: Failures, { free, first, most }: Growing): number {
  if (count < free || sinceLast === null) return 0
  const wait = Math.min(most, first * 2 ** Math.min(count - free, 20))
  return Math.max(0, Math.ceil(wait - sinceLast))
}

/** Refuses for so many seconds; the answer says how many. */
export function holdOff(seconds: number): void {
  if (seconds <= 0) return
  throw new ProblemException(
    429,
    'too-many-attempts',
    `There were many attempts. Wait ${seconds === 1 ? 'a second' : `${seconds} seconds`}, then try again.`,
    { retryAfter: seconds },
  )
}

/**
 * Counts what a stranger does within a quarter of an hour, by what it is about (an account, an address, a code), and slows it
 * down beyond a number.
 */
export async function holdBack(source: DataSource, kind: string, key: string, growing: Growing): Promise<void> {
  await slowDown(source, kind, key, growing)
  await noteAttempt(source, kind, key)
}

/** Slows down what failed often before; for what a whole class does from one address, where only failures count. */
export async function slowDown(source: DataSource, kind: string, key: string, growing: Growing): Promise<void> {
  const [found] = await attemptsOf(source, kind, key)
  holdOff(waitAfter(found!, growing))
}

export async function noteAttempt(source: DataSource, kind: string, key: string): Promise<void> {
  await source.manager.insert(StrangerAttempt, { kind, key })
  await forgetOldAttempts(source)
}
