import {
  type ClassRole,
  type CopyFacts,
  type Named,
  type ProgressBySpace,
  type Viewer,
  type WorksheetContent,
  couldWriteIn as mayHaveWritten,
  expandSections,
  hidesPlaces,
  maySeeAt,
  memberRole,
  membersOf,
  reservedSpaces,
  keptContent,
  withAccepted,
} from '@gavrin/core'
import { createHash } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { isUuid } from '../common/checked.js'
import { notThere } from '../common/problemDetails.js'
import { type KeptFrom, type Row, copyRow } from './kept.queries.js'

/** A copy with all that access to it and work in it depend on. */
export interface CopyRecord {
  readonly schoolId: string
  readonly copyId: string
  readonly handoutId: string
  /** Of the statement it is given by. */
  readonly itemId: string
  readonly classId: string
  readonly className: string
  readonly ink: string
  readonly handoutNumber: number
  readonly title: string
  readonly way: CopyFacts['way']
  /** A web page in place of a worksheet. */
  readonly link: string | null
  readonly worksheetId: string
  readonly worksheetTitle: string
  readonly edition: number
  readonly content: WorksheetContent
  /** Whose parts there are in it: of its holders, and of groups. */
  readonly parts: readonly Named[]
  /** Changes when the page is another: another edition, other holders or groups with a part of their own. */
  readonly page: string
  readonly facts: CopyFacts
  readonly submittedAt: number | null
  readonly progress: ProgressBySpace
  /** Who could write in it and cannot any more; null among them: all students of the class. */
  readonly formerWriters: ReadonlySet<string | null>
  /** The answer space because of which it cannot be opened in time, or null. */
  readonly unreadable: string | null
  /** Of one that its holder was given to keep: what it was. */
  readonly keptFrom: KeptFrom | null
  /** What each person of the class (and each holder) is in it. */
  readonly roles: ReadonlyMap<string, ClassRole>
}

/** Reads a copy; null when there is none of this id in this school. */
export async function findCopy(
  database: DataSource | EntityManager,
  schoolId: string,
  copyId: string,
): Promise<CopyRecord | null> {
  if (!isUuid(copyId)) return null
  const [row] = await copyRow(database, schoolId, copyId)
  if (!row) return null
  const content = withAccepted(keptContent(row.content), row.accepted ?? {})
  // In a copy to keep the parts are there that it had.
  const { kept } = row
  const matches = kept?.matches ?? row.matches
  const members = membersOf(kept?.holders ?? row.holders, matches)
  const groups = row.places.map(({ id, name }) => ({ id, name }))
  return {
    schoolId,
    copyId,
    handoutId: row.handout_id,
    itemId: row.item_id,
    classId: row.class_id,
    className: kept?.class ?? row.class_name,
    ink: kept?.ink ?? row.ink,
    handoutNumber: kept?.number ?? row.number,
    keptFrom: kept,
    title: row.title,
    worksheetId: row.worksheet_id,
    worksheetTitle: row.worksheet_title,
    edition: row.edition,
    way: row.way,
    link: row.link,
    content: expandSections(content, { members, groups }),
    parts: [...members, ...groups],
    page: pageMark(row),
    submittedAt: row.submitted_at?.getTime() ?? null,
    progress: row.progress,
    unreadable: row.unreadable_space,
    formerWriters: new Set(row.former_writers),
    facts: {
      schoolId,
      way: row.way,
      isKept: kept !== null,
      holders: new Map(row.holders.map(({ id, permission }) => [id, permission])),
      readers: new Map(row.readers.filter(({ invited }) => !invited).map(({ id, permission }) => [id, permission])),
      invited: new Map(row.readers.filter(({ invited }) => invited).map(({ id, permission }) => [id, permission])),
      readersNamed: row.readers_named ?? true,
      classmatesComment: row.classmates_comment,
      staffShown: row.staff_shown,
      viewersReadComments: row.viewers_read ?? true,
      ownCopies: row.own_copies ?? false,
      checks: row.checks ?? 'no',
      othersPlaces: kept?.hidesOthers ? 'hidden' : (row.others_places ?? 'read'),
      mayInvite: row.may_invite,
      classmatesMay: row.classmates_may,
      places: row.places,
      reserved: reservedSpaces(content),
      state: row.state,
      pensDown: row.pens_down,
      pensDownFrom: row.pens_down_from?.getTime() ?? null,
      setAside: row.set_aside,
      opensAt: row.opens_at?.getTime() ?? null,
      dueAt: row.due_at?.getTime() ?? null,
      pensDownAtDue: row.pens_down_at_due,
      lateWork: row.late_work,
      guestsUntil: row.guests_until,
      timeZone: row.time_zone,
      locale: row.locale,
      guestIs: new Map(matches.map(({ guestId, studentId }) => [guestId, studentId])),
      namedHelpers: new Set(row.named_helpers),
    },
    roles: new Map(row.members.map(({ id, role, gone }) => [id, memberRole(role, gone)])),
  }
}

/** Another one where the page is another: of another edition, for other holders or groups, or with places hidden that were not. */
function pageMark(row: Row): string {
  const isHidden = hidesPlaces(
    { othersPlaces: row.others_places ?? 'read', dueAt: row.due_at?.getTime() ?? null },
    Date.now(),
  )
  const parts = [row.worksheet_id, row.edition, row.holders.map(({ id }) => id), row.places, ...row.matches]
  return createHash('sha256')
    .update(JSON.stringify(isHidden ? [...parts, 'hidden'] : parts))
    .digest('base64url')
    .slice(0, 16)
}

/** The page of a copy as somebody is shown it: without the places of others where these are hidden. */
export function contentFor(copy: CopyRecord, viewer: Viewer): WorksheetContent {
  const now = Date.now()
  if (!hidesPlaces(copy.facts, now)) return copy.content
  const role = roleIn(copy, viewer)
  const blocks = copy.content.blocks.filter(({ id }) => maySeeAt(viewer, role, copy.facts, id, now))
  return { ...copy.content, blocks }
}

/** The copies whose files a copy shows: a copy to keep also those of the copy of the class, which stays. */
export const withItsFiles = ({ copyId, keptFrom }: Pick<CopyRecord, 'copyId' | 'keptFrom'>): string[] =>
  keptFrom ? [copyId, keptFrom.copyId] : [copyId]

/** Whether words of somebody that come late are heard: see the core. */
export const couldWriteIn = (copy: CopyRecord, viewer: Viewer): boolean =>
  mayHaveWritten(viewer, roleIn(copy, viewer), copy.facts, copy.formerWriters)

export const roleIn = (copy: CopyRecord, viewer: Viewer): ClassRole => copy.roles.get(viewer.personId) ?? 'none'

/** Reads a copy that must be there. */
export async function copyOf(
  database: DataSource | EntityManager,
  schoolId: string,
  copyId: string,
): Promise<CopyRecord> {
  const copy = await findCopy(database, schoolId, copyId)
  if (!copy) throw notThere()
  return copy
}
