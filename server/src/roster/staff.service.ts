import {
  type StaffRole,
  type Viewer,
  cleanText,
  emailKey,
  fullName,
  leadProblem,
  namedProblem,
  staffProblem,
  typedEmail,
} from '@gavrin/core'
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
    const email = typedEmail(input.email)
    const name = { first: cleanText(input.first ?? ''), last: cleanText(input.last ?? '') }
    const done = await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change staff')
      await lockClass(tx, viewer.schoolId, classId)
      const [known] = await inSchool(tx, viewer.schoolId).find(
        Person,
        { emailKey: emailKey(email) },
        { select: ['id', 'role', 'first', 'last'] },
      )
      const staff = await staffOf(tx, viewer.schoolId, classId)
      const isOnStaff = staff.some(({ personId }) => personId === known?.id)
      const problem = staffProblem(email, known ? { role: known.role, name: fullName(known), isOnStaff } : null, name)
      if (problem)
        throw isOnStaff ? conflict(problem.code, problem.sentence, { errors: [problem] }) : malformed([problem])
      const personId = known?.id ?? (await this.newColleague(tx, viewer, email, name))
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

  private async newColleague(
    tx: EntityManager,
    viewer: Viewer,
    email: string,
    { first, last }: { readonly first: string; readonly last: string },
  ): Promise<string> {
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

  private async holdNotLead(tx: EntityManager, schoolId: string, classId: string, personId: string): Promise<void> {
    const found = (await staffOf(tx, schoolId, classId)).find((person) => person.personId === personId)
    if (!found) throw notThere()
    const problem = leadProblem(found.role, fullName(found))
    if (problem) throw conflict(problem.code, problem.sentence)
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
  const problem = namedProblem(role, named)
  if (problem) throw malformed([problem])
  await inSchool(tx, schoolId).delete(HelpedStudent, { classId, helperId })
  if (named.length)
    await inSchool(tx, schoolId).insert(
      HelpedStudent,
      named.map((studentId) => ({ classId, helperId, studentId })),
    )
}
