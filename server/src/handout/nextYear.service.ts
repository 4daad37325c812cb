import type { Viewer } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { holdInClass } from '../access/classRole.js'
import { cleanInput, insertClass } from '../roster/class.service.js'
import { bringGroups } from '../group/bringGroups.queries.js'
import { bringCells, bringStudents } from '../roster/moveUp.queries.js'
import { studentsOf } from '../roster/students.js'
import { carryHandouts, carryShelf } from './carryHandouts.js'
import { HandOutRuns } from '../handOut/handOutRuns.js'
import { inSchool } from '../database/inSchool.js'
import { Class } from '../access/access.entity.js'
import { bringStaff, bringUnits, bringColumns } from './handout.queries.js'

/** What goes along when a class is carried to another year. */
export interface CarryInput {
  readonly name: string
  readonly year: string
  readonly staff: boolean
  readonly units: boolean
  readonly columns: boolean
  readonly handouts: boolean
  readonly shelf: boolean
  /** Who comes along; null: all students who are in the class now. */
  readonly students: readonly string[] | null
  /** What stands in the columns of those who come along. */
  readonly cells: boolean
  /** The group sets, with those who come along in their groups. */
  readonly groups: boolean
}

/** The class of another year, out of one of this year. */
@Injectable()
export class NextYearService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly runs: HandOutRuns,
  ) {}

  /** Makes the class of another year out of this one, with the students who come along. */
  async carry(viewer: Viewer, classId: string, input: CarryInput): Promise<{ id: string; handouts: number }> {
    const { begun, ...carried } = await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'carry the class')
      const [from] = await inSchool(tx, viewer.schoolId).find(
        Class,
        { id: classId },
        { select: ['name', 'subject', 'year', 'ink'] },
      )
      const id = await insertClass(tx, viewer, cleanInput({ ...from!, name: input.name, year: input.year }), classId)
      if (input.staff)
        // Helpers of named students stay behind: so do their students. Whoever carries the class leads the new one.
        await bringStaff(tx, viewer.schoolId, { classId, id, personId: viewer.personId })
      if (input.units) await bringUnits(tx, viewer.schoolId, classId, id)
      if (input.columns) await bringColumns(tx, viewer.schoolId, classId, id)
      const students = await studentsOf(tx, viewer.schoolId, classId)
      const present = students.filter(({ leftAt }) => leftAt === null).map(({ personId }) => personId)
      const along = input.students ? present.filter((personId) => input.students!.includes(personId)) : present
      await bringStudents(tx, viewer.schoolId, classId, id, along)
      if (input.cells && input.columns) await bringCells(tx, viewer.schoolId, classId, id)
      // Before the handouts, whose groups are found by name.
      if (input.groups) await bringGroups(tx, viewer.schoolId, classId, id)
      const handouts = input.handouts ? await carryHandouts(tx, viewer, classId, id) : 0
      const shelf = input.shelf ? await carryShelf(tx, viewer, classId, id) : null
      return { id, handouts, begun: shelf && (await this.runs.apply(tx, shelf, viewer.personId, shelf.statement)) }
    })
    if (begun) await this.runs.follow([begun])
    return carried
  }
}
