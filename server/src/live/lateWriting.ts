import { type Viewer, answerSpaces, answerText, fullName, inspectUpdate, newAnswerDoc, readAnswer } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import * as Y from 'yjs'
import type { CopyRecord } from '../copy/copyRecord.js'
import { addToJournal } from '../copy/journal.js'
import { LIMITS } from './limits.js'
import { loadSpaces } from './spaceStore.js'

/**
 * Keeps what somebody wrote when the copy stood still already; it changes no answer.
 * @returns false when as much is kept of this copy as will be
 */
export async function keepLateWriting(
  source: DataSource,
  copy: CopyRecord,
  writing: { space: string; personId: Viewer['personId']; reason: string; bytes: Uint8Array },
): Promise<boolean> {
  return source.transaction(async (tx) => {
    const kept = await tx.query<unknown[]>(
      `INSERT INTO late_writing (school_id, copy_id, space, person_id, reason, bytes)
       SELECT $1, $2, $3, $4, $5, $6 WHERE (SELECT count(*) FROM late_writing WHERE school_id = $1 AND copy_id = $2) < $7
       RETURNING id`,
      [
        copy.schoolId,
        copy.copyId,
        writing.space,
        writing.personId,
        writing.reason,
        Buffer.from(writing.bytes),
        LIMITS.lateWritings,
      ],
    )
    if (kept.length === 0) return false
    await addToJournal(tx, copy.schoolId, copy.copyId, 'late writing', writing.personId, Date.now())
    return true
  })
}

/** Late writing as it can be read: the whole answer as it would stand with it. */
export interface LateWriting {
  readonly id: string
  readonly space: string
  /** Milliseconds since 1970. */
  readonly at: number
  readonly reason: string
  readonly by: string
  readonly text: string
}

/** What was written too late into a copy, in the order it came. */
export async function lateWritingsOf(source: DataSource, copy: CopyRecord): Promise<LateWriting[]> {
  const writings = await source.query<
    { id: string; space: string; at: Date; reason: string; bytes: Buffer; first: string; last: string }[]
  >(
    `SELECT l.id, l.space, l.at, l.reason, l.bytes, p.first_name AS first, p.last_name AS last
       FROM late_writing l JOIN person p ON p.school_id = l.school_id AND p.id = l.person_id
      WHERE l.school_id = $1 AND l.copy_id = $2 ORDER BY l.at`,
    [copy.schoolId, copy.copyId],
  )
  if (writings.length === 0) return []
  const stored = await loadSpaces(source, copy.schoolId, copy.copyId)
  const docs = new Map<string, Y.Doc>()
  return writings.flatMap(({ id, space: spaceId, at, reason, bytes, first, last }) => {
    const space = answerSpaces(copy.content).find((candidate) => candidate.id === spaceId)
    if (!space) return []
    let doc = docs.get(spaceId)
    if (!doc) {
      doc = newAnswerDoc(space.kind)
      for (const update of stored.get(spaceId)?.updates ?? []) Y.applyUpdate(doc, update)
      docs.set(spaceId, doc)
    }
    // It passed when it came; the answer may have gone on since.
    const inspection = inspectUpdate(doc, bytes, {
      kind: space.kind,
      owns: () => true,
      maxStructs: LIMITS.slowStructs,
    })
    if (inspection.verdict === 'apply') Y.applyUpdate(doc, inspection.bytes)
    const text = answerText(space, readAnswer(space, doc))
    return [{ id, space: spaceId, at: at.getTime(), reason, by: fullName({ first, last }), text }]
  })
}
