import { type ServerMessage, type Viewer, type WorksheetWriter, fullName } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import { isUuid } from '../common/checked.js'
import { ProblemException } from '../common/problemDetails.js'
import { holdWorksheet } from '../worksheet/worksheetAccess.js'
import type { Connection } from './connection.js'
import { LIMITS } from './limits.js'
import { inSchool } from '../database/inSchool.js'
import { Person } from '../access/access.entity.js'

interface Watching {
  readonly name: string
  block: string | null
  at: number | null
}

/** Who has which worksheet of the library open, and where in it they are. */
export class WorksheetWatch {
  private readonly open = new Map<string, Map<Connection, Watching>>()

  constructor(private readonly source: DataSource) {}

  /** Somebody opens a worksheet, or goes to another place of it. */
  async watch(connection: Connection, worksheetId: string, block: string | null, at: number | null): Promise<void> {
    const known = this.open.get(worksheetId)?.get(connection)
    if (known) {
      if (known.block === block && known.at === at) return
      Object.assign(known, { block, at })
      return this.tellWriters(worksheetId)
    }
    const count = [...this.open.values()].filter((watching) => watching.has(connection)).length
    if (count >= LIMITS.watches || !isUuid(worksheetId)) return
    const { viewer } = connection
    try {
      await holdWorksheet(this.source, viewer, worksheetId, 'see')
    } catch (error) {
      if (error instanceof ProblemException) return
      throw error
    }
    const [person] = await inSchool(this.source, viewer.schoolId).find(
      Person,
      { id: viewer.personId },
      { select: ['first', 'last'] },
    )
    if (!person || !connection.open) return
    const watching = this.open.get(worksheetId) ?? new Map<Connection, Watching>()
    watching.set(connection, { name: fullName(person), block, at })
    this.open.set(worksheetId, watching)
    this.tellWriters(worksheetId)
  }

  unwatch(connection: Connection, worksheetId: string): void {
    const watching = this.open.get(worksheetId)
    if (!watching?.delete(connection)) return
    if (watching.size === 0) this.open.delete(worksheetId)
    else this.tellWriters(worksheetId)
  }

  /** A browser has gone. */
  forget(connection: Connection): void {
    for (const id of [...this.open.keys()]) this.unwatch(connection, id)
  }

  /** The draft was kept: whoever has it open reads it. */
  changed(by: Viewer, worksheetId: string, version: number): void {
    this.send(worksheetId, { type: 'worksheet changed', worksheetId, version, by: by.personId })
  }

  private tellWriters(worksheetId: string): void {
    const byPerson = new Map<string, WorksheetWriter>()
    for (const [{ viewer }, { name, block, at }] of this.open.get(worksheetId) ?? [])
      byPerson.set(viewer.personId, { personId: viewer.personId, name, block, at })
    this.send(worksheetId, { type: 'worksheet writers', worksheetId, writers: [...byPerson.values()] })
  }

  private send(worksheetId: string, message: ServerMessage): void {
    for (const connection of this.open.get(worksheetId)?.keys() ?? []) connection.send(message)
  }
}
