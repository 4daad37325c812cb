import { randomUUID } from 'node:crypto'
import type { EntityManager } from 'typeorm'
import { inSchool } from '../database/inSchool.js'
import { ClassGroup, KeptGroupSet } from './group.entity.js'

/** The group sets of a class, with those of their members who are students of the other one too, locks and pairs. Raw: sets into another class. */
export async function bringGroups(tx: EntityManager, schoolId: string, from: string, to: string): Promise<void> {
  const sets = await inSchool(tx, schoolId).find(
    KeptGroupSet,
    { classId: from, removedAt: null },
    { select: ['id'], order: { position: 'ASC', id: 'ASC' } },
  )
  const isStudent = (person: string) =>
    `EXISTS (SELECT 1 FROM class_member s WHERE s.school_id = $1 AND s.class_id = $4 AND s.person_id = ${person} AND s.role = 'student' AND s.left_at IS NULL)`
  for (const { id } of sets) {
    const setId = randomUUID()
    await inSchool(tx, schoolId).rows(
      `INSERT INTO group_set (school_id, id, class_id, name, position, balance_column)
       SELECT s.school_id, $3, $4, s.name, s.position, (
         SELECT n.id FROM roster_column c JOIN roster_column n ON n.school_id = c.school_id AND n.class_id = $4 AND n.name = c.name AND n.removed_at IS NULL
          WHERE c.school_id = s.school_id AND c.id = s.balance_column LIMIT 1)
         FROM group_set s WHERE s.school_id = $1 AND s.id = $2`,
      id,
      setId,
      to,
    )
    const groups = await inSchool(tx, schoolId).find(ClassGroup, { setId: id }, { select: ['id'] })
    const news = groups.map(() => randomUUID())
    const olds = groups.map((group) => group.id)
    await inSchool(tx, schoolId).rows(
      `INSERT INTO class_group (school_id, id, set_id, name, position, places)
       SELECT g.school_id, r.new, $3, g.name, g.position, g.places
         FROM class_group g JOIN unnest($4::uuid[], $5::uuid[]) AS r(old, new) ON r.old = g.id
        WHERE g.school_id = $1 AND g.set_id = $2`,
      id,
      setId,
      olds,
      news,
    )
    await inSchool(tx, schoolId).rows(
      `INSERT INTO group_member (school_id, set_id, person_id, group_id, locked)
       SELECT g.school_id, $3, g.person_id, r.new, g.locked
         FROM group_member g JOIN unnest($5::uuid[], $6::uuid[]) AS r(old, new) ON r.old = g.group_id
        WHERE g.school_id = $1 AND g.set_id = $2 AND ${isStudent('g.person_id')}`,
      id,
      setId,
      to,
      olds,
      news,
    )
    await inSchool(tx, schoolId).rows(
      `INSERT INTO group_pair (school_id, set_id, person_a, person_b, kind)
       SELECT school_id, $3, person_a, person_b, kind FROM group_pair
        WHERE school_id = $1 AND set_id = $2 AND ${isStudent('person_a')} AND ${isStudent('person_b')}`,
      id,
      setId,
      to,
    )
  }
}
