import {
  type CopyAct,
  type NoteText,
  type Viewer,
  answerSpaces,
  atMost,
  copyAccess,
  forStudents,
  fullName,
  maySeeKey,
  mayWithCopy,
  mayWriteAt,
  mediaOf,
  withoutHints,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, Any, Not, IsNull } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { conflict, notThere } from '../common/problemDetails.js'
import { hold } from '../access/viewer.js'
import { DocLoader } from '../kept/docLoader.js'
import { Pens } from '../kept/pens.js'
import { bringToLastGood } from './lastGood.js'
import { lateWritingsOf } from './lateWriting.js'
import { type MediumFile, mediumOfWorksheet } from '../media/mediaStore.js'
import { SPACES_OF_COPY, type CopyRecord, copyOf, roleIn } from '../kept/copyRecord.js'
import { FILES_OF_COPY, keepHandedIn } from './handedIn.js'
import { addToJournal } from '../kept/journal.js'
import { keptAnswers } from './keptAnswers.js'
import { languageOfEdition } from './languageOfEdition.js'
import { keptStatement } from '../handout/keptStatement.js'
import { inSchool } from '../database/inSchool.js'
import { Person } from '../access/access.entity.js'
import { Copy, CopyReader } from '../kept/kept.entity.js'
import { CopyFile } from './copy.entity.js'

@Injectable()
export class CopyService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly pens: Pens,
    private readonly loader: DocLoader,
  ) {}

  /** Copies of classmates that a student was chosen to read, or let into. */
  async reading(viewer: Viewer) {
    return this.source.query<unknown[]>(
      `SELECT c.id, c.title, h.title AS handout, h.number, k.name AS class, k.ink, r.permission, r.invited_by IS NOT NULL AS invited, c.state,
              (extract(epoch FROM c.due_at) * 1000)::float8 AS "dueAt"
         FROM copy_reader r
         JOIN copy c ON c.school_id = r.school_id AND c.id = r.copy_id
         JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
         JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
         JOIN class_member m ON m.school_id = h.school_id AND m.class_id = h.class_id AND m.person_id = r.person_id AND m.left_at IS NULL
        WHERE r.school_id = $1 AND r.person_id = $2 AND NOT c.set_aside AND (c.opens_at IS NULL OR c.opens_at <= now()) AND (r.invited_by IS NULL OR c.may_invite)
        ORDER BY c.due_at NULLS LAST, c.title`,
      [viewer.schoolId, viewer.personId],
    )
  }

  /**
   * A student's own copies and what is given to them to read, in all classes, the next one due first; also those that were set
   * aside with something of theirs in them.
   */
  async mine(viewer: Viewer) {
    return this.source.query<unknown[]>(
      `SELECT c.id, c.title, e.title AS worksheet, h.title AS handout, h.number, k.name AS class, k.subject, k.ink, c.state, c.set_aside AS "setAside", c.pens_down OR (c.pens_down_at_due AND c.due_at <= now()) AS "pensDown", c.answered, ${SPACES_OF_COPY} AS spaces, c.words, o.permission,
              c.way, c.link, h.kind, h.id AS "handoutId", h.given #>> '{unit,name}' AS unit, (SELECT n.note FROM notice n WHERE n.school_id = h.school_id AND n.handout_id = h.id AND n.person_id = $2 AND n.about_id = $2) AS note,
              (extract(epoch FROM c.due_at) * 1000)::float8 AS "dueAt", (extract(epoch FROM c.submitted_at) * 1000)::float8 AS "submittedAt",
              (extract(epoch FROM c.last_activity_at) * 1000)::float8 AS "lastActivityAt", (extract(epoch FROM c.created_at) * 1000)::float8 AS "givenAt"
         FROM copy_holder o
         JOIN copy c ON c.school_id = o.school_id AND c.id = o.copy_id
         JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
         JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
         JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
        WHERE o.school_id = $1 AND o.person_id = $2 AND o.permission <> 'none' AND (c.opens_at IS NULL OR c.opens_at <= now())
          AND (NOT c.set_aside OR EXISTS (SELECT 1 FROM live_update u WHERE u.school_id = c.school_id AND u.copy_id = c.id AND u.person_id = $2))
          -- A guest sees what their link is for, while it is open.
          AND ((SELECT role FROM person p WHERE p.school_id = $1 AND p.id = $2) <> 'guest' OR EXISTS (
            SELECT 1 FROM walk_in w WHERE w.school_id = c.school_id AND w.handout_id = c.handout_id AND w.item_id = c.item_id AND w.is_open AND (w.ends_at IS NULL OR w.ends_at > now())))
        ORDER BY c.due_at NULLS LAST, c.created_at DESC`,
      [viewer.schoolId, viewer.personId],
    )
  }

  /** All that the copy page shows besides what is written, which comes over the live connection. */
  async open(viewer: Viewer, copyId: string) {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    const role = roleIn(copy, viewer)
    hold(mayWithCopy(viewer, role, copy.facts, 'see', Date.now()))
    const access = copyAccess(viewer, role, copy.facts, Date.now())
    const names = await inSchool(this.source, viewer.schoolId).find(
      Person,
      { id: Any([...copy.facts.holders.keys()]) },
      { select: ['id', 'first', 'last'] },
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
      content: maySeeKey(role) ? copy.content : withoutHints(forStudents(copy.content)),
      language: languageOfEdition(copy),
      page: copy.page,
      edition: copy.edition,
      way: copy.way,
      link: copy.link,
      state: copy.facts.state,
      opensAt: copy.facts.opensAt,
      dueAt: copy.facts.dueAt,
      pensDownAtDue: copy.facts.pensDownAtDue,
      lateWork: copy.facts.lateWork,
      submittedAt: copy.submittedAt,
      submittedBy: await this.submittedBy(viewer, copy),
      permission: access.permission,
      reason: access.reason,
      isHolder: copy.facts.holders.has(viewer.personId),
      // There are others that this student may look at.
      classmatesMay: role === 'student' ? copy.facts.classmatesMay : 'none',
      mayTakeBack: mayWithCopy(viewer, role, copy.facts, 'take back', Date.now()).may,
      // Guests are not told who is in the class.
      holders: names
        .filter(({ id }) => viewer.role !== 'guest' || id === viewer.personId)
        .map((name) => fullName(name)),
      // The parts of repeated sections in which this person does not write.
      others: answerSpaces(copy.content)
        .map(({ id }) => id)
        .filter((id) => !mayWriteAt(viewer, copy.facts, id).may),
      kept: await keptAnswers(this.source, this.loader, copy),
      mayBringToLastGood:
        copy.unreadable !== null && mayWithCopy(viewer, role, copy.facts, 'bring to last good', Date.now()).may,
      mayInvite: mayWithCopy(viewer, role, copy.facts, 'invite', Date.now()).may,
      ...(await this.aboutHandout(viewer, copy)),
    }
  }

  /** Who of several holders submitted a copy; null where there is one, or it is not submitted. */
  private async submittedBy(viewer: Viewer, copy: CopyRecord): Promise<string | null> {
    // Guests are not told who is in the class.
    if (copy.submittedAt === null || copy.facts.holders.size < 2 || viewer.role === 'guest') return null
    const [by] = await this.source.query<{ first: string; last: string }[]>(
      `SELECT p.first_name AS first, p.last_name AS last FROM copy_journal j JOIN person p ON p.school_id = j.school_id AND p.id = j.person_id
        WHERE j.school_id = $1 AND j.copy_id = $2 AND j.kind = 'submitted' ORDER BY j.at DESC LIMIT 1`,
      [viewer.schoolId, copy.copyId],
    )
    return by ? fullName(by) : null
  }

  /** What stands at the head of a copy: its instructions, how it is marked, and the cover note to this person. */
  private async aboutHandout(viewer: Viewer, copy: CopyRecord) {
    const [handout] = await this.source.query<{ title: string; given: unknown; note: NoteText | null }[]>(
      `SELECT h.title, h.given, (SELECT n.note FROM notice n WHERE n.school_id = h.school_id AND n.handout_id = h.id AND n.person_id = $3 AND n.about_id = $3) AS note
         FROM handout h WHERE h.school_id = $1 AND h.id = $2`,
      [viewer.schoolId, copy.handoutId, viewer.personId],
    )
    const given = handout?.given ? keptStatement(handout.given) : null
    return {
      handoutTitle: handout?.title ?? '',
      instructions: given?.instructions ?? null,
      marking: given?.marking ?? null,
      rubric: given?.rubric ?? [],
      unit: given?.unit?.name ?? null,
      note: handout?.note ?? null,
    }
  }

  /** Whom a holder let into their copy, and who else there is to let in. */
  async invited(viewer: Viewer, copyId: string) {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'invite', Date.now()))
    const mates = [...copy.roles]
      .filter(([id, role]) => role === 'student' && !copy.facts.holders.has(id))
      .map(([id]) => id)
    const names = await inSchool(this.source, viewer.schoolId).find(
      Person,
      { id: Any(mates) },
      { select: ['id', 'first', 'last'], order: { last: 'ASC', first: 'ASC' } },
    )
    return names.map(({ id, first, last }) => ({
      personId: id,
      name: fullName({ first, last }),
      may: copy.facts.invited.get(id) ?? null,
    }))
  }

  /** Lets a classmate into a copy, or out of it again; the holder's own permission is the most that can be given. */
  async invite(viewer: Viewer, copyId: string, personId: string, may: 'view' | 'comment' | 'edit' | null) {
    await this.pens.holdStill(viewer.schoolId, copyId, () =>
      this.source.transaction(async (tx) => {
        const copy = await copyOf(tx, viewer.schoolId, copyId)
        hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'invite', Date.now()))
        if (copy.roles.get(personId) !== 'student' || copy.facts.holders.has(personId)) throw notThere()
        await inSchool(tx, viewer.schoolId).delete(CopyReader, { copyId, personId, invitedBy: Not(IsNull()) })
        if (may === null) return
        const most = atMost(may, copy.facts.holders.get(viewer.personId)!)
        if (most === 'none') return
        await inSchool(tx, viewer.schoolId).insertMissing(CopyReader, {
          copyId,
          personId,
          permission: most,
          invitedBy: viewer.personId,
        })
      }),
    )
    return this.invited(viewer, copyId)
  }

  /** The hint of an answer space, for who asks for it. */
  async hint(viewer: Viewer, copyId: string, spaceId: string): Promise<{ hint: string }> {
    const copy = await this.seen(viewer, copyId)
    const hint = answerSpaces(copy.content).find(({ id }) => id === spaceId)?.hint
    if (!hint) throw notThere()
    return { hint }
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
    hold(mayWriteAt(viewer, copy.facts, spaceId))
    const space = answerSpaces(copy.content).find(({ id }) => id === spaceId)
    if (space?.kind !== 'file') throw notThere()
    const kept = valueOf(await keepHandedIn(name, bytes, viewer))
    const count = await inSchool(this.source, viewer.schoolId).count(CopyFile, { copyId })
    if (count >= FILES_OF_COPY)
      throw conflict(
        'too-many-files',
        `${FILES_OF_COPY} files were handed in on this copy already: no more can be added.`,
      )
    const id = randomUUID()
    await inSchool(this.source, viewer.schoolId).insert(CopyFile, {
      id,
      copyId,
      space: spaceId,
      personId: viewer.personId,
      name: kept.name,
      type: kept.type,
      bytes: Buffer.from(kept.bytes),
    })
    return { id, name: kept.name }
  }

  /** A file that was handed in on a copy. */
  async file(viewer: Viewer, copyId: string, fileId: string): Promise<{ name: string; type: string; bytes: Buffer }> {
    await this.seen(viewer, copyId)
    const [found] = await inSchool(this.source, viewer.schoolId).find(
      CopyFile,
      { copyId, id: fileId },
      { select: ['name', 'type', 'bytes'] },
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
  private async enter(viewer: Viewer, copyId: string, act: Extract<CopyAct, 'submit' | 'take back'>) {
    return this.pens.holdStill(viewer.schoolId, copyId, () =>
      this.source.transaction(async (tx) => {
        await inSchool(tx, viewer.schoolId).find(Copy, { id: copyId }, { select: ['id'], lock: true })
        const copy = await copyOf(tx, viewer.schoolId, copyId)
        const now = Date.now()
        hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, act, now))
        const kind = act === 'submit' ? 'submitted' : 'taken back'
        const life = await addToJournal(tx, viewer.schoolId, { copyId, kind, personId: viewer.personId, at: now })
        return { state: life.state, submittedAt: life.submittedAt }
      }),
    )
  }

  /** Mends a copy that cannot be opened; see {@link bringToLastGood}. */
  async bringToLastGood(viewer: Viewer, copyId: string) {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'bring to last good', Date.now()))
    return this.pens.holdStill(viewer.schoolId, copyId, () =>
      bringToLastGood(this.source, this.loader, copy, viewer.personId),
    )
  }

  /** What was written too late into a copy. For those who may see it. */
  async lateWritings(viewer: Viewer, copyId: string) {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'see', Date.now()))
    return lateWritingsOf(this.source, this.loader, copy)
  }
}
