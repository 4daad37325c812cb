import { type Viewer } from '@gavrin/core'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'

/** Whose password a link sets. */
export interface LinkHolder {
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly school: string
  readonly purpose: string
}

export interface Candidate {
  readonly school_id: string
  readonly id: string
  readonly role: Viewer['role']
  readonly password_hash: string
  /** Signed in from this browser, or this address, before. */
  readonly device_known: boolean
  readonly address_known: boolean
}

/** Somebody who is signed in, with what their pages need to know of the school. */
export interface PersonSignedIn {
  readonly id: string
  readonly role: Viewer['role']
  readonly first: string
  readonly last: string
  readonly email: string | null
  /** The name of the school. */
  readonly school: string
  readonly timeZone: string
  readonly locale: string
}

export const WINDOW = '1 hour'

/** Cards made in one go; a class of more makes them in several. */
export const CARD_LIMIT = 100

/** Who has an e-mail address; in several schools it may be several people. Raw: across schools. */
export function peopleOfAddress(
  database: Database,
  key: string,
): Promise<{ schoolId: string; personId: string; address: string; invited: boolean }[]> {
  return anySchool(database).rows<{ schoolId: string; personId: string; address: string; invited: boolean }>(
    `SELECT school_id AS "schoolId", id AS "personId", email AS address, password_hash IS NULL AS invited FROM person WHERE email_key = $1`,
    key,
  )
}

/** Whose link it is. Raw: two tables. */
export function personAndSchool(
  database: Database,
  schoolId: string,
  personId: string,
): Promise<Omit<LinkHolder, 'purpose'>[]> {
  return inSchool(database, schoolId).rows<Omit<LinkHolder, 'purpose'>>(
    `SELECT p.first_name AS first, p.last_name AS last, p.email, s.name AS school FROM person p JOIN school s ON s.id = p.school_id WHERE p.school_id = $1 AND p.id = $2`,
    personId,
  )
}

/** Who may be meant by what was typed, and whether this browser is known to be theirs. Raw: across schools, three tables. */
export function candidatesFor(
  database: Database,
  {
    key,
    cardName,
    device,
    address,
  }: { readonly key: string; readonly cardName: string; readonly device: string | null; readonly address: string },
): Promise<Candidate[]> {
  return anySchool(database).rows<Candidate>(
    `SELECT p.school_id, p.id, p.role, p.password_hash,
              EXISTS (SELECT 1 FROM known_device d WHERE d.school_id = p.school_id AND d.person_id = p.id AND d.mark_hash = $3) AS device_known,
              EXISTS (SELECT 1 FROM known_device d WHERE d.school_id = p.school_id AND d.person_id = p.id AND d.address = $4) AS address_known
         FROM person p WHERE (p.email_key = $1 OR p.card_name = $2) AND p.password_hash IS NOT NULL`,
    key,
    cardName,
    device,
    address,
  )
}

/** After a sign-in that succeeded those before it count no more. Raw: across schools. */
export function forgetFailures(
  database: Database,
  { key, address, device }: { readonly key: string; readonly address: string; readonly device: string | null },
): Promise<number> {
  return anySchool(database).write(
    'DELETE FROM sign_in_failure WHERE email_key = $1 AND (address = $2 OR mark_hash = $3)',
    key,
    address,
    device,
  )
}

/** Failures of more than a day ago go. Raw: across schools. */
export function forgetOldFailures(database: Database): Promise<number> {
  return anySchool(database).write(`DELETE FROM sign_in_failure WHERE at < now() - interval '1 day'`)
}

/** What a page knows of whoever is signed in. Raw: two tables. */
export function signedInPerson(database: Database, schoolId: string, personId: string): Promise<PersonSignedIn[]> {
  return inSchool(database, schoolId).rows<PersonSignedIn>(
    `SELECT p.id, p.role, p.first_name AS first, p.last_name AS last, p.email, s.name AS school, s.time_zone AS "timeZone", s.locale
         FROM person p JOIN school s ON s.id = p.school_id WHERE p.school_id = $1 AND p.id = $2`,
    personId,
  )
}

/** The newest 50 browsers of a person are known, for a year. Raw: a set less another one. */
export function forgetOldDevices(database: Database, schoolId: string, personId: string): Promise<number> {
  return inSchool(database, schoolId).write(
    `DELETE FROM known_device WHERE school_id = $1 AND person_id = $2 AND (at < now() - interval '1 year' OR mark_hash NOT IN (
         SELECT mark_hash FROM known_device WHERE school_id = $1 AND person_id = $2 ORDER BY at DESC LIMIT 50))`,
    personId,
  )
}

/** How many sign-ins failed of late from the same browser, address, or both, and seconds since the last of each. Raw: counts, across schools. */
export function failuresOf(
  database: Database,
  { key, address, device }: { readonly key: string; readonly address: string; readonly device: string | null },
): Promise<
  { pair: number; pairLast: number; device: number; deviceLast: number; address: number; addressLast: number }[]
> {
  return anySchool(database).rows<{
    pair: number
    pairLast: number
    device: number
    deviceLast: number
    address: number
    addressLast: number
  }>(
    `SELECT count(*) FILTER (WHERE mine AND mark_hash IS NULL AND address = $2)::int AS pair,
              extract(epoch FROM now() - max(at) FILTER (WHERE mine AND mark_hash IS NULL AND address = $2))::float8 AS "pairLast",
              count(*) FILTER (WHERE mine AND mark_hash = $3)::int AS device,
              extract(epoch FROM now() - max(at) FILTER (WHERE mine AND mark_hash = $3))::float8 AS "deviceLast",
              count(*) FILTER (WHERE mark_hash IS NULL AND address = $2)::int AS address,
              extract(epoch FROM now() - max(at) FILTER (WHERE mark_hash IS NULL AND address = $2))::float8 AS "addressLast"
         FROM (SELECT *, email_key = $1 AS mine FROM sign_in_failure WHERE at > now() - interval '${WINDOW}' AND (email_key = $1 OR address = $2)) f`,
    key,
    address,
    device,
  )
}

/** Students of a class who get a sign-in card. Raw: two tables. */
export function cardPeople(
  database: Database,
  schoolId: string,
  classId: string,
  personIds: readonly string[] | null,
): Promise<{ personId: string; first: string; last: string; had: string | null }[]> {
  return inSchool(database, schoolId).rows<{ personId: string; first: string; last: string; had: string | null }>(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.password_hash AS had
       FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
      WHERE m.school_id = $1 AND m.class_id = $2 AND m.role = 'student' AND m.left_at IS NULL
        AND ($3::uuid[] IS NULL OR p.id = ANY($3)) AND (p.password_hash IS NULL OR ($3 IS NOT NULL AND p.email IS NULL))
      ORDER BY p.last_name, p.first_name LIMIT ${CARD_LIMIT}`,
    classId,
    personIds,
  )
}

/** Sets many passwords, unless somebody set one meanwhile; whose. Raw: many rows at once. */
export function setPasswords(
  database: Database,
  schoolId: string,
  {
    ids,
    hashes,
    before,
  }: {
    readonly ids: readonly string[]
    readonly hashes: readonly string[]
    readonly before: readonly (string | null)[]
  },
): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    `UPDATE person p SET password_hash = n.hash FROM unnest($2::uuid[], $3::text[], $4::text[]) AS n(id, hash, had)
        WHERE p.school_id = $1 AND p.id = n.id AND p.password_hash IS NOT DISTINCT FROM n.had RETURNING p.id`,
    ids,
    hashes,
    before,
  )
}

/** Sets the password of one person; their name. Raw: changes and reads at once. */
export function setPasswordOf(
  database: Database,
  schoolId: string,
  personId: string,
  passwordHash: string,
): Promise<{ first: string; last: string }[]> {
  return inSchool(database, schoolId).rows<{ first: string; last: string }>(
    'UPDATE person SET password_hash = $3 WHERE school_id = $1 AND id = $2 RETURNING first_name AS first, last_name AS last',
    personId,
    passwordHash,
  )
}

/** The class that somebody is in, or was in last. Raw: its order is no column's. */
export function newestClassOf(database: Database, schoolId: string, personId: string): Promise<{ class_id: string }[]> {
  return inSchool(database, schoolId).rows<{ class_id: string }>(
    'SELECT class_id FROM class_member WHERE school_id = $1 AND person_id = $2 ORDER BY left_at IS NOT NULL, joined_at DESC LIMIT 1',
    personId,
  )
}

/** Takes the next number of a card. Raw: changes and reads at once. */
export function nextCardNumber(
  database: Database,
  schoolId: string,
  classId: string,
): Promise<{ code: string; number: number }[]> {
  return inSchool(database, schoolId).rows<{ code: string; number: number }>(
    'UPDATE class SET last_card_number = last_card_number + 1 WHERE school_id = $1 AND id = $2 RETURNING code, last_card_number AS number',
    classId,
  )
}
