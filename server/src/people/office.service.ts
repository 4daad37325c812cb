import {
  DOUBLES_LIMIT,
  type Problem,
  type SchoolRole,
  type Viewer,
  checkRoster,
  cleanRow,
  emailKey,
  fullName,
  mayRunOffice,
  numberKey,
  type possibleDoubles,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager } from 'typeorm'
import { AccountService } from '../account/account.service.js'
import { type SignInCard, newCard } from '../account/signInCards.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { hold } from '../access/viewer.js'
import { type ThreadCall, ThreadTasks } from '../tasks/threadTasks.js'
import { Events } from '../events/events.js'
import { MailService } from '../mail/mail.service.js'
import { mergePeople } from './mergePeople.js'
import { collationOf, formPeople, patternsOf } from './peopleForms.js'
import { inSchool } from '../database/inSchool.js'
import { DifferentPeople } from './people.entity.js'

/** What the office writes down of a person. */
export interface PersonInput {
  readonly first: string
  readonly last: string
  readonly email: string
  readonly number: string
  readonly role: SchoolRole
}

/** Somebody as the office sees them. */
export interface OfficePerson {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly number: string | null
  readonly cardName: string | null
  readonly role: SchoolRole
  readonly canSignIn: boolean
  readonly classes: string
  readonly copies: number
}

/** What is asked of the people of a school. */
export interface PeopleQuery {
  readonly find: string
  readonly role: SchoolRole | null
  /** Counted from 0. */
  readonly page: number
  readonly language: string
}

export interface PeoplePage {
  readonly people: OfficePerson[]
  /** How many are found, and how many there are. */
  readonly total: number
  readonly everybody: number
}

/** Who may be there twice. */
export interface PossibleDoubles {
  readonly pairs: [OfficePerson, OfficePerson][]
  /** How many there are beside these, as far as they were looked for. */
  readonly more: number
  /** There are no others. */
  readonly isAll: boolean
}

export const PEOPLE_PAGE = 100
const DOUBLES_SHOWN = 100
const OF_SCHOOL = `p.school_id = $1 AND p.merged_into IS NULL AND p.role <> 'guest'`

/** Wrong passwords of one account within a day that the office is told of. */
const TROUBLE = 15

const DOUBLES: ThreadCall<typeof possibleDoubles> = { module: '@gavrin/core', name: 'possibleDoubles' }

@Injectable()
export class OfficeService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly mail: MailService,
    private readonly accounts: AccountService,
    private readonly events: Events,
    private readonly tasks: ThreadTasks,
  ) {}

  /**
   * A page of the people of the school, the staff first, by name.
   * @param query.language by whose order names are sorted
   */
  async people(viewer: Viewer, query: PeopleQuery): Promise<PeoplePage> {
    hold(mayRunOffice(viewer))
    await formPeople(this.source, viewer.schoolId)
    const order = await collationOf(this.source, query.language)
    const patterns = patternsOf(query.find)
    const [{ everybody } = { everybody: 0 }] = await this.source.query<{ everybody: number }[]>(
      `SELECT count(*)::int AS everybody FROM person p WHERE ${OF_SCHOOL}`,
      [viewer.schoolId],
    )
    // Every word stands in what is written of the person, or in the name of one of their classes.
    const found = patterns.map(
      (_, at) => `AND (p.find_form LIKE $${at + 4} OR p.id IN (
              SELECT m.person_id FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
               WHERE m.school_id = $1 AND m.left_at IS NULL AND c.archived_at IS NULL AND lower(c.name) LIKE $${at + 4}))`,
    )
    const rows = await this.source.query<{ id: string; total: number }[]>(
      `SELECT p.id, count(*) OVER ()::int AS total FROM person p
        WHERE ${OF_SCHOOL} AND ($2::text IS NULL OR p.role = $2) ${found.join(' ')}
        ORDER BY p.role = 'student', coalesce(nullif(p.last_name, ''), p.first_name) COLLATE "${order}", p.first_name COLLATE "${order}", p.id
        LIMIT ${PEOPLE_PAGE} OFFSET $3`,
      [viewer.schoolId, query.role, query.page * PEOPLE_PAGE, ...patterns],
    )
    const people = await this.records(
      viewer,
      rows.map(({ id }) => id),
    )
    return { people, total: rows[0]?.total ?? 0, everybody }
  }

  /** Who may be there twice, the first of them the one with more work; without those that were said to be two. */
  async doubles(viewer: Viewer): Promise<PossibleDoubles> {
    hold(mayRunOffice(viewer))
    const people = await this.source.query<{ id: string; first: string; last: string; role: string }[]>(
      `SELECT p.id, p.first_name AS first, p.last_name AS last, p.role FROM person p WHERE ${OF_SCHOOL} ORDER BY p.id`,
      [viewer.schoolId],
    )
    const different = await this.source.query<{ pair: string }[]>(
      `SELECT one_id || ' ' || two_id AS pair FROM different_people WHERE school_id = $1`,
      [viewer.schoolId],
    )
    const two = new Set(different.map(({ pair }) => pair))
    const all = await this.tasks.run(viewer, DOUBLES, people)
    const found = all
      .map(({ one, two: other }) => [people[one]!.id, people[other]!.id] as const)
      .filter((pair) => !two.has(pair.join(' ')))
    const shown = found.slice(0, DOUBLES_SHOWN)
    const records = new Map(
      (await this.records(viewer, [...new Set(shown.flat())])).map((person) => [person.personId, person]),
    )
    const pairs = shown.flatMap(([oneId, otherId]): [OfficePerson, OfficePerson][] => {
      const [one, other] = [records.get(oneId), records.get(otherId)]
      if (!one || !other) return []
      return [other.copies > one.copies ? [other, one] : [one, other]]
    })
    return { pairs, more: found.length - shown.length, isAll: all.length < DOUBLES_LIMIT }
  }

  /** Says that two who look like one person are two, or takes that back. */
  async tellApart(viewer: Viewer, ids: readonly [string, string], apart: boolean): Promise<void> {
    hold(mayRunOffice(viewer))
    const [one, two] = ids.toSorted()
    if (one === two) throw notThere()
    if (!apart) {
      await inSchool(this.source, viewer.schoolId).delete(DifferentPeople, { oneId: one, twoId: two })
      return
    }
    const known = await this.source.query<unknown[]>(
      `SELECT 1 FROM person p WHERE ${OF_SCHOOL} AND p.id = ANY($2::uuid[])`,
      [viewer.schoolId, ids],
    )
    if (known.length < 2) throw notThere()
    await inSchool(this.source, viewer.schoolId).insertMissing(DifferentPeople, {
      oneId: one,
      twoId: two,
      saidBy: viewer.personId,
    })
  }

  /** What the office sees of people, in the order in which they are asked for. */
  private records(viewer: Viewer, ids: readonly string[]): Promise<OfficePerson[]> {
    return this.source.query<OfficePerson[]>(
      `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.email, p.number, p.card_name AS "cardName", p.role, p.password_hash IS NOT NULL AS "canSignIn",
              coalesce((SELECT string_agg(c.name, ', ' ORDER BY c.name) FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
                         WHERE m.school_id = p.school_id AND m.person_id = p.id AND m.left_at IS NULL AND c.archived_at IS NULL), '') AS classes,
              (SELECT count(*)::int FROM copy_holder o WHERE o.school_id = p.school_id AND o.person_id = p.id) AS copies
         FROM unnest($2::uuid[]) WITH ORDINALITY AS r(id, place) JOIN person p ON p.id = r.id
        WHERE ${OF_SCHOOL} ORDER BY r.place`,
      [viewer.schoolId, ids],
    )
  }

  /** Accounts at which many wrong passwords were tried within a day, for the office to look into. */
  signInTrouble(viewer: Viewer) {
    hold(mayRunOffice(viewer))
    return this.source.query<unknown[]>(
      `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, count(*)::int AS failures, count(DISTINCT f.address)::int AS addresses,
              (extract(epoch FROM max(f.at)) * 1000)::float8 AS "lastAt"
         FROM sign_in_failure f JOIN person p ON p.email_key = f.email_key OR p.card_name = upper(replace(f.email_key, ' ', ''))
        WHERE p.school_id = $1 AND f.at > now() - interval '1 day' GROUP BY p.school_id, p.id HAVING count(*) >= $2 ORDER BY count(*) DESC LIMIT 50`,
      [viewer.schoolId, TROUBLE],
    )
  }

  /** Adds somebody; whoever has an e-mail is invited. */
  async add(viewer: Viewer, input: PersonInput): Promise<{ personId: string }> {
    hold(mayRunOffice(viewer))
    const personId = randomUUID()
    await this.source.transaction(async (tx) => {
      const row = await this.checked(tx, viewer, personId, input)
      await tx.query(
        `INSERT INTO person (school_id, id, role, first_name, last_name, email, email_key, number, number_key) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
        [viewer.schoolId, personId, input.role, ...row],
      )
      if (row[2]) await this.mail.post(tx, viewer, 'invitation', [{ personId, address: row[2] }], null)
    })
    return { personId }
  }

  async change(viewer: Viewer, personId: string, input: PersonInput): Promise<void> {
    hold(mayRunOffice(viewer))
    await this.source.transaction(async (tx) => {
      const found = await this.find(tx, viewer, personId)
      const row = await this.checked(tx, viewer, personId, input)
      if (found.role !== input.role) await this.holdRole(tx, viewer, personId, found.role, input.role)
      await tx.query(
        'UPDATE person SET role = $3, first_name = $4, last_name = $5, email = $6, email_key = $7, number = $8, number_key = $9 WHERE school_id = $1 AND id = $2',
        [viewer.schoolId, personId, input.role, ...row],
      )
    })
  }

  /** What somebody is in the school follows what they are in its classes; and an office is never without anybody. */
  private async holdRole(
    tx: EntityManager,
    viewer: Viewer,
    personId: string,
    from: SchoolRole,
    to: SchoolRole,
  ): Promise<void> {
    const wrong = (sentence: string) => malformed([{ code: 'role-in-use', field: 'role', sentence }])
    if (personId === viewer.personId)
      throw wrong('You cannot change what you are yourself: a colleague in the office can.')
    const [member] = await tx.query<{ student: boolean; staff: boolean }[]>(
      `SELECT bool_or(role = 'student') AS student, bool_or(role <> 'student') AS staff FROM class_member WHERE school_id = $1 AND person_id = $2 AND left_at IS NULL`,
      [viewer.schoolId, personId],
    )
    if (from === 'student' && member?.student)
      throw wrong('This person is a student in a class: take them out of it first.')
    if (to === 'student' && member?.staff)
      throw wrong('This person is on the staff of a class: take them off it first.')
    if (to === 'office' && member?.staff) throw wrong('This person is on the staff of a class: take them off it first.')
  }

  private async checked(
    tx: EntityManager,
    viewer: Viewer,
    personId: string,
    input: PersonInput,
  ): Promise<[string, string, string | null, string | null, string | null, string | null]> {
    const row = cleanRow(input)
    const problems: Problem[] = checkRoster([row], []).rows[0]!.doubts.filter(({ stops }) => stops)
    if (!row.email && input.role !== 'student')
      problems.push({ code: 'no-email', field: 'email', sentence: 'Somebody on the staff needs an e-mail to sign in.' })
    if (problems.length)
      throw malformed(problems.map(({ code, field, sentence }) => ({ code, sentence, ...(field && { field }) })))
    const email = row.email || null
    const number = row.number || null
    const keys = [email && emailKey(email), number && numberKey(number)] as const
    const others = await tx.query<{ first: string; last: string; email_key: string | null }[]>(
      `SELECT first_name AS first, last_name AS last, email_key FROM person WHERE school_id = $1 AND id <> $2 AND (email_key = $3 OR number_key = $4)`,
      [viewer.schoolId, personId, ...keys],
    )
    const [other] = others
    if (other) {
      const field = other.email_key !== null && other.email_key === keys[0] ? 'email' : 'number'
      const sentence = `${fullName(other)} has this ${field === 'email' ? 'e-mail' : 'student number'} already. If it is the same person, merge the two.`
      throw conflict(`${field}-taken`, sentence, { errors: [{ code: `${field}-taken`, field, sentence }] })
    }
    return [row.first, row.last, email, keys[0] || null, number, keys[1] || null]
  }

  /** Lets somebody choose a new password: by mail, or with a printed card that replaces the old password at once. */
  async reset(viewer: Viewer, personId: string, how: 'mail' | 'card'): Promise<{ card: SignInCard | null }> {
    hold(mayRunOffice(viewer))
    if (how === 'card') {
      const card = await this.source.transaction(async (tx) => {
        const found = await this.find(tx, viewer, personId)
        if (found.role !== 'student')
          throw malformed([
            { code: 'card-for-staff', field: 'how', sentence: 'Cards are for students: send staff a link by mail.' },
          ])
        return newCard(tx, viewer.schoolId, personId)
      })
      await this.accounts.endSessions(viewer.schoolId, personId)
      return { card }
    }
    await this.source.transaction(async (tx) => {
      const { email, invited } = await this.find(tx, viewer, personId)
      if (!email)
        throw malformed([
          { code: 'no-email', field: 'how', sentence: 'This person has no e-mail: print a card instead.' },
        ])
      await this.mail.post(tx, viewer, invited ? 'invitation' : 'new password', [{ personId, address: email }], null)
    })
    return { card: null }
  }

  /** Makes two records of one person into one. */
  async merge(viewer: Viewer, keepId: string, otherId: string) {
    hold(mayRunOffice(viewer))
    if (keepId === otherId)
      throw malformed([{ code: 'same', field: 'otherId', sentence: 'Choose two different people.' }])
    const done = await this.source.transaction(async (tx) => {
      await this.lockHandouts(tx, viewer, [keepId, otherId])
      // In one order, so that two merges never wait for each other.
      const people = new Map<string, Awaited<ReturnType<OfficeService['find']>>>()
      for (const id of [keepId, otherId].toSorted()) people.set(id, await this.find(tx, viewer, id))
      if (people.get(keepId)!.role !== people.get(otherId)!.role)
        throw malformed([
          {
            code: 'other-role',
            field: 'otherId',
            sentence: 'One is a student and the other is not: these are two people.',
          },
        ])
      return mergePeople(tx, viewer.schoolId, keepId, otherId)
    })
    await this.accounts.endSessions(viewer.schoolId, otherId)
    for (const classId of done.classIds)
      await this.events.tell('members changed', { schoolId: viewer.schoolId, classId })
    return { classes: done.classIds.length, copies: done.copies }
  }

  /** Keeps copies from being made for either of two people while they become one. */
  private async lockHandouts(tx: EntityManager, viewer: Viewer, personIds: readonly string[]): Promise<void> {
    const handouts = await tx.query<{ running: boolean }[]>(
      `SELECT EXISTS (SELECT 1 FROM hand_out_run r WHERE r.school_id = h.school_id AND r.handout_id = h.id AND r.finished_at IS NULL) AS running
         FROM handout h WHERE h.school_id = $1 AND h.class_id IN (SELECT class_id FROM class_member WHERE school_id = $1 AND person_id = ANY($2))
        ORDER BY h.id FOR UPDATE OF h`,
      [viewer.schoolId, personIds],
    )
    if (handouts.some(({ running }) => running))
      throw conflict(
        'running',
        'In one of their classes copies are being handed out at the moment: try again in a minute.',
      )
  }

  private async find(tx: EntityManager, viewer: Viewer, personId: string) {
    const [person] = await tx.query<{ role: SchoolRole; email: string | null; invited: boolean }[]>(
      `SELECT role, email, password_hash IS NULL AS invited FROM person WHERE school_id = $1 AND id = $2 AND merged_into IS NULL AND role <> 'guest' FOR UPDATE`,
      [viewer.schoolId, personId],
    )
    if (!person) throw notThere()
    return person
  }
}
