import { answerSpaces, answerText, fullName, inspectUpdate, readAnswer } from '@gavrin/core'
import { type DataSource, Any } from 'typeorm'
import * as Y from 'yjs'
import type { CopyRecord } from '../kept/copyRecord.js'
import type { DocLoader } from '../kept/docLoader.js'
import { ANSWER_LIMITS } from '../kept/limits.js'
import { loadLate, loadSpaces } from '../kept/spaces.queries.js'
import { inSchool } from '../database/inSchool.js'
import { Person } from '../access/access.entity.js'

/** Late writing as it can be read: the whole answer as it would stand with it. */
export interface LateWriting {
  readonly id: string
  readonly space: string
  /** When it began and when the last of it came, in milliseconds since 1970. */
  readonly began: number
  readonly at: number
  readonly reason: string
  readonly by: string
  readonly text: string
}

/** What was written too late into a copy, one for each answer space and writer, in the order it began. */
export async function lateWritingsOf(source: DataSource, loader: DocLoader, copy: CopyRecord): Promise<LateWriting[]> {
  const late = await loadLate(source, copy.schoolId, copy.copyId)
  if (late.length === 0) return []
  const stored = await loadSpaces(source, copy.schoolId, copy.copyId)
  const people = await inSchool(source, copy.schoolId).find(
    Person,
    { id: Any(late.map(({ personId }) => personId)) },
    { select: ['id', 'first', 'last'] },
  )
  const spaces = new Map(answerSpaces(copy.content).map((space) => [space.id, space]))
  const writings: LateWriting[] = []
  for (const { space: spaceId, personId, updates, began, at, reason } of late) {
    const space = spaces.get(spaceId)
    const person = people.find(({ id }) => id === personId)
    const doc = space && (await loader.load(space.kind, stored.get(spaceId)?.updates ?? []))
    if (!space || !person || !doc) continue
    for (const bytes of updates) {
      // It passed when it came; the answer may have gone on since.
      const inspection = inspectUpdate(doc, bytes, {
        kind: space.kind,
        owns: () => true,
        maxStructs: ANSWER_LIMITS.slowStructs,
        maxSteps: ANSWER_LIMITS.slowSteps,
        maxItems: 2 * ANSWER_LIMITS.spaceItems,
        hasRoom: false,
      })
      if (inspection.verdict === 'apply') Y.applyUpdate(doc, inspection.bytes)
    }
    const text = answerText(space, readAnswer(space, doc))
    writings.push({ id: `${spaceId} ${personId}`, space: spaceId, began, at, reason, by: fullName(person), text })
    doc.destroy()
  }
  return writings
}
