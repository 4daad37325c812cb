import {
  type BoardRow,
  type TimeSpan,
  type Viewer,
  boardSpaces,
  gathered,
  keptContent,
  mayInClass,
  statesOverTime,
  timeSteps,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { classRole, holdInClass } from '../access/classRole.js'
import { notThere } from '../common/problemDetails.js'
import { written } from '../common/written.js'
import { inSchool } from '../database/inSchool.js'
import { type DifferencesNow, differencesNow } from '../handOut/differencesNow.js'
import { findHandout, handoutsOfSet } from '../slip/handoutSet.js'
import { guestsToMatch } from '../handout/guests.queries.js'
import { type BoardShown, boardRows, boardRowsInJson, rowsFor } from '../kept/boardRows.js'
import { CopyLook } from './board.entity.js'
import { heldBoard } from './heldBoard.js'
import { journalsOf, leftOutOf, looksOf, sheetsGiven, writersIn, writtenInSteps } from './board.queries.js'

/** Boards: a row a copy, and what of a handout differs from what was handed out. */
@Injectable()
export class BoardService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  async board(viewer: Viewer, handoutId: string) {
    const { rest, rows } = await this.read(viewer, handoutId, (shown) =>
      boardRows(this.source, viewer.schoolId, handoutId).then((all) => rowsFor(all, shown)),
    )
    return { ...rest, rows }
  }

  /** The same as it is sent: a class of 500 opens its board while it writes. */
  async boardInJson(viewer: Viewer, handoutId: string) {
    const { rest, rows } = await this.read(viewer, handoutId, (shown) =>
      boardRowsInJson(this.source, viewer.schoolId, handoutId, shown),
    )
    return written<typeof rest, { rows: BoardRow[] }>(rest, { rows })
  }

  private async read<Rows>(viewer: Viewer, handoutId: string, rowsOf: (shown: BoardShown) => Promise<Rows>) {
    const { schoolId } = viewer
    const { handout, role, shown } = await heldBoard(this.source, viewer, handoutId)
    const { students } = shown
    const { source } = this
    const [rows, sheets, leftOut, looked, guests] = await Promise.all([
      rowsOf(shown),
      sheetsGiven(source, schoolId, handoutId),
      leftOutOf(source, { schoolId, classId: handout.classId, handoutId }),
      looksOf(source, schoolId, handoutId, viewer.personId),
      // Who guests are is said by those who hand out.
      mayInClass(role, 'hand out').may ? guestsToMatch(source, schoolId, handoutId) : 0,
    ])
    const rest = {
      handout,
      guestsToMatch: guests,
      sheets: sheets.map(({ worksheetId, title, content }) => ({
        worksheetId,
        title,
        spaces: boardSpaces(keptContent(content)),
      })),
      leftOut: leftOut.filter(({ personId }) => !students || students.has(personId)),
      looked,
    }
    return { rest, rows }
  }

  /** The copies of all classes that a handout was given to, of those that somebody is shown. */
  async students(viewer: Viewer, handoutId: string) {
    const { schoolId } = viewer
    await heldBoard(this.source, viewer, handoutId)
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    const parts = []
    const sheets = new Map<string, string>()
    for (const { id, classId } of await handoutsOfSet(this.source.manager, handout)) {
      const { role } = await classRole(this.source, viewer, classId)
      if (!mayInClass(role, 'see handouts').may) continue
      const { handout: head, shown } = await heldBoard(this.source, viewer, id)
      const [rows, given] = await Promise.all([
        boardRows(this.source, schoolId, id),
        sheetsGiven(this.source, schoolId, id),
      ])
      for (const { worksheetId, title } of given) sheets.set(worksheetId, title)
      parts.push({
        ...{ handoutId: id, classId, class: head.class },
        rows: rowsFor(rows, shown)
          .filter(({ setAside, way }) => !setAside && way !== 'to read')
          .map(
            ({
              copyId,
              worksheetId,
              title,
              state,
              pensDown,
              answered,
              spaces,
              words,
              dueAt,
              submittedAt,
              holders,
            }) => ({
              ...{ copyId, worksheetId, title, state, pensDown, answered, spaces, words, dueAt, submittedAt },
              students: holders.map(({ personId, first, last }) => ({ personId, first, last })),
            }),
          ),
      })
    }
    return { parts, sheets: [...sheets].map(([worksheetId, title]) => ({ worksheetId, title })) }
  }

  /** Who has written how much in the copies that several share, of those that somebody is shown. */
  async writers(viewer: Viewer, handoutId: string) {
    const { shown } = await heldBoard(this.source, viewer, handoutId)
    const rows = rowsFor(await boardRows(this.source, viewer.schoolId, handoutId), shown)
    const shared = rows.filter(({ holders, setAside }) => holders.length > 1 && !setAside)
    const writers = await writersIn(
      this.source,
      viewer.schoolId,
      shared.map(({ copyId }) => copyId),
    )
    return writers.filter(({ personId }) => !shown.students || shown.students.has(personId))
  }

  /** How the copies that somebody is shown went on over time: their states, and how much was written in each. */
  async overTime(viewer: Viewer, handoutId: string, span: TimeSpan) {
    const { schoolId } = viewer
    const { handout, shown } = await heldBoard(this.source, viewer, handoutId)
    const rows = rowsFor(await boardRows(this.source, schoolId, handoutId), shown)
    const copyIds = rows.flatMap(({ copyId, setAside, way }) => (setAside || way === 'to read' ? [] : [copyId]))
    const now = Date.now()
    const journals = gathered(await journalsOf(this.source, schoolId, copyIds), ({ copyId }) => copyId)
    const begun = [...journals.values()].reduce(
      (first, [given]) => Math.min(first, given!.at),
      handout.handedOutAt ?? now,
    )
    const steps = timeSteps(span, begun, now)
    const written = await writtenInSteps(this.source, schoolId, copyIds, steps)
    const byCopy = gathered(written, ({ copyId }) => copyId)
    return {
      ...steps,
      states: statesOverTime(journals.values(), steps),
      written: copyIds.flatMap((copyId) => {
        const own = byCopy.get(copyId)
        if (!own) return []
        const changes = Array.from({ length: steps.count }, () => 0)
        for (const one of own) if (one.step >= 0 && one.step < steps.count) changes[one.step] = one.changes
        return [{ copyId, changes }]
      }),
    }
  }

  /** Somebody of the staff has looked at a copy, up to now. */
  async look(viewer: Viewer, handoutId: string, copyId: string): Promise<void> {
    const { shown } = await heldBoard(this.source, viewer, handoutId)
    const [row] = rowsFor(await boardRows(this.source, viewer.schoolId, handoutId, [copyId]), shown)
    if (!row) throw notThere()
    const look = { personId: viewer.personId, copyId, at: Date.now() }
    await inSchool(this.source, viewer.schoolId).put(CopyLook, look, ['at'])
  }

  /** For those who can mend it. */
  async differences(viewer: Viewer, handoutId: string): Promise<DifferencesNow | null> {
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'hand out')
    return differencesNow(this.source, handout)
  }
}
