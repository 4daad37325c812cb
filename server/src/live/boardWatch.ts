import { type Viewer, maySeeKey } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import { type BoardShown, boardRows, rowsFor } from '../kept/boardRows.js'
import { isUuid } from '../common/checked.js'
import { ProblemException } from '../common/problemDetails.js'
import { helpedBy, holdInClass } from '../access/classRole.js'
import type { Connection } from './connection.js'
import { LIMITS } from './limits.js'
import { inSchool } from '../database/inSchool.js'
import { Handout } from '../slip/slip.entity.js'

/** Who has which board open; they are sent its rows as they change. */
export class BoardWatch {
  /** Of each board the sending that is under way, with all before it. */
  private readonly turns = new Map<string, Promise<void>>()

  constructor(
    private readonly source: DataSource,
    private readonly connections: ReadonlySet<Connection>,
  ) {}

  /** Shows a board over a connection from now on, all of it at first; nothing to whoever may not see it. */
  async watch(connection: Connection, handoutId: string): Promise<void> {
    if (connection.watched.size >= LIMITS.watches) return
    const shown = await this.shownTo(connection.viewer, handoutId)
    if (shown === 'nothing') return
    connection.watched.set(handoutId, shown)
    await this.send(connection.viewer.schoolId, handoutId, undefined, [connection])
  }

  /**
   * Sends rows of a board as they are in the database now, after those that were asked for before: what was read first may
   * not come last.
   * @param copyIds only these; else all
   * @param to only them; else everybody who has the board open
   */
  async send(
    schoolId: string,
    handoutId: string,
    copyIds?: readonly string[],
    to: readonly Connection[] = this.watchers(schoolId, handoutId),
  ): Promise<void> {
    if (to.length === 0) return
    const reading = boardRows(this.source, schoolId, handoutId, copyIds)
    const before = this.turns.get(handoutId)
    const turn = Promise.allSettled([reading, before]).then(async () => {
      const rows = await reading
      for (const connection of to) {
        const is = connection.watched.get(handoutId)
        // It may have been closed while they were read.
        if (!is) continue
        const shown = rowsFor(rows, is)
        if (shown.length > 0 || !copyIds) connection.send({ type: 'rows', handoutId, rows: shown })
      }
    })
    this.turns.set(handoutId, turn)
    try {
      await turn
    } finally {
      if (this.turns.get(handoutId) === turn) this.turns.delete(handoutId)
    }
  }

  /** What people are in a class has changed: whoever may not see its boards any more is shown nothing further. */
  async recheck(schoolId: string, classId: string): Promise<void> {
    const handouts = await inSchool(this.source, schoolId).find(Handout, { classId }, { select: ['id'] })
    for (const { id } of handouts)
      for (const connection of this.watchers(schoolId, id)) {
        const shown = await this.shownTo(connection.viewer, id)
        if (shown === 'nothing') connection.watched.delete(id)
        else connection.watched.set(id, shown)
      }
  }

  private watchers(schoolId: string, handoutId: string): Connection[] {
    return [...this.connections].filter(({ viewer, watched }) => viewer.schoolId === schoolId && watched.has(handoutId))
  }

  private async shownTo(viewer: Viewer, handoutId: string): Promise<BoardShown | 'nothing'> {
    if (!isUuid(handoutId)) return 'nothing'
    const [handout] = await inSchool(this.source, viewer.schoolId).find(
      Handout,
      { id: handoutId },
      { select: ['classId'] },
    )
    if (!handout) return 'nothing'
    try {
      const role = await holdInClass(this.source, viewer, handout.classId, 'see handouts')
      return { students: await helpedBy(this.source, viewer, handout.classId, role), withChecks: maySeeKey(role) }
    } catch (error) {
      if (error instanceof ProblemException) return 'nothing'
      throw error
    }
  }
}
