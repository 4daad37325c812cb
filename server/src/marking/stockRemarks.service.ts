import {
  type StockRemarkText,
  type Viewer,
  STOCK_LIMITS,
  checkStockRemark,
  mayTeach,
  remarkPattern,
  reworded,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { hold } from '../access/viewer.js'
import { valueOf } from '../common/checked.js'
import { conflict } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { CommentService } from '../comment/comment.service.js'
import { StockRemark } from './marking.entity.js'
import { remarksSaid, usesOfRemarks } from './marking.queries.js'

/** The newest remarks of somebody that are gone through for where a stock remark stands. */
const GONE_THROUGH = 5_000
/** Copies that one act changes. */
const MOST_CHANGED = 500

/** Remarks that a teacher keeps, to be used again. */
@Injectable()
export class StockRemarksService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly comments: CommentService,
  ) {}

  async list(viewer: Viewer): Promise<Pick<StockRemark, 'id' | 'short' | 'text'>[]> {
    hold(mayTeach(viewer))
    return inSchool(this.source, viewer.schoolId).find(
      StockRemark,
      { personId: viewer.personId },
      { select: ['id', 'short', 'text'], order: { short: 'ASC' } },
    )
  }

  /** In how many copies each stands, of the newest remarks of this person, and in how many of them their students have it. */
  async uses(viewer: Viewer): Promise<{ id: string; copies: number; handedBack: number }[]> {
    const own = await this.list(viewer)
    const found = await usesOfRemarks(
      this.source,
      viewer,
      own.map(({ text }) => remarkPattern(text)),
      GONE_THROUGH,
    )
    return own.map(({ id }, at) => ({ id, ...(found.get(at) ?? { copies: 0, handedBack: 0 }) }))
  }

  /**
   * Keeps one: a new one, or other words of one's own.
   * @param everywhere also where it stands in copies already
   * @returns in how many copies it was changed, and in how many it could not be
   */
  async keep(
    viewer: Viewer,
    id: string,
    typed: StockRemarkText,
    everywhere: boolean,
  ): Promise<{ changed: number; failed: number }> {
    hold(mayTeach(viewer))
    const { short, text } = valueOf(checkStockRemark(typed))
    const school = inSchool(this.source, viewer.schoolId)
    const own = await this.list(viewer)
    const before = own.find((one) => one.id === id)
    if (own.some((other) => other.short === short && other.id !== id))
      throw conflict('short-taken', `You have a remark called “${short}” already.`)
    if (!before && own.length >= STOCK_LIMITS.remarks)
      throw conflict('too-many', `You have ${STOCK_LIMITS.remarks} remarks: take some out first.`)
    // First: where it cannot be done now, the remark keeps its words, and is found by them when it is tried again.
    const done =
      everywhere && before && before.text !== text
        ? await this.reword(viewer, before.text, text)
        : { changed: 0, failed: 0 }
    if (before) await school.update(StockRemark, { id }, { short, text })
    else await school.insert(StockRemark, { id, personId: viewer.personId, short, text })
    return done
  }

  private async reword(viewer: Viewer, before: string, after: string): Promise<{ changed: number; failed: number }> {
    const said = await remarksSaid(this.source, viewer, remarkPattern(before), GONE_THROUGH)
    const others = said.flatMap(({ text: words, ...one }) => {
      const other = reworded(words, before, after)
      return other === null ? [] : [{ ...one, text: other }]
    })
    const some = others.slice(0, MOST_CHANGED)
    const { failed } = await this.comments.reword(viewer, some)
    const copies = new Set(others.map(({ copyId }) => copyId))
    const changed = new Set(some.map(({ copyId }) => copyId))
    for (const { copyId } of failed) changed.delete(copyId)
    return { changed: changed.size, failed: copies.size - changed.size }
  }

  async remove(viewer: Viewer, id: string): Promise<void> {
    hold(mayTeach(viewer))
    await inSchool(this.source, viewer.schoolId).delete(StockRemark, { id, personId: viewer.personId })
  }
}
