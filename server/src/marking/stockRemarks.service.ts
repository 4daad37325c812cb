import { type StockRemarkText, type Viewer, STOCK_LIMITS, checkStockRemark, mayTeach } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { hold } from '../access/viewer.js'
import { valueOf } from '../common/checked.js'
import { conflict } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { StockRemark } from './marking.entity.js'

/** Remarks that a teacher keeps, to be used again. */
@Injectable()
export class StockRemarksService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  async list(viewer: Viewer): Promise<Pick<StockRemark, 'id' | 'short' | 'text'>[]> {
    hold(mayTeach(viewer))
    return inSchool(this.source, viewer.schoolId).find(
      StockRemark,
      { personId: viewer.personId },
      { select: ['id', 'short', 'text'], order: { short: 'ASC' } },
    )
  }

  /** Keeps one: a new one, or other words of one's own. */
  async keep(viewer: Viewer, id: string, typed: StockRemarkText): Promise<void> {
    hold(mayTeach(viewer))
    const { short, text } = valueOf(checkStockRemark(typed))
    const school = inSchool(this.source, viewer.schoolId)
    const own = await this.list(viewer)
    if (own.some((other) => other.short === short && other.id !== id))
      throw conflict('short-taken', `You have a remark called “${short}” already.`)
    if (own.some((one) => one.id === id)) await school.update(StockRemark, { id }, { short, text })
    else if (own.length >= STOCK_LIMITS.remarks)
      throw conflict('too-many', `You have ${STOCK_LIMITS.remarks} remarks: take some out first.`)
    else await school.insert(StockRemark, { id, personId: viewer.personId, short, text })
  }

  async remove(viewer: Viewer, id: string): Promise<void> {
    hold(mayTeach(viewer))
    await inSchool(this.source, viewer.schoolId).delete(StockRemark, { id, personId: viewer.personId })
  }
}
