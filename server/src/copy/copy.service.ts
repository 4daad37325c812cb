import {
  type CopyAct,
  type Viewer,
  answerSpaces,
  copyAccess,
  forStudents,
  fullName,
  maySeeKey,
  mayWithCopy,
  mediaOf,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { conflict, notThere } from '../common/problemDetails.js'
import { hold } from '../common/viewer.js'
import { LiveGateway } from '../live/live.gateway.js'
import { lateWritingsOf } from '../live/lateWriting.js'
import { type MediumFile, mediumOfWorksheet } from '../media/mediaStore.js'
import { copyOf, roleIn } from './copyRecord.js'
import { FILES_OF_COPY, keepHandedIn } from './handedIn.js'
import { addToJournal } from './journal.js'

@Injectable()
export class CopyService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly live: LiveGateway,
  ) {}

  /** A student's own copies, in all classes, the next one due first. */
  async mine(viewer: Viewer) {
    return this.source.query<unknown[]>(
      `SELECT c.id, c.title, e.title AS worksheet, h.title AS handout, h.number, k.name AS class, k.subject, k.ink, c.state, c.pens_down AS "pensDown", c.answered, e.answer_spaces AS spaces, c.words, o.permission,
              (extract(epoch FROM c.due_at) * 1000)::float8 AS "dueAt", (extract(epoch FROM c.submitted_at) * 1000)::float8 AS "submittedAt",
              (extract(epoch FROM c.last_activity_at) * 1000)::float8 AS "lastActivityAt", (extract(epoch FROM c.created_at) * 1000)::float8 AS "givenAt"
         FROM copy_holder o
         JOIN copy c ON c.school_id = o.school_id AND c.id = o.copy_id
         JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
         JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
         JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
        WHERE o.school_id = $1 AND o.person_id = $2 AND o.permission <> 'none' AND NOT c.set_aside
        ORDER BY c.due_at NULLS LAST, c.created_at DESC`,
      [viewer.schoolId, viewer.personId],
    )
  }

  /** All that the copy page shows besides what is written, which comes over the live connection. */
  async open(viewer: Viewer, copyId: string) {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    const role = roleIn(copy, viewer)
    hold(mayWithCopy(viewer, role, copy.facts, 'see', Date.now()))
    const access = copyAccess(viewer, role, copy.facts)
    const names = await this.source.query<{ id: string; first: string; last: string }[]>(
      'SELECT id, first_name AS first, last_name AS last FROM person WHERE school_id = $1 AND id = ANY($2)',
      [viewer.schoolId, [...copy.facts.holders.keys()]],
    )
    return {
      id: copyId,
      handoutId: copy.handoutId,
      classId: copy.classId,
      class: copy.className,
      ink: copy.ink,
      number: copy.handoutNumber,
      title: copy.title,
      worksheetTitle: copy.worksheetTitle,
      // Nothing that tells an answer goes to those who are asked.
      content: maySeeKey(role) ? copy.content : forStudents(copy.content),
      state: copy.facts.state,
      dueAt: copy.facts.dueAt,
      submittedAt: copy.submittedAt,
      permission: access.permission,
      reason: access.reason,
      isHolder: copy.facts.holders.has(viewer.personId),
      mayTakeBack: mayWithCopy(viewer, role, copy.facts, 'take back', Date.now()).may,
      holders: names.map((name) => fullName(name)),
    }
  }

  /** A picture that the copy shows. */
  async medium(viewer: Viewer, copyId: string, mediumId: string): Promise<MediumFile> {
    const copy = await this.seen(viewer, copyId)
    if (!mediaOf(copy.content).includes(mediumId)) throw notThere()
    return mediumOfWorksheet(this.source, viewer.schoolId, copy.worksheetId, mediumId)
  }

  /** Keeps a file for an answer space; it is part of the answer once its id is written there. */
  async addFile(
    viewer: Viewer,
    copyId: string,
    { space: spaceId, name, bytes }: { space: string; name: string; bytes: Uint8Array },
  ): Promise<{ id: string; name: string }> {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'write', Date.now()))
    const space = answerSpaces(copy.content).find(({ id }) => id === spaceId)
    if (space?.kind !== 'file') throw notThere()
    const kept = valueOf(await keepHandedIn(name, bytes))
    const [{ count }] = await this.source.query<[{ count: number }]>(
      'SELECT count(*)::int AS count FROM copy_file WHERE school_id = $1 AND copy_id = $2',
      [viewer.schoolId, copyId],
    )
    if (count >= FILES_OF_COPY)
      throw conflict(
        'too-many-files',
        `${FILES_OF_COPY} files were handed in on this copy already: no more can be added.`,
      )
    const id = randomUUID()
    await this.source.query(
      'INSERT INTO copy_file (school_id, id, copy_id, space, person_id, name, type, bytes) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)',
      [viewer.schoolId, id, copyId, spaceId, viewer.personId, kept.name, kept.type, Buffer.from(kept.bytes)],
    )
    return { id, name: kept.name }
  }

  /** A file that was handed in on a copy. */
  async file(viewer: Viewer, copyId: string, fileId: string): Promise<{ name: string; type: string; bytes: Buffer }> {
    await this.seen(viewer, copyId)
    const [found] = await this.source.query<{ name: string; type: string; bytes: Buffer }[]>(
      'SELECT name, type, bytes FROM copy_file WHERE school_id = $1 AND copy_id = $2 AND id = $3',
      [viewer.schoolId, copyId, fileId],
    )
    if (!found) throw notThere()
    return found
  }

  private async seen(viewer: Viewer, copyId: string) {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'see', Date.now()))
    return copy
  }

  submit(viewer: Viewer, copyId: string) {
    return this.enter(viewer, copyId, 'submit')
  }

  takeBack(viewer: Viewer, copyId: string) {
    return this.enter(viewer, copyId, 'take back')
  }

  /** Enters a step of the holder's into the journal, with the pens of all open windows held still meanwhile. */
  private async enter(viewer: Viewer, copyId: string, act: Exclude<CopyAct, 'see' | 'write'>) {
    return this.live.holdStill(viewer.schoolId, copyId, () =>
      this.source.transaction(async (tx) => {
        await tx.query('SELECT 1 FROM copy WHERE school_id = $1 AND id = $2 FOR UPDATE', [viewer.schoolId, copyId])
        const copy = await copyOf(tx, viewer.schoolId, copyId)
        const now = Date.now()
        hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, act, now))
        const life = await addToJournal(
          tx,
          viewer.schoolId,
          copyId,
          act === 'submit' ? 'submitted' : 'taken back',
          viewer.personId,
          now,
        )
        return { state: life.state, submittedAt: life.submittedAt }
      }),
    )
  }

  /** What was written too late into a copy. For those who may see it. */
  async lateWritings(viewer: Viewer, copyId: string) {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'see', Date.now()))
    return lateWritingsOf(this.source, copy)
  }
}
