import {
  type RosterRow,
  type Viewer,
  checkRoster,
  cleanRow,
  emailKey,
  fullName,
  listName,
  mayTeach,
  nameOrder,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager } from 'typeorm'
import { type SignInCard, makeSignInCards } from '../account/signInCards.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { hold } from '../common/viewer.js'
import { LiveGateway } from '../live/live.gateway.js'
import { holdInClass } from './classRole.js'

/** A student of a class. */
export interface RosterStudent {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly joinedAt: number
  readonly leftAt: number | null
  /** Has a password and can sign in. */
  readonly canSignIn: boolean
}

@Injectable()
export class RosterService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly live: LiveGateway,
  ) {}

  /** The classes somebody is in, as staff or student. */
  async classesOf(viewer: Viewer) {
    return this.source.query<unknown[]>(
      `SELECT c.id, c.name, c.subject, c.year, c.ink, m.role,
              (SELECT count(*)::int FROM class_member s WHERE s.school_id = c.school_id AND s.class_id = c.id AND s.role = 'student' AND s.left_at IS NULL) AS students
         FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
        WHERE m.school_id = $1 AND m.person_id = $2 AND m.left_at IS NULL
        ORDER BY c.name`,
      [viewer.schoolId, viewer.personId],
    )
  }

  async createClass(
    viewer: Viewer,
    input: { name: string; subject: string; year: string; ink: string },
  ): Promise<{ id: string }> {
    hold(mayTeach(viewer))
    const id = randomUUID()
    await this.source.transaction(async (tx) => {
      await tx.query('INSERT INTO class (school_id, id, name, subject, year, ink) VALUES ($1, $2, $3, $4, $5, $6)', [
        viewer.schoolId,
        id,
        input.name,
        input.subject,
        input.year,
        input.ink,
      ])
      await tx.query(`INSERT INTO class_member (school_id, class_id, person_id, role) VALUES ($1, $2, $3, 'lead')`, [
        viewer.schoolId,
        id,
        viewer.personId,
      ])
    })
    return { id }
  }

  async class(viewer: Viewer, classId: string) {
    const role = await holdInClass(this.source, viewer, classId, 'see the class')
    const [found] = await this.source.query<Record<string, unknown>[]>(
      'SELECT id, name, subject, year, ink FROM class WHERE school_id = $1 AND id = $2',
      [viewer.schoolId, classId],
    )
    if (!found) throw notThere()
    const staff = await this.source.query<{ first: string; last: string; role: string }[]>(
      `SELECT p.first_name AS first, p.last_name AS last, m.role FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
        WHERE m.school_id = $1 AND m.class_id = $2 AND m.role <> 'student' AND m.left_at IS NULL
        ORDER BY array_position(ARRAY['lead', 'co-teacher', 'helper'], m.role), p.last_name`,
      [viewer.schoolId, classId],
    )
    return { ...found, role, staff }
  }

  async roster(viewer: Viewer, classId: string): Promise<RosterStudent[]> {
    await holdInClass(this.source, viewer, classId, 'see the roster')
    return studentsOf(this.source, viewer.schoolId, classId)
  }

  /**
   * Saves rows into a roster: adds who is new, renames who is known by e-mail, removes nobody. Somebody of the school with
   * the same e-mail joins the class instead of being made twice.
   */
  async save(viewer: Viewer, classId: string, rows: readonly RosterRow[]) {
    const counts = await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change the roster')
      await lockClass(tx, viewer.schoolId, classId)
      const members = (await studentsOf(tx, viewer.schoolId, classId)).filter(({ leftAt }) => leftAt === null)
      const checked = checkRoster(rows, members)
      const problems = checked.rows.flatMap(({ doubts }, row) =>
        doubts
          .filter(({ stops }) => stops)
          .map(({ code, field, sentence }) => ({ code, row, field: `rows.${row}.${field}`, sentence })),
      )
      if (problems.length) throw malformed(problems)
      await this.refuseForeignStaff(tx, viewer.schoolId, rows)
      await this.writeRows(tx, viewer.schoolId, classId, checked)
      return checked.counts
    })
    await this.live.refreshClass(viewer.schoolId, classId)
    return { added: counts.new, changed: counts.changed, unchanged: counts.unchanged }
  }

  /** An address of somebody on the staff in a list of students is a slip of the pen, and would rename a colleague. */
  private async refuseForeignStaff(tx: EntityManager, schoolId: string, rows: readonly RosterRow[]): Promise<void> {
    const keys = rows.map(({ email }) => emailKey(email))
    const staff = await tx.query<{ email_key: string }[]>(
      `SELECT email_key FROM person WHERE school_id = $1 AND email_key = ANY($2) AND role <> 'student'`,
      [schoolId, keys.filter(Boolean)],
    )
    if (!staff.length) return
    const row = keys.indexOf(staff[0]!.email_key)
    throw malformed([
      {
        code: 'email-of-staff',
        row,
        field: `rows.${row}.email`,
        sentence: 'This e-mail belongs to somebody on the staff.',
      },
    ])
  }

  private async writeRows(
    tx: EntityManager,
    schoolId: string,
    classId: string,
    checked: ReturnType<typeof checkRoster>,
  ): Promise<void> {
    const fresh = checked.rows.filter(({ effect }) => effect === 'new').map(({ row }) => row)
    const columns = (list: readonly RosterRow[]) => [
      list.map(({ first }) => first),
      list.map(({ last }) => last),
      list.map(({ email }) => email || null),
      list.map(({ email }) => (email ? emailKey(email) : null)),
    ]
    await tx.query(
      `WITH rows AS (
         SELECT * FROM unnest($3::text[], $4::text[], $5::text[], $6::text[]) WITH ORDINALITY AS r(first, last, email, key, place)
       ), made AS (
         INSERT INTO person (school_id, id, role, first_name, last_name, email, email_key)
         SELECT $1, gen_random_uuid(), 'student', first, last, email, key FROM rows
         -- Known in another class: joins under the name the school has, which is not this teacher's to change by a list.
         ON CONFLICT (school_id, email_key) DO UPDATE SET email = person.email
         RETURNING id
       )
       INSERT INTO class_member (school_id, class_id, person_id, role)
       SELECT $1, $2, id, 'student' FROM made
       ON CONFLICT (school_id, class_id, person_id) DO UPDATE SET left_at = NULL`,
      [schoolId, classId, ...columns(fresh)],
    )
    const changed = checked.rows.filter(({ effect }) => effect === 'changed')
    await tx.query(
      `UPDATE person p SET first_name = r.first, last_name = r.last
         FROM unnest($2::uuid[], $3::text[], $4::text[]) AS r(id, first, last)
        WHERE p.school_id = $1 AND p.id = r.id`,
      [
        schoolId,
        changed.map(({ personId }) => personId),
        changed.map(({ row }) => row.first),
        changed.map(({ row }) => row.last),
      ],
    )
  }

  /** Corrects one student in place. */
  async correct(viewer: Viewer, classId: string, personId: string, input: RosterRow): Promise<RosterStudent> {
    await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change the roster')
      await lockClass(tx, viewer.schoolId, classId)
      const students = await studentsOf(tx, viewer.schoolId, classId)
      if (!students.some((student) => student.personId === personId)) throw notThere()
      const row = cleanRow(input)
      const [checked] = checkRoster([row], []).rows
      const problems = checked!.doubts
        .filter(({ stops }) => stops)
        .map(({ code, field, sentence }) => ({ code, field, sentence }))
      if (problems.length) throw malformed(problems)
      const key = row.email ? emailKey(row.email) : null
      const [other] = await tx.query<{ first: string; last: string }[]>(
        'SELECT first_name AS first, last_name AS last FROM person WHERE school_id = $1 AND email_key = $2 AND id <> $3',
        [viewer.schoolId, key, personId],
      )
      if (other)
        throw conflict('email-taken', `${fullName(other)} has this e-mail already.`, {
          errors: [{ code: 'email-taken', field: 'email', sentence: `${fullName(other)} has this e-mail already.` }],
        })
      await tx.query(
        'UPDATE person SET first_name = $3, last_name = $4, email = $5, email_key = $6 WHERE school_id = $1 AND id = $2',
        [viewer.schoolId, personId, row.first, row.last, row.email || null, key],
      )
    })
    return (await studentsOf(this.source, viewer.schoolId, classId)).find((student) => student.personId === personId)!
  }

  /** Start passwords for the students who have an e-mail and cannot sign in yet. */
  async signInCards(viewer: Viewer, classId: string): Promise<SignInCard[]> {
    await holdInClass(this.source, viewer, classId, 'change the roster')
    return makeSignInCards(this.source, viewer.schoolId, classId)
  }

  /** A student leaves the class, or comes back; the work is kept either way. */
  async setLeft(viewer: Viewer, classId: string, personId: string, left: boolean): Promise<void> {
    await holdInClass(this.source, viewer, classId, 'change the roster')
    const [, count] = await this.source.query<[unknown, number]>(
      `UPDATE class_member SET left_at = CASE WHEN $4 THEN coalesce(left_at, now()) END WHERE school_id = $1 AND class_id = $2 AND person_id = $3 AND role = 'student'`,
      [viewer.schoolId, classId, personId, left],
    )
    if (!count) throw notThere()
    await this.live.refreshClass(viewer.schoolId, classId)
  }
}

/** One change of a roster at a time; whoever comes second sees what the first one did. */
async function lockClass(tx: EntityManager, schoolId: string, classId: string): Promise<void> {
  await tx.query('SELECT 1 FROM class WHERE school_id = $1 AND id = $2 FOR UPDATE', [schoolId, classId])
}

/** The students of a class in the order of the roster, those who left at the end. */
export async function studentsOf(
  database: DataSource | EntityManager,
  schoolId: string,
  classId: string,
): Promise<RosterStudent[]> {
  const rows = await database.query<
    (Omit<RosterStudent, 'joinedAt' | 'leftAt'> & { joined_at: Date; left_at: Date | null; locale: string })[]
  >(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.email, p.password_hash IS NOT NULL AS "canSignIn", m.joined_at, m.left_at, s.locale
       FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id JOIN school s ON s.id = m.school_id
      WHERE m.school_id = $1 AND m.class_id = $2 AND m.role = 'student'`,
    [schoolId, classId],
  )
  const order = nameOrder(rows[0]?.locale ?? 'en')
  return rows
    .toSorted(
      (a, b) =>
        Number(a.left_at !== null) - Number(b.left_at !== null) ||
        order(a, b) ||
        listName(a).localeCompare(listName(b)) ||
        (a.personId < b.personId ? -1 : 1),
    )
    .map(({ joined_at, left_at, locale: _, ...student }) => ({
      ...student,
      joinedAt: joined_at.getTime(),
      leftAt: left_at?.getTime() ?? null,
    }))
}
