import { type Viewer, cleanText, emailKey, fullName, isEmail } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager } from 'typeorm'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { Events } from '../events/events.js'
import { MailService } from '../mail/mail.service.js'
import { staffOf } from './class.service.js'
import { holdInClass } from '../access/classRole.js'
import { amongStudents, lockClass } from './students.js'
import { inSchool } from '../database/inSchool.js'
import { ClassMember, HelpedStudent, Person } from '../access/access.entity.js'

export type StaffRole = 'co-teacher' | 'helper' | 'named helper'

/** Somebody to be added to the staff of a class. The names count only if the school does not know the e-mail yet. */
export interface StaffInput {
  readonly email: string
  readonly role: StaffRole
  readonly studentIds: readonly string[]
  readonly first?: string | undefined
  readonly last?: string | undefined
}

@Injectable()
export class StaffService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
    private readonly mail: MailService,
  ) {}

  /** Adds somebody by e-mail; a colleague the school does not know yet gets an account and an invitation. */
  async add(viewer: Viewer, classId: string, input: StaffInput): Promise<{ personId: string; invited: boolean }> {
    const email = cleanText(input.email).replaceAll(' ', '')
    if (!isEmail(email))
      throw malformed([{ code: 'malformed-email', field: 'email', sentence: 'This is not an e-mail address.' }])
    const done = await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change staff')
      await lockClass(tx, viewer.schoolId, classId)
      const [known] = await inSchool(tx, viewer.schoolId).find(
        Person,
        { emailKey: emailKey(email) },
        { select: ['id', 'role', 'first', 'last'] },
      )
      if (known?.role === 'student')
        throw malformed([
          { code: 'email-of-student', field: 'email', sentence: `${fullName(known)} is a student of the school.` },
        ])
      const staff = await staffOf(tx, viewer.schoolId, classId)
      if (staff.some(({ personId }) => personId === known?.id))
        throw conflict('staff-already', `${fullName(known!)} is on the staff of this class already.`, {
          errors: [
            {
              code: 'staff-already',
              field: 'email',
              sentence: `${fullName(known!)} is on the staff of this class already.`,
            },
          ],
        })
      const personId = known?.id ?? (await this.newColleague(tx, viewer, email, input))
      await inSchool(tx, viewer.schoolId).put(ClassMember, { classId, personId, role: input.role, leftAt: null }, [
        'role',
        'leftAt',
      ])
      await nameStudents(tx, viewer.schoolId, classId, personId, input)
      if (!known) await this.mail.post(tx, viewer, 'invitation', [{ personId, address: email }], classId)
      return { personId, invited: !known }
    })
    await this.events.tell('members changed', { schoolId: viewer.schoolId, classId })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
    return done
  }

  private async newColleague(tx: EntityManager, viewer: Viewer, email: string, input: StaffInput): Promise<string> {
    const [first, last] = [cleanText(input.first ?? ''), cleanText(input.last ?? '')]
    if (!first && !last)
      throw malformed([
        {
          code: 'unknown-colleague',
          field: 'last',
          sentence: 'The school does not know this e-mail yet: give the name too, and an invitation goes out.',
        },
      ])
    const id = randomUUID()
    await inSchool(tx, viewer.schoolId).insert(Person, {
      id,
      role: 'teacher',
      first,
      last,
      email,
      emailKey: emailKey(email),
    })
    return id
  }

  /** Changes what somebody is in the class, and whom they help. */
  async change(
    viewer: Viewer,
    classId: string,
    personId: string,
    input: { readonly role: StaffRole; readonly studentIds: readonly string[] },
  ): Promise<void> {
    await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change staff')
      await lockClass(tx, viewer.schoolId, classId)
      await this.holdNotLead(tx, viewer.schoolId, classId, personId)
      await inSchool(tx, viewer.schoolId).update(ClassMember, { classId, personId }, { role: input.role })
      await nameStudents(tx, viewer.schoolId, classId, personId, input)
    })
    await this.events.tell('members changed', { schoolId: viewer.schoolId, classId })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
  }

  /** Somebody else of the staff leads the class from now on; who led it stays as a co-teacher. */
  async handOver(viewer: Viewer, classId: string, personId: string): Promise<void> {
    await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'hand over the class')
      await lockClass(tx, viewer.schoolId, classId)
      await this.holdNotLead(tx, viewer.schoolId, classId, personId)
      const staff = inSchool(tx, viewer.schoolId)
      await staff.update(ClassMember, { classId, role: 'lead' }, { role: 'co-teacher' })
      await staff.update(ClassMember, { classId, personId }, { role: 'lead' })
      await inSchool(tx, viewer.schoolId).delete(HelpedStudent, { classId, helperId: personId })
    })
    await this.events.tell('members changed', { schoolId: viewer.schoolId, classId })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
  }

  async remove(viewer: Viewer, classId: string, personId: string): Promise<void> {
    await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change staff')
      await lockClass(tx, viewer.schoolId, classId)
      await this.holdNotLead(tx, viewer.schoolId, classId, personId)
      await inSchool(tx, viewer.schoolId).update(ClassMember, { classId, personId }, { leftAt: () => 'now()' })
    })
    await this.events.tell('members changed', { schoolId: viewer.schoolId, classId })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
  }

  /** A class is never without somebody who leads it. */
  private async holdNotLead(tx: EntityManager, schoolId: string, classId: string, personId: string): Promise<void> {
    const found = (await staffOf(tx, schoolId, classId)).find((person) => person.personId === personId)
    if (!found) throw notThere()
    if (found.role === 'lead')
      throw conflict('lead-stays', `${fullName(found)} leads this class: that cannot be taken away here.`)
  }
}

async function nameStudents(
  tx: EntityManager,
  schoolId: string,
  classId: string,
  helperId: string,
  { role, studentIds }: { readonly role: StaffRole; readonly studentIds: readonly string[] },
): Promise<void> {
  const named = role === 'named helper' ? await amongStudents(tx, schoolId, classId, studentIds) : []
  if (role === 'named helper' && named.length === 0)
    throw malformed([
      { code: 'nobody-named', field: 'studentIds', sentence: 'Name at least one student whom they help.' },
    ])
  await inSchool(tx, schoolId).delete(HelpedStudent, { classId, helperId })
  if (named.length)
    await inSchool(tx, schoolId).insert(
      HelpedStudent,
      named.map((studentId) => ({ classId, helperId, studentId })),
    )
}
