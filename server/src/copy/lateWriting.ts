import {
  type AnswerPart,
  type AnswerSpace,
  type LateDecision,
  type Viewer,
  answerSpaces,
  bringParts,
  fullName,
  newAnswerDoc,
  partsBetween,
  seesLateWritingOf,
} from '@gavrin/core'
import { type DataSource, type EntityManager, Any } from 'typeorm'
import * as Y from 'yjs'
import { Person } from '../access/access.entity.js'
import { conflict, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { inspectKept, takable } from '../kept/amend.js'
import { type CopyRecord, roleIn } from '../kept/copyRecord.js'
import type { DocLoader } from '../kept/docLoader.js'
import { addToJournal } from '../kept/journal.js'
import {
  type Decided,
  type StoredLate,
  type StoredSpace,
  appendAfter,
  loadLate,
  loadSpaces,
} from '../kept/spaces.queries.js'
import { decideLate } from './copy.queries.js'

/** What one person wrote too late in one answer, and what it would change. */
export interface LateWriting {
  /** The address of the answer and the id of who wrote. */
  readonly id: string
  readonly space: string
  /** When it began and when the last of it came, in milliseconds since 1970. */
  readonly began: number
  readonly at: number
  /** Why the copy stood still then: a sentence. */
  readonly reason: string
  readonly by: string
  /** What is other in the answer with it, as the answer stands now; empty: nothing any more. */
  readonly parts: AnswerPart[]
  /** What these parts were read from: the last change of the answer, and the last that came late. */
  readonly seen: { readonly answer: number; readonly late: number }
  /** What its teachers made of it, by name, and of which parts; null: nothing yet. */
  readonly decided: Decided | null
}

/** What is to be done with it. */
export interface Decision {
  readonly id: string
  /** What was seen when it was decided; see {@link LateWriting}. */
  readonly seen: LateWriting['seen']
  /** Keys of the parts that are taken in; null: the whole. None: it is left out. */
  readonly parts: readonly string[] | null
}

/**
 * What was written too late into a copy, one for each answer and writer, in the order it began. Its holders and the staff are
 * shown all of it, anybody else what they wrote themselves.
 */
export async function lateWritingsOf(
  source: DataSource,
  loader: DocLoader,
  copy: CopyRecord,
  viewer: Viewer,
): Promise<LateWriting[]> {
  const role = roleIn(copy, viewer)
  const late = (await loadLate(source, copy.schoolId, copy.copyId)).filter((one) =>
    seesLateWritingOf(viewer, role, copy.facts, one, Date.now()),
  )
  if (late.length === 0) return []
  const stored = await loadSpaces(source, copy.schoolId, copy.copyId)
  const ids = late.flatMap(({ personId, decided }) => [personId, ...(decided ? [decided.by] : [])])
  const people = await inSchool(source, copy.schoolId).find(
    Person,
    { id: Any(ids) },
    { select: ['id', 'first', 'last'] },
  )
  const named = (id: string) => {
    const person = people.find((one) => one.id === id)
    // Guests are not told who is in the class.
    return person && (viewer.role !== 'guest' || id === viewer.personId) ? fullName(person) : ''
  }
  const spaces = new Map(answerSpaces(copy.content).map((space) => [space.id, space]))
  const writings: LateWriting[] = []
  for (const one of late) {
    const space = spaces.get(one.space)
    const read = space && (await withLate(loader, space, stored.get(one.space), one))
    if (!read) continue
    const { began, at, reason, decided } = one
    writings.push({
      id: `${one.space} ${one.personId}`,
      space: one.space,
      ...{ began, at, reason, by: named(one.personId) },
      parts: partsBetween(space, read.answer, read.late),
      seen: { answer: stored.get(one.space)?.seq ?? 0, late: one.seq },
      decided: decided && { ...decided, by: named(decided.by) },
    })
    read.answer.destroy()
    read.late.destroy()
  }
  return writings
}

/** The answer as it stands, and as it would stand with what came late; null: it cannot be read in time. */
async function withLate(
  loader: DocLoader,
  space: AnswerSpace,
  stored: StoredSpace | undefined,
  { updates }: StoredLate,
): Promise<{ readonly answer: Y.Doc; readonly late: Y.Doc } | null> {
  const answer = await loader.load(space.kind, stored?.updates ?? [])
  if (!answer) return null
  const late = newAnswerDoc(space.kind)
  Y.applyUpdate(late, Y.encodeStateAsUpdate(answer))
  for (const bytes of updates) {
    const inspection = inspectKept(space, late, bytes, 'beside')
    // It passed when it came; the answer may have gone on since.
    if (inspection.verdict === 'apply') Y.applyUpdate(late, inspection.bytes)
  }
  return { answer, late }
}

const CHANGED = 'It has changed meanwhile: look at it again.'

/**
 * Takes late writing into its answer, in part or whole, or leaves it out; it stays readable either way.
 * @returns whether the answer is other now
 */
export async function decideOnLate(
  tx: EntityManager,
  loader: DocLoader,
  copy: CopyRecord,
  { personId }: Viewer,
  { id, seen, parts }: Decision,
): Promise<boolean> {
  const { schoolId, copyId } = copy
  const [spaceId = '', writer = ''] = id.split(' ')
  const late = (await loadLate(tx, schoolId, copyId)).find((one) => one.space === spaceId && one.personId === writer)
  const space = answerSpaces(copy.content).find((one) => one.id === spaceId)
  if (!late || !space) throw notThere()
  const stored = (await loadSpaces(tx, schoolId, copyId)).get(spaceId)
  // What is taken in is what was seen, and nothing that came since.
  if (late.seq !== seen.late || (stored?.seq ?? 0) !== seen.answer) throw conflict('changed', CHANGED)
  const read = await withLate(loader, space, stored, late)
  if (!read) throw conflict('unreadable', 'This answer takes too long to read: nothing was changed.')
  // The step and the change that it makes have one time: that is how the history knows them.
  const now = Date.now()
  const there = partsBetween(space, read.answer, read.late)
  if (parts?.some((key) => !there.some((part) => part.key === key))) throw conflict('changed', CHANGED)
  const isTaken = ({ key }: AnswerPart) => parts === null || parts.includes(key)
  const left = there.filter((part) => !isTaken(part))
  const decision: LateDecision = parts?.length === 0 ? 'left out' : left.length === 0 ? 'taken in' : 'taken in part'
  const isOther = decision !== 'left out' && there.length > 0
  if (isOther) {
    // With all that came late in it, what was left is as it was again: what goes on from it later finds what it rests on.
    if (left.length > 0) bringParts(space, read.late, read.answer, new Set(left.map(({ key }) => key)))
    const bytes = takable(space, read.answer, Y.encodeStateAsUpdate(read.late, Y.encodeStateVector(read.answer)))
    const change = { copyId, space: spaceId, after: seen.answer, personId: writer, at: now, bytes }
    if (!(await appendAfter(tx, schoolId, change))) throw conflict('changed', CHANGED)
  }
  const decided = there.map((part) => ({ ...part, taken: isTaken(part) }))
  await decideLate(tx, schoolId, {
    ...{ copyId, space: spaceId, writer, upTo: seen.late, decision, by: personId },
    parts: decided,
  })
  const kind = decision === 'left out' ? 'late writing left out' : 'late writing taken in'
  await addToJournal(tx, schoolId, { copyId, kind, personId, at: now, space: spaceId })
  return isOther
}
