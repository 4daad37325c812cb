import {
  type Viewer,
  LIBRARY_LIMITS,
  checkKeptRubric,
  checkKeptScale,
  mayRunOffice,
  mayTeach,
  rubricTable,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, IsNull } from 'typeorm'
import { holdInClass } from '../access/classRole.js'
import { hold } from '../access/viewer.js'
import { valueOf } from '../common/checked.js'
import { conflict, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { type OutFile, TABLE_TYPES, type TableFormat, TableOut, fileName } from '../tasks/tableOut.js'
import { rubricsFor } from './library.queries.js'
import { KeptRubricRow, KeptScaleRow } from './marking.entity.js'

/** Rubrics that teachers keep, and scales of a school and its classes. What slips were made with them stays as it is. */
@Injectable()
export class LibraryService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly tables: TableOut,
  ) {}

  /** One's own rubrics, and those that colleagues share, without their rows. */
  async rubrics(viewer: Viewer) {
    hold(mayTeach(viewer))
    return rubricsFor(this.source, viewer.schoolId, viewer.personId)
  }

  /** One of them, with its rows. */
  async rubric(viewer: Viewer, id: string) {
    hold(mayTeach(viewer))
    const [found] = await inSchool(this.source, viewer.schoolId).find(KeptRubricRow, { id })
    if (!found || (found.personId !== viewer.personId && !found.shared)) throw notThere()
    return { name: found.name, rows: found.rows, shared: found.shared }
  }

  /** Keeps a rubric: a new one, or one's own as it is now. */
  async keepRubric(
    viewer: Viewer,
    id: string,
    { shared, ...typed }: { readonly name: string; readonly rows: unknown; readonly shared: boolean },
  ): Promise<void> {
    hold(mayTeach(viewer))
    const { name, rows } = valueOf(checkKeptRubric(typed))
    const values = { name, rows: [...rows], shared }
    await this.source.transaction(async (tx) => {
      const school = inSchool(tx, viewer.schoolId)
      const [known] = await school.find(KeptRubricRow, { id }, { select: ['personId'], lock: true })
      // Of somebody else's there is nothing to say, not even that it is there.
      if (known && known.personId !== viewer.personId) throw notThere()
      if (known) return void (await school.update(KeptRubricRow, { id }, values))
      if ((await school.count(KeptRubricRow, { personId: viewer.personId })) >= LIBRARY_LIMITS.rubrics)
        throw conflict('too-many', `You have ${LIBRARY_LIMITS.rubrics} rubrics: take some out first.`)
      await school.insert(KeptRubricRow, { id, personId: viewer.personId, ...values })
    })
  }

  async removeRubric(viewer: Viewer, id: string): Promise<void> {
    hold(mayTeach(viewer))
    await inSchool(this.source, viewer.schoolId).delete(KeptRubricRow, { id, personId: viewer.personId })
  }

  /** A rubric as a table. */
  async writeRubric(
    viewer: Viewer,
    format: TableFormat,
    typed: { readonly name: string; readonly rows: unknown },
  ): Promise<OutFile> {
    hold(mayTeach(viewer))
    const { name, rows } = valueOf(checkKeptRubric(typed))
    return {
      name: fileName(name, format),
      type: TABLE_TYPES[format],
      bytes: await this.tables.write(viewer, format, name, rubricTable(rows)),
    }
  }

  /** The scales of the school, as the office sees them. */
  async schoolScales(viewer: Viewer) {
    hold(mayRunOffice(viewer))
    return this.scalesOf(viewer, null)
  }

  /** The scales that a class is marked by: its own, and the school's. */
  async classScales(viewer: Viewer, classId: string) {
    await holdInClass(this.source, viewer, classId, 'see the proof')
    return [...(await this.scalesOf(viewer, classId)), ...(await this.scalesOf(viewer, null))]
  }

  private scalesOf({ schoolId }: Viewer, classId: string | null) {
    return inSchool(this.source, schoolId).find(
      KeptScaleRow,
      { classId: classId ?? IsNull() },
      { select: ['id', 'classId', 'name', 'steps', 'from'], order: { name: 'ASC', id: 'ASC' } },
    )
  }

  /** Keeps a scale of the school, which only the office does, or of a class. */
  async keepScale(
    viewer: Viewer,
    id: string,
    classId: string | null,
    typed: { readonly name: string; readonly steps: unknown; readonly from: unknown },
  ): Promise<void> {
    await this.holdScale(viewer, classId)
    const { name, steps, from } = valueOf(checkKeptScale(typed))
    const values = { name, steps: [...steps], from: from && [...from] }
    await this.source.transaction(async (tx) => {
      const school = inSchool(tx, viewer.schoolId)
      const [known] = await school.find(KeptScaleRow, { id }, { select: ['classId'], lock: true })
      if (known && known.classId !== classId) throw notThere()
      if (known) return void (await school.update(KeptScaleRow, { id }, values))
      if ((await school.count(KeptScaleRow, { classId: classId ?? IsNull() })) >= LIBRARY_LIMITS.scales)
        throw conflict('too-many', `There are ${LIBRARY_LIMITS.scales} scales: take some out first.`)
      await school.insert(KeptScaleRow, { id, classId, ...values })
    })
  }

  async removeScale(viewer: Viewer, id: string, classId: string | null): Promise<void> {
    await this.holdScale(viewer, classId)
    await inSchool(this.source, viewer.schoolId).delete(KeptScaleRow, { id, classId: classId ?? IsNull() })
  }

  private async holdScale(viewer: Viewer, classId: string | null): Promise<void> {
    if (classId === null) hold(mayRunOffice(viewer))
    else await holdInClass(this.source, viewer, classId, 'hand out')
  }
}
