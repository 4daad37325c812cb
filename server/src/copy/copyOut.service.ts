import {
  type AnswerValue,
  type ArchiveMedium,
  type Viewer,
  type WorksheetContent,
  answerSpaces,
  filledIn,
  mayWithCopy,
  mediaOf,
  readAnswer,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { hold } from '../access/viewer.js'
import { conflict } from '../common/problemDetails.js'
import { type CopyRecord, contentFor, copyOf, roleIn } from '../kept/copyRecord.js'
import { DocLoader } from '../kept/docLoader.js'
import { loadSpaces } from '../kept/spaces.queries.js'
import { mediaOfWorksheet } from '../media/mediaStore.js'
import { WorksheetOutService } from '../worksheet/worksheetOut.service.js'

/** The files that a copy can be saved as. */
export const COPY_FORMATS = { pdf: 'pdf', docx: 'docx', odt: 'odt', html: 'html' } as const
export type CopyFormat = keyof typeof COPY_FORMATS

/** Copies as documents, with what is written in them. */
@Injectable()
export class CopyOutService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly loader: DocLoader,
    private readonly out: WorksheetOutService,
  ) {}

  /** A copy as somebody is shown it now, as a file. */
  async write(viewer: Viewer, copyId: string, format: CopyFormat) {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'see', Date.now()))
    const content = contentFor(copy, viewer)
    const filled = filledIn(content, await this.answersIn(copy, content))
    const rows = await mediaOfWorksheet(this.source, viewer.schoolId, copy.worksheetId, mediaOf(content))
    const media = rows.map((row) => ({
      ...row,
      type: row.type as ArchiveMedium['type'],
      bytes: new Uint8Array(row.bytes),
    }))
    return this.out.made(viewer, { format, title: copy.title, content: filled, media, key: true })
  }

  /** What stands in the answers of a page. */
  private async answersIn(copy: CopyRecord, content: WorksheetContent): Promise<Map<string, AnswerValue>> {
    const stored = await loadSpaces(this.source, copy.schoolId, copy.copyId)
    const answers = new Map<string, AnswerValue>()
    for (const space of answerSpaces(content)) {
      const kept = stored.get(space.id)
      if (!kept) continue
      const doc = await this.loader.load(space.kind, kept.updates)
      if (!doc)
        throw conflict('unreadable', 'An answer of this copy cannot be read in time: it has to be mended first.')
      answers.set(space.id, readAnswer(space, doc))
      doc.destroy()
    }
    return answers
  }
}
