import {
  type Change,
  type Plan,
  type PlanFacts,
  type Statement,
  changesByThemselves,
  proofOf,
  timesFor,
} from '@gavrin/core'
import { Logger } from '@nestjs/common'
import { randomUUID } from 'node:crypto'
import { type DataSource, type EntityManager, Any, IsNull } from 'typeorm'
import { isDatabaseAway } from '../common/problemDetails.js'
import type { DocLoader } from '../kept/docLoader.js'
import type { Events } from '../events/events.js'
import type { CoverNotes } from '../mail/coverNotes.service.js'
import { HandOutFailure, HandOutRun, type Handout } from '../slip/slip.entity.js'
import { findHandout } from '../slip/handoutSet.js'
import { carries, existingOf, planFacts } from '../slip/planFacts.js'
import { writeChanges } from './writeChanges.js'
import { inSchool } from '../database/inSchool.js'
import { Copy } from '../kept/kept.entity.js'
import { noteHandedOut, noteProgress } from './run.queries.js'

/** Changes made true in one transaction. */
const BATCH = 4_000
/** Changes made true in the very transaction that puts the run down: any class in one go. More are followed by their bar. */
const AT_ONCE = 1_000
const RETRY_AFTER = 2_000

/** A run that is put down; nothing of it holds until the transaction does. */
export interface Begun {
  readonly schoolId: string
  readonly runId: string
  /** What is to be done, as the proof had it, so that it need not be planned again. */
  readonly changes: readonly Change[]
  /** What it came to, if it was done along with it. */
  readonly step: Step | null
  /** Whether doing it along with it failed: then it is done copy by copy. */
  readonly oneByOne: boolean
}

/** What one batch came to. */
interface Step {
  readonly finished: boolean
  readonly handoutId?: string
  /** Copies that answers were carried into. */
  readonly written?: readonly string[]
  /** What is still to be done; nothing else changes copies of this handout meanwhile. */
  readonly left?: readonly Change[]
}

type AppliedRun = Pick<HandOutRun, 'id' | 'kind' | 'statement' | 'personId'>
/** A run with what is known of it: after a restart nothing is, and it is planned again. */
type ToDrive = Omit<Begun, 'changes'> & { readonly changes: readonly Change[] | null }

/** What is known already of what a run needs, and how it is written. */
interface Applying {
  readonly left: readonly Change[]
  readonly facts: PlanFacts | null
  readonly oneByOne: boolean
}

/** A run that is to be put down. */
export interface NewRun {
  readonly personId: string
  readonly kind: HandOutRun['kind']
  readonly statement: Statement
  /** What is to change, and the facts it was planned from. */
  readonly proof: { readonly changes: readonly Change[]; readonly facts: PlanFacts }
  /** Only these slots; null or left out: all. */
  readonly onlySlots?: string[] | null
  /** What an undo of it goes back to; left out: what was handed out before. */
  readonly before?: Statement | null
}

/** Puts hand-out runs down and drives them to their end, batch by batch, over failures and restarts. */
export class RunDriver {
  private readonly log = new Logger('hand-out')
  private readonly driven = new Map<string, Promise<void>>()
  private stopped = false

  constructor(
    private readonly source: DataSource,
    private readonly events: Events,
    private readonly notes: CoverNotes,
    private readonly loader: DocLoader,
  ) {}

  /** Takes up what a crash interrupted. */
  async takeUp(): Promise<void> {
    const unfinished = await this.source.manager.find(HandOutRun, {
      where: { finishedAt: IsNull() },
      select: { schoolId: true, id: true },
    })
    for (const { schoolId, id } of unfinished)
      void this.drive({ schoolId, runId: id, changes: null, step: null, oneByOne: false })
  }

  /** Ends after the batches that are being written. */
  async stop(): Promise<void> {
    this.stopped = true
    await this.settled()
  }

  /** Resolves when all runs of this process are done. */
  async settled(): Promise<void> {
    await Promise.allSettled(this.driven.values())
  }

  /** Whether one of these handouts is being handed out. */
  async isRunning(tx: EntityManager, handouts: readonly Handout[]): Promise<boolean> {
    return inSchool(tx, handouts[0]!.schoolId).exists(HandOutRun, {
      handoutId: Any(handouts.map(({ id }) => id)),
      finishedAt: null,
    })
  }

  /**
   * Puts a run down; from then on it is finished whatever happens. What is not much is done at once with it.
   */
  async begin(
    tx: EntityManager,
    handout: Handout,
    { personId, kind, statement, proof: { changes, facts }, onlySlots = null, before = handout.given }: NewRun,
  ): Promise<Begun> {
    const { schoolId } = handout
    const run = { id: randomUUID(), kind, statement, personId }
    await inSchool(tx, schoolId).insert(HandOutRun, {
      id: run.id,
      handoutId: handout.id,
      kind,
      statement,
      before,
      personId,
      total: changes.length,
      onlySlots,
    })
    const begun = { schoolId, runId: run.id, changes, step: null, oneByOne: false }
    if (changes.length > AT_ONCE) return begun
    try {
      const step = await tx.transaction((atOnce) =>
        this.apply(atOnce, handout, run, { left: changes, facts, oneByOne: false }),
      )
      return { ...begun, step }
    } catch (error) {
      if (isDatabaseAway(error)) throw error
      this.sayFailed(error)
      return { ...begun, oneByOne: true }
    }
  }

  /** Drives a run to its end; of one that is driven already, that one's end. */
  drive(begun: ToDrive): Promise<void> {
    const { runId } = begun
    const driven = this.driven.get(runId)
    if (driven) return driven
    const drive = this.driveToTheEnd(begun).finally(() => this.driven.delete(runId))
    this.driven.set(runId, drive)
    return drive
  }

  private async driveToTheEnd({ schoolId, runId, changes, step: first, oneByOne: failed }: ToDrive): Promise<void> {
    let known = changes
    let oneByOne = failed
    let done = first
    const written = new Set<string>()
    for (;;) {
      if (this.stopped) return
      try {
        const step =
          done ?? (await this.source.transaction((tx) => this.applyBatch(tx, schoolId, runId, known, oneByOne)))
        done = null
        known = step.left ?? null
        step.written?.forEach((id) => written.add(id))
        if (step.finished) {
          if (step.handoutId)
            await this.events.tell('handout changed', { schoolId, handoutId: step.handoutId, written: [...written] })
          return
        }
      } catch (error) {
        if (this.stopped) return
        known = null
        if (isDatabaseAway(error)) {
          await new Promise((resolve) => setTimeout(resolve, RETRY_AFTER).unref())
          continue
        }
        this.sayFailed(error)
        if (oneByOne) return
        oneByOne = true
      }
    }
  }

  private sayFailed(error: unknown): void {
    this.log.warn(`a batch failed and is tried copy by copy: ${error instanceof Error ? error.message : ''}`)
  }

  /** Applies the first changes that are left: those known from the proof, or, after an interruption, planned again. */
  private async applyBatch(
    tx: EntityManager,
    schoolId: string,
    runId: string,
    known: readonly Change[] | null,
    oneByOne: boolean,
  ): Promise<Step> {
    const run = await tx.findOneBy(HandOutRun, { schoolId, id: runId })
    if (!run || run.finishedAt) return { finished: true }
    const handout = await findHandout(tx, { schoolId }, run.handoutId, true)
    if (known) return this.apply(tx, handout, run, { left: known, facts: null, oneByOne })
    const { changes, facts } = await this.proof(tx, handout, run.statement)
    const own =
      run.kind === 'by itself' && !run.onlySlots
        ? changesByThemselves(changes, await existingOf(tx, schoolId, handout.id, false))
        : changes
    const failed = await inSchool(tx, schoolId).find(HandOutFailure, { runId }, { select: ['slotKey'] })
    const done = new Set(failed.map(({ slotKey }) => slotKey))
    const only = run.onlySlots && new Set(run.onlySlots)
    const left = own.filter(({ slotKey }) => !done.has(slotKey) && (!only || only.has(slotKey)))
    return this.apply(tx, handout, run, { left, facts, oneByOne })
  }

  private async apply(
    tx: EntityManager,
    handout: Handout,
    run: AppliedRun,
    { left, facts, oneByOne }: Applying,
  ): Promise<Step> {
    const { schoolId } = handout
    let noticed = facts
    const notices = {
      statement: run.statement,
      notes: this.notes,
      loader: this.loader,
      facts: async () => (noticed ??= await planFacts(tx, handout, run.statement)),
    }
    const batch = left.slice(0, oneByOne ? BATCH / 10 : BATCH)
    if (oneByOne) await this.applyOneByOne(tx, handout, run, batch, notices)
    else if (batch.length) await writeChanges(tx, handout, batch, run.personId, notices)
    const finished = batch.length === left.length
    const { opensAt, dueAt } = timesFor(run.statement, handout.classId)
    const gone = run.kind === 'undo' && run.statement.items.length === 0
    await noteHandedOut(tx, schoolId, {
      id: handout.id,
      opensAt: opensAt === null ? null : new Date(opensAt),
      dueAt: dueAt === null ? null : new Date(dueAt),
      given: gone ? null : JSON.stringify(run.statement),
      gone,
    })
    await noteProgress(tx, schoolId, { id: run.id, length: batch.length, finished })
    const carried = batch.filter(({ kind }) => kind === 'carry').map(({ slotKey }) => slotKey)
    const written = carried.length
      ? await inSchool(tx, schoolId).find(Copy, { handoutId: handout.id, slotKey: Any(carried) }, { select: ['id'] })
      : []
    return { finished, handoutId: handout.id, written: written.map(({ id }) => id), left: left.slice(batch.length) }
  }

  /** One slot after the other, so that one that cannot be written is said to have failed and all others are done. */
  private async applyOneByOne(
    tx: EntityManager,
    handout: Handout,
    run: AppliedRun,
    batch: readonly Change[],
    notices: Parameters<typeof writeChanges>[4],
  ): Promise<void> {
    const bySlot = new Map<string, Change[]>()
    for (const change of batch) bySlot.set(change.slotKey, [...(bySlot.get(change.slotKey) ?? []), change])
    for (const [slotKey, changes] of bySlot) {
      try {
        await tx.transaction((slot) => writeChanges(slot, handout, changes, run.personId, notices))
      } catch (error) {
        if (isDatabaseAway(error)) throw error
        await inSchool(tx, handout.schoolId).put(
          HandOutFailure,
          { runId: run.id, slotKey, reason: failureSentence(error) },
          ['reason'],
        )
        this.log.error(error instanceof Error ? (error.stack ?? error.message) : String(error))
      }
    }
  }

  /** What a statement means and would change now. */
  async proof(
    tx: EntityManager,
    handout: Handout,
    statement: Statement,
  ): Promise<{ plan: Plan; changes: Change[]; facts: PlanFacts }> {
    const facts = await planFacts(tx, handout, statement)
    const existing = await existingOf(tx, handout.schoolId, handout.id, carries(statement))
    const { parts } = proofOf(statement, facts.worksheets, [{ classId: handout.classId, facts, existing }], Date.now())
    return { ...parts[0]!, facts }
  }
}

/** What a teacher is told of a row that failed; the log has the rest. */
function failureSentence(error: unknown): string {
  const code = (error as { driverError?: { code?: string } }).driverError?.code
  if (code === '23503')
    return 'Something it needs is gone: the worksheet, or a person. Look at the slip, then try again.'
  return 'It could not be written. Try again; if it fails again, tell the office.'
}
