import type { Viewer } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, In } from 'typeorm'
import { notThere } from '../common/problemDetails.js'
import { classRole } from '../access/classRole.js'
import { Handout } from './handout.entity.js'
import { findHandout } from './handoutSet.js'
import { differencesNow } from './differencesNow.js'
import { type ClassFacts, classFacts } from './planFacts.js'

/** How long after its due time a handout still asks for late joiners to be looked at. */
const FORTNIGHT = 14 * 86_400_000

/** What waits for somebody in the handouts of their classes, and where the class link leads. */
@Injectable()
export class DeskService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** Handouts of which something else exists than what was handed out says: a roster or groups that changed, rows that failed. */
  async needs(viewer: Viewer) {
    const rows = await this.source.query<{ id: string }[]>(
      `SELECT h.id FROM handout h JOIN class_member m ON m.school_id = h.school_id AND m.class_id = h.class_id JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
        WHERE h.school_id = $1 AND m.person_id = $2 AND m.left_at IS NULL AND m.role IN ('lead', 'co-teacher') AND k.archived_at IS NULL
          AND h.given IS NOT NULL AND h.kind = 'handout' AND (h.due_at IS NULL OR h.due_at > $3)
        ORDER BY h.due_at NULLS LAST LIMIT 100`,
      [viewer.schoolId, viewer.personId, new Date(Date.now() - FORTNIGHT)],
    )
    const ids = rows.map(({ id }) => id)
    const handouts = await this.source.manager.findBy(Handout, { schoolId: viewer.schoolId, id: In(ids) })
    const ofClass = new Map<string, ClassFacts>()
    const needs = []
    for (const handout of handouts.toSorted((a, b) => ids.indexOf(a.id) - ids.indexOf(b.id))) {
      const { id, classId } = handout
      const known = ofClass.get(classId) ?? (await classFacts(this.source, viewer.schoolId, classId))
      ofClass.set(classId, known)
      const found = await differencesNow(this.source, handout, known)
      if (!found) continue
      needs.push({
        handoutId: id,
        classId,
        class: known.className,
        number: handout.number,
        title: handout.title,
        ...found,
      })
    }
    return needs
  }

  /** Where the class link of a handout leads a person: their own copies in it, or its board. */
  async classLink(viewer: Viewer, handoutId: string) {
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    const copies = await this.source.query<{ id: string; title: string; way: string; opensAt: number | null }[]>(
      `SELECT c.id, c.title, c.way, (extract(epoch FROM c.opens_at) * 1000)::float8 AS "opensAt" FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
         JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
        WHERE c.school_id = $1 AND (h.id = $2 OR h.set_id = $3) AND o.person_id = $4 AND o.permission <> 'none' AND NOT c.set_aside
        ORDER BY (c.way = 'to read'), c.created_at, c.title`,
      [viewer.schoolId, handoutId, handout.setId, viewer.personId],
    )
    const { role } = await classRole(this.source, viewer, handout.classId)
    const others =
      role === 'student'
        ? await this.source.query<{ id: string; title: string }[]>(
            `SELECT c.id, c.title FROM copy c WHERE c.school_id = $1 AND c.handout_id = $2 AND NOT c.set_aside AND c.way <> 'to read' AND (c.opens_at IS NULL OR c.opens_at <= now())
                AND NOT EXISTS (SELECT 1 FROM copy_holder o WHERE o.school_id = c.school_id AND o.copy_id = c.id AND o.person_id = $3)
                AND (c.classmates_may <> 'none' OR EXISTS (SELECT 1 FROM copy_reader r WHERE r.school_id = c.school_id AND r.copy_id = c.id AND r.person_id = $3 AND (r.invited_by IS NULL OR c.may_invite)))
              ORDER BY c.title`,
            [viewer.schoolId, handoutId, viewer.personId],
          )
        : []
    const isStaff = ['lead', 'co-teacher', 'helper', 'named helper'].includes(role)
    if (copies.length === 0 && !isStaff && role !== 'student') throw notThere()
    const now = Date.now()
    return {
      classId: handout.classId,
      title: handout.title,
      board: isStaff,
      others,
      opensAt:
        copies.length > 0 && copies.every(({ opensAt }) => opensAt !== null && opensAt > now)
          ? copies[0]!.opensAt
          : null,
      copies: copies.filter(({ opensAt }) => opensAt === null || opensAt <= now),
    }
  }
}
