import {
  type PensChange,
  type PensPlan,
  type PensUndo,
  type PensWish,
  type Viewer,
  fullName,
  planPens,
  planPensUndo,
} from '@gavrin/core'
import { type BeforeApplicationShutdown, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { Any, DataSource, type EntityManager } from 'typeorm'
import { holdInClass } from '../access/classRole.js'
import { conflict, isDatabaseAway, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { Events } from '../events/events.js'
import { Copy } from '../kept/kept.entity.js'
import { Pens } from '../kept/pens.js'
import { findHandout } from '../slip/handoutSet.js'
import { PensAct } from './pens.entity.js'
import { enterPensThatWentDown, heldPens, movePens, pensActs } from './pens.queries.js'

/** How many acts a log shows. */
const ACTS_SHOWN = 100
/** How often it is looked whether pens have gone down by themselves, in milliseconds. Every change is judged by the clock in any case. */
const CLOCK = 1_000

/** Pens down and up: in copies of a handout, now or in some minutes, logged and undone. */
@Injectable()
export class PensService implements OnApplicationBootstrap, BeforeApplicationShutdown {
  private readonly logger = new Logger('pens')
  private clock: NodeJS.Timeout | null = null
  private entering: Promise<unknown> | null = null

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly pens: Pens,
    private readonly events: Events,
  ) {}

  onApplicationBootstrap(): void {
    this.clock = setInterval(() => void this.enter(), CLOCK)
    this.clock.unref()
  }

  async beforeApplicationShutdown(): Promise<void> {
    if (this.clock) clearInterval(this.clock)
    await this.entering
  }

  /** What was done with the pens of a handout, the newest first. */
  async log(viewer: Viewer, handoutId: string) {
    await this.held(this.source.manager, viewer, handoutId)
    const rows = await pensActs(this.source, viewer.schoolId, handoutId, ACTS_SHOWN)
    return rows.map(({ first, last, undoneFirst, undoneLast, ...act }) => ({
      ...act,
      by: fullName({ first, last }),
      undoneBy: undoneLast === null ? null : fullName({ first: undoneFirst ?? '', last: undoneLast }),
    }))
  }

  /** Stops the pens of copies, or lets them go on; what it does is what {@link planPens} says by the server's clock. */
  async move(
    viewer: Viewer,
    handoutId: string,
    copyIds: readonly string[],
    wish: PensWish,
  ): Promise<{ id: string | null } & PensPlan> {
    await this.held(this.source.manager, viewer, handoutId)
    // Only pens of this handout are held still, whoever else's copies are named.
    const school = inSchool(this.source, viewer.schoolId)
    const own = await school.find(Copy, { handoutId, id: Any(copyIds) }, { select: ['id'] })
    const ids = own.map(({ id }) => id)
    return this.act(viewer.schoolId, handoutId, ids, async (tx) => {
      await this.held(tx, viewer, handoutId)
      const copies = await heldPens(tx, viewer.schoolId, handoutId, ids)
      const at = Date.now()
      const plan = planPens(copies, wish, at)
      if (plan.changes.length === 0) return { id: null, ...plan }
      await movePens(tx, viewer.schoolId, plan.changes, { personId: viewer.personId, at })
      const id = randomUUID()
      await inSchool(tx, viewer.schoolId).insert(PensAct, {
        ...{ id, handoutId, personId: viewer.personId, at, act: wish.act },
        minutes: wish.act === 'down later' ? wish.minutes : null,
        changes: [...plan.changes],
      })
      return { id, ...plan }
    })
  }

  /** Undoes an act: each copy is as it was before it, where nobody has moved its pens since. */
  async undo(viewer: Viewer, handoutId: string, actId: string): Promise<PensUndo> {
    const known = await this.actOf(this.source.manager, viewer, handoutId, actId)
    const copyIds = known.changes.map(({ copyId }) => copyId)
    return this.act(viewer.schoolId, handoutId, copyIds, async (tx) => {
      const done = await this.actOf(tx, viewer, handoutId, actId)
      if (done.undoneAt !== null) throw conflict('undone', 'This is undone already.')
      const copies = await heldPens(tx, viewer.schoolId, handoutId, copyIds)
      const at = Date.now()
      const undo = planPensUndo(done.changes, copies, at)
      if (undo.changes.length > 0) await movePens(tx, viewer.schoolId, undo.changes, { personId: viewer.personId, at })
      await inSchool(tx, viewer.schoolId).update(PensAct, { id: actId }, { undoneAt: at, undoneBy: viewer.personId })
      return undo
    })
  }

  /** With all pens of these copies held still; who has one of them open, or the board, is told when this resolves. */
  private async act<T extends { readonly changes: readonly PensChange[] }>(
    schoolId: string,
    handoutId: string,
    copyIds: readonly string[],
    work: (tx: EntityManager) => Promise<T>,
  ): Promise<T> {
    const { done } = await this.pens.holdAllStill(schoolId, copyIds, async () => {
      const done = await this.source.transaction(work)
      return { done, pens: new Map(done.changes.map(({ copyId, after }) => [copyId, after])) }
    })
    if (done.changes.length > 0)
      await this.events.tell('pens moved', { schoolId, handoutId, copyIds: done.changes.map(({ copyId }) => copyId) })
    return done
  }

  private async held(tx: EntityManager, viewer: Viewer, handoutId: string): Promise<void> {
    const { classId } = await findHandout(tx, viewer, handoutId)
    await holdInClass(tx, viewer, classId, 'hand out')
  }

  private async actOf(tx: EntityManager, viewer: Viewer, handoutId: string, id: string): Promise<PensAct> {
    await this.held(tx, viewer, handoutId)
    const [act] = await inSchool(tx, viewer.schoolId).find(
      PensAct,
      { id, handoutId },
      { lock: tx !== this.source.manager },
    )
    if (!act) throw notThere()
    return act
  }

  /** Enters into the journals that pens have gone down by themselves. */
  private async enter(): Promise<void> {
    if (this.entering) return
    this.entering = enterPensThatWentDown(this.source)
      .catch((error: unknown) => {
        if (!isDatabaseAway(error)) this.logger.error(error instanceof Error ? error.stack : String(error))
      })
      .finally(() => (this.entering = null))
    await this.entering
  }
}
