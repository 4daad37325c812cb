import { type Arrangement, type OpenTimes, type openState } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'

export interface Row extends Omit<GroupSet, 'signUp' | 'locked'> {
  sign_up_open: boolean
  opens: Date | null
  closes: Date | null
  locked: string[]
}

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

/** A sign-up as a student of the class sees it. */
export interface SignUp {
  readonly id: string
  readonly name: string
  readonly class: string
  readonly state: ReturnType<typeof openState>
  readonly opensAt: number | null
  readonly closesAt: number | null
  readonly groups: readonly {
    readonly id: string
    readonly name: string
    readonly places: number | null
    readonly people: readonly { readonly first: string; readonly last: string }[]
  }[]
  /** The group this student is in. */
  readonly mine: string | null
  /** The teacher has put this student where they are. */
  readonly kept: boolean
}

/** Makes a set after the others of its class. Raw: its place is counted from the others. */
export async function addGroupSet(
  database: Database,
  schoolId: string,
  {
    id,
    classId,
    name,
    balanceColumn,
  }: { readonly id: string; readonly classId: string; readonly name: string; readonly balanceColumn: string | null },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO group_set (school_id, id, class_id, name, position, balance_column)
         SELECT $1, $2, $3, $4, coalesce(max(position), 0) + 1, $5 FROM group_set WHERE school_id = $1 AND class_id = $3`,
    id,
    classId,
    name,
    balanceColumn,
  )
}

/** Puts students into a group, in the order in which they are given. Raw: many rows at once. */
export async function placeInGroup(
  database: Database,
  schoolId: string,
  {
    setId,
    personIds,
    groupId,
    students,
  }: {
    readonly setId: string
    readonly personIds: readonly string[]
    readonly groupId: string
    readonly students: readonly string[]
  },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO group_member (school_id, set_id, person_id, group_id, at)
           SELECT $1, $2, id, $4, now() + place * interval '1 microsecond' FROM unnest($3::uuid[]) WITH ORDINALITY AS r(id, place) WHERE id = ANY($5::uuid[])
           ON CONFLICT (school_id, set_id, person_id) DO UPDATE SET group_id = EXCLUDED.group_id, at = EXCLUDED.at`,
    setId,
    personIds,
    groupId,
    students,
  )
}

/** Notes that two groups are two, or forgets all that was noted. Raw: asks within JSON. */
export function sayDifferent(
  database: Database,
  schoolId: string,
  setId: string,
  pair: string | null,
): Promise<number> {
  return inSchool(database, schoolId).write(
    `UPDATE group_set SET different = CASE WHEN $3::jsonb IS NULL THEN '[]' WHEN different @> $3 THEN different ELSE different || $3 END
          WHERE school_id = $1 AND id = $2`,
    setId,
    pair,
  )
}

/** Holds a set until the transaction ends. Raw: a lock that lets others point to it. */
export function lockGroupSet(
  database: Database,
  schoolId: string,
  setId: string,
  evenRemoved: boolean,
): Promise<{ classId: string; version: number }[]> {
  return inSchool(database, schoolId).rows<{ classId: string; version: number }>(
    `SELECT class_id AS "classId", version FROM group_set WHERE school_id = $1 AND id = $2 AND (removed_at IS NULL OR $3) FOR NO KEY UPDATE`,
    setId,
    evenRemoved,
  )
}

/** Counts a change of a set; the new version. Raw: changes and reads at once. */
export function renewGroupSet(database: Database, schoolId: string, setId: string): Promise<{ version: number }[]> {
  return inSchool(database, schoolId).rows<{ version: number }>(
    'UPDATE group_set SET version = version + 1 WHERE school_id = $1 AND id = $2 RETURNING version',
    setId,
  )
}

/** The sets of a class with all that is in them. Raw: five tables. */
export function groupSetRows(
  database: Database,
  schoolId: string,
  classId: string,
  setId: string | null,
): Promise<Row[]> {
  return inSchool(database, schoolId).rows<Row>(
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
    classId,
    setId,
  )
}

/** Writes the groups of a set. Raw: many rows at once. */
export async function putGroups(
  database: Database,
  schoolId: string,
  {
    setId,
    ids,
    names,
    places,
  }: {
    readonly setId: string
    readonly ids: readonly string[]
    readonly names: readonly string[]
    readonly places: readonly (number | null)[]
  },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO class_group (school_id, id, set_id, name, position, places)
     SELECT $1, id, $2, name, position, places FROM unnest($3::uuid[], $4::text[], $5::integer[]) WITH ORDINALITY AS g(id, name, places, position)
     ON CONFLICT (school_id, id) DO UPDATE SET name = EXCLUDED.name, position = EXCLUDED.position, places = EXCLUDED.places`,
    setId,
    ids,
    names,
    places,
  )
}

/** Writes who is in which group; who is no student of the class is passed over. Raw: many rows at once. */
export async function putMembers(
  database: Database,
  schoolId: string,
  {
    setId,
    personIds,
    groupIds,
    locked,
    classId,
  }: {
    readonly setId: string
    readonly personIds: readonly string[]
    readonly groupIds: readonly string[]
    readonly locked: readonly string[]
    readonly classId: string
  },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO group_member (school_id, set_id, person_id, group_id, locked, at)
     SELECT $1, $2, r.person_id, r.group_id, r.person_id = ANY($5::uuid[]), now() + place * interval '1 microsecond'
       FROM unnest($3::uuid[], $4::uuid[]) WITH ORDINALITY AS r(person_id, group_id, place)
       JOIN class_member m ON m.school_id = $1 AND m.class_id = $6 AND m.person_id = r.person_id AND m.role = 'student'`,
    setId,
    personIds,
    groupIds,
    locked,
    classId,
  )
}

/** Writes who is to be together or apart. Raw: many rows at once. */
export async function putPairs(
  database: Database,
  schoolId: string,
  {
    setId,
    as,
    bs,
    kinds,
  }: {
    readonly setId: string
    readonly as: readonly string[]
    readonly bs: readonly string[]
    readonly kinds: readonly ('together' | 'apart')[]
  },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO group_pair (school_id, set_id, person_a, person_b, kind)
     SELECT $1, $2, a, b, kind FROM unnest($3::uuid[], $4::uuid[], $5::text[]) AS p(a, b, kind)`,
    setId,
    as,
    bs,
    kinds,
  )
}

/** The sets in which a student may choose a group now. Raw: five tables. */
export function openSignUps(
  database: Database,
  schoolId: string,
  personId: string,
): Promise<
  { id: string; name: string; class: string; opens: Date | null; closes: Date | null; group: string | null }[]
> {
  return inSchool(database, schoolId).rows<{
    id: string
    name: string
    class: string
    opens: Date | null
    closes: Date | null
    group: string | null
  }>(
    `SELECT s.id, s.name, c.name AS class, s.sign_up_opens_at AS opens, s.sign_up_closes_at AS closes,
              (SELECT g.name FROM group_member o JOIN class_group g ON g.school_id = o.school_id AND g.id = o.group_id
                WHERE o.school_id = s.school_id AND o.set_id = s.id AND o.person_id = m.person_id) AS "group"
         FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
         JOIN group_set s ON s.school_id = m.school_id AND s.class_id = m.class_id
        WHERE m.school_id = $1 AND m.person_id = $2 AND m.role = 'student' AND m.left_at IS NULL AND c.archived_at IS NULL
          AND s.removed_at IS NULL AND s.sign_up_open AND (s.sign_up_closes_at IS NULL OR s.sign_up_closes_at > now())
        ORDER BY s.sign_up_closes_at NULLS LAST, s.name`,
    personId,
  )
}

/** The groups of a set and who is in them. Raw: three tables. */
export function groupsToChoose(
  database: Database,
  schoolId: string,
  setId: string,
  classId: string,
): Promise<SignUp['groups'][number][]> {
  return inSchool(database, schoolId).rows<SignUp['groups'][number]>(
    `SELECT g.id, g.name, g.places,
              (SELECT coalesce(json_agg(json_build_object('first', p.first_name, 'last', p.last_name) ORDER BY o.at), '[]')
                 FROM group_member o JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id
                 JOIN class_member m ON m.school_id = o.school_id AND m.class_id = $3 AND m.person_id = o.person_id AND m.left_at IS NULL
                WHERE o.school_id = g.school_id AND o.group_id = g.id) AS people
         FROM class_group g WHERE g.school_id = $1 AND g.set_id = $2 ORDER BY g.position, g.id`,
    setId,
    classId,
  )
}

/** How many are in a group who are in the class. Raw: two tables. */
export function placesTaken(
  database: Database,
  schoolId: string,
  groupId: string,
  classId: string,
): Promise<{ n: number }[]> {
  return inSchool(database, schoolId).rows<{ n: number }>(
    `SELECT count(*)::int AS n FROM group_member o
             JOIN class_member m ON m.school_id = o.school_id AND m.class_id = $3 AND m.person_id = o.person_id AND m.left_at IS NULL
            WHERE o.school_id = $1 AND o.group_id = $2`,
    groupId,
    classId,
  )
}
