import {
  type AnswerKind,
  type Existing,
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
import { groupSetsOf } from '../group/groupSets.js'
import { columnsOf } from '../roster/columns.js'
import { studentsOf } from '../roster/students.js'
import { BUILT_INS, makeBuiltInWorksheets } from '../worksheet/builtIn.js'
import { Notice, OwnCopyMade, type Handout } from './slip.entity.js'
import { type Database, inSchool } from '../database/inSchool.js'
import {
  type CopyRow,
  classForPlan,
  guestsOfHandout,
  worksheetsForPlan,
  copiesOfHandout,
  type CopyPerson,
  holdersOfCopies,
  readersOfCopies,
  writingOfHandout,
  contentsOfEditions,
} from './slip.queries.js'

/** What plans of a class depend on, whichever handout they are of. */
export type ClassFacts = Omit<PlanFacts, 'number' | 'guests' | 'ownCopies' | 'worksheets' | 'begunAt'>

/** What plans of a class depend on, as it is now. */
export async function classFacts(database: Database, schoolId: string, classId: string): Promise<ClassFacts> {
  const [about] = await classForPlan(database, schoolId, classId)
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
    ownCopies: await inSchool(database, schoolId).find(
      OwnCopyMade,
      { handoutId: handout.id },
      { select: ['itemId', 'personId'], order: { madeAt: 'ASC' } },
    ),
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
  return guestsOfHandout(database, schoolId, handoutId)
}

/** Worksheets with what a plan needs to know of them, and the built-in ones, which are made when they are first asked for. */
export async function planWorksheets(
  database: Database,
  schoolId: string,
  ids: readonly string[],
): Promise<PlanWorksheet[]> {
  const read = () => worksheetsForPlan(database, schoolId, ids)
  const found = await read()
  if (found.filter(({ builtIn }) => builtIn).length >= BUILT_INS) return found
  await makeBuiltInWorksheets(database, schoolId)
  return read()
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
  // Plain joins, put together here: the database would aggregate each copy by itself while its statistics are old.
  const rows = await copiesOfHandout(database, schoolId, handoutId)
  const notices = await inSchool(database, schoolId).find(Notice, { handoutId }, { select: ['noticeKey'] })
  if (rows.length === 0) return { copies: [], notices: notices.map(({ noticeKey }) => noticeKey) }
  const perCopy = (people: readonly CopyPerson[]) =>
    gathered(
      people,
      ({ copy_id }) => copy_id,
      ({ personId, permission }): PlannedHolder => ({ personId, permission }),
    )
  const holders = perCopy(await holdersOfCopies(database, schoolId, handoutId))
  const readers = perCopy(await readersOfCopies(database, schoolId, handoutId))
  const written = withWriting ? await writtenIn(database, schoolId, handoutId) : new Map<string, Written>()
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
async function writtenIn(database: Database, schoolId: string, handoutId: string): Promise<Map<string, Written>> {
  const rows = await writingOfHandout(database, schoolId, handoutId)
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
  const contents = await contentsOfEditions(
    database,
    schoolId,
    [...editions.values()].map(({ worksheet_id }) => worksheet_id),
    [...editions.values()].map(({ edition }) => edition),
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
