import { type ClassPart, type Viewer, mayInClass } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import { isUuid } from '../common/checked.js'
import { classRole } from '../access/classRole.js'
import type { Connection } from './connection.js'
import { LIMITS } from './limits.js'

/** The first of many changes is told at once, the others together, so many milliseconds after. */
const GATHER = 150

/** Which staff have which class open; they are told what of it to read again. */
export class ClassWatch {
  /** What was told just now, and whether it has changed since. */
  private readonly told = new Map<string, boolean>()

  constructor(
    private readonly source: DataSource,
    private readonly connections: ReadonlySet<Connection>,
  ) {}

  async watch(connection: Connection, classId: string): Promise<void> {
    if (connection.watchedClasses.size >= LIMITS.watches || !isUuid(classId)) return
    if (await this.may(connection.viewer, classId)) connection.watchedClasses.add(classId)
  }

  /** @param columnId of marks: which column of the mark book */
  tell(schoolId: string, classId: string, part: ClassPart, columnId?: string): void {
    const key = `${schoolId} ${classId} ${part} ${columnId}`
    if (this.told.has(key)) {
      this.told.set(key, true)
      return
    }
    const send = () => {
      this.told.set(key, false)
      for (const connection of this.watchers(schoolId, classId))
        connection.send({ type: 'class changed', classId, part, ...(columnId !== undefined && { columnId }) })
      setTimeout(() => (this.told.get(key) ? send() : this.told.delete(key)), GATHER).unref()
    }
    send()
  }

  /** What people are in the class has changed. */
  async recheck(schoolId: string, classId: string): Promise<void> {
    for (const connection of this.watchers(schoolId, classId))
      if (!(await this.may(connection.viewer, classId))) connection.watchedClasses.delete(classId)
  }

  private watchers(schoolId: string, classId: string): Connection[] {
    return [...this.connections].filter(
      ({ viewer, watchedClasses }) => viewer.schoolId === schoolId && watchedClasses.has(classId),
    )
  }

  private async may(viewer: Viewer, classId: string): Promise<boolean> {
    const { role } = await classRole(this.source, viewer, classId)
    return mayInClass(role, 'see the roster').may
  }
}
