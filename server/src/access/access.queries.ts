import type { ClassRole, Scope, Viewer } from '@gavrin/core'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'

/** What failed before within the window. */
export interface Failures {
  readonly count: number
  /** Seconds since the last of them; null: none. */
  readonly sinceLast: number | null
}

export const WINDOW = '15 minutes'

/** How often something was tried of late by the same, and how long ago the last try was. Raw: counts, across schools. */
export function attemptsOf(database: Database, kind: string, key: string): Promise<Failures[]> {
  return anySchool(database).rows<Failures>(
    `SELECT count(*)::int AS count, extract(epoch FROM now() - max(at))::float8 AS "sinceLast" FROM stranger_attempt
      WHERE kind = $1 AND key = $2 AND at > now() - interval '${WINDOW}'`,
    kind,
    key,
  )
}

/** Tries of more than a day ago go. Raw: across schools. */
export function forgetOldAttempts(database: Database): Promise<number> {
  return anySchool(database).write(`DELETE FROM stranger_attempt WHERE at < now() - interval '1 day'`)
}

/** What somebody is in a class, and whether they left or it was put away. Raw: two tables, at every request. */
export function roleInClass(
  database: Database,
  schoolId: string,
  classId: string,
  personId: string,
): Promise<{ role: ClassRole; gone: boolean; archived: boolean; helpersMark: boolean }[]> {
  return inSchool(database, schoolId).rows<{ role: ClassRole; gone: boolean; archived: boolean; helpersMark: boolean }>(
    `SELECT m.role, m.left_at IS NOT NULL AS gone, c.archived_at IS NOT NULL AS archived, c.helpers_mark AS "helpersMark"
       FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
      WHERE m.school_id = $1 AND m.class_id = $2 AND m.person_id = $3`,
    classId,
    personId,
  )
}

/** What somebody is in the school; undefined: they are not of it. Raw: at every request. */
export async function roleInSchool(
  database: Database,
  schoolId: string,
  personId: string,
): Promise<Viewer['role'] | undefined> {
  const [person] = await inSchool(database, schoolId).rows<{ role: Viewer['role'] }>(
    'SELECT role FROM person WHERE school_id = $1 AND id = $2',
    personId,
  )
  return person?.role
}

/** Whose a token is, and what it is for. */
export interface TokenFound {
  readonly schoolId: string
  readonly id: string
  readonly personId: string
  readonly scopes: readonly Scope[]
}

/** Whose a token is, by its hash, and notes that it is used. Raw: across schools; changes a row once a minute. */
export async function useToken(database: Database, hash: Buffer): Promise<TokenFound | null> {
  const [found] = await anySchool(database).rows<TokenFound>(
    `WITH found AS (SELECT school_id, id, person_id, scopes, used_at FROM access_token WHERE hash = $1 AND ends_at > now()),
       noted AS (UPDATE access_token t SET used_at = now() FROM found f
                  WHERE t.school_id = f.school_id AND t.id = f.id AND (f.used_at IS NULL OR f.used_at < now() - interval '1 minute'))
     SELECT school_id AS "schoolId", id, person_id AS "personId", scopes FROM found`,
    hash,
  )
  return found ?? null
}
