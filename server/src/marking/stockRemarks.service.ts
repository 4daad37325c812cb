import { type Viewer, MARK_LIMITS, cleanText, mayTeach } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { hold } from '../access/viewer.js'
import { conflict, malformed } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { StockRemark } from './marking.entity.js'

/** As many as anybody can know by heart, several times over. */
const MOST = 500
/** Letters of a short name. */
export const SHORT = 20

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
  async keep(viewer: Viewer, id: string, input: { readonly short: string; readonly text: string }): Promise<void> {
    hold(mayTeach(viewer))
    const short = cleanText(input.short).toLocaleLowerCase('und')
    const text = input.text.trim()
    if (!/^[\p{L}\p{N}-]+$/u.test(short) || short.length > SHORT)
      throw malformed([
        { code: 'short', field: 'short', sentence: `A short name is one word of up to ${SHORT} letters and figures.` },
      ])
    if (!text || text.length > MARK_LIMITS.remark)
      throw malformed([{ code: 'text', field: 'text', sentence: 'Write what the remark says.' }])
    const school = inSchool(this.source, viewer.schoolId)
    const own = await this.list(viewer)
    if (own.some((other) => other.short === short && other.id !== id))
      throw conflict('short-taken', `You have a remark called “${short}” already.`)
    if (own.some((one) => one.id === id)) await school.update(StockRemark, { id }, { short, text })
    else if (own.length >= MOST) throw conflict('too-many', `You have ${MOST} remarks: take some out first.`)
    else await school.insert(StockRemark, { id, personId: viewer.personId, short, text })
  }

  async remove(viewer: Viewer, id: string): Promise<void> {
    hold(mayTeach(viewer))
    await inSchool(this.source, viewer.schoolId).delete(StockRemark, { id, personId: viewer.personId })
  }
}
