import {
  type CopyMark,
  type MarkParts,
  type MarkedSpace,
  type MarkingWay,
  type WorksheetContent,
  NO_PARTS,
  daysLate,
  expandSections,
  fingerprintOf,
  fullName,
  keptContent,
  markOf,
  markedSpaces,
  markingWay,
  memberParts,
  membersOf,
} from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'
import { ALL_HOLDERS } from '../kept/mark.entity.js'
import type { Handout } from '../slip/slip.entity.js'
import { Edition } from '../worksheet/worksheet.entity.js'
import { type CopyToMark, type KeptMark, copiesToMark, keepReckoned, marksOf } from './marking.queries.js'

/** How copies of a handout are marked: as its slip was handed out. */
export const wayOf = ({ given, statement }: Pick<Handout, 'given' | 'statement'>): MarkingWay =>
  markingWay(given ?? statement)

/** Changes when copies are marked in another way. */
export const wayFingerprint = (way: MarkingWay): string => fingerprintOf([way])

/** What a copy is to be of and due: what is left out stays as it is. */
export interface CopyThen {
  readonly worksheetId?: string | undefined
  readonly edition?: number | undefined
  readonly dueAt?: number | null | undefined
}

/** A copy with its mark, and all that this depends on. */
export interface MarkedCopy extends Omit<CopyToMark, 'matches' | 'places' | 'slotKey'> {
  readonly spaces: readonly MarkedSpace[]
  readonly daysLate: number
  readonly parts: MarkParts
  /** What of the mark is one holder's alone. */
  readonly own: Readonly<Record<string, MarkParts>>
  readonly mark: CopyMark
  readonly version: number
  /** Who changed it last, and when; null: nobody has marked it. */
  readonly changed: { readonly personId: string; readonly by: string; readonly at: number } | null
  readonly doneAt: number | null
  readonly kept: readonly KeptMark[]
}

/** How a mark that is kept was reckoned: where this is another one now, it is reckoned anew. */
export const countedBy = (way: string, { edition, daysLate: days }: Pick<MarkedCopy, 'edition' | 'daysLate'>): string =>
  `${way} ${edition} ${days}`

/**
 * The copies of a handout with their marks: all, or some.
 * @param then by slot key: what copies would be of, if it were so
 */
export async function markedCopies(
  database: Database,
  handout: Pick<Handout, 'schoolId' | 'id' | 'given' | 'statement'>,
  copyIds: readonly string[] | null,
  then: ReadonlyMap<string, CopyThen> = new Map(),
): Promise<MarkedCopy[]> {
  const { schoolId, id } = handout
  const way = wayOf(handout)
  const copies = (await copiesToMark(database, schoolId, id, copyIds)).map((copy) => ({
    ...copy,
    ...then.get(copy.slotKey),
  }))
  const marks = new Map<string, KeptMark[]>()
  const kept = await marksOf(
    database,
    schoolId,
    copies.map(({ copyId }) => copyId),
  )
  for (const mark of kept) marks.set(mark.copyId, [...(marks.get(mark.copyId) ?? []), mark])
  const contents = await contentsOf(database, schoolId, copies)
  return copies.map(({ matches, places, slotKey: _, ...copy }): MarkedCopy => {
    const content = contents.get(`${copy.worksheetId} ${copy.edition}`)!
    const holders = copy.holders.map((holder) => ({ id: holder.personId, name: fullName(holder) }))
    const spaces = markedSpaces(way, expandSections(content, { members: membersOf(holders, matches), groups: places }))
    const days = daysLate(copy.dueAt, copy.submittedAt)
    const own = marks.get(copy.copyId) ?? []
    const shared = own.find(({ personId }) => personId === ALL_HOLDERS)
    const parts = shared?.parts ?? NO_PARTS
    return {
      ...copy,
      ...{ spaces, daysLate: days, parts },
      own: Object.fromEntries(
        own.filter(({ personId }) => personId !== ALL_HOLDERS).map((mark) => [mark.personId, mark.parts]),
      ),
      mark: markOf(way, spaces, parts, days),
      version: shared?.version ?? -1,
      changed: shared ? { personId: shared.changedBy, by: fullName(shared), at: shared.changedAt } : null,
      doneAt: shared?.doneAt ?? null,
      kept: own,
    }
  })
}

async function contentsOf(
  database: Database,
  schoolId: string,
  copies: readonly Pick<CopyToMark, 'worksheetId' | 'edition'>[],
): Promise<Map<string, WorksheetContent>> {
  const contents = new Map<string, WorksheetContent>()
  for (const { worksheetId, edition } of copies) {
    const key = `${worksheetId} ${edition}`
    if (contents.has(key)) continue
    const which = { worksheetId, number: edition }
    const [found] = await inSchool(database, schoolId).find(Edition, which, { select: ['content'] })
    contents.set(key, keptContent(found!.content))
  }
  return contents
}

/** What is kept of a mark besides its parts, for all holders of a copy or for one. */
export function reckoned(
  way: MarkingWay,
  copy: Pick<MarkedCopy, 'spaces' | 'daysLate'>,
  parts: MarkParts,
  own: MarkParts | null,
) {
  const { total, most, step, excused } = markOf(way, copy.spaces, memberParts(parts, own), copy.daysLate)
  return { total, most, step, excused }
}

/** Reckons marks anew that were reckoned in another way than the handout has now, or for another edition or time of submission. */
export async function reckonAnew(
  database: Database,
  handout: Pick<Handout, 'schoolId' | 'id' | 'given' | 'statement'>,
  copies: readonly MarkedCopy[],
): Promise<void> {
  const way = wayOf(handout)
  const fingerprint = wayFingerprint(way)
  const stale = copies.flatMap((copy) =>
    copy.kept
      .filter((mark) => mark.countedBy !== countedBy(fingerprint, copy))
      .map(({ copyId, personId, parts }) => ({
        ...{ copyId, personId, countedBy: countedBy(fingerprint, copy) },
        ...reckoned(way, copy, copy.parts, personId === ALL_HOLDERS ? null : parts),
      })),
  )
  if (stale.length > 0) await keepReckoned(database, handout.schoolId, stale)
}
