import { type Statement, plainItem, plainStatement } from '@gavrin/core'
import { createHmac, randomUUID } from 'node:crypto'
import type pg from 'pg'

export const SECRET = 'a secret of the benches, long enough to pass'

/** A school in the database with a class of this many students, made by plain SQL. */
export interface BenchSchool {
  readonly schoolId: string
  readonly classId: string
  readonly teacherId: string
  readonly studentIds: readonly string[]
  readonly worksheetId: string
}

/** @param spaces how many lines there are to answer in its worksheet, the first of which is `line` */
export async function makeSchool(database: pg.Pool, students: number, spaces = 1): Promise<BenchSchool> {
  const [schoolId, classId, teacherId, worksheetId] = [randomUUID(), randomUUID(), randomUUID(), randomUUID()]
  await database.query(`INSERT INTO school VALUES ($1, 'Bench School', 'UTC', 'en-GB')`, [schoolId])
  await database.query(
    `INSERT INTO person (school_id, id, role, first_name, last_name, email, email_key) VALUES ($1, $2, 'teacher', 'A', 'Teacher', $3, $3)`,
    [schoolId, teacherId, `${teacherId}@bench.example`],
  )
  await database.query(
    `INSERT INTO class (school_id, id, name, subject, year, ink, code) VALUES ($1, $2, '8 Heron', 'Geography', '2026/27', 'deep blue', $3)`,
    [schoolId, classId, classId],
  )
  await database.query(`INSERT INTO class_member (school_id, class_id, person_id, role) VALUES ($1, $2, $3, 'lead')`, [
    schoolId,
    classId,
    teacherId,
  ])
  const { rows } = await database.query<{ id: string }>(
    `WITH made AS (
       INSERT INTO person (school_id, id, role, first_name, last_name, email, email_key)
       SELECT $1, gen_random_uuid(), 'student', 'First' || n, 'Last' || n, n || '.' || $2 || '@bench.example', n || '.' || $2 || '@bench.example' FROM generate_series(1, $3::int) n
       RETURNING id
     ), joined AS (INSERT INTO class_member (school_id, class_id, person_id, role) SELECT $1, $2::uuid, id, 'student' FROM made)
     SELECT id FROM made`,
    [schoolId, classId, students],
  )
  const lines = ['line', ...Array.from({ length: spaces - 1 }, (_, at) => `line${at + 2}`)]
  const blocks = lines.map((id) => ({ id, kind: 'line', width: 'full' }))
  const content = { version: 2, page: 'A4', source: '', blocks }
  await database.query(
    'INSERT INTO worksheet (school_id, id, owner_id, title, draft, kept_version) VALUES ($1, $2, $3, $4, $5, 1)',
    [schoolId, worksheetId, teacherId, 'Reading a tide table', JSON.stringify(content)],
  )
  await database.query(
    `INSERT INTO edition (school_id, worksheet_id, number, title, content, answer_spaces, points, member_spaces, group_spaces, reserved_parts, kept_by)
     VALUES ($1, $2, 1, $3, $4, $6, 0, 0, 0, '[]', $5)`,
    [schoolId, worksheetId, 'Reading a tide table', JSON.stringify(content), teacherId, spaces],
  )
  return { schoolId, classId, teacherId, studentIds: rows.map(({ id }) => id), worksheetId }
}

export const statementFor = ({ classId, worksheetId }: Pick<BenchSchool, 'classId' | 'worksheetId'>): Statement =>
  plainStatement([plainItem('first', worksheetId, 1)], [{ classId, opensAt: null, dueAt: null }])

/** Cookies of sessions made in the database, in the form express-session signs them. */
export async function signIn(database: pg.Pool, schoolId: string, personIds: readonly string[]): Promise<string[]> {
  const sids = personIds.map(() => randomUUID())
  await database.query(
    `INSERT INTO session (sid, sess, expire)
     SELECT sid, json_build_object('cookie', json_build_object('originalMaxAge', 86400000, 'path', '/'), 'schoolId', $1::text, 'personId', person), now() + interval '1 day'
       FROM unnest($2::text[], $3::text[]) AS s(sid, person)`,
    [schoolId, sids, personIds],
  )
  return sids.map(
    (sid) =>
      `gavrin.session=${encodeURIComponent(`s:${sid}.${createHmac('sha256', SECRET).update(sid).digest('base64').replace(/=+$/, '')}`)}`,
  )
}
