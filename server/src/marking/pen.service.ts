import {
  type PenMark,
  type Viewer,
  PEN_LIMITS,
  isOfStaff,
  mayBegin,
  maySeePenMark,
  mayWithCopy,
  readPenMark,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, type EntityManager } from 'typeorm'
import { hold } from '../access/viewer.js'
import { valueOf } from '../common/checked.js'
import { conflict, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { copyOf, roleIn } from '../kept/copyRecord.js'
import { Copy } from '../kept/kept.entity.js'
import { PenMarkRow } from './marking.entity.js'

/** A mark of the pen as somebody is shown it. */
export interface PenMarkSeen extends PenMark {
  readonly id: string
  /** They made it, and may take it out. */
  readonly isOwn: boolean
}

/** The pen of whoever marks: ticks and strokes over a copy, apart from its answers. */
@Injectable()
export class PenService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** To the staff all, to holders what was handed back. */
  async list(viewer: Viewer, copyId: string): Promise<PenMarkSeen[]> {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    const role = roleIn(copy, viewer)
    const now = Date.now()
    hold(mayWithCopy(viewer, role, copy.facts, 'see', now))
    if (!isOfStaff(role)) hold(mayWithCopy(viewer, role, copy.facts, 'see what was handed back', now))
    const rows = await inSchool(this.source, viewer.schoolId).find(
      PenMarkRow,
      { copyId, deletedAt: null },
      { select: ['id', 'kind', 'over', 'points', 'personId', 'releasedAt'], order: { at: 'ASC' } },
    )
    return rows
      .filter((mark) => maySeePenMark({ viewer, role, copy: copy.facts, now }, mark))
      .map(({ personId, releasedAt: _, ...mark }) => ({ ...mark, isOwn: personId === viewer.personId }))
  }

  /** Keeps a mark of the pen: sent twice it is there once; one's own that was taken out is there again. */
  async keep(viewer: Viewer, copyId: string, id: string, sent: object): Promise<void> {
    const mark = valueOf(readPenMark({ ...sent }))
    await this.held(viewer, copyId, async (tx) => {
      const school = inSchool(tx, viewer.schoolId)
      const [known] = await school.find(PenMarkRow, { id }, { select: ['copyId', 'personId'] })
      if (known) {
        if (known.copyId !== copyId || known.personId !== viewer.personId) throw notThere()
        return void (await school.update(PenMarkRow, { id }, { deletedAt: null }))
      }
      if ((await school.count(PenMarkRow, { copyId })) >= PEN_LIMITS.marks)
        throw conflict('too-many-marks', `The pen leaves up to ${PEN_LIMITS.marks} marks on a copy.`)
      await school.insert(PenMarkRow, { id, copyId, personId: viewer.personId, ...mark, at: Date.now() })
    })
  }

  /** Takes out one's own mark. */
  async remove(viewer: Viewer, copyId: string, id: string): Promise<void> {
    await this.held(viewer, copyId, async (tx) => {
      const which = { id, copyId, personId: viewer.personId }
      const gone = await inSchool(tx, viewer.schoolId).update(PenMarkRow, which, { deletedAt: Date.now() })
      if (gone === 0) throw notThere()
    })
  }

  /** With a copy that somebody may remark on, held: whoever hands it back meanwhile waits for this, or this for them. */
  private async held(viewer: Viewer, copyId: string, work: (tx: EntityManager) => Promise<void>): Promise<void> {
    await this.source.transaction(async (tx) => {
      await inSchool(tx, viewer.schoolId).hold(Copy, { id: copyId })
      const copy = await copyOf(tx, viewer.schoolId, copyId)
      const reader = { viewer, role: roleIn(copy, viewer), copy: copy.facts, now: Date.now() }
      hold(mayBegin(reader, 'remark'))
      await work(tx)
    })
  }
}
