import {
  DOUBLES_LIMIT,
  type Problem,
  type SchoolRole,
  type Viewer,
  checkRoster,
  cleanRow,
  emailKey,
  emailProblem,
  fullName,
  mayRunOffice,
  mergeProblem,
  numberKey,
  type possibleDoubles,
  resetProblem,
  roleChangeProblem,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager, Any, Not } from 'typeorm'
import { AccountService } from '../account/account.service.js'
import { type SignInCard, newCard } from '../account/signInCards.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { hold } from '../access/viewer.js'
import { type ThreadCall, ThreadTasks } from '../tasks/threadTasks.js'
import { Events } from '../events/events.js'
import { MailService } from '../mail/mail.service.js'
import { mergePeople } from './merge.queries.js'
import { collationOf, formPeople, patternsOf } from './peopleForms.js'
import { inSchool } from '../database/inSchool.js'
import { DifferentPeople } from './people.entity.js'
import {
  PEOPLE_PAGE,
  type OfficePerson,
  countPeople,
  pageOfPeople,
  everybodyBriefly,
  officeRecords,
  troubledSignIns,
  rolesInClasses,
  sameIdentity,
  lockHandoutsOf,
} from './people.queries.js'
import { Person } from '../access/access.entity.js'

/** What the office writes down of a person. */
export interface PersonInput {
  readonly first: string
  readonly last: string
  readonly email: string
  readonly number: string
  readonly role: SchoolRole
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
const DOUBLES_SHOWN = 100

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
    const [{ everybody } = { everybody: 0 }] = await countPeople(this.source, viewer.schoolId)
    const rows = await pageOfPeople(this.source, viewer.schoolId, {
      role: query.role,
      skip: query.page * PEOPLE_PAGE,
      patterns,
      order,
    })
    const people = await this.records(
      viewer,
      rows.map(({ id }) => id),
    )
    return { people, total: rows[0]?.total ?? 0, everybody }
  }

  /** Who may be there twice, the first of them the one with more work; without those that were said to be two. */
  async doubles(viewer: Viewer): Promise<PossibleDoubles> {
    hold(mayRunOffice(viewer))
    const people = await everybodyBriefly(this.source, viewer.schoolId)
    const different = await inSchool(this.source, viewer.schoolId).find(
      DifferentPeople,
      {},
      { select: ['oneId', 'twoId'] },
    )
    const two = new Set(different.map(({ oneId, twoId }) => `${oneId} ${twoId}`))
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
    const known = await inSchool(this.source, viewer.schoolId).count(Person, {
      id: Any(ids),
      mergedInto: null,
      role: Not('guest'),
    })
    if (known < 2) throw notThere()
    await inSchool(this.source, viewer.schoolId).insertMissing(DifferentPeople, {
      oneId: one,
      twoId: two,
      saidBy: viewer.personId,
    })
  }

  /** What the office sees of people, in the order in which they are asked for. */
  private records(viewer: Viewer, ids: readonly string[]): Promise<OfficePerson[]> {
    return officeRecords(this.source, viewer.schoolId, ids)
  }

  /** Accounts at which many wrong passwords were tried within a day, for the office to look into. */
  signInTrouble(viewer: Viewer) {
    hold(mayRunOffice(viewer))
    return troubledSignIns(this.source, viewer.schoolId, TROUBLE)
  }

  /** Adds somebody; whoever has an e-mail is invited. */
  async add(viewer: Viewer, input: PersonInput): Promise<{ personId: string }> {
    hold(mayRunOffice(viewer))
    const personId = randomUUID()
    await this.source.transaction(async (tx) => {
      const row = await this.checked(tx, viewer, personId, input)
      await inSchool(tx, viewer.schoolId).insert(Person, { id: personId, role: input.role, ...row })
      if (row.email) await this.mail.post(tx, viewer, 'invitation', [{ personId, address: row.email }], null)
    })
    return { personId }
  }

  async change(viewer: Viewer, personId: string, input: PersonInput): Promise<void> {
    hold(mayRunOffice(viewer))
    await this.source.transaction(async (tx) => {
      const found = await this.find(tx, viewer, personId)
      const row = await this.checked(tx, viewer, personId, input)
      const [inClasses] = await rolesInClasses(tx, viewer.schoolId, personId)
      const problem = roleChangeProblem(found.role, input.role, personId === viewer.personId, {
        student: inClasses?.student ?? false,
        staff: inClasses?.staff ?? false,
      })
      if (problem) throw malformed([problem])
      await inSchool(tx, viewer.schoolId).update(Person, { id: personId }, { role: input.role, ...row })
    })
  }

  private async checked(
    tx: EntityManager,
    viewer: Viewer,
    personId: string,
    input: PersonInput,
  ): Promise<Pick<Person, 'first' | 'last' | 'email' | 'emailKey' | 'number' | 'numberKey'>> {
    const row = cleanRow(input)
    const problems: Problem[] = checkRoster([row], []).rows[0]!.doubts.filter(({ stops }) => stops)
    const missing = emailProblem(input.role, row.email)
    if (missing) problems.push(missing)
    if (problems.length)
      throw malformed(problems.map(({ code, field, sentence }) => ({ code, sentence, ...(field && { field }) })))
    const email = row.email || null
    const number = row.number || null
    const keys = { emailKey: email && emailKey(email), numberKey: number && numberKey(number) }
    const others = await sameIdentity(tx, viewer.schoolId, { personId, ...keys })
    const [other] = others
    if (other) {
      const field = other.email_key !== null && other.email_key === keys.emailKey ? 'email' : 'number'
      const sentence = `${fullName(other)} has this ${field === 'email' ? 'e-mail' : 'student number'} already. If it is the same person, merge the two.`
      throw conflict(`${field}-taken`, sentence, { errors: [{ code: `${field}-taken`, field, sentence }] })
    }
    return { first: row.first, last: row.last, email, number, ...keys }
  }

  /** Lets somebody choose a new password: by mail, or with a printed card that replaces the old password at once. */
  async reset(viewer: Viewer, personId: string, how: 'mail' | 'card'): Promise<{ card: SignInCard | null }> {
    hold(mayRunOffice(viewer))
    if (how === 'card') {
      const card = await this.source.transaction(async (tx) => {
        const found = await this.find(tx, viewer, personId)
        const problem = resetProblem(how, found)
        if (problem) throw malformed([problem])
        return newCard(tx, viewer.schoolId, personId)
      })
      await this.accounts.endSessions(viewer.schoolId, personId)
      return { card }
    }
    await this.source.transaction(async (tx) => {
      const found = await this.find(tx, viewer, personId)
      const problem = resetProblem(how, found)
      if (problem) throw malformed([problem])
      const kind = found.invited ? 'invitation' : 'new password'
      await this.mail.post(tx, viewer, kind, [{ personId, address: found.email! }], null)
    })
    return { card: null }
  }

  /** Makes two records of one person into one. */
  async merge(viewer: Viewer, keepId: string, otherId: string) {
    hold(mayRunOffice(viewer))
    const done = await this.source.transaction(async (tx) => {
      await this.lockHandouts(tx, viewer, [keepId, otherId])
      // In one order, so that two merges never wait for each other.
      const people = new Map<string, Awaited<ReturnType<OfficeService['find']>>>()
      for (const id of [keepId, otherId].toSorted()) people.set(id, await this.find(tx, viewer, id))
      const role = (personId: string) => ({ personId, role: people.get(personId)!.role })
      const problem = mergeProblem(role(keepId), role(otherId))
      if (problem) throw malformed([problem])
      return mergePeople(tx, viewer.schoolId, keepId, otherId)
    })
    await this.accounts.endSessions(viewer.schoolId, otherId)
    for (const classId of done.classIds)
      await this.events.tell('members changed', { schoolId: viewer.schoolId, classId })
    return { classes: done.classIds.length, copies: done.copies }
  }

  /** Keeps copies from being made for either of two people while they become one. */
  private async lockHandouts(tx: EntityManager, viewer: Viewer, personIds: readonly string[]): Promise<void> {
    const handouts = await lockHandoutsOf(tx, viewer.schoolId, personIds)
    if (handouts.some(({ running }) => running))
      throw conflict(
        'running',
        'In one of their classes copies are being handed out at the moment: try again in a minute.',
      )
  }

  private async find(tx: EntityManager, viewer: Viewer, personId: string) {
    const [person] = await inSchool(tx, viewer.schoolId).find(
      Person,
      { id: personId, mergedInto: null, role: Not('guest') },
      { select: ['role', 'email', 'passwordHash'], lock: true },
    )
    if (!person) throw notThere()
    return { role: person.role, email: person.email, invited: person.passwordHash === null }
  }
}
