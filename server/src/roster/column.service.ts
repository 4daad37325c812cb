import { COLUMN_LIMIT, type RosterColumn, type Viewer, checkColumnName } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, Not, IsNull } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { Events } from '../events/events.js'
import { holdInClass } from '../access/classRole.js'
import { addColumn, columnsOf, tooManyColumns } from './columns.js'
import { lockClass } from './students.js'
import { inSchool } from '../database/inSchool.js'
import { KeptColumn } from './roster.entity.js'

/** The extra columns of a roster. */
@Injectable()
export class ColumnService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  async add(viewer: Viewer, classId: string, name: string, kind: RosterColumn['kind']): Promise<{ id: string }> {
    const id = await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'set up the class')
      await lockClass(tx, viewer.schoolId, classId)
      const names = (await columnsOf(tx, viewer.schoolId, classId)).map((column) => column.name)
      const clean = valueOf(checkColumnName(name, names))
      if (names.length >= COLUMN_LIMIT) throw tooManyColumns('name')
      return addColumn(tx, viewer.schoolId, classId, clean, kind)
    })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
    return { id }
  }

  async rename(viewer: Viewer, classId: string, columnId: string, name: string): Promise<void> {
    await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'set up the class')
      await lockClass(tx, viewer.schoolId, classId)
      const columns = await columnsOf(tx, viewer.schoolId, classId)
      const others = columns.filter(({ id }) => id !== columnId).map((column) => column.name)
      const clean = valueOf(checkColumnName(name, others))
      await inSchool(tx, viewer.schoolId).update(KeptColumn, { classId, id: columnId }, { name: clean })
    })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
  }

  /** Takes a column away, or brings it back with all that stood in it. */
  async remove(viewer: Viewer, classId: string, columnId: string, removed: boolean): Promise<void> {
    await this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'set up the class')
      await lockClass(tx, viewer.schoolId, classId)
      const columns = await columnsOf(tx, viewer.schoolId, classId)
      if (!removed) {
        const [gone] = await inSchool(tx, viewer.schoolId).find(
          KeptColumn,
          { classId, id: columnId, removedAt: Not(IsNull()) },
          { select: ['name'] },
        )
        if (gone)
          valueOf(
            checkColumnName(
              gone.name,
              columns.map(({ name }) => name),
            ),
          )
        if (gone && columns.length >= COLUMN_LIMIT) throw tooManyColumns('name')
      }
      await inSchool(tx, viewer.schoolId).update(
        KeptColumn,
        { classId, id: columnId },
        { removedAt: removed ? () => 'now()' : null },
      )
    })
    await this.events.tell('class changed', { schoolId: viewer.schoolId, classId, part: 'class' })
  }
}
