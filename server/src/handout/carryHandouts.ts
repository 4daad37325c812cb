import { type Statement, type Viewer, repeatStatement } from '@gavrin/core'
import type { EntityManager } from 'typeorm'
import { Handout } from '../slip/slip.entity.js'
import { addHandout } from '../slip/handoutSet.js'
import { planWorksheets, worksheetsOf } from '../slip/planFacts.js'
import { inSchool } from '../database/inSchool.js'
import { Class } from '../access/access.entity.js'
import { addHandouts } from './handout.queries.js'

/** Puts the handouts of a class into another one as drafts, in their order, with their worksheets as these are now. */
export async function carryHandouts(tx: EntityManager, viewer: Viewer, from: string, to: string): Promise<number> {
  const handouts = await of(tx, viewer, from, 'handout')
  const repeated = await repeatedIn(tx, viewer, handouts, to)
  await addHandouts(tx, viewer.schoolId, {
    to,
    titles: handouts.map(({ title }) => title),
    statements: repeated.map((statement) => JSON.stringify(statement)),
    personId: viewer.personId,
  })
  await inSchool(tx, viewer.schoolId).update(Class, { id: to }, { lastHandoutNumber: handouts.length })
  return handouts.length
}

/** Puts what is on the shelf of a class on that of another one, to be handed out; null: there is nothing on it. */
export async function carryShelf(tx: EntityManager, viewer: Viewer, from: string, to: string): Promise<Handout | null> {
  const [shelf] = await of(tx, viewer, from, 'shelf')
  if (!shelf || shelf.statement.items.length === 0) return null
  const [statement] = await repeatedIn(tx, viewer, [shelf], to)
  return addHandout(tx, viewer, to, { title: shelf.title, statement: statement!, setId: null, kind: 'shelf' })
}

const of = (tx: EntityManager, { schoolId }: Viewer, classId: string, kind: Handout['kind']) =>
  tx.find(Handout, { where: { schoolId, classId, kind }, order: { number: 'ASC' } })

async function repeatedIn(
  tx: EntityManager,
  viewer: Viewer,
  handouts: readonly Handout[],
  classId: string,
): Promise<Statement[]> {
  const ids = new Set(handouts.flatMap(({ statement }) => worksheetsOf(statement)))
  const worksheets = await planWorksheets(tx, viewer.schoolId, [...ids])
  const [first] = handouts
  if (!first) return []
  const [from] = await inSchool(tx, viewer.schoolId).find(Class, { id: first.classId }, { select: ['id', 'name'] })
  return from ? handouts.map(({ statement }) => repeatStatement(statement, from, classId, worksheets)) : []
}
