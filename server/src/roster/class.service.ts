import { type ClassRole, type Viewer, cleanText, mayTeach } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager, Not, Any } from 'typeorm'
import { malformed, notThere } from '../common/problemDetails.js'
import { hold } from '../access/viewer.js'
import { Events } from '../events/events.js'
import { newClassCode } from '../common/classCode.js'
import { helpedBy, holdInClass } from '../access/classRole.js'
import { columnsOf } from './columns.js'
import { lockClass } from './students.js'
import { inSchool } from '../database/inSchool.js'
import { Unit } from './roster.entity.js'
import { Class, ClassMember } from '../access/access.entity.js'

/** What a class is called and how its answers look. */
export interface ClassInput {
  readonly name: string
  readonly subject: string
  readonly year: string
  readonly ink: string
}

export const UNIT_LIMIT = 100

@Injectable()
export class ClassService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  /** The classes somebody is in, as staff or student, archived ones too. */
  list(viewer: Viewer) {
    return this.source.query<unknown[]>(
      `SELECT c.id, c.name, c.subject, c.year, c.ink, m.role, c.archived_at IS NOT NULL AS archived,
              (SELECT count(*)::int FROM class_member s WHERE s.school_id = c.school_id AND s.class_id = c.id AND s.role = 'student' AND s.left_at IS NULL) AS students
         FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
        WHERE m.school_id = $1 AND m.person_id = $2 AND m.left_at IS NULL
        ORDER BY c.archived_at IS NOT NULL, c.name, c.year DESC`,
      [viewer.schoolId, viewer.personId],
    )
  }

  async create(viewer: Viewer, input: ClassInput): Promise<{ id: string }> {
    hold(mayTeach(viewer))
    const clean = cleanInput(input)
    return this.source.transaction(async (tx) => ({ id: await insertClass(tx, viewer, clean) }))
  }

  async open(viewer: Viewer, classId: string) {
    const role = await holdInClass(this.source, viewer, classId, 'see the class')
    const [found] = await this.source.query<Record<string, unknown>[]>(
      `SELECT c.id, c.name, c.subject, c.year, c.ink, c.archived_at IS NOT NULL AS archived,
              (SELECT json_build_object('id', o.id, 'name', o.name, 'year', o.year) FROM class o WHERE o.school_id = c.school_id AND o.id = c.carried_from) AS "carriedFrom"
         FROM class c WHERE c.school_id = $1 AND c.id = $2`,
      [viewer.schoolId, classId],
    )
    if (!found) throw notThere()
    const staff = await staffOf(this.source.manager, viewer.schoolId, classId)
    // What students are told of a class: what it is called, and who teaches it.
    if (role === 'student')
      return { ...found, role, staff: staff.map(({ first, last, role: does }) => ({ first, last, role: does })) }
    const units = await inSchool(this.source, viewer.schoolId).find(
      Unit,
      { classId },
      { select: ['id', 'name'], order: { position: 'ASC', id: 'ASC' } },
    )
    const helped = await helpedBy(this.source, viewer, classId, role)
    return {
      ...found,
      role,
      staff: helped
        ? staff.map((person) => ({
            ...person,
            studentIds: person.personId === viewer.personId ? person.studentIds : [],
          }))
        : staff,
      units,
      columns: await columnsOf(this.source, viewer.schoolId, classId),
    }
  }

  async change(viewer: Viewer, classId: string, input: ClassInput): Promise<void> {
    await holdInClass(this.source, viewer, classId, 'set up the class')
    const { name, subject, year, ink } = cleanInput(input)
    await inSchool(this.source, viewer.schoolId).update(Class, { id: classId }, { name, subject, year, ink })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
  }

  /** Puts the units of a class as they stand in this list: new ones have no id, those not in it are taken away. */
  async keepUnits(
    viewer: Viewer,
    classId: string,
    units: readonly { readonly id?: string | undefined; readonly name: string }[],
  ): Promise<void> {
    const clean = units.map(({ id, name }) => ({ id: id ?? null, name: cleanText(name) }))
    const blank = clean.findIndex(({ name }) => !name)
    if (blank >= 0)
      throw malformed([{ code: 'unit-name', field: `units.${blank}.name`, sentence: 'Give the unit a name.' }])
    await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'set up the class')
      await lockClass(tx, viewer.schoolId, classId)
      await inSchool(tx, viewer.schoolId).delete(Unit, { classId, id: Not(Any(clean.flatMap(({ id }) => id ?? []))) })
      await tx.query(
        `WITH kept AS (SELECT * FROM unnest($3::uuid[], $4::text[]) WITH ORDINALITY AS u(id, name, position)),
              moved AS (UPDATE unit o SET name = kept.name, position = kept.position FROM kept WHERE o.school_id = $1 AND o.class_id = $2 AND o.id = kept.id)
         INSERT INTO unit (school_id, id, class_id, name, position)
         SELECT $1, coalesce(id, gen_random_uuid()), $2, name, position FROM kept
          WHERE NOT EXISTS (SELECT 1 FROM unit o WHERE o.school_id = $1 AND o.id = kept.id)`,
        [viewer.schoolId, classId, clean.map(({ id }) => id), clean.map(({ name }) => name)],
      )
    })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
  }

  /** Puts a class away, or brings it back; nothing of it is lost. */
  async archive(viewer: Viewer, classId: string, archived: boolean): Promise<void> {
    await holdInClass(this.source, viewer, classId, 'archive the class')
    await this.source.query(
      `UPDATE class SET archived_at = CASE WHEN $3 THEN coalesce(archived_at, now()) END, join_open = join_open AND NOT $3
        WHERE school_id = $1 AND id = $2`,
      [viewer.schoolId, classId, archived],
    )
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
  }
}

/** Puts a class down, led by whoever asks. */
export async function insertClass(
  tx: EntityManager,
  viewer: Viewer,
  { name, subject, year, ink }: ClassInput,
  carriedFrom: string | null = null,
): Promise<string> {
  const id = randomUUID()
  for (let made = 0; made === 0;) {
    const rows = await tx.query<{ id: string }[]>(
      `INSERT INTO class (school_id, id, name, subject, year, ink, code, carried_from) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)
       ON CONFLICT (code) DO NOTHING RETURNING id`,
      [viewer.schoolId, id, name, subject, year, ink, newClassCode(), carriedFrom],
    )
    made = rows.length
  }
  await inSchool(tx, viewer.schoolId).insert(ClassMember, { classId: id, personId: viewer.personId, role: 'lead' })
  return id
}

export function cleanInput({ name, subject, year, ink }: ClassInput): ClassInput {
  const clean = { name: cleanText(name), subject: cleanText(subject), year: cleanText(year), ink }
  if (!clean.name) throw malformed([{ code: 'class-name', field: 'name', sentence: 'Give the class a name.' }])
  return clean
}

/** The staff of a class, who leads it first. */
export async function staffOf(tx: EntityManager, schoolId: string, classId: string): Promise<StaffMember[]> {
  return tx.query<StaffMember[]>(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.email, p.password_hash IS NOT NULL AS "canSignIn", m.role,
            (SELECT coalesce(json_agg(n.student_id), '[]') FROM helped_student n WHERE n.school_id = m.school_id AND n.class_id = m.class_id AND n.helper_id = m.person_id) AS "studentIds"
       FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
      WHERE m.school_id = $1 AND m.class_id = $2 AND m.role <> 'student' AND m.left_at IS NULL
      ORDER BY array_position(ARRAY['lead', 'co-teacher', 'helper', 'named helper'], m.role), p.last_name, p.first_name`,
    [schoolId, classId],
  )
}

export interface StaffMember {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly canSignIn: boolean
  readonly role: ClassRole
  /** Whom a named helper helps. */
  readonly studentIds: readonly string[]
}
