import { type Viewer, cleanText, foldText, fullName } from '@gavrin/core'
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
import { HandOutRuns } from './handOutRuns.js'
import { findHandout } from './handoutSet.js'
import { inSchool } from '../database/inSchool.js'
import { WalkInUse } from './handout.entity.js'
import { Person } from '../access/access.entity.js'

const NAME_LIMIT = 100
/** From one address; a right code is let through between two waits, and a whole class comes from one. */
const WRONG_CODES: Growing = { free: 60, first: 1, most: 10 }
/** New guests by one link from one address: a class comes within minutes, a loop is slowed down. */
const NEW_GUESTS: Growing = { free: 60, first: 2, most: 30 }

export interface WalkInSettings {
  readonly permission: 'view' | 'comment' | 'edit'
  readonly open: boolean
  readonly endsAt: number | null
  /** How many guests it lets in. */
  readonly places: number
}

interface WalkInRow {
  school_id: string
  id: string
  handout_id: string
  item_id: string
  permission: WalkInSettings['permission']
  is_open: boolean
  ends_at: Date | null
  places: number
  title: string
  class_name: string
}

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
    return this.source.query<unknown[]>(
      `SELECT w.item_id AS "itemId", w.code, w.permission, w.is_open AS open, (extract(epoch FROM w.ends_at) * 1000)::float8 AS "endsAt", w.places,
              (SELECT coalesce(json_agg(json_build_object('name', u.name, 'at', (extract(epoch FROM u.at) * 1000)::float8, 'again', EXISTS (
                        SELECT 1 FROM walk_in_use f WHERE f.school_id = u.school_id AND f.walk_in_id = u.walk_in_id AND f.person_id = u.person_id AND f.number < u.number),
                        'like', (SELECT trim(p.first_name || ' ' || p.last_name) FROM person p WHERE p.school_id = u.school_id AND p.id = u.like_id)) ORDER BY u.number DESC), '[]')
                 FROM walk_in_use u WHERE u.school_id = w.school_id AND u.walk_in_id = w.id AND u.cleared_at IS NULL) AS uses,
              (SELECT count(DISTINCT u.person_id)::int FROM walk_in_use u WHERE u.school_id = w.school_id AND u.walk_in_id = w.id AND u.cleared_at IS NULL) AS guests
         FROM walk_in w WHERE w.school_id = $1 AND w.handout_id = $2 ORDER BY w.created_at`,
      [viewer.schoolId, handoutId],
    )
  }

  /** Sets a walk-in link, made with a new code the first time; a new code shuts the old one out. */
  async set(viewer: Viewer, handoutId: string, itemId: string, wish: WalkInSettings, newCode: boolean) {
    await this.source.transaction(async (tx) => {
      const handout = await findHandout(tx, viewer, handoutId, true)
      await holdInClass(tx, viewer, handout.classId, 'hand out')
      const item = handout.given?.items.find(({ id }) => id === itemId)
      if (!item) throw conflict('not-handed-out', 'Hand this slip out first: a walk-in link leads to what is there.')
      if (item.way === 'one per group')
        throw conflict(
          'no-walk-in',
          'A copy for a group has its group: give a walk-in link to one each, one together or to read.',
        )
      if (item.way === 'to read' && wish.permission === 'edit')
        throw malformed([
          { code: 'to-read', field: 'permission', sentence: 'This is given to read: guests may view or comment.' },
        ])
      await tx.query(
        `INSERT INTO walk_in (school_id, id, handout_id, item_id, code, permission, is_open, ends_at, created_by, places) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $11)
         ON CONFLICT (handout_id, item_id, school_id) DO UPDATE SET permission = EXCLUDED.permission, is_open = EXCLUDED.is_open, ends_at = EXCLUDED.ends_at, places = EXCLUDED.places,
           code = CASE WHEN $10 THEN EXCLUDED.code ELSE walk_in.code END`,
        [
          viewer.schoolId,
          randomUUID(),
          handoutId,
          itemId,
          newClassCode(),
          wish.permission,
          wish.open,
          wish.endsAt === null ? null : new Date(wish.endsAt),
          viewer.personId,
          newCode,
          wish.places,
        ],
      )
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
    const name = cleanText(typed)
    if (!name || name.length > NAME_LIMIT)
      throw malformed([
        { code: 'guest-name', field: 'name', sentence: `Give your name, in up to ${NAME_LIMIT} characters.` },
      ])
    if (!(await this.isGuestOf(found, before)))
      await holdBack(this.source, 'new guest', `${found.id} ${address}`, NEW_GUESTS)
    const guestId = await this.source.transaction(async (tx) => {
      await findHandout(tx, { schoolId: found.school_id }, found.handout_id, true)
      const guests = await tx.query<{ id: string; first: string }[]>(
        `SELECT DISTINCT p.id, p.first_name AS first FROM walk_in_use u JOIN person p ON p.school_id = u.school_id AND p.id = u.person_id
          WHERE u.school_id = $1 AND u.walk_in_id = $2 AND u.cleared_at IS NULL`,
        [found.school_id, found.id],
      )
      const same = guests.find(({ id, first }) => id === before?.personId && isNumbered(first, name))
      const id =
        same?.id ??
        (await this.newGuest(
          tx,
          found,
          numbered(
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
    const [copy] = await this.source.query<{ id: string }[]>(
      `SELECT c.id FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
        WHERE c.school_id = $1 AND c.handout_id = $2 AND c.item_id = $3 AND o.person_id = $4 AND NOT c.set_aside LIMIT 1`,
      [found.school_id, found.handout_id, found.item_id, guestId],
    )
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
      const rows = await tx.query<{ person_id: string }[]>(
        `SELECT DISTINCT u.person_id FROM walk_in_use u JOIN walk_in w ON w.school_id = u.school_id AND w.id = u.walk_in_id
          WHERE w.school_id = $1 AND w.handout_id = $2 AND w.item_id = $3 AND u.cleared_at IS NULL
            AND ($4 OR NOT EXISTS (SELECT 1 FROM live_update l JOIN copy c ON c.school_id = l.school_id AND c.id = l.copy_id
                  WHERE l.school_id = $1 AND c.handout_id = $2 AND l.person_id = u.person_id))`,
        [viewer.schoolId, handoutId, itemId, all],
      )
      const people = rows.map(({ person_id }) => person_id)
      await tx.query(
        `UPDATE walk_in_use u SET cleared_at = now() FROM walk_in w WHERE w.school_id = u.school_id AND w.id = u.walk_in_id
            AND w.school_id = $1 AND w.handout_id = $2 AND w.item_id = $3 AND u.person_id = ANY($4)`,
        [viewer.schoolId, handoutId, itemId, people],
      )
      const own = await tx.query<{ slot_key: string }[]>(
        `SELECT c.slot_key FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
          WHERE c.school_id = $1 AND c.handout_id = $2 AND c.item_id = $3 AND NOT c.set_aside AND c.way = 'one each' AND o.person_id = ANY($4)`,
        [viewer.schoolId, handoutId, itemId, people],
      )
      await tx.query(
        `DELETE FROM copy_holder o USING copy c WHERE c.school_id = o.school_id AND c.id = o.copy_id
            AND c.school_id = $1 AND c.handout_id = $2 AND c.item_id = $3 AND c.way <> 'one each' AND o.person_id = ANY($4)`,
        [viewer.schoolId, handoutId, itemId, people],
      )
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
    const [found] = await database.query<WalkInRow[]>(
      `SELECT w.school_id, w.id, w.handout_id, w.item_id, w.permission, w.is_open, w.ends_at, w.places, h.title, k.name AS class_name
         FROM walk_in w JOIN handout h ON h.school_id = w.school_id AND h.id = w.handout_id JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
        WHERE w.code = $1 AND k.archived_at IS NULL AND h.given IS NOT NULL`,
      [classCodeOf(code)],
    )
    if (!found) {
      await noteAttempt(database, 'walk-in', address)
      throw notThere()
    }
    if (!found.is_open || (found.ends_at !== null && found.ends_at.getTime() <= Date.now()))
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
  private async applyGiven(schoolId: string, handoutId: string, personId: string): Promise<void> {
    for (let tries = 0; tries < 20; tries++) {
      const begun = await this.source.transaction(async (tx) => {
        const handout = await findHandout(tx, { schoolId }, handoutId, true)
        return handout.given ? this.runs.applyForGuests(tx, handout, personId, handout.given) : 'done'
      })
      if (begun === 'done') return
      if (begun !== 'running') return this.runs.follow([begun], 5_000)
      await this.runs.settled()
    }
  }
}

const stem = (name: string) => name.replace(/ \(\d+\)$/, '')
const isNumbered = (known: string, name: string) =>
  foldText(known) === foldText(name) || foldText(stem(known)) === foldText(name)

/** A name that no guest has yet: the name itself, or with the next number. */
function numbered(name: string, taken: readonly string[]): string {
  const known = new Set(taken.map(foldText))
  if (!known.has(foldText(name))) return name
  let number = 2
  while (known.has(foldText(`${name} (${number})`))) number++
  return `${name} (${number})`
}
