import {
  type ClassRole,
  type CopyFacts,
  type CopyState,
  type Permission,
  type ProgressBySpace,
  type Viewer,
  type WorksheetContent,
  couldWriteIn as mayHaveWritten,
  expandSections,
  reservedSpaces,
  keptContent,
} from '@gavrin/core'
import { createHash } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { isUuid } from '../common/checked.js'
import { notThere } from '../common/problemDetails.js'

/** A copy with all that access to it and work in it depend on. */
export interface CopyRecord {
  readonly schoolId: string
  readonly copyId: string
  readonly handoutId: string
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
  /** Changes when the page is another: another edition, other holders or groups with a part of their own. */
  readonly page: string
  readonly facts: CopyFacts
  readonly submittedAt: number | null
  readonly progress: ProgressBySpace
  /** Who could write in it and cannot any more; null among them: all students of the class. */
  readonly formerWriters: ReadonlySet<string | null>
  /** The answer space because of which it cannot be opened in time, or null. */
  readonly unreadable: string | null
  /** What each person of the class (and each holder) is in it. */
  readonly roles: ReadonlyMap<string, ClassRole>
}

interface Row {
  id: string
  handout_id: string
  class_id: string
  class_name: string
  ink: string
  number: number
  title: string
  worksheet_id: string
  worksheet_title: string
  edition: number
  content: object
  classmates_may: Permission
  state: CopyState
  pens_down: boolean
  set_aside: boolean
  due_at: Date | null
  submitted_at: Date | null
  progress: ProgressBySpace
  way: CopyFacts['way']
  link: string | null
  may_invite: boolean
  unreadable_space: string | null
  former_writers: (string | null)[]
  places: { id: string; name: string; personIds: string[] }[]
  opens_at: Date | null
  pens_down_at_due: boolean
  late_work: boolean
  time_zone: string
  guests_until: number
  holders: { id: string; permission: Permission; name: string }[]
  readers: { id: string; permission: Permission; invited: boolean }[]
  members: { id: string; role: ClassRole }[]
  named_helpers: string[]
}

/** How many answer spaces a copy `c` of edition `e` has, its sections laid open. */
export const SPACES_OF_COPY = `(e.answer_spaces + e.member_spaces * greatest((SELECT count(*)::int FROM copy_holder n WHERE n.school_id = c.school_id AND n.copy_id = c.id) - 1, 0)
  + e.group_spaces * greatest(jsonb_array_length(c.places) - 1, 0)
  - (SELECT coalesce(sum((part ->> 'spaces')::int), 0)::int FROM jsonb_array_elements(e.reserved_parts) AS part WHERE NOT EXISTS
      (SELECT 1 FROM copy_holder n WHERE n.school_id = c.school_id AND n.copy_id = c.id AND part -> 'people' ? n.person_id::text)))`

/** Reads a copy; null when there is none of this id in this school. */
export async function findCopy(
  database: DataSource | EntityManager,
  schoolId: string,
  copyId: string,
): Promise<CopyRecord | null> {
  if (!isUuid(copyId)) return null
  const [row] = await database.query<Row[]>(
    `SELECT c.id, c.handout_id, h.class_id, k.name AS class_name, k.ink, h.number, c.title, c.worksheet_id, e.title AS worksheet_title, c.edition, e.content,
            c.classmates_may, c.state, c.pens_down, c.set_aside, c.due_at, c.submitted_at, c.progress,
            c.way, c.link, c.may_invite, c.unreadable_space, (SELECT coalesce(json_agg(f.person_id), '[]') FROM former_writer f WHERE f.school_id = c.school_id AND f.copy_id = c.id) AS former_writers, c.places, c.opens_at, c.pens_down_at_due, c.late_work, s.time_zone,
            (SELECT coalesce(extract(epoch FROM max(coalesce(w.ends_at, 'infinity'))) * 1000, 0)::float8 FROM walk_in w WHERE w.school_id = c.school_id AND w.handout_id = c.handout_id AND w.item_id = c.item_id AND w.is_open) AS guests_until,
            (SELECT coalesce(json_agg(json_build_object('id', r.person_id, 'permission', r.permission, 'invited', r.invited_by IS NOT NULL)), '[]')
               FROM copy_reader r WHERE r.school_id = c.school_id AND r.copy_id = c.id) AS readers,
            (SELECT coalesce(json_agg(json_build_object('id', o.person_id, 'permission', o.permission, 'name', trim(p.first_name || ' ' || p.last_name)) ORDER BY p.last_name, p.first_name, p.id), '[]')
               FROM copy_holder o JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id WHERE o.school_id = c.school_id AND o.copy_id = c.id) AS holders,
            (SELECT coalesce(json_agg(json_build_object('id', m.person_id, 'role', CASE WHEN m.left_at IS NULL THEN m.role WHEN m.role = 'student' THEN 'left' ELSE 'none' END)), '[]')
               FROM class_member m WHERE m.school_id = c.school_id AND m.class_id = h.class_id) AS members,
            (SELECT coalesce(json_agg(n.helper_id), '[]') FROM helped_student n JOIN copy_holder o ON o.school_id = n.school_id AND o.person_id = n.student_id
              WHERE n.school_id = c.school_id AND n.class_id = h.class_id AND o.copy_id = c.id) AS named_helpers
       FROM copy c
       JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
       JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
       JOIN school s ON s.id = c.school_id
       JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
      WHERE c.school_id = $1 AND c.id = $2`,
    [schoolId, copyId],
  )
  if (!row) return null
  const content = keptContent(row.content)
  return {
    schoolId,
    copyId,
    handoutId: row.handout_id,
    classId: row.class_id,
    className: row.class_name,
    ink: row.ink,
    handoutNumber: row.number,
    title: row.title,
    worksheetId: row.worksheet_id,
    worksheetTitle: row.worksheet_title,
    edition: row.edition,
    way: row.way,
    link: row.link,
    content: expandSections(content, {
      members: row.holders,
      groups: row.places.map(({ id, name }) => ({ id, name })),
    }),
    page: createHash('sha256')
      .update(JSON.stringify([row.worksheet_id, row.edition, row.holders.map(({ id }) => id), row.places]))
      .digest('base64url')
      .slice(0, 16),
    submittedAt: row.submitted_at?.getTime() ?? null,
    progress: row.progress,
    unreadable: row.unreadable_space,
    formerWriters: new Set(row.former_writers),
    facts: {
      schoolId,
      way: row.way,
      holders: new Map(row.holders.map(({ id, permission }) => [id, permission])),
      readers: new Map(row.readers.filter(({ invited }) => !invited).map(({ id, permission }) => [id, permission])),
      invited: new Map(row.readers.filter(({ invited }) => invited).map(({ id, permission }) => [id, permission])),
      mayInvite: row.may_invite,
      classmatesMay: row.classmates_may,
      places: row.places,
      reserved: reservedSpaces(content),
      state: row.state,
      pensDown: row.pens_down,
      setAside: row.set_aside,
      opensAt: row.opens_at?.getTime() ?? null,
      dueAt: row.due_at?.getTime() ?? null,
      pensDownAtDue: row.pens_down_at_due,
      lateWork: row.late_work,
      guestsUntil: row.guests_until,
      timeZone: row.time_zone,
      namedHelpers: new Set(row.named_helpers),
    },
    roles: new Map(row.members.map(({ id, role }) => [id, role])),
  }
}

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
