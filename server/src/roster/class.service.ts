import { type Viewer, cleanText, mayTeach } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager, Not, Any } from 'typeorm'
import { malformed, notThere } from '../common/problemDetails.js'
import { hold } from '../access/viewer.js'
import { Events } from '../events/events.js'
import { newClassCode } from '../common/classCode.js'
import { helpedBy, holdInClass } from '../access/classRole.js'
import { columnsOf } from './columns.js'
import { lockClass } from './students.js'
import { inSchool } from '../database/inSchool.js'
import { Unit } from './roster.entity.js'
import { Class, ClassMember } from '../access/access.entity.js'
import { type StaffMember, classesOf, classOpened, putUnits, addClass, staffRows } from './roster.queries.js'

/** What a class is called and how its answers look. */
export interface ClassInput {
  readonly name: string
  readonly subject: string
  readonly year: string
  readonly ink: string
}

export const UNIT_LIMIT = 100

@Injectable()
export class ClassService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  /** The classes somebody is in, as staff or student, archived ones too. */
  list(viewer: Viewer) {
    return classesOf(this.source, viewer.schoolId, viewer.personId)
  }

  async create(viewer: Viewer, input: ClassInput): Promise<{ id: string }> {
    hold(mayTeach(viewer))
    const clean = cleanInput(input)
    return this.source.transaction(async (tx) => ({ id: await insertClass(tx, viewer, clean) }))
  }

  async open(viewer: Viewer, classId: string) {
    const role = await holdInClass(this.source, viewer, classId, 'see the class')
    const [found] = await classOpened(this.source, viewer.schoolId, classId)
    if (!found) throw notThere()
    const staff = await staffOf(this.source.manager, viewer.schoolId, classId)
    // What students are told of a class: what it is called, and who teaches it.
    if (role === 'student')
      return { ...found, role, staff: staff.map(({ first, last, role: does }) => ({ first, last, role: does })) }
    const units = await inSchool(this.source, viewer.schoolId).find(
      Unit,
      { classId },
      { select: ['id', 'name'], order: { position: 'ASC', id: 'ASC' } },
    )
    const helped = await helpedBy(this.source, viewer, classId, role)
    return {
      ...found,
      role,
      staff: helped
        ? staff.map((person) => ({
            ...person,
            studentIds: person.personId === viewer.personId ? person.studentIds : [],
          }))
        : staff,
      units,
      columns: await columnsOf(this.source, viewer.schoolId, classId),
    }
  }

  async change(viewer: Viewer, classId: string, input: ClassInput): Promise<void> {
    await holdInClass(this.source, viewer, classId, 'set up the class')
    const { name, subject, year, ink } = cleanInput(input)
    await inSchool(this.source, viewer.schoolId).update(Class, { id: classId }, { name, subject, year, ink })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
  }

  /** Says what holds for the copies in a class: who has one open is told of it at once. */
  async keepRules(
    viewer: Viewer,
    classId: string,
    rules: Pick<Class, 'classmatesComment' | 'staffShown' | 'helpersMark'>,
  ): Promise<void> {
    await holdInClass(this.source, viewer, classId, 'set up the class')
    await inSchool(this.source, viewer.schoolId).update(Class, { id: classId }, rules)
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
    await this.events.tell('members changed', { schoolId: viewer.schoolId, classId })
  }

  /** Puts the units of a class as they stand in this list: new ones have no id, those not in it are taken away. */
  async keepUnits(
    viewer: Viewer,
    classId: string,
    units: readonly { readonly id?: string | undefined; readonly name: string }[],
  ): Promise<void> {
    const clean = units.map(({ id, name }) => ({ id: id ?? null, name: cleanText(name) }))
    const blank = clean.findIndex(({ name }) => !name)
    if (blank >= 0)
      throw malformed([{ code: 'unit-name', field: `units.${blank}.name`, sentence: 'Give the unit a name.' }])
    await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'set up the class')
      await lockClass(tx, viewer.schoolId, classId)
      await inSchool(tx, viewer.schoolId).delete(Unit, { classId, id: Not(Any(clean.flatMap(({ id }) => id ?? []))) })
      await putUnits(tx, viewer.schoolId, {
        classId,
        ids: clean.map(({ id }) => id),
        names: clean.map(({ name }) => name),
      })
    })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
  }

  /** Puts a class away, or brings it back; nothing of it is lost. */
  async archive(viewer: Viewer, classId: string, archived: boolean): Promise<void> {
    await holdInClass(this.source, viewer, classId, 'archive the class')
    await inSchool(this.source, viewer.schoolId).update(
      Class,
      { id: classId },
      archived ? { archivedAt: () => 'coalesce(archived_at, now())', joinOpen: false } : { archivedAt: null },
    )
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
  }
}

/** Puts a class down, led by whoever asks. */
export async function insertClass(
  tx: EntityManager,
  viewer: Viewer,
  { name, subject, year, ink }: ClassInput,
  carriedFrom: string | null = null,
): Promise<string> {
  const id = randomUUID()
  for (let made = 0; made === 0;) {
    const rows = await addClass(tx, viewer.schoolId, {
      id,
      name,
      subject,
      year,
      ink,
      code: newClassCode(),
      carriedFrom,
    })
    made = rows.length
  }
  await inSchool(tx, viewer.schoolId).insert(ClassMember, { classId: id, personId: viewer.personId, role: 'lead' })
  return id
}

export function cleanInput({ name, subject, year, ink }: ClassInput): ClassInput {
  const clean = { name: cleanText(name), subject: cleanText(subject), year: cleanText(year), ink }
  if (!clean.name) throw malformed([{ code: 'class-name', field: 'name', sentence: 'Give the class a name.' }])
  return clean
}

/** The staff of a class, who leads it first. */
export async function staffOf(tx: EntityManager, schoolId: string, classId: string): Promise<StaffMember[]> {
  return staffRows(tx, schoolId, classId)
}
