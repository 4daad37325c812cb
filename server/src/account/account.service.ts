import { type Viewer, checkPassword, emailKey } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { verify } from '@node-rs/argon2'
import { DataSource, type EntityManager, Not } from 'typeorm'
import { type Growing, holdBack } from '../access/attempts.js'
import { valueOf } from '../common/checked.js'
import { ProblemException, malformed } from '../common/problemDetails.js'
import { Events } from '../events/events.js'
import { MailService } from '../mail/mail.service.js'
import { personOfLink } from '../mail/accountLinks.js'
import { hashPassword } from './signIn.service.js'
import { inSchool } from '../database/inSchool.js'
import { AccountLink } from '../mail/mail.entity.js'
import { ClassMember, Person } from '../access/access.entity.js'
import { Session } from './account.entity.js'
import { type LinkHolder, peopleOfAddress, personAndSchool } from './account.queries.js'

/** Within a quarter of an hour. A whole school may share an address, so those limits are the higher ones. */
const PERSON_ASKS: Growing = { free: 3, first: 60, most: 900 }
const OWN_TRIES: Growing = { free: 10, first: 10, most: 300 }
const ADDRESS_ASKS: Growing = { free: 200, first: 1, most: 10 }
const ADDRESS_LINKS: Growing = { free: 1_000, first: 1, most: 10 }

const linkOver = () =>
  new ProblemException(
    410,
    'link-over',
    'This link has been used or has run out. Ask for a new one under "New password" on the sign-in page.',
  )

@Injectable()
export class AccountService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly mail: MailService,
    private readonly events: Events,
  ) {}

  /** Sends a link for a new password to whoever has this e-mail; the answer is the same if nobody has. */
  async forgotten(email: string, address: string): Promise<void> {
    const key = emailKey(email)
    await holdBack(this.source, 'new password', key, PERSON_ASKS)
    await holdBack(this.source, 'new password from', address, ADDRESS_ASKS)
    await this.source.transaction(async (tx) => {
      const people = await peopleOfAddress(tx, key)
      for (const { schoolId, invited, ...to } of people)
        await this.mail.post(tx, { schoolId, personId: null }, invited ? 'invitation' : 'new password', [to], null)
    })
  }

  async holderOf(token: string, address: string): Promise<LinkHolder> {
    await holdBack(this.source, 'link from', address, ADDRESS_LINKS)
    const link = await personOfLink(this.source, token)
    if (!link) throw linkOver()
    const [person] = await personAndSchool(this.source, link.schoolId, link.personId)
    return { ...person!, purpose: link.purpose }
  }

  /** Sets a password by a link, which works once. Whoever was signed in as this person is signed out. */
  async setByLink(token: string, password: string): Promise<{ schoolId: string; personId: string }> {
    const link = await this.source.transaction(async (tx) => {
      const found = await personOfLink(tx, token)
      if (!found) throw linkOver()
      await setPassword(tx, found.schoolId, found.personId, password)
      const used = await inSchool(tx, found.schoolId).delete(AccountLink, { personId: found.personId })
      if (!used) throw linkOver()
      return found
    })
    await this.endSessions(link.schoolId, link.personId)
    await this.tellClasses(link)
    return link
  }

  /** Whoever has a class of this person open sees that they can sign in now. */
  private async tellClasses({ schoolId, personId }: { schoolId: string; personId: string }): Promise<void> {
    const classes = await inSchool(this.source, schoolId).find(
      ClassMember,
      { personId, leftAt: null },
      { select: ['classId'] },
    )
    for (const { classId } of classes) await this.events.tell('class changed', { schoolId, classId, part: 'roster' })
  }

  /** Changes one's own password, knowing the old one. Other windows and machines are signed out. */
  async change(viewer: Viewer, current: string, next: string, sessionId: string): Promise<void> {
    await holdBack(this.source, 'own password', viewer.personId, OWN_TRIES)
    const [person] = await inSchool(this.source, viewer.schoolId).find(
      Person,
      { id: viewer.personId },
      { select: ['passwordHash'] },
    )
    if (!person?.passwordHash || !(await verify(person.passwordHash, current)))
      throw malformed([{ code: 'wrong-password', field: 'current', sentence: 'This is not your password.' }])
    await this.source.transaction((tx) => setPassword(tx, viewer.schoolId, viewer.personId, next))
    await this.endSessions(viewer.schoolId, viewer.personId, sessionId)
  }

  /** Signs a person out everywhere, but for one session. */
  async endSessions(schoolId: string, personId: string, except = ''): Promise<void> {
    await inSchool(this.source, schoolId).delete(Session, { personId, sid: Not(except) })
    await this.events.tell('account ended', { schoolId, personId, exceptSession: except })
  }
}

async function setPassword(tx: EntityManager, schoolId: string, personId: string, password: string): Promise<void> {
  const [person] = await inSchool(tx, schoolId).find(
    Person,
    { id: personId },
    { select: ['first', 'last', 'email'], lock: true },
  )
  const own = [person!.first, person!.last, person!.email ?? '']
  const hash = await hashPassword(valueOf(checkPassword(password, own)))
  await inSchool(tx, schoolId).update(Person, { id: personId }, { passwordHash: hash })
}
