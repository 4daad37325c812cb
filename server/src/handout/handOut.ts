import {
  type Change,
  type ExistingCopy,
  type Permission,
  type PlanFacts,
  type PlannedCopy,
  type PlannedHolder,
  type Statement,
} from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'
import { studentsOf } from '../roster/students.js'
import type { Handout } from './handout.entity.js'

/** All that the plan of a handout depends on, as it is now. */
export async function planFacts(
  database: DataSource | EntityManager,
  handout: Handout,
  statement: Statement,
): Promise<PlanFacts> {
  const [about] = await database.query<{ name: string; time_zone: string; locale: string }[]>(
    'SELECT k.name, s.time_zone, s.locale FROM class k JOIN school s ON s.id = k.school_id WHERE k.school_id = $1 AND k.id = $2',
    [handout.schoolId, handout.classId],
  )
  const members = (await studentsOf(database, handout.schoolId, handout.classId)).filter(
    ({ leftAt }) => leftAt === null,
  )
  return {
    className: about!.name,
    members: members.map(({ personId, first, last, email }) => ({ personId, first, last, email })),
    worksheets: await planWorksheets(
      database,
      handout.schoolId,
      statement.items.map(({ worksheetId }) => worksheetId).filter((id) => id !== null),
    ),
    begunAt: handout.createdAt.getTime(),
    timeZone: about!.time_zone,
    locale: about!.locale,
  }
}

export function planWorksheets(
  database: DataSource | EntityManager,
  schoolId: string,
  ids: readonly string[],
): Promise<PlanFacts['worksheets'][number][]> {
  return database.query(
    `SELECT w.id, w.title, coalesce(json_agg(json_build_object('number', e.number, 'answerSpaces', e.answer_spaces) ORDER BY e.number) FILTER (WHERE e.number IS NOT NULL), '[]') AS editions
       FROM worksheet w LEFT JOIN edition e ON e.school_id = w.school_id AND e.worksheet_id = w.id
      WHERE w.school_id = $1 AND w.id = ANY($2::uuid[]) GROUP BY w.id, w.title, w.updated_at ORDER BY w.updated_at DESC`,
    [schoolId, ids],
  )
}

/** The copies of a handout that exist. */
export async function existingCopies(
  database: DataSource | EntityManager,
  schoolId: string,
  handoutId: string,
): Promise<ExistingCopy[]> {
  const rows = await database.query<
    {
      slot_key: string
      item_id: string
      title: string
      worksheet_id: string
      edition: number
      classmates_may: Permission
      due_at: Date | null
      set_aside: boolean
      holders: PlannedHolder[]
    }[]
  >(
    `SELECT c.slot_key, c.item_id, c.title, c.worksheet_id, c.edition, c.classmates_may, c.due_at, c.set_aside,
            coalesce(json_agg(json_build_object('personId', o.person_id, 'permission', o.permission)) FILTER (WHERE o.person_id IS NOT NULL), '[]') AS holders
       FROM copy c LEFT JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
      WHERE c.school_id = $1 AND c.handout_id = $2
      GROUP BY c.school_id, c.id`,
    [schoolId, handoutId],
  )
  return rows.map((row) => ({
    slotKey: row.slot_key,
    itemId: row.item_id,
    title: row.title,
    worksheetId: row.worksheet_id,
    edition: row.edition,
    holders: row.holders,
    classmatesMay: row.classmates_may,
    dueAt: row.due_at?.getTime() ?? null,
    setAside: row.set_aside,
  }))
}

const time = (millis: number | null) => (millis === null ? null : new Date(millis))

type Of<K extends Change['kind']> = Extract<Change, { kind: K }>
const ofKind = <K extends Change['kind']>(changes: readonly Change[], kind: K) =>
  changes.filter((change): change is Of<K> => change.kind === kind)

/**
 * Makes changes true in the database: one statement for each kind of change, however many copies it concerns. Does what
 * `applyChanges` of the core does to values.
 */
export async function writeChanges(
  tx: EntityManager,
  handout: { schoolId: string; id: string },
  changes: readonly Change[],
  personId: string,
): Promise<void> {
  const { schoolId, id: handoutId } = handout
  const creates = ofKind(changes, 'create').map(({ copy }) => copy)
  if (creates.length) await createCopies(tx, schoolId, handoutId, creates, personId)

  const renames = ofKind(changes, 'rename')
  if (renames.length)
    await tx.query(
      'UPDATE copy c SET title = r.title FROM unnest($3::text[], $4::text[]) AS r(slot_key, title) WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key',
      [schoolId, handoutId, renames.map(({ slotKey }) => slotKey), renames.map(({ title }) => title)],
    )

  const permits = ofKind(changes, 'permit')
  if (permits.length) {
    const slots = permits.map(({ slotKey }) => slotKey)
    await tx.query(
      'UPDATE copy c SET classmates_may = r.may FROM unnest($3::text[], $4::text[]) AS r(slot_key, may) WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key',
      [schoolId, handoutId, slots, permits.map(({ classmatesMay }) => classmatesMay)],
    )
    await tx.query(
      'DELETE FROM copy_holder o USING copy c WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = ANY($3) AND o.school_id = c.school_id AND o.copy_id = c.id',
      [schoolId, handoutId, slots],
    )
    await writeHolders(tx, schoolId, handoutId, permits)
  }

  const moves = ofKind(changes, 'move')
  if (moves.length)
    await tx.query(
      `UPDATE copy c SET worksheet_id = r.worksheet_id, edition = r.edition FROM unnest($3::text[], $4::uuid[], $5::int[]) AS r(slot_key, worksheet_id, edition)
        WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key`,
      [
        schoolId,
        handoutId,
        moves.map(({ slotKey }) => slotKey),
        moves.map(({ worksheetId }) => worksheetId),
        moves.map(({ edition }) => edition),
      ],
    )

  const dates = ofKind(changes, 'date')
  if (dates.length)
    await tx.query(
      'UPDATE copy c SET due_at = r.due_at FROM unnest($3::text[], $4::timestamptz[]) AS r(slot_key, due_at) WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key',
      [schoolId, handoutId, dates.map(({ slotKey }) => slotKey), dates.map(({ dueAt }) => time(dueAt))],
    )

  await setAside(tx, schoolId, handoutId, ofKind(changes, 'set aside'), true, personId)
  await setAside(tx, schoolId, handoutId, ofKind(changes, 'bring back'), false, personId)
}

async function createCopies(
  tx: EntityManager,
  schoolId: string,
  handoutId: string,
  copies: readonly PlannedCopy[],
  personId: string,
): Promise<void> {
  const holders = copies.flatMap(({ slotKey, holders: list }) => list.map((holder) => ({ slotKey, ...holder })))
  await tx.query(
    `WITH made AS (
       INSERT INTO copy (school_id, handout_id, slot_key, item_id, title, worksheet_id, edition, classmates_may, due_at)
       SELECT $1, $2, * FROM unnest($3::text[], $4::text[], $5::text[], $6::uuid[], $7::int[], $8::text[], $9::timestamptz[])
       ON CONFLICT (school_id, handout_id, slot_key) DO NOTHING
       RETURNING id, slot_key
     ), held AS (
       INSERT INTO copy_holder (school_id, copy_id, person_id, permission)
       SELECT $1, made.id, h.person_id, h.permission FROM unnest($10::text[], $11::uuid[], $12::text[]) AS h(slot_key, person_id, permission) JOIN made USING (slot_key)
     )
     INSERT INTO copy_journal (school_id, copy_id, kind, person_id) SELECT $1, id, 'given', $13 FROM made`,
    [
      schoolId,
      handoutId,
      copies.map(({ slotKey }) => slotKey),
      copies.map(({ itemId }) => itemId),
      copies.map(({ title }) => title),
      copies.map(({ worksheetId }) => worksheetId),
      copies.map(({ edition }) => edition),
      copies.map(({ classmatesMay }) => classmatesMay),
      copies.map(({ dueAt }) => time(dueAt)),
      holders.map(({ slotKey }) => slotKey),
      holders.map((holder) => holder.personId),
      holders.map(({ permission }) => permission),
      personId,
    ],
  )
}

async function writeHolders(
  tx: EntityManager,
  schoolId: string,
  handoutId: string,
  copies: readonly { slotKey: string; holders: readonly PlannedHolder[] }[],
): Promise<void> {
  const holders = copies.flatMap(({ slotKey, holders: list }) => list.map((holder) => ({ slotKey, ...holder })))
  await tx.query(
    `INSERT INTO copy_holder (school_id, copy_id, person_id, permission)
     SELECT $1, c.id, h.person_id, h.permission FROM unnest($3::text[], $4::uuid[], $5::text[]) AS h(slot_key, person_id, permission)
       JOIN copy c ON c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = h.slot_key`,
    [
      schoolId,
      handoutId,
      holders.map(({ slotKey }) => slotKey),
      holders.map((holder) => holder.personId),
      holders.map(({ permission }) => permission),
    ],
  )
}

async function setAside(
  tx: EntityManager,
  schoolId: string,
  handoutId: string,
  changes: readonly { slotKey: string }[],
  aside: boolean,
  personId: string,
): Promise<void> {
  if (!changes.length) return
  await tx.query(
    `WITH moved AS (UPDATE copy SET set_aside = $4 WHERE school_id = $1 AND handout_id = $2 AND slot_key = ANY($3) RETURNING id)
     INSERT INTO copy_journal (school_id, copy_id, kind, person_id) SELECT $1, id, $5, $6 FROM moved`,
    [schoolId, handoutId, changes.map(({ slotKey }) => slotKey), aside, aside ? 'set aside' : 'brought back', personId],
  )
}
