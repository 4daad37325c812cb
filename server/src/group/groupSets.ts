import type { Arrangement, OpenTimes } from '@gavrin/core'
import { type DataSource, type EntityManager, Not, Any } from 'typeorm'
import { conflict } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { ClassGroup, GroupMember, GroupPair } from './group.entity.js'

/** A group set as staff see it. */
export interface GroupSet extends Arrangement {
  readonly id: string
  readonly name: string
  readonly balanceColumn: string | null
  readonly version: number
  /** Groups of names that look alike that are two, as their teachers said; the smaller id first. */
  readonly different: readonly (readonly [string, string])[]
  readonly signUp: OpenTimes
}

interface Row extends Omit<GroupSet, 'signUp' | 'locked'> {
  sign_up_open: boolean
  opens: Date | null
  closes: Date | null
  locked: string[]
}

/** The group sets of a class, or one of them. */
export async function groupSetsOf(
  database: DataSource | EntityManager,
  schoolId: string,
  classId: string,
  setId: string | null = null,
): Promise<GroupSet[]> {
  const rows = await database.query<Row[]>(
    `SELECT s.id, s.name, s.balance_column AS "balanceColumn", s.version, s.different, s.sign_up_open, s.sign_up_opens_at AS opens, s.sign_up_closes_at AS closes,
            (SELECT coalesce(json_agg(json_build_object('id', g.id, 'name', g.name, 'places', g.places, 'personIds',
                      (SELECT coalesce(json_agg(m.person_id ORDER BY m.at, m.person_id), '[]') FROM group_member m
                        WHERE m.school_id = g.school_id AND m.group_id = g.id)) ORDER BY g.position, g.id), '[]')
               FROM class_group g WHERE g.school_id = s.school_id AND g.set_id = s.id) AS groups,
            (SELECT coalesce(json_agg(m.person_id), '[]') FROM group_member m WHERE m.school_id = s.school_id AND m.set_id = s.id AND m.locked) AS locked,
            (SELECT coalesce(json_agg(json_build_object('a', p.person_a, 'b', p.person_b, 'kind', p.kind)), '[]') FROM group_pair p
              WHERE p.school_id = s.school_id AND p.set_id = s.id) AS pairs
       FROM group_set s WHERE s.school_id = $1 AND s.class_id = $2 AND s.removed_at IS NULL AND ($3::uuid IS NULL OR s.id = $3)
      ORDER BY s.position, s.created_at`,
    [schoolId, classId, setId],
  )
  return rows.map(({ sign_up_open, opens, closes, ...set }) => ({
    ...set,
    signUp: { open: sign_up_open, opensAt: opens?.getTime() ?? null, closesAt: closes?.getTime() ?? null },
  }))
}

/** Writes how a set is divided in place of how it was; only students of the class are put in. */
export async function writeArrangement(
  tx: EntityManager,
  schoolId: string,
  classId: string,
  setId: string,
  { groups, locked, pairs }: Arrangement,
): Promise<void> {
  const key = [schoolId, setId]
  const ids = groups.map(({ id }) => id)
  const foreign = await inSchool(tx, schoolId).exists(ClassGroup, { setId: Not(setId), id: Any(ids) })
  if (foreign) throw conflict('group-of-other-set', 'One of these groups belongs to another set.')
  await inSchool(tx, schoolId).delete(ClassGroup, { setId, id: Not(Any(ids)) })
  await tx.query(
    `INSERT INTO class_group (school_id, id, set_id, name, position, places)
     SELECT $1, id, $2, name, position, places FROM unnest($3::uuid[], $4::text[], $5::integer[]) WITH ORDINALITY AS g(id, name, places, position)
     ON CONFLICT (school_id, id) DO UPDATE SET name = EXCLUDED.name, position = EXCLUDED.position, places = EXCLUDED.places`,
    [...key, ids, groups.map(({ name }) => name), groups.map(({ places }) => places)],
  )
  const placed = groups.flatMap(({ id, personIds }) => personIds.map((personId) => ({ id, personId })))
  await inSchool(tx, schoolId).delete(GroupMember, { setId })
  await tx.query(
    `INSERT INTO group_member (school_id, set_id, person_id, group_id, locked, at)
     SELECT $1, $2, r.person_id, r.group_id, r.person_id = ANY($5::uuid[]), now() + place * interval '1 microsecond'
       FROM unnest($3::uuid[], $4::uuid[]) WITH ORDINALITY AS r(person_id, group_id, place)
       JOIN class_member m ON m.school_id = $1 AND m.class_id = $6 AND m.person_id = r.person_id AND m.role = 'student'`,
    [...key, placed.map(({ personId }) => personId), placed.map(({ id }) => id), locked, classId],
  )
  await inSchool(tx, schoolId).delete(GroupPair, { setId })
  await tx.query(
    `INSERT INTO group_pair (school_id, set_id, person_a, person_b, kind)
     SELECT $1, $2, a, b, kind FROM unnest($3::uuid[], $4::uuid[], $5::text[]) AS p(a, b, kind)`,
    [...key, pairs.map(({ a }) => a), pairs.map(({ b }) => b), pairs.map(({ kind }) => kind)],
  )
}
