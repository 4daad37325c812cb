import {
  EMPTY_CONTENT,
  type Viewer,
  type WorksheetAction,
  answerSpaces,
  checkContent,
  cleanText,
  mayTeach,
  mayWithWorksheet,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { hold } from '../common/viewer.js'
import { Edition, Worksheet } from './worksheet.entity.js'

export const TITLE_LIMIT = 200

@Injectable()
export class WorksheetService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  async list(viewer: Viewer) {
    hold(mayTeach(viewer))
    return this.source.query<unknown[]>(
      `SELECT w.id, w.title, w.version, w.kept_version AS "keptVersion", (extract(epoch FROM w.updated_at) * 1000)::float8 AS "updatedAt",
              e.number AS edition, coalesce(e.answer_spaces, 0) AS "answerSpaces",
              (SELECT count(*)::int FROM copy c WHERE c.school_id = w.school_id AND c.worksheet_id = w.id) AS copies
         FROM worksheet w
         LEFT JOIN LATERAL (SELECT number, answer_spaces FROM edition e WHERE e.school_id = w.school_id AND e.worksheet_id = w.id ORDER BY number DESC LIMIT 1) e ON true
        WHERE w.school_id = $1 AND w.owner_id = $2
        ORDER BY w.updated_at DESC`,
      [viewer.schoolId, viewer.personId],
    )
  }

  async create(viewer: Viewer, title: string): Promise<{ id: string }> {
    hold(mayTeach(viewer))
    const id = randomUUID()
    await this.source.query(
      'INSERT INTO worksheet (school_id, id, owner_id, title, draft) VALUES ($1, $2, $3, $4, $5)',
      [viewer.schoolId, id, viewer.personId, cleanTitle(title), EMPTY_CONTENT],
    )
    return { id }
  }

  async open(viewer: Viewer, id: string) {
    const worksheet = await this.find(this.source.manager, viewer, id, 'see')
    const editions = await this.source.query<unknown[]>(
      `SELECT number, title, answer_spaces AS "answerSpaces", (extract(epoch FROM kept_at) * 1000)::float8 AS "keptAt",
              (SELECT count(*)::int FROM copy c WHERE c.school_id = e.school_id AND c.worksheet_id = e.worksheet_id AND c.edition = e.number) AS copies
         FROM edition e WHERE school_id = $1 AND worksheet_id = $2 ORDER BY number DESC`,
      [viewer.schoolId, id],
    )
    const { title, draft, version, keptVersion, updatedAt } = worksheet
    return { id, title, draft, version, keptVersion, updatedAt: updatedAt.getTime(), editions }
  }

  async edition(viewer: Viewer, id: string, number: number): Promise<Edition> {
    await this.find(this.source.manager, viewer, id, 'see')
    const edition = await this.source.manager.findOneBy(Edition, { schoolId: viewer.schoolId, worksheetId: id, number })
    if (!edition) throw notThere()
    return edition
  }

  /** Keeps the draft; the version that the writer started from must be the newest. */
  async keepDraft(
    viewer: Viewer,
    id: string,
    input: { title: string; content: unknown; version: number },
  ): Promise<{ version: number; updatedAt: number }> {
    return this.source.transaction(async (tx) => {
      const worksheet = await this.find(tx, viewer, id, 'change', true)
      if (worksheet.version !== input.version)
        throw conflict(
          'changed-meanwhile',
          'This worksheet was changed in another window. Open it again to see the newer one; what you typed is still here.',
          { version: worksheet.version },
        )
      const draft = valueOf(checkContent(input.content))
      const updatedAt = new Date()
      await tx.update(
        Worksheet,
        { schoolId: viewer.schoolId, id },
        { title: cleanTitle(input.title), draft, version: worksheet.version + 1, updatedAt },
      )
      return { version: worksheet.version + 1, updatedAt: updatedAt.getTime() }
    })
  }

  /** Keeps the draft as the next edition, which never changes again. The same draft is never kept twice. */
  async keepEdition(viewer: Viewer, id: string, version: number): Promise<{ number: number; isNew: boolean }> {
    return this.source.transaction(async (tx) => {
      const worksheet = await this.find(tx, viewer, id, 'change', true)
      if (worksheet.version !== version)
        throw conflict(
          'changed-meanwhile',
          'This worksheet was changed in another window. Open it again, look at it, then keep it.',
          { version: worksheet.version },
        )
      const content = valueOf(checkContent(worksheet.draft))
      if (!content.blocks.length)
        throw malformed([
          { code: 'worksheet-empty', field: 'content', sentence: 'There is nothing on this worksheet yet.' },
        ])
      const [last] = await tx.find(Edition, {
        where: { schoolId: viewer.schoolId, worksheetId: id },
        order: { number: 'DESC' },
        take: 1,
      })
      if (last && worksheet.keptVersion === version) return { number: last.number, isNew: false }
      const number = (last?.number ?? 0) + 1
      await tx.insert(Edition, {
        schoolId: viewer.schoolId,
        worksheetId: id,
        number,
        title: worksheet.title,
        content,
        answerSpaces: answerSpaces(content).length,
        keptAt: new Date(),
        keptBy: viewer.personId,
      })
      await tx.update(Worksheet, { schoolId: viewer.schoolId, id }, { keptVersion: version })
      return { number, isNew: true }
    })
  }

  private async find(
    manager: EntityManager,
    viewer: Viewer,
    id: string,
    action: WorksheetAction,
    lock = false,
  ): Promise<Worksheet> {
    const worksheet = await manager.findOne(Worksheet, {
      where: { schoolId: viewer.schoolId, id },
      ...(lock && { lock: { mode: 'pessimistic_write' as const } }),
    })
    if (!worksheet) throw notThere()
    hold(mayWithWorksheet(viewer, worksheet, action))
    return worksheet
  }
}

function cleanTitle(title: string): string {
  const clean = cleanText(title)
  if (!clean) throw malformed([{ code: 'title-empty', field: 'title', sentence: 'Give the worksheet a title.' }])
  return clean
}
