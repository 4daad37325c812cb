import { createHash, randomBytes } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { LINK_DAYS } from './letters.js'
import { dropLinks, linkByToken } from './mail.queries.js'
import { inSchool } from '../database/inSchool.js'
import { AccountLink } from './mail.entity.js'

const hashOf = (token: string) => createHash('sha256').update(token).digest('hex')

/** A new link for somebody to set a password with; earlier ones of the same purpose stop working. Its token is not kept. */
export async function newAccountLink(
  database: DataSource | EntityManager,
  schoolId: string,
  personId: string,
  purpose: 'invitation' | 'new password',
): Promise<string> {
  const token = randomBytes(32).toString('base64url')
  await dropLinks(database, schoolId, personId, purpose)
  await inSchool(database, schoolId).insert(AccountLink, {
    tokenHash: hashOf(token),
    personId,
    purpose,
    expiresAt: () => `now() + interval '${LINK_DAYS[purpose]} days'`,
  })
  return token
}

/** Whose password a token sets; null if it never did or does no longer. */
export async function personOfLink(
  database: DataSource | EntityManager,
  token: string,
): Promise<{ schoolId: string; personId: string; purpose: string } | null> {
  const [link] = await linkByToken(database, hashOf(token))
  return link ?? null
}
