import { type Viewer, fullName, maySeeDocumentOf, mayWithCopy } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager } from 'typeorm'
import { hold } from '../access/viewer.js'
import { valueOf } from '../common/checked.js'
import { conflict, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { Events } from '../events/events.js'
import { type CopyRecord, copyOf, roleIn, withItsFiles } from '../kept/copyRecord.js'
import { Copy } from '../kept/kept.entity.js'
import { CopyFile } from './copy.entity.js'
import { type CopyDocument, documentsOf } from './copy.queries.js'
import { FILES_OF_COPY, keepHandedIn } from './handedIn.js'

/** Documents that stand with a copy at once. */
const DOCUMENTS = 10

/** Documents with a whole copy: what does not fit an answer, or the answer of who works in a document of their own. */
@Injectable()
export class DocumentsService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  /** Those that somebody is shown: where the places of others are hidden, their own. */
  async list(
    viewer: Viewer,
    copy: CopyRecord,
  ): Promise<(Omit<CopyDocument, 'first' | 'last' | 'personId' | 'copyId'> & { by: string; isOwn: boolean })[]> {
    const rows = await documentsOf(this.source, viewer.schoolId, withItsFiles(copy))
    const role = roleIn(copy, viewer)
    return rows
      .filter(({ personId }) => maySeeDocumentOf(viewer, role, copy.facts, personId, Date.now()))
      .map(({ first, last, personId, copyId, ...row }) => ({
        ...row,
        by: viewer.role === 'guest' && personId !== viewer.personId ? '' : fullName({ first, last }),
        // What came with a copy to keep stays with the copy of the class.
        isOwn: personId === viewer.personId && copyId === copy.copyId,
      }))
  }

  async add(viewer: Viewer, copyId: string, { name, bytes }: { readonly name: string; readonly bytes: Uint8Array }) {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    // Before a file is looked into.
    hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'write', Date.now()))
    const kept = valueOf(await keepHandedIn(name, bytes, viewer))
    return this.change(viewer, copyId, async (tx) => {
      const rows = inSchool(tx, viewer.schoolId)
      if ((await rows.count(CopyFile, { copyId })) >= FILES_OF_COPY)
        throw conflict('too-many-files', `${FILES_OF_COPY} files came with this copy already: no more can be added.`)
      if ((await rows.count(CopyFile, { copyId, space: '', removedAt: null })) >= DOCUMENTS)
        throw conflict('too-many-files', `A copy has up to ${DOCUMENTS} documents: take one out first.`)
      const { personId } = viewer
      const file = { name: kept.name, type: kept.type, bytes: Buffer.from(kept.bytes) }
      await rows.insert(CopyFile, { id: randomUUID(), copyId, space: '', personId, ...file })
    })
  }

  /** Says of a document that it is the answer, or not; takes it out, or puts it back. By who put it there. */
  alter(
    viewer: Viewer,
    copyId: string,
    fileId: string,
    to: { readonly isAnswer?: boolean | undefined; readonly isOut?: boolean | undefined },
  ) {
    return this.change(viewer, copyId, async (tx) => {
      const rows = inSchool(tx, viewer.schoolId)
      const which = { copyId, id: fileId, space: '', personId: viewer.personId }
      if (!(await rows.exists(CopyFile, which))) throw notThere()
      if (to.isAnswer !== undefined) await rows.update(CopyFile, which, { isAnswer: to.isAnswer })
      if (to.isOut !== undefined) await rows.update(CopyFile, which, { removedAt: to.isOut ? Date.now() : null })
    })
  }

  /** Changes what is with a copy, while it may be written in. */
  private async change(viewer: Viewer, copyId: string, work: (tx: EntityManager) => Promise<void>) {
    const copy = await this.source.transaction(async (tx) => {
      // Whoever submits it meanwhile waits for this, or this for them.
      await inSchool(tx, viewer.schoolId).hold(Copy, { id: copyId })
      const held = await copyOf(tx, viewer.schoolId, copyId)
      hold(mayWithCopy(viewer, roleIn(held, viewer), held.facts, 'write', Date.now()))
      await work(tx)
      return held
    })
    await this.events.tell('documents changed', { schoolId: viewer.schoolId, handoutId: copy.handoutId, copyId })
    return this.list(viewer, copy)
  }
}
