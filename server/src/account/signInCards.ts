import { randomInt } from 'node:crypto'
import type { DataSource } from 'typeorm'
import { hashPassword } from './signIn.service.js'

/** What a student needs to sign in for the first time, to be printed and cut. */
export interface SignInCard {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string
  readonly password: string
}

/** Cards made in one go; a class of more makes them in several. */
export const CARD_LIMIT = 100

// Easy to read out and to type: no letters that look like digits, none that only some keyboards have.
const LETTERS = 'abcdefghkmnpqrstuwxyz'
const DIGITS = '23456789'

/** Three groups of four characters: about 50 bits. */
function startPassword(): string {
  const pick = (from: string, count: number) =>
    Array.from({ length: count }, () => from[randomInt(from.length)]).join('')
  return `${pick(LETTERS, 4)}-${pick(LETTERS, 4)}-${pick(DIGITS, 4)}`
}

/**
 * Gives a start password to students of a class who have an e-mail and no password yet. It is shown this once; only its
 * hash is kept. Nobody's password is ever replaced.
 */
export async function makeSignInCards(source: DataSource, schoolId: string, classId: string): Promise<SignInCard[]> {
  const students = await source.query<Omit<SignInCard, 'password'>[]>(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.email
       FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
      WHERE m.school_id = $1 AND m.class_id = $2 AND m.role = 'student' AND m.left_at IS NULL
        AND p.email IS NOT NULL AND p.password_hash IS NULL
      ORDER BY p.last_name, p.first_name LIMIT ${CARD_LIMIT}`,
    [schoolId, classId],
  )
  const cards = students.map((student) => ({ ...student, password: startPassword() }))
  const hashes = await Promise.all(cards.map(({ password }) => hashPassword(password)))
  const [given] = await source.query<[{ id: string }[]]>(
    `UPDATE person p SET password_hash = n.hash FROM unnest($2::uuid[], $3::text[]) AS n(id, hash)
      WHERE p.school_id = $1 AND p.id = n.id AND p.password_hash IS NULL RETURNING p.id`,
    [schoolId, cards.map(({ personId }) => personId), hashes],
  )
  const done = new Set(given.map(({ id }) => id))
  return cards.filter(({ personId }) => done.has(personId))
}
