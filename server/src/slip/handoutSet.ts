import { inSchool } from '../database/inSchool.js'
import { type ClassAction, type Statement, type Viewer, timesFor } from '@gavrin/core'
import { type EntityManager, IsNull } from 'typeorm'
import { randomUUID } from 'node:crypto'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { holdInClass } from '../access/classRole.js'
import { Handout } from './slip.entity.js'
import { worksheetsOf } from './planFacts.js'
import { nextHandoutNumber, worksheetsAllowed } from './slip.queries.js'

/** The handout of this id; for all who may not know of it there is none. */
export async function findHandout(
  manager: EntityManager,
  viewer: Pick<Viewer, 'schoolId'>,
  id: string,
  lock = false,
): Promise<Handout> {
  const handout = await manager.findOne(Handout, {
    where: { schoolId: viewer.schoolId, id },
    ...(lock && { lock: { mode: 'pessimistic_write' as const } }),
  })
  if (!handout) throw notThere()
  return handout
}

/** The handouts of a set, each of one class, in the order of the statement's classes; a handout by itself is a set of one. */
export async function handoutsOfSet(manager: EntityManager, handout: Handout, lock = false): Promise<Handout[]> {
  if (handout.setId === null) return [handout]
  const all = await manager.find(Handout, {
    where: { schoolId: handout.schoolId, setId: handout.setId },
    // In one order, so that two who take the same set wait for each other and not both.
    order: { id: 'ASC' },
    ...(lock && { lock: { mode: 'pessimistic_write' as const } }),
  })
  const place = new Map(handout.statement.classes.map(({ classId }, at) => [classId, at]))
  return all.toSorted((a, b) => (place.get(a.classId) ?? 99) - (place.get(b.classId) ?? 99))
}

/** Locks a handout and all others of its set, until the transaction ends. */
export async function lockSet(
  tx: EntityManager,
  viewer: Pick<Viewer, 'schoolId'>,
  handoutId: string,
): Promise<{ handout: Handout; all: Handout[] }> {
  for (;;) {
    const alone = await tx.findOne(Handout, {
      where: { schoolId: viewer.schoolId, id: handoutId, setId: IsNull() },
      lock: { mode: 'pessimistic_write' },
    })
    if (alone) return { handout: alone, all: [alone] }
    const seen = await findHandout(tx, viewer, handoutId)
    if (seen.setId === null) continue
    const all = await handoutsOfSet(tx, seen, true)
    const handout = all.find(({ id }) => id === handoutId)
    // In another set, or in none, by the time it was locked: that one then.
    if (handout) return { handout, all }
  }
}

/** Locks a set for somebody who may do this in each of its classes. */
export async function holdSet(
  tx: EntityManager,
  viewer: Viewer,
  handoutId: string,
  action: ClassAction,
): Promise<Handout[]> {
  const { all } = await lockSet(tx, viewer, handoutId)
  for (const { classId } of all) await holdInClass(tx, viewer, classId, action)
  return all
}

/** Takes the next number of a class and puts a handout under it. */
export async function addHandout(
  tx: EntityManager,
  viewer: Viewer,
  classId: string,
  input: Pick<Handout, 'title' | 'statement' | 'setId'> &
    Partial<Pick<Handout, 'version' | 'kind'>> & { id?: string | undefined },
): Promise<Handout> {
  const isShelf = input.kind === 'shelf'
  const rows = isShelf ? [{ number: 0 }] : await nextHandoutNumber(tx, viewer.schoolId, classId)
  const now = Date.now()
  const { opensAt, dueAt } = timesFor(input.statement, classId)
  const handout: Handout = {
    schoolId: viewer.schoolId,
    classId,
    number: rows[0]!.number,
    kind: 'handout',
    given: null,
    handedOutAt: null,
    version: 1,
    ...input,
    id: input.id ?? randomUUID(),
    createdBy: viewer.personId,
    createdAt: now,
    updatedAt: now,
    opensAt,
    dueAt,
  }
  await inSchool(tx, viewer.schoolId).insert(Handout, handout)
  return handout
}

/**
 * Keeps a statement in all handouts of a set, which it may make larger or smaller: a class that is added gets a handout with
 * a number of its own, one that is taken out loses its draft. What was handed out to a class already stays with it.
 */
export async function keepInSet(
  tx: EntityManager,
  viewer: Viewer,
  all: readonly Handout[],
  { title, statement }: { title: string; statement: Statement },
): Promise<{ version: number; updatedAt: Date }> {
  const wanted = statement.classes.map(({ classId }) => classId)
  if (wanted.length === 0)
    throw malformed([{ code: 'no-class', field: 'classes', sentence: 'A handout is for one class at least.' }])
  for (const handout of all) {
    if (wanted.includes(handout.classId)) continue
    if (handout.handedOutAt)
      throw conflict(
        'handed-out',
        `No. ${handout.number} has been handed out to this class: take its copies back first.`,
      )
    await tx.delete(Handout, { schoolId: handout.schoolId, id: handout.id })
  }
  const version = all[0]!.version + 1
  const setId = wanted.length > 1 ? (all.find((handout) => handout.setId !== null)?.setId ?? randomUUID()) : null
  for (const classId of wanted) {
    const known = all.find((handout) => handout.classId === classId)
    if (known) {
      await writeStatement(tx, { ...known, title, setId, version }, statement)
    } else {
      await holdInClass(tx, viewer, classId, 'hand out')
      await addHandout(tx, viewer, classId, { title, statement, setId, version })
    }
  }
  return { version, updatedAt: new Date() }
}

/** Writes the statement of a handout, with its title, set and version. */
export async function writeStatement(
  tx: EntityManager,
  { schoolId, id, title, setId, version }: Pick<Handout, 'schoolId' | 'id' | 'title' | 'setId' | 'version'>,
  statement: Statement,
): Promise<void> {
  await inSchool(tx, schoolId).update(Handout, { id }, { statement, title, setId, version, updatedAt: () => 'now()' })
}

/** Refuses worksheets that the person may not give out, unless the handout spoke of them already. */
export async function refuseForeignWorksheets(
  tx: EntityManager,
  viewer: Viewer,
  statement: Statement,
  already: Statement | null,
): Promise<void> {
  const known = new Set(already ? worksheetsOf(already) : [])
  const ids = worksheetsOf(statement).filter((id) => !known.has(id))
  if (ids.length === 0) return
  const own = new Set((await worksheetsAllowed(tx, viewer.schoolId, viewer.personId, ids)).map(({ id }) => id))
  const foreign = new Set(ids.filter((id) => !own.has(id)))
  const at = statement.items.findIndex(
    ({ worksheetId, match }) =>
      (worksheetId !== null && foreign.has(worksheetId)) || match?.rules.some((rule) => foreign.has(rule.worksheetId)),
  )
  if (at >= 0)
    throw malformed([
      {
        code: 'worksheet-gone',
        field: `items.${at}.worksheetId`,
        sentence: 'This worksheet is not yours to give out, or no longer there: choose another.',
      },
    ])
}

export const changedMeanwhile = (handout: Handout) =>
  conflict(
    'changed-meanwhile',
    'This handout was changed in another window or by a colleague. Open it again to see the newer one; what you have here is not lost.',
    { version: handout.version },
  )
