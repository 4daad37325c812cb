import { type SchoolRole, type Viewer, mayInClass, mayRunOffice, mayTeach } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { SPACES_OF_COPY } from '../kept/copyRecord.js'
import { notThere } from '../common/problemDetails.js'
import { classRole, helpedBy } from '../access/classRole.js'
import { formPeople, patternsOf } from './peopleForms.js'

/** Somebody who was found. */
export interface FoundPerson {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly role: SchoolRole
  readonly classes: string
}

const FOUND_LIMIT = 12

/** The asker is on the staff of the class of a membership, and sees this person there. */
const SEEN_IN_CLASS = `EXISTS (
  SELECT 1 FROM class_member o
   WHERE o.school_id = m.school_id AND o.class_id = m.class_id AND o.person_id = $2 AND o.role <> 'student' AND o.left_at IS NULL
     AND (o.role <> 'named helper' OR m.role <> 'student' OR EXISTS
           (SELECT 1 FROM helped_student n WHERE n.school_id = m.school_id AND n.class_id = m.class_id AND n.helper_id = $2 AND n.student_id = m.person_id)))`

@Injectable()
export class PeopleService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /**
   * People whose name, e-mail or student number has the words typed: of one's own classes, or for the office of the school. Those
   * who are called so from the beginning of a word come first.
   */
  async find(viewer: Viewer, typed: string): Promise<FoundPerson[]> {
    const all = mayRunOffice(viewer).may
    if (!all && !mayTeach(viewer).may) throw notThere()
    const patterns = patternsOf(typed)
    if (patterns.length === 0) return []
    await formPeople(this.source, viewer.schoolId)
    return this.source.query<FoundPerson[]>(
      `WITH found AS (
         SELECT p.school_id, p.id, p.first_name, p.last_name, p.email, p.role, ' ' || p.find_form LIKE $5 AS begins FROM person p
          WHERE p.school_id = $1 AND p.merged_into IS NULL AND p.role <> 'guest' AND p.find_form LIKE ALL ($4::text[])
            AND ($3 OR EXISTS (SELECT 1 FROM class_member m WHERE m.school_id = p.school_id AND m.person_id = p.id AND ${SEEN_IN_CLASS}))
          ORDER BY begins DESC, p.last_name, p.first_name, p.id LIMIT ${FOUND_LIMIT})
       SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.email, p.role,
              coalesce((SELECT string_agg(c.name, ', ' ORDER BY c.name) FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
                         WHERE m.school_id = p.school_id AND m.person_id = p.id AND m.left_at IS NULL AND ($3 OR ${SEEN_IN_CLASS})), '') AS classes
         FROM found p ORDER BY p.begins DESC, p.last_name, p.first_name, p.id`,
      [viewer.schoolId, viewer.personId, all, patterns, `% ${patterns.map((word) => word.slice(1, -1)).join(' ')}%`],
    )
  }

  /** The page of a person: classes, groups, and all copies with their states, as far as the viewer may see them. */
  async person(viewer: Viewer, personId: string) {
    const [person] = await this.source.query<{ role: SchoolRole; [key: string]: unknown }[]>(
      `SELECT id AS "personId", first_name AS first, last_name AS last, email, number, role, password_hash IS NOT NULL AS "canSignIn"
         FROM person WHERE school_id = $1 AND id = $2 AND merged_into IS NULL AND role <> 'guest'`,
      [viewer.schoolId, personId],
    )
    if (!person) throw notThere()
    const office = mayRunOffice(viewer).may
    const all = await this.source.query<{ id: string; name: string; [key: string]: unknown }[]>(
      `SELECT c.id, c.name, c.subject, c.year, c.ink, m.role, m.cells, c.archived_at IS NOT NULL AS archived,
              (extract(epoch FROM m.joined_at) * 1000)::float8 AS "joinedAt", (extract(epoch FROM m.left_at) * 1000)::float8 AS "leftAt",
              (SELECT coalesce(json_agg(json_build_object('id', k.id, 'name', k.name) ORDER BY k.position), '[]') FROM roster_column k WHERE k.school_id = c.school_id AND k.class_id = c.id AND k.removed_at IS NULL) AS columns
         FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
        WHERE m.school_id = $1 AND m.person_id = $2 ORDER BY c.archived_at IS NOT NULL, c.name`,
      [viewer.schoolId, personId],
    )
    const seen: typeof all = []
    const own: string[] = []
    for (const found of all) {
      const { role } = await classRole(this.source, viewer, found.id)
      const helped = await helpedBy(this.source, viewer, found.id, role)
      const may = mayInClass(role, 'see the roster').may && (!helped || helped.has(personId))
      if (may) own.push(found.id)
      if (may || office) seen.push(may ? found : { ...found, cells: {}, columns: [] })
    }
    if (seen.length === 0 && !office) throw notThere()
    const groups = await this.source.query<unknown[]>(
      `SELECT s.id AS "setId", s.class_id AS "classId", s.name AS set, g.name AS "group" FROM group_member o
         JOIN class_group g ON g.school_id = o.school_id AND g.id = o.group_id
         JOIN group_set s ON s.school_id = o.school_id AND s.id = o.set_id
        WHERE o.school_id = $1 AND o.person_id = $2 AND s.class_id = ANY($3::uuid[]) AND s.removed_at IS NULL ORDER BY s.position`,
      [viewer.schoolId, personId, seen.map(({ id }) => id)],
    )
    // The office keeps accounts; work is between a student and the staff of the class.
    const copies = await this.source.query<unknown[]>(
      `SELECT c.id, h.id AS "handoutId", h.class_id AS "classId", h.number, h.title AS handout, c.title, c.state, c.pens_down AS "pensDown", c.set_aside AS "setAside",
              c.answered, ${SPACES_OF_COPY} AS spaces, c.words, (extract(epoch FROM c.due_at) * 1000)::float8 AS "dueAt",
              (extract(epoch FROM c.submitted_at) * 1000)::float8 AS "submittedAt", (extract(epoch FROM c.last_activity_at) * 1000)::float8 AS "lastActivityAt"
         FROM copy_holder o JOIN copy c ON c.school_id = o.school_id AND c.id = o.copy_id
         JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
         JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
        WHERE o.school_id = $1 AND o.person_id = $2 AND h.class_id = ANY($3::uuid[]) AND c.way <> 'to read' AND h.kind = 'handout'
        ORDER BY h.handed_out_at DESC NULLS LAST, h.number DESC`,
      [viewer.schoolId, personId, own],
    )
    return { person, classes: seen, groups, copies }
  }
}
