import { Logger } from '@nestjs/common'
import type { DataSource } from 'typeorm'
import { isDatabaseAway } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { ClassLook } from '../slip/slip.entity.js'
import { wishLooksAtOld, wishLooks, looksAfter } from './run.queries.js'

/** How long changes of classes are gathered before they are looked at, in milliseconds. */
const GATHER = 200
/** How soon after a look that failed it is tried again, and how often it is looked whether something was left. */
const AGAIN = 2_000
const BACKSTOP = 60_000
const AT_ONCE = 20

/**
 * The classes in which somebody may be due a copy by themselves. That they are to be looked at stands in the database, from
 * the transaction that changed them until the look is done.
 */
export class ClassLooks {
  private readonly log = new Logger('hand-out')
  private readonly told = new Map<string, { schoolId: string; classId: string }>()
  private timer: NodeJS.Timeout | null = null
  private working: Promise<void> = Promise.resolve()
  private stopped = false

  constructor(
    private readonly source: DataSource,
    /** Looks at a class; false: not everything could be looked at yet. */
    private readonly look: (schoolId: string, classId: string) => Promise<boolean>,
  ) {}

  /** Begins with what was left over, and with whoever joined after the last hand-out of their class. */
  async start(): Promise<void> {
    await wishLooksAtOld(this.source)
    this.wake(GATHER)
  }

  /** Something of a class has changed. */
  tell(schoolId: string, classId: string): void {
    this.told.set(`${schoolId} ${classId}`, { schoolId, classId })
    this.wake(GATHER)
  }

  /** Resolves when what is being looked at has been. */
  settled(): Promise<void> {
    return this.working
  }

  async stop(): Promise<void> {
    this.stopped = true
    if (this.timer) clearTimeout(this.timer)
    await this.working
  }

  private wake(after: number): void {
    if (this.stopped) return
    if (this.timer) {
      // Sooner, not later.
      if (after > GATHER) return
      clearTimeout(this.timer)
    }
    this.timer = setTimeout(() => {
      this.timer = null
      this.working = this.working.then(() => this.work())
    }, after).unref()
  }

  private async work(): Promise<void> {
    let next = BACKSTOP
    try {
      await this.putDown()
      if (!(await this.workOff())) next = AGAIN
    } catch (error) {
      next = AGAIN
      if (!this.stopped && !isDatabaseAway(error))
        this.log.error(error instanceof Error ? (error.stack ?? '') : String(error))
    }
    this.wake(this.told.size > 0 ? GATHER : next)
  }

  /** What was told and changed no row of its own. */
  private async putDown(): Promise<void> {
    const told = [...this.told]
    if (told.length === 0) return
    await wishLooks(
      this.source,
      told.map(([, { schoolId }]) => schoolId),
      told.map(([, { classId }]) => classId),
    )
    for (const [key, value] of told) if (this.told.get(key) === value) this.told.delete(key)
  }

  /** Looks at the classes that wait; false if one must be looked at again. */
  private async workOff(): Promise<boolean> {
    let all = true
    for (let after = '0'; !this.stopped;) {
      const rows = await looksAfter(this.source, after, AT_ONCE)
      for (const { school_id, class_id, number } of rows) {
        after = number
        if (this.stopped) return all
        // One that fails holds up none of the others.
        const done = await this.look(school_id, class_id).catch((error: unknown) => {
          if (isDatabaseAway(error)) throw error
          this.log.error(error instanceof Error ? (error.stack ?? '') : String(error))
          return false
        })
        // One wished again while it was looked at has another number by now.
        const gone = done ? await inSchool(this.source, school_id).delete(ClassLook, { classId: class_id, number }) : 0
        if (gone === 0) all = false
      }
      if (rows.length < AT_ONCE) return all
    }
    return all
  }
}
