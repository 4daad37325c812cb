import type { Viewer } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, In } from 'typeorm'
import { notThere } from '../common/problemDetails.js'
import { classRole } from '../access/classRole.js'
import { Handout } from '../slip/slip.entity.js'
import { findHandout } from '../slip/handoutSet.js'
import { differencesNow } from '../handOut/differencesNow.js'
import { type ClassFacts, classFacts } from '../slip/planFacts.js'
import { handoutsOfTeacher, copiesByClassLink, readableByClassLink } from './handout.queries.js'

/** How long after its due time a handout still asks for late joiners to be looked at. */
const FORTNIGHT = 14 * 86_400_000

/** What waits for somebody in the handouts of their classes, and where the class link leads. */
@Injectable()
export class DeskService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** Handouts of which something else exists than what was handed out says: a roster or groups that changed, rows that failed. */
  async needs(viewer: Viewer) {
    const rows = await handoutsOfTeacher(
      this.source,
      viewer.schoolId,
      viewer.personId,
      new Date(Date.now() - FORTNIGHT),
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
    const copies = await copiesByClassLink(this.source, viewer.schoolId, {
      handoutId,
      setId: handout.setId,
      personId: viewer.personId,
    })
    const { role } = await classRole(this.source, viewer, handout.classId)
    const others =
      role === 'student' ? await readableByClassLink(this.source, viewer.schoolId, handoutId, viewer.personId) : []
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
