import { type Viewer, type Way, baseAddress, fullName, gathered, slotOf, standsBeside } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { Any, DataSource, type EntityManager } from 'typeorm'
import { holdInClass } from '../access/classRole.js'
import { conflict, notThere } from '../common/problemDetails.js'
import { type SchoolRows, inSchool } from '../database/inSchool.js'
import { Events } from '../events/events.js'
import { addToJournal } from '../kept/journal.js'
import { Copy, CopyHolder, CopyReader } from '../kept/kept.entity.js'
import { Pens } from '../kept/pens.js'
import { studentsOf } from '../roster/students.js'
import { findHandout } from '../slip/handoutSet.js'
import { GuestMatched, type Handout } from '../slip/slip.entity.js'
import { type OwnCopy, answersOfShared, guestsWhoCame, hasWorkedIn, ownCopies } from './guests.queries.js'

/** What of a copy is whose it is, and not what is in it. */
const WHOSE = [
  'slotKey',
  'title',
  'classmatesMay',
  'mayInvite',
  'places',
  'opensAt',
  'dueAt',
  'pensDownAtDue',
  'pensDownFrom',
  'lateWork',
] as const

/** A guest of an item, and the copy they are in. */
interface Guest {
  readonly handout: Handout
  readonly itemId: string
  readonly way: Way
  readonly guestId: string
  readonly copyId: string | null
}

/** Guests of walk-in links, and the students of the class who they are. */
@Injectable()
export class GuestsService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly pens: Pens,
    private readonly events: Events,
  ) {}

  /** Who came to a handout, and the students who they may be, with what these have of it. */
  async ofHandout(viewer: Viewer, handoutId: string) {
    const { schoolId } = viewer
    const handout = await this.held(this.source.manager, viewer, handoutId)
    const guests = await guestsWhoCame(this.source, schoolId, handoutId)
    if (guests.length === 0) return { guests: [], students: [] }
    const copies = await ownCopies(this.source, schoolId, handoutId)
    const bySlot = new Map(copies.map((copy) => [copy.slotKey, copy]))
    const own = (itemId: string, personId: string) => bySlot.get(slotOf(itemId, personId)) ?? null
    const written = gathered(
      await answersOfShared(this.source, schoolId, handoutId),
      ({ itemId, space }) => `${itemId} ${baseAddress(space).of}`,
    )
    const items = [...new Set(guests.map(({ itemId }) => itemId))]
    const students = (await studentsOf(this.source, schoolId, handout.classId)).filter(({ leftAt }) => leftAt === null)
    return {
      guests: guests.map((guest) => ({
        ...guest,
        way: handout.given?.items.find(({ id }) => id === guest.itemId)?.way ?? null,
        own: own(guest.itemId, guest.personId),
      })),
      students: students.map(({ personId, first, last }) => ({
        personId,
        first,
        last,
        // By item: their own copy of it, and whether they wrote in their part of a shared one.
        has: items.map((itemId) => ({
          itemId,
          own: own(itemId, personId),
          hasWritten: written.has(`${itemId} ${personId.replaceAll('-', '')}`),
        })),
      })),
    }
  }

  /**
   * Says which student of the class a guest is: what the guest has is the student's from now on, in place of the student's own
   * where nothing was done in that yet, else beside it. The guest goes on with it.
   * @param seen whether the page that asks showed it as standing beside
   */
  async match(
    viewer: Viewer,
    handoutId: string,
    who: { readonly itemId: string; readonly guestId: string; readonly studentId: string },
    seen: boolean,
  ) {
    const { schoolId } = viewer
    const { itemId, guestId, studentId } = who
    const handout = await this.held(this.source.manager, viewer, handoutId)
    await this.withPensStill(handout, who, async (tx, guest) => {
      if (await inSchool(tx, schoolId).exists(GuestMatched, { handoutId, itemId, guestId }))
        throw conflict('matched-already', 'Somebody has said who this guest is: look again.')
      const student = (await studentsOf(tx, schoolId, handout.classId)).find(({ personId }) => personId === studentId)
      if (!student || student.leftAt !== null) throw notThere()
      const [theirs, own] = await this.copiesOf(tx, guest, studentId)
      const beside = standsBeside(guest.way, theirs, own, await this.hasWritten(tx, guest, studentId))
      if (beside !== seen)
        throw conflict('changed', `${fullName(student)} has begun to write meanwhile, or has another copy: look again.`)
      const shared = guest.way !== 'one each'
      if (shared && !(await inSchool(tx, schoolId).exists(CopyHolder, { copyId: guest.copyId!, personId: studentId })))
        throw conflict('not-given', `${fullName(student)} is not among those who have this: give it to them first.`)
      if (!shared && !beside) await this.exchange(tx, viewer, guest, theirs!, own!)
      if (!shared && beside)
        await inSchool(tx, schoolId).insertMissing(CopyHolder, {
          copyId: guest.copyId!,
          personId: studentId,
          permission: handout.given!.items.find(({ id }) => id === itemId)!.holdersMay,
        })
      await inSchool(tx, schoolId).insert(GuestMatched, {
        handoutId,
        itemId,
        guestId,
        studentId,
        beside,
        matchedBy: viewer.personId,
      })
      await this.note(tx, viewer, guest.copyId!, 'guest matched')
    })
    await this.events.tell('handout changed', { schoolId, handoutId })
    return this.ofHandout(viewer, handoutId)
  }

  /** Takes back that a guest is a student: each has again what was theirs. Not once the student has worked in it. */
  async unmatch(viewer: Viewer, handoutId: string, who: { readonly itemId: string; readonly guestId: string }) {
    const { schoolId } = viewer
    const { itemId, guestId } = who
    const handout = await this.held(this.source.manager, viewer, handoutId)
    await this.withPensStill(handout, who, async (tx, guest) => {
      const [match] = await inSchool(tx, schoolId).find(GuestMatched, { handoutId, itemId, guestId }, { lock: true })
      if (!match) throw conflict('not-matched', 'This guest is not matched any more: look again.')
      const { studentId, beside } = match
      const shared = guest.way !== 'one each'
      const part = shared ? `_${guestId.replaceAll('-', '')}` : ''
      if (await hasWorkedIn(tx, schoolId, { copyId: guest.copyId!, personId: studentId, part }))
        throw conflict('worked-in', 'The student has worked in it since: it stays theirs.')
      if (!shared && beside)
        await inSchool(tx, schoolId).delete(CopyHolder, { copyId: guest.copyId!, personId: studentId })
      if (!shared && !beside) {
        const [aside] = await inSchool(tx, schoolId).find(
          Copy,
          { handoutId, slotKey: slotOf(itemId, guestId) },
          { select: ['id'] },
        )
        if (!aside) throw conflict('not-undone', 'The student’s own copy is not there any more: it stays matched.')
        await this.exchange(tx, viewer, guest, { id: guest.copyId! }, aside)
      }
      await inSchool(tx, schoolId).delete(GuestMatched, { handoutId, itemId, guestId })
      await this.note(tx, viewer, guest.copyId!, 'guest not matched')
    })
    await this.events.tell('handout changed', { schoolId, handoutId })
    return this.ofHandout(viewer, handoutId)
  }

  private async held(manager: EntityManager, viewer: Viewer, handoutId: string): Promise<Handout> {
    const handout = await findHandout(manager, viewer, handoutId)
    await holdInClass(manager, viewer, handout.classId, 'hand out')
    return handout
  }

  /** Does something about a guest's copy with the pens in it held still, and the handout locked. */
  private async withPensStill(
    { schoolId, id: handoutId }: Handout,
    { itemId, guestId, studentId }: { itemId: string; guestId: string; studentId?: string },
    work: (tx: EntityManager, guest: Guest) => Promise<void>,
  ): Promise<void> {
    const guestOf = async (database: DataSource | EntityManager) =>
      (await guestsWhoCame(database, schoolId, handoutId, guestId)).find((guest) => guest.itemId === itemId)
    const known = await guestOf(this.source)
    if (!known) throw notThere()
    const copyOf = known.copyId
    if (copyOf === null)
      throw conflict('taken-back', 'What this guest had was taken back: bring it back before you say who they are.')
    const theirs = () =>
      this.source.transaction(async (tx) => {
        const handout = await findHandout(tx, { schoolId }, handoutId, true)
        const guest = await guestOf(tx)
        const item = handout.given?.items.find(({ id }) => id === itemId)
        if (!item || guest?.copyId !== copyOf)
          throw conflict('changed', 'What this guest has was changed meanwhile: look again.')
        await work(tx, { handout, itemId, way: item.way, guestId, copyId: copyOf })
      })
    const [own] = studentId ? await ownCopies(this.source, schoolId, handoutId, [slotOf(itemId, studentId)]) : []
    await this.pens.holdStill(schoolId, copyOf, () =>
      own && own.id !== copyOf ? this.pens.holdStill(schoolId, own.id, theirs) : theirs(),
    )
  }

  /** The guest's own copy and the student's. */
  private async copiesOf(
    tx: EntityManager,
    { handout, itemId, guestId }: Guest,
    studentId: string,
  ): Promise<[OwnCopy | null, OwnCopy | null]> {
    const slots = [slotOf(itemId, guestId), slotOf(itemId, studentId)]
    const copies = await ownCopies(tx, handout.schoolId, handout.id, slots)
    return [
      copies.find(({ slotKey }) => slotKey === slots[0]) ?? null,
      copies.find(({ slotKey }) => slotKey === slots[1]) ?? null,
    ]
  }

  private async hasWritten(tx: EntityManager, { handout, itemId, way }: Guest, studentId: string): Promise<boolean> {
    if (way !== 'one together') return false
    const part = studentId.replaceAll('-', '')
    const written = await answersOfShared(tx, handout.schoolId, handout.id)
    return written.some((one) => one.itemId === itemId && baseAddress(one.space).of === part)
  }

  /**
   * Makes each of two copies whose the other was: its slot, title, times, holders and readers. The guest keeps the copy they are
   * in; the other one is set aside, or brought back.
   */
  private async exchange(
    tx: EntityManager,
    viewer: Viewer,
    { guestId }: Guest,
    { id: guests }: { readonly id: string },
    { id: other }: { readonly id: string },
  ): Promise<void> {
    const school = inSchool(tx, viewer.schoolId)
    const both = [guests, other]
    const rows = await school.find(Copy, { id: Any(both) }, { select: ['id', 'setAside', ...WHOSE], lock: true })
    const [one, two] = both.map((id) => rows.find((row) => row.id === id)!)
    const whose = (row: typeof one) => Object.fromEntries(WHOSE.map((key) => [key, row![key]]))
    await school.update(Copy, { id: guests }, { slotKey: `${one!.slotKey} exchanged` })
    await school.update(Copy, { id: other }, whose(one))
    await school.update(Copy, { id: guests }, whose(two))
    await this.exchangeHolders(school, guestId, guests, other)
    const readers = await school.find(CopyReader, { copyId: Any(both) })
    await school.delete(CopyReader, { copyId: Any(both) })
    for (const { copyId, personId, permission, invitedBy } of readers)
      await school.insert(CopyReader, { copyId: copyId === guests ? other : guests, personId, permission, invitedBy })
    await addToJournal(tx, viewer.schoolId, {
      copyId: other,
      kind: two!.setAside ? 'brought back' : 'set aside',
      personId: viewer.personId,
      at: Date.now(),
    })
  }

  /** All holders but the guest go from one copy to the other; the guest holds both. */
  private async exchangeHolders(school: SchoolRows, guestId: string, guests: string, other: string): Promise<void> {
    const holders = await school.find(CopyHolder, { copyId: Any([guests, other]) })
    const guest = holders.find(({ copyId, personId }) => copyId === guests && personId === guestId)!
    for (const { copyId, personId, permission } of holders) {
      if (personId === guestId) continue
      await school.delete(CopyHolder, { copyId, personId })
      await school.insertMissing(CopyHolder, { copyId: copyId === guests ? other : guests, personId, permission })
    }
    await school.delete(CopyHolder, { copyId: other, personId: guestId })
    if (holders.some(({ copyId, personId }) => copyId === other && personId !== guestId))
      await school.insert(CopyHolder, { copyId: other, personId: guestId, permission: guest.permission })
  }

  private async note(
    tx: EntityManager,
    viewer: Viewer,
    copyId: string,
    kind: 'guest matched' | 'guest not matched',
  ): Promise<void> {
    await addToJournal(tx, viewer.schoolId, { copyId, kind, personId: viewer.personId, at: Date.now() })
  }
}
