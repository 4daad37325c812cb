import {
  type Viewer,
  changesForGuests,
  foldText,
  fullName,
  guestName,
  isGuestCalled,
  letsIn,
  numberedName,
  walkInProblem,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager } from 'typeorm'
import { type Growing, holdBack, noteAttempt, slowDown } from '../access/attempts.js'
import { ProblemException, conflict, malformed, notThere } from '../common/problemDetails.js'
import { Events } from '../events/events.js'
import { classCodeOf, newClassCode } from '../common/classCode.js'
import { holdInClass } from '../access/classRole.js'
import { studentsOf } from '../roster/students.js'
import { HandOutRuns } from '../handOut/handOutRuns.js'
import { findHandout } from '../slip/handoutSet.js'
import { inSchool } from '../database/inSchool.js'
import { WalkInUse } from '../slip/slip.entity.js'
import { Person } from '../access/access.entity.js'
import {
  type WalkInRow,
  type WalkInSettings,
  linksOfHandout,
  putLink,
  guestsOfLink,
  copyOfGuest,
  guestsToClear,
  clearUses,
  slotsOfGuests,
  dropGuestHolders,
  linkByCode,
} from './walkIn.queries.js'

/** From one address; a right code is let through between two waits, and a whole class comes from one. */
const WRONG_CODES: Growing = { free: 60, first: 1, most: 10 }
/** New guests by one link from one address: a class comes within minutes, a loop is slowed down. */
const NEW_GUESTS: Growing = { free: 60, first: 2, most: 30 }

/** Links by which people without an account come to one item of a handout, and to nothing else. */
@Injectable()
export class WalkInService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly runs: HandOutRuns,
    private readonly events: Events,
  ) {}

  /** The walk-in links of a handout, with who came in by each. */
  async ofHandout(viewer: Viewer, handoutId: string) {
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'hand out')
    return linksOfHandout(this.source, viewer.schoolId, handoutId)
  }

  /** Sets a walk-in link, made with a new code the first time; a new code shuts the old one out. */
  async set(viewer: Viewer, handoutId: string, itemId: string, wish: WalkInSettings, newCode: boolean) {
    await this.source.transaction(async (tx) => {
      const handout = await findHandout(tx, viewer, handoutId, true)
      await holdInClass(tx, viewer, handout.classId, 'hand out')
      const problem = walkInProblem(
        handout.given?.items.find(({ id }) => id === itemId),
        wish.permission,
      )
      if (problem) throw problem.field ? malformed([problem]) : conflict(problem.code, problem.sentence)
      await putLink(tx, viewer.schoolId, {
        id: randomUUID(),
        handoutId,
        itemId,
        code: newClassCode(),
        permission: wish.permission,
        open: wish.open,
        endsAt: wish.endsAt === null ? null : new Date(wish.endsAt),
        personId: viewer.personId,
        newCode,
        places: wish.places,
      })
    })
    await this.applyGiven(viewer.schoolId, handoutId, viewer.personId)
    await this.events.tell('handout changed', { schoolId: viewer.schoolId, handoutId })
    return this.ofHandout(viewer, handoutId)
  }

  /** What a code leads to: asked by strangers, so it says only the class and the title. */
  async about(code: string, address: string) {
    const found = await this.byCode(this.source, code, address)
    return { class: found.class_name, title: found.title, permission: found.permission }
  }

  /**
   * Lets somebody in under a name. Who is in this browser already under the same name goes on with what they have; anybody
   * else of this name gets a number after it.
   * @returns the guest, to begin a session for, and the copy to open
   */
  async enter(
    code: string,
    typed: string,
    address: string,
    before: Viewer | undefined,
  ): Promise<{ guest: { schoolId: string; personId: string }; copyId: string | null }> {
    const found = await this.byCode(this.source, code, address)
    const outcome = guestName(typed)
    if (!outcome.ok) throw malformed(outcome.problems)
    const name = outcome.value
    if (!(await this.isGuestOf(found, before)))
      await holdBack(this.source, 'new guest', `${found.id} ${address}`, NEW_GUESTS)
    const guestId = await this.source.transaction(async (tx) => {
      await findHandout(tx, { schoolId: found.school_id }, found.handout_id, true)
      const guests = await guestsOfLink(tx, found.school_id, found.id)
      const same = guests.find(({ id, first }) => id === before?.personId && isGuestCalled(first, name))
      const id =
        same?.id ??
        (await this.newGuest(
          tx,
          found,
          numberedName(
            name,
            guests.map(({ first }) => first),
          ),
          guests.length,
        ))
      const like = (await this.studentsLike(tx, found, name))[0]
      await inSchool(tx, found.school_id).insert(WalkInUse, {
        walkInId: found.id,
        personId: id,
        name,
        likeId: like ?? null,
      })
      return id
    })
    await this.applyGiven(found.school_id, found.handout_id, guestId)
    const [copy] = await copyOfGuest(this.source, found.school_id, {
      handoutId: found.handout_id,
      itemId: found.item_id,
      guestId,
    })
    return { guest: { schoolId: found.school_id, personId: guestId }, copyId: copy?.id ?? null }
  }

  private async isGuestOf({ school_id, id }: WalkInRow, viewer: Viewer | undefined): Promise<boolean> {
    if (!viewer) return false
    return inSchool(this.source, school_id).exists(WalkInUse, {
      walkInId: id,
      personId: viewer.personId,
      clearedAt: null,
    })
  }

  /**
   * Clears guests away who came by a link: those who wrote nothing, or all. Their own copies are set aside, as copies are taken
   * back; in a shared copy they are no longer.
   */
  async clear(viewer: Viewer, handoutId: string, itemId: string, all: boolean) {
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'hand out')
    const cleared = await this.source.transaction(async (tx) => {
      await findHandout(tx, viewer, handoutId, true)
      const rows = await guestsToClear(tx, viewer.schoolId, { handoutId, itemId, all })
      const people = rows.map(({ person_id }) => person_id)
      await clearUses(tx, viewer.schoolId, { handoutId, itemId, people })
      const own = await slotsOfGuests(tx, viewer.schoolId, { handoutId, itemId, people })
      await dropGuestHolders(tx, viewer.schoolId, { handoutId, itemId, people })
      return { people, slots: own.map(({ slot_key }) => slot_key) }
    })
    if (cleared.slots.length > 0) await this.runs.takeBack(viewer, handoutId, cleared.slots, false)
    for (const personId of cleared.people)
      await this.events.tell('account ended', { schoolId: viewer.schoolId, personId })
    await this.events.tell('handout changed', { schoolId: viewer.schoolId, handoutId })
    return { cleared: cleared.people.length, list: await this.ofHandout(viewer, handoutId) }
  }

  private async byCode(database: DataSource, code: string, address: string): Promise<WalkInRow> {
    // A whole class comes from one address: only codes that lead nowhere count.
    await slowDown(database, 'walk-in', address, WRONG_CODES)
    const [found] = await linkByCode(database, classCodeOf(code))
    if (!found) {
      await noteAttempt(database, 'walk-in', address)
      throw notThere()
    }
    if (!letsIn({ open: found.is_open, endsAt: found.ends_at?.getTime() ?? null }, Date.now()))
      throw new ProblemException(403, 'walk-in-shut', 'This link is closed. Ask the teacher who gave it to you.')
    return found
  }

  private async newGuest(
    tx: EntityManager,
    { school_id, places }: WalkInRow,
    name: string,
    guests: number,
  ): Promise<string> {
    if (guests >= places)
      throw conflict(
        'too-many-guests',
        'As many came in by this link as the teacher lets in. Ask them for more places.',
      )
    const id = randomUUID()
    await inSchool(tx, school_id).insert(Person, { id, role: 'guest', first: name, last: '' })
    return id
  }

  private async studentsLike(tx: EntityManager, { school_id, handout_id }: WalkInRow, name: string): Promise<string[]> {
    const handout = await findHandout(tx, { schoolId: school_id }, handout_id)
    const students = await studentsOf(tx, school_id, handout.classId)
    return students
      .filter((student) => student.leftAt === null && foldText(fullName(student)) === foldText(name))
      .map(({ personId }) => personId)
  }

  /** Makes what was handed out true for the guests too, by the same plan. */
  private applyGiven(schoolId: string, handoutId: string, personId: string): Promise<void> {
    return this.runs.applySome(schoolId, handoutId, personId, (changes, { guests }, existing) =>
      changesForGuests(changes, new Set(guests.map(({ personId: id }) => id)), existing),
    )
  }
}
