import { type CheckedRow, type RosterRow, emailKey, numberKey } from '@gavrin/core'
import { randomUUID } from 'node:crypto'
import { type EntityManager, Any, IsNull, Not } from 'typeorm'
import { amongStudents } from './students.js'
import { inSchool } from '../database/inSchool.js'
import { ClassMember, Person } from '../access/access.entity.js'

/** Students leave a class, or come back; how many did. */
export async function setLeft(
  tx: EntityManager,
  schoolId: string,
  classId: string,
  personIds: readonly string[],
  left: boolean,
): Promise<number> {
  return inSchool(tx, schoolId).update(
    ClassMember,
    {
      classId,
      personId: Any(await amongStudents(tx, schoolId, classId, personIds)),
      leftAt: left ? null : Not(IsNull()),
    },
    { leftAt: left ? () => 'now()' : null },
  )
}

/** Writes the rows of a list that was compared: makes who is new, joins who is known, changes what differs. Raw: many rows at once. */
export async function writeRows(
  tx: EntityManager,
  { schoolId, classId }: { readonly schoolId: string; readonly classId: string },
  rows: readonly CheckedRow[],
  joins: ReadonlyMap<number, string>,
  columnId: (name: string) => string,
): Promise<void> {
  const fresh: [string, RosterRow][] = []
  const known: [string, RosterRow][] = []
  const joined: [string, RosterRow][] = []
  const members: [string, Record<string, string>][] = []
  rows.forEach(({ row, personId, effect }, at) => {
    const join = joins.get(at)
    const id = personId ?? join ?? randomUUID()
    if (personId === null) (join ? joined : fresh).push([id, row])
    else if (effect !== 'unchanged') known.push([id, row])
    if (effect !== 'unchanged')
      members.push([
        id,
        Object.fromEntries(
          Object.entries(row.cells ?? {})
            .filter(([, cell]) => cell !== '')
            .map(([name, cell]) => [columnId(name), cell]),
        ),
      ])
  })
  await inSchool(tx, schoolId).rows(
    `INSERT INTO person (school_id, id, role, first_name, last_name, email, email_key, number, number_key)
     SELECT $1, id, 'student', first, last, email, email_key, number, number_key
       FROM unnest($2::uuid[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[], $8::text[]) AS r(id, first, last, email, email_key, number, number_key)`,
    ...personColumns(fresh),
  )
  // Known in another class: joins under the name the school has, which is not this teacher's to change by a list; what
  // the school does not know yet is filled in.
  await inSchool(tx, schoolId).write(
    `UPDATE person p SET email = coalesce(p.email, r.email), email_key = coalesce(p.email_key, r.email_key),
            number = coalesce(p.number, r.number), number_key = coalesce(p.number_key, r.number_key)
       FROM unnest($2::uuid[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[], $8::text[]) AS r(id, first, last, email, email_key, number, number_key)
      WHERE p.school_id = $1 AND p.id = r.id`,
    ...personColumns(joined),
  )
  await writePeople(tx, schoolId, known)
  await inSchool(tx, schoolId).rows(
    `INSERT INTO class_member (school_id, class_id, person_id, role, cells)
     SELECT $1, $2, id, 'student', cells FROM unnest($3::uuid[], $4::jsonb[]) AS r(id, cells)
     ON CONFLICT (school_id, class_id, person_id) DO UPDATE SET left_at = NULL, cells = class_member.cells || EXCLUDED.cells`,
    classId,
    members.map(([id]) => id),
    members.map(([, cells]) => JSON.stringify(cells)),
  )
}

const personColumns = (people: readonly (readonly [string, RosterRow])[]) => [
  people.map(([id]) => id),
  people.map(([, { first }]) => first),
  people.map(([, { last }]) => last),
  people.map(([, { email }]) => email || null),
  people.map(([, { email }]) => (email ? emailKey(email) : null)),
  people.map(([, { number }]) => number || null),
  people.map(([, { number }]) => (number ? numberKey(number) : null)),
]

/** Writes names, addresses and numbers of people who exist. */
export async function writePeople(
  tx: EntityManager,
  schoolId: string,
  people: readonly (readonly [string, RosterRow])[],
): Promise<void> {
  if (people.length === 0) return
  // First taken off, so that two people can change addresses with each other.
  await inSchool(tx, schoolId).update(
    Person,
    { id: Any(people.map(([id]) => id)) },
    { email: null, emailKey: null, number: null, numberKey: null },
  )
  await inSchool(tx, schoolId).write(
    `UPDATE person p SET first_name = r.first, last_name = r.last, email = r.email, email_key = r.email_key, number = r.number, number_key = r.number_key
       FROM unnest($2::uuid[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[], $8::text[]) AS r(id, first, last, email, email_key, number, number_key)
      WHERE p.school_id = $1 AND p.id = r.id`,
    ...personColumns(people),
  )
}

/** Writes extra cells of students, by column id; other cells stay. */
export async function writeCells(
  tx: EntityManager,
  schoolId: string,
  classId: string,
  cells: readonly (readonly [string, Record<string, string>])[],
): Promise<void> {
  if (cells.length === 0) return
  await inSchool(tx, schoolId).write(
    `UPDATE class_member m SET cells = m.cells || r.cells FROM unnest($3::uuid[], $4::jsonb[]) AS r(id, cells)
      WHERE m.school_id = $1 AND m.class_id = $2 AND m.person_id = r.id`,
    classId,
    cells.map(([id]) => id),
    cells.map(([, row]) => JSON.stringify(row)),
  )
}
