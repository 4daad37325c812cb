import {
  type CopyAct,
  type HandoutItem,
  type WorksheetContent,
  type Viewer,
  accessGround,
  accessInWords,
  answerSpaces,
  atMost,
  baseAddress,
  copyAccess,
  forStudents,
  fullName,
  isOfStaff,
  isPeerReader,
  mayBeNamed,
  maySeeAt,
  maySeeDocumentOf,
  maySeeKey,
  mayWithCopy,
  mayWriteAt,
  mediaOf,
  withoutHints,
  KINDS,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, Any, Not, IsNull } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { ProblemException, conflict, notThere } from '../common/problemDetails.js'
import { holdInClass } from '../access/classRole.js'
import { hold } from '../access/viewer.js'
import { type Back, backOf } from '../kept/mark.queries.js'
import { checksFor } from '../kept/checksFor.js'
import { DocLoader } from '../kept/docLoader.js'
import { Events } from '../events/events.js'
import { Pens } from '../kept/pens.js'
import { bringToLastGood } from './lastGood.js'
import { type Decision, decideOnLate, lateWritingsOf } from './lateWriting.js'
import { mediumOfWorksheet } from '../media/mediaStore.js'
import { type MediumFile } from '../media/media.queries.js'
import { type CopyRecord, contentFor, copyOf, roleIn, withItsFiles } from '../kept/copyRecord.js'
import { DocumentsService } from './documents.service.js'
import { FILES_OF_COPY, keepHandedIn } from './handedIn.js'
import { addToJournal } from '../kept/journal.js'
import { keptAnswers } from './keptAnswers.js'
import { languageOfEdition } from './languageOfEdition.js'
import { findHandout } from '../slip/handoutSet.js'
import { keptStatement } from '../slip/keptStatement.js'
import { inSchool } from '../database/inSchool.js'
import { Person } from '../access/access.entity.js'
import { Copy, CopyReader } from '../kept/kept.entity.js'
import { CopyFile, PeerReading } from './copy.entity.js'
import {
  type CopyHeld,
  type LateCopy,
  lateCopiesFor,
  copiesToRead,
  copiesHeld,
  lastHandingIn,
  handoutOfCopy,
  peerReadersOf,
} from './copy.queries.js'
import { withSpaces } from '../kept/counted.js'

/** Copies with late writing that a desk shows at once. */
const LATE_COPIES = 100

@Injectable()
export class CopyService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly pens: Pens,
    private readonly loader: DocLoader,
    private readonly events: Events,
    private readonly documents: DocumentsService,
  ) {}

  /** Copies of classmates that a student was chosen to read, or let into. */
  async reading(viewer: Viewer) {
    return copiesToRead(this.source, viewer.schoolId, viewer.personId)
  }

  /**
   * A student's own copies and what is given to them to read, in all classes, the next one due first; also those that were set
   * aside with something of theirs in them.
   */
  async mine(viewer: Viewer) {
    return withSpaces<CopyHeld>(await copiesHeld(this.source, viewer.schoolId, viewer.personId))
  }

  /** All that the copy page shows besides what is written, which comes over the live connection. */
  async open(viewer: Viewer, copyId: string) {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    const role = roleIn(copy, viewer)
    hold(mayWithCopy(viewer, role, copy.facts, 'see', Date.now()))
    const access = copyAccess(viewer, role, copy.facts, Date.now())
    const shown = contentFor(copy, viewer)
    const names = await inSchool(this.source, viewer.schoolId).find(
      Person,
      { id: Any([...copy.facts.holders.keys()]) },
      { select: ['id', 'first', 'last'], order: { last: 'ASC', first: 'ASC', id: 'ASC' } },
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
      content: maySeeKey(role) ? copy.content : withoutHints(forStudents(shown)),
      places: placesIn(copy, viewer, shown),
      language: languageOfEdition(copy),
      page: copy.page,
      /** Of one that this person was given to keep: what it was in the class. */
      keptFrom: copy.keptFrom && {
        copyId: copy.keptFrom.copyId,
        at: copy.keptFrom.at,
        by: copy.keptFrom.by,
      },
      edition: copy.edition,
      way: copy.way,
      link: copy.link,
      state: copy.facts.state,
      opensAt: copy.facts.opensAt,
      dueAt: copy.facts.dueAt,
      pensDownAtDue: copy.facts.pensDownAtDue,
      lateWork: copy.facts.lateWork,
      submittedAt: copy.submittedAt,
      handingIn: await this.handingIn(viewer, copy),
      handedBack: await this.handedBack(viewer, copy),
      /** Which answers are right, for holders where the slip says so; null: they are not told. */
      checks: checksFor(copy, viewer),
      permission: access.permission,
      reason: accessInWords(viewer, role, copy.facts, Date.now()),
      isHolder: copy.facts.holders.has(viewer.personId),
      // There are others that this student may look at.
      classmatesMay: role === 'student' ? copy.facts.classmatesMay : 'none',
      mayTakeBack: mayWithCopy(viewer, role, copy.facts, 'take back', Date.now()).may,
      // Guests are not told who is in the class.
      holders: names
        .filter(({ id }) => viewer.role !== 'guest' || id === viewer.personId)
        .map((name) => fullName(name)),
      // The parts of repeated sections in which this person does not write.
      others: answerSpaces(shown)
        .map(({ id }) => id)
        .filter((id) => !mayWriteAt(viewer, copy.facts, id).may),
      documents: await this.documents.list(viewer, copy),
      kept: (await keptAnswers(this.source, this.loader, copy)).filter(({ space }) =>
        maySeeAt(viewer, role, copy.facts, space, Date.now()),
      ),
      mayBringToLastGood:
        copy.unreadable !== null && mayWithCopy(viewer, role, copy.facts, 'bring to last good', Date.now()).may,
      staffShown: copy.facts.staffShown,
      mayMakeOwn: mayWithCopy(viewer, role, copy.facts, 'make a copy of their own', Date.now()).may,
      mayInvite: mayWithCopy(viewer, role, copy.facts, 'invite', Date.now()).may,
      hasHistory: mayWithCopy(viewer, role, copy.facts, 'see its history', Date.now()).may,
      mayDecideOnLate: mayWithCopy(viewer, role, copy.facts, 'decide on late writing', Date.now()).may,
      ...(await this.aboutHandout(viewer, copy)),
    }
  }

  /** What this holder of a copy got back, as it was handed back to them; nobody else is shown it here. */
  private async handedBack(viewer: Viewer, copy: CopyRecord): Promise<Omit<Back, 'copyId' | 'personId'> | null> {
    const role = roleIn(copy, viewer)
    if (!mayWithCopy(viewer, role, copy.facts, 'see what was handed back', Date.now()).may) return null
    const back = await backOf(this.source, viewer.schoolId, [copy.copyId])
    const own = back.find(({ personId }) => personId === viewer.personId)
    if (!own) return null
    const { at, mark, message, lookedAt } = own
    return { at, mark, message, lookedAt }
  }

  /** Who submitted a copy for others, or took it back: one of several holders, or a teacher for them; null where nobody did. */
  private async handingIn(
    viewer: Viewer,
    copy: CopyRecord,
  ): Promise<{ kind: 'submitted' | 'taken back'; at: number; by: string; isSelf: boolean; isStaff: boolean } | null> {
    const { state, guestIs } = copy.facts
    const holders = new Set([...copy.facts.holders.keys()].map((id) => guestIs.get(id) ?? id))
    // Guests are not told who is in the class.
    if (viewer.role === 'guest' || (copy.submittedAt === null && state !== 'taken back')) return null
    const [last] = await lastHandingIn(this.source, viewer.schoolId, copy.copyId)
    if (!last) return null
    // It was opened again since.
    if (state === 'taken back' && last.kind === 'submitted') return null
    const isStaff = !holders.has(guestIs.get(last.personId) ?? last.personId)
    if (holders.size < 2 && !isStaff) return null
    return { kind: last.kind, at: last.at, by: fullName(last), isSelf: last.personId === viewer.personId, isStaff }
  }

  /** What stands at the head of a copy: its instructions, how it is marked, and the cover note to this person. */
  private async aboutHandout(viewer: Viewer, copy: CopyRecord) {
    const [handout] = await handoutOfCopy(this.source, viewer.schoolId, copy.handoutId, viewer.personId)
    const given = handout?.given ? keptStatement(handout.given) : null
    return {
      handoutTitle: handout?.title ?? '',
      instructions: given?.instructions ?? null,
      marking: given?.marking ?? null,
      rubric: given?.rubric ?? [],
      unit: given?.unit?.name ?? null,
      note: handout?.note ?? null,
      ...(await this.peerReading(
        viewer,
        copy,
        given?.items.find(({ id }) => id === copy.itemId),
      )),
    }
  }

  /** What a peer reader is asked to do, and how far they are; and who reads it, for those who may know. */
  private async peerReading(viewer: Viewer, copy: CopyRecord, item: HandoutItem | undefined) {
    const { facts, copyId } = copy
    const role = roleIn(copy, viewer)
    if (facts.readers.size === 0) return { asReader: null, readBy: null }
    const isReader = isPeerReader(viewer, role, facts)
    const mayKnow = mayWithCopy(viewer, role, facts, 'see who reads', Date.now()).may
    if (!isReader && !mayKnow) return { asReader: null, readBy: null }
    const school = inSchool(this.source, viewer.schoolId)
    if (isReader) await school.insertMissing(PeerReading, { copyId, personId: viewer.personId })
    const readers = await peerReadersOf(this.source, viewer.schoolId, copyId)
    const own = readers.find(({ personId }) => personId === viewer.personId)
    const isNamed = facts.readersNamed || isOfStaff(role)
    return {
      asReader:
        isReader && own
          ? {
              lookFor: item?.peers?.lookFor ?? [],
              until: item?.peers?.until ?? null,
              isNamed: facts.readersNamed,
              doneAt: own.doneAt,
              comments: own.comments,
            }
          : null,
      readBy: mayKnow
        ? (isNamed
            ? readers
            : readers.toSorted((a, b) => (a.openedAt ?? Infinity) - (b.openedAt ?? Infinity) || 0)
          ).map((one) => ({
            name: isNamed ? fullName(one) : null,
            openedAt: one.openedAt,
            doneAt: one.doneAt,
            comments: one.comments,
          }))
        : null,
    }
  }

  /** Who sees a copy and why, for its holders and the staff of the class; who sees it only as a classmate is counted. */
  async access(viewer: Viewer, copyId: string) {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    const { facts, roles } = copy
    const role = roleIn(copy, viewer)
    const now = Date.now()
    hold(mayWithCopy(viewer, role, facts, 'see who reads', now))
    const ids = [...new Set([...facts.holders.keys(), ...roles.keys()])]
    const people = await inSchool(this.source, viewer.schoolId).find(
      Person,
      { id: Any(ids) },
      { select: ['id', 'first', 'last', 'role'], order: { last: 'ASC', first: 'ASC' } },
    )
    const all = people.flatMap((person) => {
      const who: Viewer = { personId: person.id, schoolId: viewer.schoolId, role: person.role }
      const does = roles.get(person.id) ?? 'none'
      const { permission } = copyAccess(who, does, facts, now)
      if (permission === 'none') return []
      const isSelf = person.id === viewer.personId
      const isNamed = isSelf || mayBeNamed({ viewer, role, copy: facts, now }, { viewer: who, role: does })
      return [{ name: isNamed ? fullName(person) : null, ground: accessGround(who, does, facts), permission, isSelf }]
    })
    const classmates = all.filter(({ ground }) => ground === 'classmate')
    return {
      people: all.filter(({ ground }) => ground !== 'classmate'),
      classmates: { count: classmates.length, permission: facts.classmatesMay },
    }
  }

  /** A peer reader says that they have read a copy, or that they have not. */
  async sayRead(viewer: Viewer, copyId: string, done: boolean): Promise<void> {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'say it is read', Date.now()))
    const row = { copyId, personId: viewer.personId, doneAt: done ? Date.now() : null }
    await inSchool(this.source, viewer.schoolId).put(PeerReading, row, ['doneAt'])
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
    if (!space || KINDS[space.kind].kept !== 'files') throw notThere()
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
    const copy = await this.seen(viewer, copyId)
    const [found] = await inSchool(this.source, viewer.schoolId).find(
      CopyFile,
      { copyId: Any(withItsFiles(copy)), id: fileId },
      { select: ['name', 'type', 'bytes', 'space', 'personId'] },
    )
    const role = roleIn(copy, viewer)
    const isShown =
      found &&
      (found.space === ''
        ? maySeeDocumentOf(viewer, role, copy.facts, found.personId, Date.now())
        : maySeeAt(viewer, role, copy.facts, found.space, Date.now()))
    if (!isShown) throw notThere()
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

  /**
   * Submits copies of a handout for their holders, as they stand, or takes them back for them.
   * @returns which were, and of the others why not
   */
  async enterForThem(
    viewer: Viewer,
    handoutId: string,
    copyIds: readonly string[],
    act: 'submit for them' | 'take back for them',
  ): Promise<{ done: string[]; passed: { copyId: string; sentence: string }[] }> {
    const { classId } = await findHandout(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, classId, 'hand out')
    const own = await inSchool(this.source, viewer.schoolId).find(
      Copy,
      { handoutId, id: Any(copyIds) },
      { select: ['id'] },
    )
    const done: string[] = []
    const passed: { copyId: string; sentence: string }[] = []
    for (const { id: copyId } of own)
      try {
        await this.enter(viewer, copyId, act)
        done.push(copyId)
      } catch (error) {
        if (!(error instanceof ProblemException)) throw error
        passed.push({ copyId, sentence: error.sentence })
      }
    return { done, passed }
  }

  /** Enters a step of the holder's into the journal, with the pens of all open windows held still meanwhile. */
  private async enter(
    viewer: Viewer,
    copyId: string,
    act: Extract<CopyAct, `${'submit' | 'take back'}${'' | ' for them'}`>,
  ) {
    return this.pens.holdStill(viewer.schoolId, copyId, () =>
      this.source.transaction(async (tx) => {
        await inSchool(tx, viewer.schoolId).find(Copy, { id: copyId }, { select: ['id'], lock: true })
        const copy = await copyOf(tx, viewer.schoolId, copyId)
        const now = Date.now()
        hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, act, now))
        const kind = act.startsWith('submit') ? 'submitted' : 'taken back'
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

  /** The copies in which a teacher has late writing to decide on. */
  lateCopies({ schoolId, personId }: Viewer): Promise<LateCopy[]> {
    return lateCopiesFor(this.source, schoolId, personId, LATE_COPIES)
  }

  /** What was written too late into a copy; see {@link lateWritingsOf}. */
  async lateWritings(viewer: Viewer, copyId: string) {
    const copy = await this.seen(viewer, copyId)
    return lateWritingsOf(this.source, this.loader, copy, viewer)
  }

  /** What becomes of late writing, by a teacher of the class. What is taken in is in all open windows when this resolves. */
  async decideOnLate(viewer: Viewer, copyId: string, decision: Decision) {
    const { copy, isOther } = await this.pens.holdStill(viewer.schoolId, copyId, () =>
      this.source.transaction(async (tx) => {
        await inSchool(tx, viewer.schoolId).find(Copy, { id: copyId }, { select: ['id'], lock: true })
        const copy = await copyOf(tx, viewer.schoolId, copyId)
        hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'decide on late writing', Date.now()))
        return { copy, isOther: await decideOnLate(tx, this.loader, copy, viewer, decision) }
      }),
    )
    const { schoolId, handoutId } = copy
    if (isOther) await this.events.tell('handout changed', { schoolId, handoutId, written: [copyId] })
    await this.events.tell('late writing decided', { schoolId, copyId })
    return lateWritingsOf(this.source, this.loader, copy, viewer)
  }
}

/** A part of the page that is somebody's or a group's. */
export interface PlaceShown {
  readonly name: string
  readonly isOwn: boolean
  /** The addresses of its answers. */
  readonly spaces: string[]
}

/** The places that somebody is shown of a copy, in the order of the page. */
function placesIn(copy: CopyRecord, viewer: Viewer, shown: WorksheetContent): PlaceShown[] {
  const names = new Map(copy.parts.map(({ id, name }) => [id.replaceAll('-', ''), name]))
  const places = new Map<string, PlaceShown>()
  for (const { id } of answerSpaces(shown)) {
    const { of } = baseAddress(id)
    const name = of === null ? undefined : names.get(of)
    if (of === null || name === undefined) continue
    const place = places.get(of) ?? { name, isOwn: mayWriteAt(viewer, copy.facts, id).may, spaces: [] }
    places.set(of, place)
    place.spaces.push(id)
  }
  return [...places.values()]
}
