import { type BundleMarks, FIXED_COLUMNS, type Viewer, writeBundle } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { type OutFile, TABLE_FORMATS, TABLE_TYPES, TableOut, fileName } from '../tasks/tableOut.js'
import { groupSetsOf } from '../group/groupSets.js'
import { staffOf } from '../roster/class.service.js'
import { helpedBy, holdInClass } from '../access/classRole.js'
import { columnsOf } from '../roster/columns.js'
import { studentsOf } from '../roster/students.js'
import { type RosterStudent } from '../roster/roster.queries.js'
import { classForFile } from './rosterOut.queries.js'

export const OUT_FORMATS = { ...TABLE_FORMATS, bundle: 'bundle' } as const
export type OutFormat = keyof typeof OUT_FORMATS

@Injectable()
export class RosterOutService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly tables: TableOut,
  ) {}

  /**
   * The roster as a file: those who are in the class now, with every extra column and a column for each group set.
   * @param personIds only these students; null: all
   */
  async write(
    viewer: Viewer,
    classId: string,
    format: OutFormat,
    personIds: readonly string[] | null,
  ): Promise<OutFile> {
    const role = await holdInClass(this.source, viewer, classId, 'see the roster')
    const helped = await helpedBy(this.source, viewer, classId, role)
    const wanted = personIds && new Set(personIds)
    const students = (await studentsOf(this.source, viewer.schoolId, classId)).filter(
      ({ personId, leftAt }) =>
        leftAt === null && (!helped || helped.has(personId)) && (!wanted || wanted.has(personId)),
    )
    const [about] = await classForFile(this.source, viewer.schoolId, classId)
    const { name, year } = about!
    const bytes =
      format === 'bundle'
        ? await this.bundle(viewer, classId, students, null)
        : await this.tables.write(viewer, format, name, await this.rows(viewer.schoolId, classId, students))
    const extension = format === 'bundle' ? 'zip' : format
    return {
      name: fileName(`${name} ${year} roster`, extension),
      type: format === 'bundle' ? 'application/zip' : TABLE_TYPES[format],
      bytes,
    }
  }

  /**
   * A class as an open rostering bundle.
   * @param students those who are in it
   * @param marks what they have, where that is wished
   */
  async bundle(
    viewer: Viewer,
    classId: string,
    students: readonly RosterStudent[],
    marks: BundleMarks | null,
  ): Promise<Uint8Array> {
    const [about] = await classForFile(this.source, viewer.schoolId, classId)
    const { name, subject, year, schoolName, today } = about!
    const staff = await staffOf(this.source.manager, viewer.schoolId, classId)
    const found = {
      ...{ id: classId, name, subject, year },
      students: students.map(asBundlePerson),
      staff: staff.map((person) => asBundlePerson({ ...person, number: null })),
    }
    return writeBundle({ id: viewer.schoolId, name: schoolName }, [found], today, marks)
  }

  private async rows(schoolId: string, classId: string, students: readonly RosterStudent[]): Promise<string[][]> {
    const columns = await columnsOf(this.source, schoolId, classId)
    const sets = (await groupSetsOf(this.source, schoolId, classId)).map(({ name, groups }) => ({
      name,
      groupOf: new Map(groups.flatMap((group) => group.personIds.map((id) => [id, group.name] as const))),
    }))
    return [
      [...Object.values(FIXED_COLUMNS), ...columns.map(({ name }) => name), ...sets.map(({ name }) => name)],
      ...students.map((student) => [
        student.last,
        student.first,
        student.email ?? '',
        student.number ?? '',
        ...columns.map(({ id }) => student.cells[id] ?? ''),
        ...sets.map(({ groupOf }) => groupOf.get(student.personId) ?? ''),
      ]),
    ]
  }
}

const asBundlePerson = (person: {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly number: string | null
}) => ({
  id: person.personId,
  first: person.first,
  last: person.last,
  email: person.email ?? '',
  number: person.number ?? '',
})
