import { type Viewer, boardTable, gridTable, nameOrder, wallTimeOf } from '@gavrin/core'
import { Inject, Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { School } from '../access/access.entity.js'
import { notThere } from '../common/problemDetails.js'
import type { Settings } from '../common/settings.js'
import { SETTINGS } from '../common/tokens.js'
import { groupSetsOf } from '../group/groupSets.js'
import { columnsOf } from '../roster/columns.js'
import { studentsOf } from '../roster/students.js'
import { type OutFile, TABLE_TYPES, type TableFormat, TableOut, fileName } from '../tasks/tableOut.js'
import { BoardService } from './board.service.js'

/** Boards and answer grids as files. */
@Injectable()
export class BoardOutService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly boards: BoardService,
    private readonly tables: TableOut,
  ) {}

  /**
   * What somebody is shown of a board, as a table.
   * @param worksheetId of which worksheet the answer grid is wished; null: the board itself
   * @param copyIds only these copies; null: all
   */
  async write(
    viewer: Viewer,
    handoutId: string,
    format: TableFormat,
    { worksheetId, copyIds }: { readonly worksheetId: string | null; readonly copyIds: readonly string[] | null },
  ): Promise<OutFile> {
    const { handout, rows: all, sheets } = await this.boards.board(viewer, handoutId)
    const wanted = copyIds && new Set(copyIds)
    const byName = nameOrder('en')
    const rows = all
      .filter(({ copyId, setAside }) => (wanted ? wanted.has(copyId) : !setAside))
      .toSorted((a, b) =>
        byName(a.holders[0] ?? { first: '', last: a.title }, b.holders[0] ?? { first: '', last: b.title }),
      )
    const title = `No. ${handout.number} ${handout.title}`
    const sheet = sheets.find((one) => one.worksheetId === worksheetId)
    if (worksheetId !== null && !sheet) throw notThere()
    const table = sheet
      ? gridTable(
          rows.filter((row) => row.worksheetId === sheet.worksheetId),
          sheet.spaces,
        )
      : boardTable(rows, await this.around(viewer, handout.classId))
    return {
      name: fileName(`${title}, ${sheet ? 'answer grid' : 'board'}`, format),
      type: TABLE_TYPES[format],
      bytes: await this.tables.write(viewer, format, title, table),
    }
  }

  private async around(viewer: Viewer, classId: string) {
    const { schoolId } = viewer
    const [columns, sets, students, school] = await Promise.all([
      columnsOf(this.source, schoolId, classId),
      groupSetsOf(this.source, schoolId, classId),
      studentsOf(this.source, schoolId, classId),
      this.source.manager.findOneByOrFail(School, { id: schoolId }),
    ])
    const cells = new Map(students.map((student) => [student.personId, student.cells]))
    const two = (value: number) => String(value).padStart(2, '0')
    return {
      now: Date.now(),
      fields: [
        ...sets.map(({ name, groups }) => {
          const groupOf = new Map(groups.flatMap((group) => group.personIds.map((id) => [id, group.name] as const)))
          return { label: name, valueOf: (personId: string) => groupOf.get(personId) ?? '' }
        }),
        ...columns.map(({ id, name }) => ({
          label: name,
          valueOf: (personId: string) => cells.get(personId)?.[id] ?? '',
        })),
      ],
      time: (at: number) => {
        const { year, month, day, hour, minute } = wallTimeOf(at, school.timeZone)
        return `${year}-${two(month)}-${two(day)} ${two(hour)}:${two(minute)}`
      },
      linkOf: (copyId: string) => `${this.settings.mail.publicUrl}/copies/${copyId}`,
    }
  }
}
