import {
  type Change,
  type Plan,
  type Statement,
  type Viewer,
  changesToPlan,
  checkStatement,
  cleanText,
  countChanges,
  fingerprintChanges,
  mayInClass,
  planHandout,
  planStops,
} from '@gavrin/core'
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { conflict, isDatabaseAway, malformed, notThere } from '../common/problemDetails.js'
import { LiveGateway } from '../live/live.gateway.js'
import { holdInClass } from '../roster/classRole.js'
import { existingCopies, planFacts, planWorksheets, writeChanges } from './handOut.js'
import { HandOutRun, Handout } from './handout.entity.js'
import { SEEN_BY_VIEWER } from '../worksheet/worksheetAccess.js'

export const HANDOUT_TITLE_LIMIT = 200
/** Changes made true in one transaction: any class in one go. Each transaction plans again, so many small ones would cost more. */
const BATCH = 4_000
const RETRY_AFTER = 2_000

@Injectable()
export class HandoutService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('hand-out')
  private readonly driven = new Map<string, Promise<void>>()
  private stopped = false

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly live: LiveGateway,
  ) {}

  /** What a crash interrupted is finished. */
  async onApplicationBootstrap(): Promise<void> {
    const unfinished = await this.source.query<{ school_id: string; id: string }[]>(
      'SELECT school_id, id FROM hand_out_run WHERE finished_at IS NULL',
    )
    for (const { school_id, id } of unfinished) void this.drive(school_id, id)
  }

  async onApplicationShutdown(): Promise<void> {
    this.stopped = true
    await Promise.allSettled(this.driven.values())
  }

  async list(viewer: Viewer, classId: string) {
    await holdInClass(this.source, viewer, classId, 'see handouts')
    return this.source.query<unknown[]>(
      `SELECT h.id, h.number, h.title, (extract(epoch FROM h.due_at) * 1000)::float8 AS "dueAt", (extract(epoch FROM h.handed_out_at) * 1000)::float8 AS "handedOutAt",
              (extract(epoch FROM h.updated_at) * 1000)::float8 AS "updatedAt",
              coalesce((SELECT json_object_agg(state, n) FROM (SELECT c.state, count(*)::int AS n FROM copy c WHERE c.school_id = h.school_id AND c.handout_id = h.id AND NOT c.set_aside GROUP BY c.state) s), '{}') AS states
         FROM handout h WHERE h.school_id = $1 AND h.class_id = $2 ORDER BY h.number DESC`,
      [viewer.schoolId, classId],
    )
  }

  /** Begins a handout as a draft with the next number of the class. */
  async create(
    viewer: Viewer,
    classId: string,
    input: { title: string; statement: unknown },
  ): Promise<{ id: string; number: number; version: number }> {
    const statement = valueOf(checkStatement(input.statement))
    return this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'hand out')
      await this.refuseForeignWorksheets(tx, viewer, statement, new Set())
      const [rows] = await tx.query<[{ number: number }[]]>(
        'UPDATE class SET last_handout_number = last_handout_number + 1 WHERE school_id = $1 AND id = $2 RETURNING last_handout_number AS number',
        [viewer.schoolId, classId],
      )
      const id = randomUUID()
      const now = new Date()
      await tx.insert(Handout, {
        schoolId: viewer.schoolId,
        id,
        classId,
        number: rows[0]!.number,
        title: cleanText(input.title),
        statement,
        createdBy: viewer.personId,
        createdAt: now,
        updatedAt: now,
        dueAt: statement.dueAt === null ? null : new Date(statement.dueAt),
      })
      return { id, number: rows[0]!.number, version: 1 }
    })
  }

  /** A handout with all that its proof is computed from. */
  async open(viewer: Viewer, handoutId: string) {
    const handout = await this.find(this.source.manager, viewer, handoutId)
    const role = await holdInClass(this.source, viewer, handout.classId, 'see the proof')
    const facts = await planFacts(this.source, handout, handout.statement)
    return {
      id: handout.id,
      classId: handout.classId,
      number: handout.number,
      title: handout.title,
      statement: handout.statement,
      version: handout.version,
      handedOutAt: handout.handedOutAt?.getTime() ?? null,
      updatedAt: handout.updatedAt.getTime(),
      mayHandOut: mayInClass(role, 'hand out').may,
      facts: { ...facts, worksheets: await this.offered(viewer, facts.worksheets) },
      existing: await existingCopies(this.source, viewer.schoolId, handoutId),
    }
  }

  /** What a new handout in this class can be composed of. */
  async beginning(viewer: Viewer, classId: string) {
    await holdInClass(this.source, viewer, classId, 'hand out')
    const [next] = await this.source.query<{ number: number }[]>(
      'SELECT last_handout_number + 1 AS number FROM class WHERE school_id = $1 AND id = $2',
      [viewer.schoolId, classId],
    )
    const handout = this.source.manager.create(Handout, { schoolId: viewer.schoolId, classId, createdAt: new Date() })
    const facts = await planFacts(this.source, handout, { items: [], dueAt: null })
    return { number: next!.number, facts: { ...facts, worksheets: await this.offered(viewer, []) } }
  }

  /** Keeps the draft or the mended statement; nothing is handed out by it. */
  async keep(
    viewer: Viewer,
    handoutId: string,
    input: { title: string; statement: unknown; version: number },
  ): Promise<{ version: number; updatedAt: number }> {
    const statement = valueOf(checkStatement(input.statement))
    return this.source.transaction(async (tx) => {
      const handout = await this.find(tx, viewer, handoutId, true)
      await holdInClass(tx, viewer, handout.classId, 'hand out')
      if (handout.version !== input.version) throw changedMeanwhile(handout)
      await this.refuseForeignWorksheets(
        tx,
        viewer,
        statement,
        new Set(handout.statement.items.map(({ worksheetId }) => worksheetId)),
      )
      const updatedAt = new Date()
      await tx.update(
        Handout,
        { schoolId: viewer.schoolId, id: handoutId },
        { title: cleanText(input.title), statement, version: handout.version + 1, updatedAt },
      )
      return { version: handout.version + 1, updatedAt: updatedAt.getTime() }
    })
  }

  /** Throws a draft away; only while nothing was handed out. */
  async discard(viewer: Viewer, handoutId: string): Promise<void> {
    await this.source.transaction(async (tx) => {
      const handout = await this.find(tx, viewer, handoutId, true)
      await holdInClass(tx, viewer, handout.classId, 'hand out')
      if (handout.handedOutAt) throw conflict('handed-out', 'This handout has been handed out: it is kept.')
      await tx.delete(Handout, { schoolId: viewer.schoolId, id: handoutId })
    })
  }

  /**
   * Makes the proof true. What is handed out is what the teacher saw: if the class, the worksheet or the handout changed
   * since, nothing happens and the answer says so.
   */
  async handOut(viewer: Viewer, handoutId: string, seen: { version: number; fingerprint: string }) {
    const runId = await this.source.transaction(async (tx) => {
      const handout = await this.find(tx, viewer, handoutId, true)
      await holdInClass(tx, viewer, handout.classId, 'hand out')
      const [running] = await tx.query<{ id: string }[]>(
        'SELECT id FROM hand_out_run WHERE school_id = $1 AND handout_id = $2 AND finished_at IS NULL',
        [viewer.schoolId, handoutId],
      )
      if (running) return running.id
      if (handout.version !== seen.version) throw changedMeanwhile(handout)
      const { plan, changes } = await this.proof(tx, handout, handout.statement)
      if (planStops(plan))
        throw malformed(
          plan.findings
            .filter(({ stops }) => stops)
            .map(({ code, sentence }) => ({ code, sentence, field: 'statement' })),
        )
      if (changes.length === 0)
        throw conflict('nothing-to-do', 'All of this is handed out already: there is nothing left to do.')
      if (fingerprintChanges(changes) !== seen.fingerprint)
        throw conflict(
          'proof-changed',
          'The class or the worksheet changed since you looked: here is the proof as it is now. Look at it, then hand out.',
          { counts: countChanges(changes) },
        )
      const id = randomUUID()
      await tx.insert(HandOutRun, {
        schoolId: viewer.schoolId,
        id,
        handoutId,
        statement: handout.statement,
        personId: viewer.personId,
        total: changes.length,
        startedAt: new Date(),
      })
      return id
    })
    const finished = this.drive(viewer.schoolId, runId)
    // A class is done before a person has let go of the button; larger runs are followed by their bar.
    await Promise.race([finished, new Promise((resolve) => setTimeout(resolve, 250).unref())])
    return this.run(viewer, handoutId)
  }

  /** How far the latest hand-out is. */
  async run(viewer: Viewer, handoutId: string) {
    const handout = await this.find(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'see handouts')
    const [run] = await this.source.query<{ total: number; done: number; finished: boolean }[]>(
      'SELECT total, done, finished_at IS NOT NULL AS finished FROM hand_out_run WHERE school_id = $1 AND handout_id = $2 ORDER BY started_at DESC LIMIT 1',
      [viewer.schoolId, handoutId],
    )
    return run ?? { total: 0, done: 0, finished: true }
  }

  private drive(schoolId: string, runId: string): Promise<void> {
    const driven = this.driven.get(runId)
    if (driven) return driven
    const drive = this.driveToTheEnd(schoolId, runId).finally(() => this.driven.delete(runId))
    this.driven.set(runId, drive)
    return drive
  }

  private async driveToTheEnd(schoolId: string, runId: string): Promise<void> {
    for (;;) {
      if (this.stopped) return
      try {
        const step = await this.source.transaction((tx) => this.applyBatch(tx, schoolId, runId))
        if (step.handoutId && step.finished) await this.live.refreshHandout(schoolId, step.handoutId)
        if (step.finished) return
      } catch (error) {
        if (!isDatabaseAway(error)) {
          this.log.error(error instanceof Error ? (error.stack ?? error.message) : String(error))
          return
        }
        await new Promise((resolve) => setTimeout(resolve, RETRY_AFTER).unref())
      }
    }
  }

  /** Plans again inside the lock and applies the first changes that are left. */
  private async applyBatch(
    tx: EntityManager,
    schoolId: string,
    runId: string,
  ): Promise<{ finished: boolean; handoutId?: string }> {
    const run = await tx.findOneBy(HandOutRun, { schoolId, id: runId })
    if (!run || run.finishedAt) return { finished: true }
    const handout = await tx.findOne(Handout, {
      where: { schoolId, id: run.handoutId },
      lock: { mode: 'pessimistic_write' },
    })
    if (!handout) return { finished: true }
    const { changes } = await this.proof(tx, handout, run.statement)
    const batch = changes.slice(0, BATCH)
    if (batch.length) await writeChanges(tx, handout, batch, run.personId)
    const finished = batch.length === changes.length
    const dueAt = run.statement.dueAt === null ? null : new Date(run.statement.dueAt)
    await tx.query(
      'UPDATE handout SET handed_out_at = coalesce(handed_out_at, now()), due_at = $3 WHERE school_id = $1 AND id = $2',
      [schoolId, handout.id, dueAt],
    )
    await tx.query(
      'UPDATE hand_out_run SET done = least(total, done + $3), finished_at = CASE WHEN $4 THEN now() END WHERE school_id = $1 AND id = $2',
      [schoolId, runId, batch.length, finished],
    )
    return { finished, handoutId: handout.id }
  }

  private async proof(
    tx: EntityManager,
    handout: Handout,
    statement: Statement,
  ): Promise<{ plan: Plan; changes: Change[] }> {
    const plan = planHandout(statement, await planFacts(tx, handout, statement), Date.now())
    return { plan, changes: changesToPlan(plan.copies, await existingCopies(tx, handout.schoolId, handout.id)) }
  }

  /** The worksheets of the library that the person sees, and those the handout speaks of already. */
  private async offered(viewer: Viewer, already: readonly { id: string }[]) {
    const own = await this.source.query<{ id: string }[]>(
      `SELECT w.id FROM worksheet w WHERE ${SEEN_BY_VIEWER} AND w.archived_at IS NULL`,
      [viewer.schoolId, viewer.personId],
    )
    return planWorksheets(this.source, viewer.schoolId, [...new Set([...own, ...already].map(({ id }) => id))])
  }

  private async refuseForeignWorksheets(
    tx: EntityManager,
    viewer: Viewer,
    statement: Statement,
    already: ReadonlySet<string | null>,
  ): Promise<void> {
    const ids = statement.items
      .map(({ worksheetId }) => worksheetId)
      .filter((id): id is string => id !== null && !already.has(id))
    const own = new Set(
      (
        await tx.query<{ id: string }[]>(
          `SELECT w.id::text FROM worksheet w WHERE ${SEEN_BY_VIEWER} AND w.archived_at IS NULL AND w.id::text = ANY($3)`,
          [viewer.schoolId, viewer.personId, ids],
        )
      ).map(({ id }) => id),
    )
    const foreign = statement.items.findIndex(
      ({ worksheetId }) => worksheetId !== null && !already.has(worksheetId) && !own.has(worksheetId),
    )
    if (foreign >= 0)
      throw malformed([
        {
          code: 'worksheet-gone',
          field: `items.${foreign}.worksheetId`,
          sentence: 'This worksheet is not yours to give out, or no longer there: choose another.',
        },
      ])
  }

  private async find(manager: EntityManager, viewer: Viewer, id: string, lock = false): Promise<Handout> {
    const handout = await manager.findOne(Handout, {
      where: { schoolId: viewer.schoolId, id },
      ...(lock && { lock: { mode: 'pessimistic_write' as const } }),
    })
    if (!handout) throw notThere()
    return handout
  }
}

const changedMeanwhile = (handout: Handout) =>
  conflict(
    'changed-meanwhile',
    'This handout was changed in another window or by a colleague. Open it again to see the newer one; what you have here is not lost.',
    { version: handout.version },
  )
