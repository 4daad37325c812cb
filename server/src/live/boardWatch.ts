import type { Viewer } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import { boardRows } from '../board/boardRows.js'
import { isUuid } from '../common/checked.js'
import { ProblemException } from '../common/problemDetails.js'
import { holdInClass } from '../roster/classRole.js'
import type { Connection } from './connection.js'
import { LIMITS } from './limits.js'

/** Who has which board open; they are sent its rows as they change. */
export class BoardWatch {
  constructor(
    private readonly source: DataSource,
    private readonly connections: ReadonlySet<Connection>,
  ) {}

  /** Shows a board over a connection from now on, all of it at first; nothing to whoever may not see it. */
  async watch(connection: Connection, handoutId: string): Promise<void> {
    if (connection.watched.size >= LIMITS.watches) return
    if (!(await this.may(connection.viewer, handoutId))) return
    connection.watched.add(handoutId)
    await this.send(connection.viewer.schoolId, handoutId, undefined, [connection])
  }

  /**
   * Sends rows of a board as they are in the database now.
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
    const rows = await boardRows(this.source, schoolId, handoutId, copyIds)
    for (const connection of to) connection.send({ type: 'rows', handoutId, rows })
  }

  /** What people are in a class has changed: whoever may not see its boards any more is shown nothing further. */
  async recheck(schoolId: string, classId: string): Promise<void> {
    const handouts = await this.source.query<{ id: string }[]>(
      'SELECT id FROM handout WHERE school_id = $1 AND class_id = $2',
      [schoolId, classId],
    )
    for (const { id } of handouts)
      for (const connection of this.watchers(schoolId, id))
        if (!(await this.may(connection.viewer, id))) connection.watched.delete(id)
  }

  private watchers(schoolId: string, handoutId: string): Connection[] {
    return [...this.connections].filter(({ viewer, watched }) => viewer.schoolId === schoolId && watched.has(handoutId))
  }

  private async may(viewer: Viewer, handoutId: string): Promise<boolean> {
    if (!isUuid(handoutId)) return false
    const [handout] = await this.source.query<{ class_id: string }[]>(
      'SELECT class_id FROM handout WHERE school_id = $1 AND id = $2',
      [viewer.schoolId, handoutId],
    )
    if (!handout) return false
    try {
      await holdInClass(this.source, viewer, handout.class_id, 'see handouts')
      return true
    } catch (error) {
      if (error instanceof ProblemException) return false
      throw error
    }
  }
}
