import type { DataSource } from 'typeorm'
import { ProblemException } from './problemDetails.js'

const WINDOW = '15 minutes'

/**
 * Counts what a stranger may do only so often within a quarter of an hour, by what it is about (an account, an address, a
 * code); refuses it beyond the limit.
 */
export async function holdBack(source: DataSource, kind: string, key: string, limit: number): Promise<void> {
  await refuseIfOften(source, kind, key, limit)
  await noteAttempt(source, kind, key)
}

/** Refuses what failed too often before; for what a whole class does from one address, where only failures count. */
export async function refuseIfOften(source: DataSource, kind: string, key: string, limit: number): Promise<void> {
  const [found] = await source.query<{ n: number }[]>(
    `SELECT count(*)::int AS n FROM stranger_attempt WHERE kind = $1 AND key = $2 AND at > now() - interval '${WINDOW}'`,
    [kind, key],
  )
  if (found!.n >= limit)
    throw new ProblemException(
      429,
      'too-many-attempts',
      'This was asked for too often. Wait a quarter of an hour, then try again.',
    )
}

export async function noteAttempt(source: DataSource, kind: string, key: string): Promise<void> {
  await source.query('INSERT INTO stranger_attempt (kind, key) VALUES ($1, $2)', [kind, key])
  await source.query(`DELETE FROM stranger_attempt WHERE at < now() - interval '1 day'`)
}
