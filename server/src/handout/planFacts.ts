import {
  type AnswerKind,
  type Existing,
  type ExistingCopy,
  type Permission,
  type PlanFacts,
  type PlanGuest,
  type PlanWorksheet,
  type PlannedHolder,
  type Statement,
  answerSpaces,
  baseAddress,
  gathered,
  keptContent,
  spaceLabels,
} from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'
import { groupSetsOf } from '../group/groupSets.js'
import { columnsOf } from '../roster/columns.js'
import { studentsOf } from '../roster/students.js'
import { BUILT_INS, makeBuiltInWorksheets } from '../worksheet/builtIn.js'
import { Notice, type Handout } from './handout.entity.js'
import { inSchool } from '../database/inSchool.js'

type Database = DataSource | EntityManager

/** What plans of a class depend on, whichever handout they are of. */
export type ClassFacts = Omit<PlanFacts, 'number' | 'guests' | 'worksheets' | 'begunAt'>

/** What plans of a class depend on, as it is now. */
export async function classFacts(database: Database, schoolId: string, classId: string): Promise<ClassFacts> {
  const [about] = await database.query<
    (Pick<PlanFacts, 'units' | 'staff'> & { name: string; time_zone: string; locale: string })[]
  >(
    `SELECT k.name, s.time_zone, s.locale,
            (SELECT coalesce(json_agg(json_build_object('id', u.id, 'name', u.name) ORDER BY u.position, u.id), '[]')
               FROM unit u WHERE u.school_id = k.school_id AND u.class_id = k.id) AS units,
            (SELECT coalesce(json_agg(json_build_object('personId', p.id, 'email', p.email) ORDER BY p.id), '[]')
               FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
              WHERE m.school_id = k.school_id AND m.class_id = k.id AND m.role IN ('lead', 'co-teacher', 'helper') AND m.left_at IS NULL) AS staff
       FROM class k JOIN school s ON s.id = k.school_id WHERE k.school_id = $1 AND k.id = $2`,
    [schoolId, classId],
  )
  const members = (await studentsOf(database, schoolId, classId)).filter(({ leftAt }) => leftAt === null)
  return {
    classId,
    className: about!.name,
    members: members.map(({ personId, first, last, email, cells }) => ({ personId, first, last, email, cells })),
    columns: await columnsOf(database, schoolId, classId),
    groupSets: (await groupSetsOf(database, schoolId, classId)).map(({ id, name, groups, different }) => ({
      id,
      name,
      different,
      groups: groups.map((group) => ({ id: group.id, name: group.name, personIds: group.personIds })),
    })),
    units: about!.units,
    staff: about!.staff,
    timeZone: about!.time_zone,
    locale: about!.locale,
  }
}

/**
 * All that the plan of a handout depends on, as it is now.
 * @param ofClass what is known of its class already
 */
export async function planFacts(
  database: Database,
  handout: Pick<Handout, 'schoolId' | 'id' | 'classId' | 'number' | 'createdAt'>,
  statement: Statement,
  ofClass?: ClassFacts,
): Promise<PlanFacts> {
  const { schoolId, classId } = handout
  return {
    ...(ofClass ?? (await classFacts(database, schoolId, classId))),
    number: handout.number,
    guests: await guestsOf(database, schoolId, handout.id),
    worksheets: await planWorksheets(database, schoolId, worksheetsOf(statement)),
    begunAt: handout.createdAt,
  }
}

/** The worksheets that a statement speaks of. */
export const worksheetsOf = (statement: Statement): string[] => [
  ...new Set(
    statement.items.flatMap(({ worksheetId, match }) => [
      ...(worksheetId === null ? [] : [worksheetId]),
      ...(match?.rules.map((rule) => rule.worksheetId) ?? []),
    ]),
  ),
]

function guestsOf(database: Database, schoolId: string, handoutId: string): Promise<PlanGuest[]> {
  return database.query(
    `SELECT DISTINCT ON (p.id) p.id AS "personId", trim(p.first_name || ' ' || p.last_name) AS name, w.item_id AS "itemId", w.permission
       FROM walk_in w JOIN walk_in_use u ON u.school_id = w.school_id AND u.walk_in_id = w.id AND u.cleared_at IS NULL JOIN person p ON p.school_id = u.school_id AND p.id = u.person_id
      WHERE w.school_id = $1 AND w.handout_id = $2 AND p.role = 'guest' ORDER BY p.id`,
    [schoolId, handoutId],
  )
}

/** Worksheets with what a plan needs to know of them, and the built-in ones, which are made when they are first asked for. */
export async function planWorksheets(
  database: Database,
  schoolId: string,
  ids: readonly string[],
): Promise<PlanWorksheet[]> {
  const read = () =>
    database.query<PlanWorksheet[]>(
      `SELECT w.id, w.title, w.built_in AS "builtIn",
            coalesce(json_agg(json_build_object('number', e.number, 'answerSpaces', e.answer_spaces, 'points', e.points, 'memberSpaces', e.member_spaces, 'groupSpaces', e.group_spaces)
              ORDER BY e.number) FILTER (WHERE e.number IS NOT NULL), '[]') AS editions
       FROM worksheet w LEFT JOIN edition e ON e.school_id = w.school_id AND e.worksheet_id = w.id
      WHERE w.school_id = $1 AND (w.id = ANY($2::uuid[]) OR w.built_in IS NOT NULL) GROUP BY w.id, w.title, w.built_in, w.updated_at ORDER BY w.built_in NULLS FIRST, w.updated_at DESC`,
      [schoolId, ids],
    )
  const found = await read()
  if (found.filter(({ builtIn }) => builtIn).length >= BUILT_INS) return found
  await makeBuiltInWorksheets(database, schoolId)
  return read()
}

interface CopyRow {
  id: string
  slot_key: string
  item_id: string
  way: ExistingCopy['way']
  title: string
  worksheet_id: string
  edition: number
  link: string | null
  classmates_may: Permission
  may_invite: boolean
  places: ExistingCopy['places']
  opens_at: number | null
  due_at: number | null
  pens_down_at_due: boolean
  late_work: boolean
  set_aside: boolean
  opened: boolean
  submitted: boolean
}

/**
 * What of a handout exists.
 * @param withWriting also who wrote where, which only matters where writing may go along to other copies
 */
export async function existingOf(
  database: Database,
  schoolId: string,
  handoutId: string,
  withWriting: boolean,
): Promise<Existing> {
  const key = [schoolId, handoutId]
  // Plain joins, put together here: the database would aggregate each copy by itself while its statistics are old.
  const rows = await database.query<CopyRow[]>(
    `SELECT c.id, c.slot_key, c.item_id, c.way, c.title, c.worksheet_id, c.edition, c.link, c.classmates_may, c.may_invite, c.places,
            (extract(epoch FROM c.opens_at) * 1000)::float8 AS opens_at, (extract(epoch FROM c.due_at) * 1000)::float8 AS due_at,
            c.pens_down_at_due, c.late_work, c.set_aside, c.state <> 'not opened' AS opened, c.state IN ('submitted', 'marked', 'handed back') AS submitted
       FROM copy c WHERE c.school_id = $1 AND c.handout_id = $2`,
    key,
  )
  const notices = await inSchool(database, schoolId).find(Notice, { handoutId }, { select: ['noticeKey'] })
  if (rows.length === 0) return { copies: [], notices: notices.map(({ noticeKey }) => noticeKey) }
  const peopleOf = async (table: 'copy_holder' | 'copy_reader', condition = '') =>
    gathered(
      await database.query<{ copy_id: string; personId: string; permission: Permission }[]>(
        `SELECT o.copy_id, o.person_id AS "personId", o.permission FROM copy c JOIN ${table} o ON o.school_id = c.school_id AND o.copy_id = c.id
          WHERE c.school_id = $1 AND c.handout_id = $2 ${condition}`,
        key,
      ),
      ({ copy_id }) => copy_id,
      ({ personId, permission }): PlannedHolder => ({ personId, permission }),
    )
  const holders = await peopleOf('copy_holder')
  const readers = await peopleOf('copy_reader', 'AND o.invited_by IS NULL')
  const written = withWriting ? await writtenIn(database, key) : new Map<string, Written>()
  const sizes: Record<string, number> = {}
  for (const { id, slot_key } of rows)
    for (const [space, { bytes }] of Object.entries(written.get(id) ?? {})) sizes[`${slot_key} ${space}`] = bytes
  return {
    ...(written.size > 0 && { sizes, asked: await askedIn(database, schoolId, rows, written) }),
    copies: rows.map((row) => ({
      slotKey: row.slot_key,
      itemId: row.item_id,
      way: row.way,
      title: row.title,
      worksheetId: row.worksheet_id,
      edition: row.edition,
      link: row.link,
      holders: holders.get(row.id) ?? [],
      readers: readers.get(row.id) ?? [],
      classmatesMay: row.classmates_may,
      mayInvite: row.may_invite,
      places: row.places,
      opensAt: row.opens_at,
      dueAt: row.due_at,
      pensDownAtDue: row.pens_down_at_due,
      lateWork: row.late_work,
      setAside: row.set_aside,
      opened: row.opened,
      submitted: row.submitted,
      written: Object.fromEntries(Object.entries(written.get(row.id) ?? {}).map(([space, { by }]) => [space, by])),
    })),
    notices: notices.map(({ noticeKey }) => noticeKey),
  }
}

/** By answer space, who wrote there, who wrote last first, and the bytes of what they wrote. */
type Written = Record<string, { by: string[]; bytes: number }>

/** Who wrote in which answer space of which copy of a handout. */
async function writtenIn(database: Database, key: readonly string[]): Promise<Map<string, Written>> {
  const rows = await database.query<{ copy_id: string; space: string; person_id: string; bytes: number }[]>(
    `SELECT u.copy_id, u.space, u.person_id, sum(octet_length(u.bytes))::int AS bytes FROM copy c JOIN live_update u ON u.school_id = c.school_id AND u.copy_id = c.id
      WHERE c.school_id = $1 AND c.handout_id = $2 GROUP BY u.copy_id, u.space, u.person_id ORDER BY max(u.at) DESC`,
    [...key],
  )
  const written = new Map<string, Written>()
  for (const { copy_id, space, person_id, bytes } of rows) {
    const spaces = written.get(copy_id) ?? {}
    const one = (spaces[space] ??= { by: [], bytes: 0 })
    one.by.push(person_id)
    one.bytes += bytes
    written.set(copy_id, spaces)
  }
  return written
}

/** What was asked where something is written. */
async function askedIn(
  database: Database,
  schoolId: string,
  copies: readonly CopyRow[],
  written: ReadonlyMap<string, Written>,
): Promise<NonNullable<Existing['asked']>> {
  const editions = new Map(
    copies.flatMap(({ id, worksheet_id, edition }) =>
      written.has(id) ? [[`${worksheet_id} ${edition}`, { worksheet_id, edition }] as const] : [],
    ),
  )
  const contents = await database.query<{ content: object }[]>(
    'SELECT e.content FROM edition e WHERE e.school_id = $1 AND (e.worksheet_id, e.number) IN (SELECT * FROM unnest($2::uuid[], $3::int[]))',
    [
      schoolId,
      [...editions.values()].map(({ worksheet_id }) => worksheet_id),
      [...editions.values()].map(({ edition }) => edition),
    ],
  )
  const there = new Set(
    [...written.values()].flatMap((spaces) => Object.keys(spaces).map((one) => baseAddress(one).base)),
  )
  const asked: Record<string, { label: string; kind: AnswerKind }> = {}
  for (const { content } of contents) {
    const worksheet = keptContent(content)
    const labels = spaceLabels(worksheet)
    for (const { id, kind } of answerSpaces(worksheet))
      if (there.has(id)) asked[id] = { label: labels.get(id) ?? '', kind }
  }
  return asked
}

/** Whether writing of copies that are set aside goes along anywhere. */
export const carries = (statement: Statement) => statement.items.some(({ carry }) => carry !== 'keep aside')
