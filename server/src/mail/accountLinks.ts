import { createHash, randomBytes } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { LINK_DAYS } from './letters.js'

const hashOf = (token: string) => createHash('sha256').update(token).digest('hex')

/** A new link for somebody to set a password with; earlier ones of the same purpose stop working. Its token is not kept. */
export async function newAccountLink(
  database: DataSource | EntityManager,
  schoolId: string,
  personId: string,
  purpose: 'invitation' | 'new password',
): Promise<string> {
  const token = randomBytes(32).toString('base64url')
  await database.query(
    'DELETE FROM account_link WHERE school_id = $1 AND person_id = $2 AND (purpose = $3 OR expires_at < now())',
    [schoolId, personId, purpose],
  )
  await database.query(
    'INSERT INTO account_link (school_id, token_hash, person_id, purpose, expires_at) VALUES ($1, $2, $3, $4, now() + make_interval(days => $5))',
    [schoolId, hashOf(token), personId, purpose, LINK_DAYS[purpose]],
  )
  return token
}

/** Whose password a token sets; null if it never did or does no longer. */
export async function personOfLink(
  database: DataSource | EntityManager,
  token: string,
): Promise<{ schoolId: string; personId: string; purpose: string } | null> {
  const [link] = await database.query<{ schoolId: string; personId: string; purpose: string }[]>(
    `SELECT school_id AS "schoolId", person_id AS "personId", purpose FROM account_link WHERE token_hash = $1 AND expires_at > now()`,
    [hashOf(token)],
  )
  return link ?? null
}
