import { type Viewer, scopeFor } from '@gavrin/core'
import { createHash } from 'node:crypto'
import type { Request } from 'express'
import type { DataSource } from 'typeorm'
import { Bucket } from '../common/bucket.js'
import { ProblemException } from '../common/problemDetails.js'
import { roleInSchool, useToken } from './access.queries.js'
import { type Growing, noteAttempt, slowDown } from './attempts.js'

/** What all tokens begin with: found where one was left lying in a script. */
export const TOKEN_MARK = 'gavrin_'
const TOKEN = /^Bearer (gavrin_[A-Za-z0-9_-]{43})$/
/** Tokens that are none, from one place. */
const WRONG: Growing = { free: 30, first: 1, most: 60 }
/** Requests of one token a second, and in one burst. */
const RATE = { second: 10, burst: 100 }
/** After this time a rate is full again, in milliseconds. */
const FORGET = 60_000

export const hashOf = (token: string): Buffer => createHash('sha256').update(token).digest()

const rates = new Map<string, { readonly bucket: Bucket; usedAt: number }>()

/** Whoever acts by a token, if the request has one; refuses what the token is not for. */
export async function viewerOfToken(source: DataSource, request: Request): Promise<Viewer | null> {
  const said = request.headers.authorization
  if (said === undefined) return null
  const from = request.ip ?? ''
  await slowDown(source, 'token', from, WRONG)
  const token = TOKEN.exec(said)?.[1]
  const found = token ? await useToken(source, hashOf(token)) : null
  const role = found && (await roleInSchool(source, found.schoolId, found.personId))
  if (!found || !role) {
    await noteAttempt(source, 'token', from)
    throw new ProblemException(401, 'token-unknown', 'This token is not known, has ended, or was taken back.')
  }
  holdRate(found.id)
  const scope = scopeFor(request.method, request.path.replace(/^\/?(api\/)?/, ''))
  if (scope === null)
    throw new ProblemException(403, 'not-by-token', 'This is done by people who are signed in, not by a token.')
  if (!found.scopes.includes(scope))
    throw new ProblemException(403, 'token-scope', `This token is not for that: it needs “${scope}”.`)
  return { schoolId: found.schoolId, personId: found.personId, role }
}

/** A program that asks more than others can be served is told to wait. */
function holdRate(tokenId: string): void {
  const now = Date.now()
  for (const [id, { usedAt }] of rates) if (now - usedAt > FORGET) rates.delete(id)
  const rate = rates.get(tokenId) ?? { bucket: new Bucket(RATE.second, RATE.burst), usedAt: now }
  rates.set(tokenId, rate)
  rate.usedAt = now
  const wait = rate.bucket.take(0)
  if (wait <= 0) return void rate.bucket.take(1)
  throw new ProblemException(
    429,
    'wait-your-turn',
    `A token makes up to ${RATE.second} requests a second: wait a moment.`,
    { retryAfter: Math.max(1, Math.ceil(wait / 1_000)) },
  )
}
