import { type Viewer, boardSpaces, keptContent } from '@gavrin/core'
import { Controller, Get, Param, ParseUUIDPipe } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { notThere } from '../common/problemDetails.js'
import { Asking } from '../access/viewer.js'
import { type DifferencesNow, differencesNow } from '../handout/differencesNow.js'
import { findHandout } from '../handout/handoutSet.js'
import { helpedBy, holdInClass } from '../access/classRole.js'
import { boardRows, rowsFor } from '../kept/boardRows.js'

@ApiTags('board')
@Controller('handouts')
export class BoardController {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** One row a copy, and what stands at the head of the board. */
  @Get(':handoutId/board')
  async board(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    const [handout] = await this.source.query<{ classId: string; students: number; [key: string]: unknown }[]>(
      `SELECT h.id, h.number, h.title, h.class_id AS "classId", k.name AS class, k.ink,
              h.kind, h.set_id AS "setId", (extract(epoch FROM h.opens_at) * 1000)::float8 AS "opensAt", (extract(epoch FROM h.due_at) * 1000)::float8 AS "dueAt", (extract(epoch FROM h.handed_out_at) * 1000)::float8 AS "handedOutAt"
         FROM handout h JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id WHERE h.school_id = $1 AND h.id = $2`,
      [viewer.schoolId, handoutId],
    )
    if (!handout) throw notThere()
    const role = await holdInClass(this.source, viewer, handout.classId, 'see handouts')
    const helped = await helpedBy(this.source, viewer, handout.classId, role)
    const rows = rowsFor(await boardRows(this.source, viewer.schoolId, handoutId), helped)
    const editions = await this.source.query<{ content: object }[]>(
      `SELECT e.content FROM edition e WHERE e.school_id = $1 AND (e.worksheet_id, e.number) IN (SELECT worksheet_id, edition FROM copy WHERE school_id = $1 AND handout_id = $2 AND NOT set_aside)
        ORDER BY e.number DESC`,
      [viewer.schoolId, handoutId],
    )
    const content = editions[0] && keptContent(editions[0].content)
    const spaces = content ? boardSpaces(content) : []
    const leftOut = await this.source.query<{ personId: string }[]>(
      `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
        WHERE m.school_id = $1 AND m.class_id = $2 AND m.role = 'student' AND m.left_at IS NULL
          AND NOT EXISTS (SELECT 1 FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
                           WHERE c.school_id = m.school_id AND c.handout_id = $3 AND NOT c.set_aside AND o.person_id = m.person_id)
        ORDER BY p.last_name, p.first_name`,
      [viewer.schoolId, handout.classId, handoutId],
    )
    return {
      handout,
      rows,
      spaces,
      leftOut: leftOut.filter(({ personId }) => !helped || helped.has(personId)),
    }
  }

  /** What of a handout differs from what was handed out, in a line; null if nothing does. For those who can mend it. */
  @Get(':handoutId/differences')
  async differences(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
  ): Promise<{ differences: DifferencesNow | null }> {
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'hand out')
    return { differences: await differencesNow(this.source, handout) }
  }
}
