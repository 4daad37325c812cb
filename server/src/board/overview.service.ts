import { type Viewer, overviewTable } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { Class } from '../access/access.entity.js'
import { helpedBy, holdInClass } from '../access/classRole.js'
import { inSchool } from '../database/inSchool.js'
import { countSpaces } from '../kept/counted.js'
import { studentsOf } from '../roster/students.js'
import { type OutFile, TABLE_TYPES, type TableFormat, TableOut, fileName } from '../tasks/tableOut.js'
import { copiesOfOverview, handoutsOfOverview } from './board.queries.js'

/** Class overviews: students by handouts. */
@Injectable()
export class OverviewService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly tables: TableOut,
  ) {}

  /** The students of a class that somebody may see, its handouts, and their copies. */
  async overview(viewer: Viewer, classId: string) {
    const { schoolId } = viewer
    const role = await holdInClass(this.source, viewer, classId, 'see handouts')
    const helped = await helpedBy(this.source, viewer, classId, role)
    const [all, handouts, copies] = await Promise.all([
      studentsOf(this.source, schoolId, classId),
      handoutsOfOverview(this.source, schoolId, classId),
      copiesOfOverview(this.source, schoolId, classId),
    ])
    const students = all.filter(({ personId, leftAt }) => leftAt === null && (!helped || helped.has(personId)))
    const shown = new Set(students.map(({ personId }) => personId))
    const counted = countSpaces(copies, ({ personIds, parts }) => ({ holders: personIds, parts }))
    return {
      students: students.map(({ personId, first, last }) => ({ personId, first, last })),
      handouts,
      // Who left, guests, and whoever is not one's own are no lines of it.
      copies: counted.flatMap(({ parts: _, ...copy }) => {
        const personIds = copy.personIds.filter((id) => shown.has(id))
        return personIds.length > 0 ? [{ ...copy, personIds }] : []
      }),
    }
  }

  /** @param unit the handouts of this unit alone; null: all */
  async write(viewer: Viewer, classId: string, format: TableFormat, unit: string | null): Promise<OutFile> {
    const { students, handouts, copies } = await this.overview(viewer, classId)
    const [found] = await inSchool(this.source, viewer.schoolId).find(Class, { id: classId }, { select: ['name'] })
    const shown = unit === null ? handouts : handouts.filter((handout) => handout.unit === unit)
    const title = `${found!.name}, overview`
    const table = overviewTable(students, shown, copies, Date.now())
    return {
      name: fileName(title, format),
      type: TABLE_TYPES[format],
      bytes: await this.tables.write(viewer, format, title, table),
    }
  }
}
