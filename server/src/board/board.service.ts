import { type Viewer, boardSpaces, keptContent, mayInClass } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { helpedBy, holdInClass } from '../access/classRole.js'
import { notThere } from '../common/problemDetails.js'
import { type DifferencesNow, differencesNow } from '../handOut/differencesNow.js'
import { findHandout } from '../slip/handoutSet.js'
import { guestsToMatch } from '../handout/guests.queries.js'
import { boardRows, rowsFor } from '../kept/boardRows.js'
import { boardHead, leftOutOf, newestContent } from './board.queries.js'

/** Boards: a row a copy, and what of a handout differs from what was handed out. */
@Injectable()
export class BoardService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  async board(viewer: Viewer, handoutId: string) {
    const { schoolId } = viewer
    const handout = await boardHead(this.source, schoolId, handoutId)
    if (!handout) throw notThere()
    const role = await holdInClass(this.source, viewer, handout.classId, 'see handouts')
    const helped = await helpedBy(this.source, viewer, handout.classId, role)
    const rows = rowsFor(await boardRows(this.source, schoolId, handoutId), helped)
    const content = await newestContent(this.source, schoolId, handoutId)
    const leftOut = await leftOutOf(this.source, { schoolId, classId: handout.classId, handoutId })
    return {
      handout,
      rows,
      // Who guests are is said by those who hand out.
      guestsToMatch: mayInClass(role, 'hand out').may ? await guestsToMatch(this.source, schoolId, handoutId) : 0,
      spaces: content ? boardSpaces(keptContent(content)) : [],
      leftOut: leftOut.filter(({ personId }) => !helped || helped.has(personId)),
    }
  }

  /** For those who can mend it. */
  async differences(viewer: Viewer, handoutId: string): Promise<DifferencesNow | null> {
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'hand out')
    return differencesNow(this.source, handout)
  }
}
