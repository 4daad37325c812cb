import {
  type Change,
  type Exception,
  type Existing,
  type Permission,
  type PlanFacts,
  type Renaming,
  type Statement,
  type UndoProof,
  type Viewer,
  changesByThemselves,
  countChanges,
  fingerprintChanges,
  isSame,
  planStops,
  renamed,
  slipsAfterUndo,
  standingStops,
  timesFor,
  withDueFor,
  withDueForJoiners,
  withGivenTo,
  withOwnDue,
  withNewest,
  withSingle,
  withTakenBack,
} from '@gavrin/core'
import { Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, type EntityManager, Any } from 'typeorm'
import { conflict, malformed } from '../common/problemDetails.js'
import { DocLoader } from '../kept/docLoader.js'
import { Events } from '../events/events.js'
import { CoverNotes } from '../mail/coverNotes.service.js'
import { holdInClass } from '../access/classRole.js'
import { ClassLooks } from './classLooks.js'
import { HandOutFailure, Handout } from '../slip/slip.entity.js'
import { changedMeanwhile, findHandout, handoutsOfSet, holdSet, lockSet, writeStatement } from '../slip/handoutSet.js'
import { existingOf } from '../slip/planFacts.js'
import { type Begun, RunDriver } from './runDriver.js'
import { type Undone, lastRuns, lastUndoable, proveUndo } from './undoing.js'
import { inSchool } from '../database/inSchool.js'
import { Copy, CopyHolder } from '../kept/kept.entity.js'
import { ClassMember } from '../access/access.entity.js'
import { lastRunOfEach, failedInLast, putOffFailures, handoutsForJoiners, newestEditions } from './run.queries.js'

/** How far a hand-out is, in all classes together. */
export interface RunSoFar {
  readonly total: number
  readonly done: number
  readonly finished: boolean
  readonly failures: readonly { readonly slotKey: string; readonly reason: string }[]
}

/** Which of the changes to what was handed out. */
type PickSome = (changes: readonly Change[], facts: PlanFacts, existing: Existing) => readonly Change[]

/** What becomes of a statement for some copies, which of the changes that follow are meant, and what to say where there are none. */
interface Alteration {
  readonly alter: (statement: Statement) => Statement
  readonly isMeant: (change: Change) => boolean
  readonly nothing: string
}
type How = (tx: EntityManager, handout: Handout, all: readonly Handout[]) => Promise<Alteration>

/** What copies are to have of their own. */
export interface SingleWish {
  readonly copyIds: readonly string[]
  readonly renaming?: Renaming | undefined
  /** Null: as the slip says. */
  readonly may?: Permission | null | undefined
  readonly newest?: boolean | undefined
}

/** What would become of them. */
export interface SingleProof {
  readonly renamed: readonly { readonly from: string; readonly to: string }[]
  /** In how many copies people may something else. */
  readonly permitted: number
  readonly moved: readonly {
    readonly title: string
    readonly slotKey: string
    readonly worksheetId: string | null
    readonly from: number
    readonly to: number
  }[]
}

/**
 * Hand-outs: every alteration of copies by a handout goes through here (handing out, mending, late joiners, taking back,
 * undoing). A run is put down before anything is changed, and is finished whatever happens to the process.
 */
@Injectable()
export class HandOutRuns implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly driver: RunDriver
  private readonly looks: ClassLooks
  private stopped = false

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    events: Events,
    notes: CoverNotes,
    loader: DocLoader,
  ) {
    this.driver = new RunDriver(source, events, notes, loader)
    this.looks = new ClassLooks(source, (schoolId, classId) => this.joiners(schoolId, classId))
    events.on('members changed', ({ schoolId, classId }) => this.looks.tell(schoolId, classId))
    events.on('class changed', ({ schoolId, classId, part }) => {
      if (part !== 'join page' && part !== 'marks') this.looks.tell(schoolId, classId)
    })
  }

  /** What a crash interrupted is finished, and whoever joined meanwhile gets theirs. */
  async onApplicationBootstrap(): Promise<void> {
    await this.driver.takeUp()
    await this.looks.start()
  }

  async onApplicationShutdown(): Promise<void> {
    this.stopped = true
    // Told first: what is being looked at may wait for a run that waits for the database.
    const stopped = this.driver.stop()
    await this.looks.stop()
    await stopped
  }

  /**
   * Makes the proof true, in all classes of the handout. What is handed out is what the teacher saw: if a class, a worksheet
   * or the handout changed since, nothing happens and the answer says so.
   */
  async handOut(viewer: Viewer, handoutId: string, seen: { version: number; fingerprint: string }) {
    const begun = await this.source.transaction(async (tx): Promise<Begun[] | null> => {
      const all = await holdSet(tx, viewer, handoutId, 'hand out')
      if (await this.driver.isRunning(tx, all)) return null
      const handout = all.find(({ id }) => id === handoutId)!
      if (handout.version !== seen.version) throw changedMeanwhile(handout)
      const proofs = []
      for (const part of all) proofs.push(await this.driver.proof(tx, part, part.statement))
      const stops = proofs.flatMap(({ plan }) => plan.findings.filter(({ stops: stop }) => stop))
      if (stops.length) throw malformed(stops.map(({ code, sentence }) => ({ code, sentence, field: 'statement' })))
      const changes = proofs.flatMap((proof) => proof.changes)
      if (changes.length === 0 && all.every(({ handedOutAt }) => handedOutAt !== null)) {
        // Only what is no copy's was changed: instructions, marking, the cover note for those who come later.
        if (all.some((part) => !isSame(part.given, part.statement))) {
          const begunNow = []
          for (const [at, part] of all.entries())
            begunNow.push(
              await this.driver.begin(tx, part, {
                personId: viewer.personId,
                kind: 'hand out',
                statement: part.statement,
                proof: { ...proofs[at]!, changes: [] },
              }),
            )
          return begunNow
        }
        throw conflict('nothing-to-do', 'All of this is handed out already: there is nothing left to do.')
      }
      if (fingerprintChanges(changes) !== seen.fingerprint)
        throw conflict(
          'proof-changed',
          'The class or the worksheet changed since you looked: here is the proof as it is now. Look at it, then hand out.',
          { counts: countChanges(changes) },
        )
      const made: Begun[] = []
      for (const [at, part] of all.entries())
        made.push(
          await this.driver.begin(tx, part, {
            personId: viewer.personId,
            kind: 'hand out',
            statement: part.statement,
            proof: proofs[at]!,
          }),
        )
      return made
    })
    return this.followed(viewer, handoutId, begun ?? [])
  }

  /** What an undo would do, before it is done. */
  async undoProof(viewer: Viewer, handoutId: string): Promise<UndoProof> {
    return this.source.transaction(async (tx) => {
      const { all } = await lockSet(tx, viewer, handoutId)
      for (const { classId } of all) await holdInClass(tx, viewer, classId, 'hand out')
      return proveUndo(tx, this.driver, await this.toUndo(tx, all))
    })
  }

  /**
   * Goes back to what was handed out before the last hand-out; what was made by it is set aside. An undo can be undone itself.
   * @param fingerprint of what its proof showed
   */
  async undo(viewer: Viewer, handoutId: string, fingerprint: string) {
    const begun = await this.source.transaction(async (tx): Promise<Begun[]> => {
      const all = await holdSet(tx, viewer, handoutId, 'hand out')
      const undone = await this.toUndo(tx, all)
      const made: Begun[] = []
      const proofs = []
      for (const one of undone) proofs.push(await this.driver.proof(tx, one.part, one.target))
      if (fingerprintChanges(proofs.flatMap(({ changes }) => changes)) !== fingerprint)
        throw conflict(
          'proof-changed',
          'Something changed since you looked: here is what an undo would do now. Look at it, then undo.',
        )
      const after = slipsAfterUndo(
        all.map(({ id, statement, given }) => ({
          statement,
          given,
          target: undone.find((one) => one.part.id === id)?.target ?? null,
        })),
      )
      for (const [at, part] of all.entries()) {
        const { statement, given } = after[at]!
        // All classes of a handout have one version.
        await writeStatement(tx, { ...part, version: part.version + 1 }, statement)
        if (given !== part.given) await inSchool(tx, part.schoolId).update(Handout, { id: part.id }, { given })
      }
      for (const [at, { part, target }] of undone.entries())
        made.push(
          await this.driver.begin(tx, part, {
            personId: viewer.personId,
            kind: 'undo',
            statement: target,
            proof: proofs[at]!,
          }),
        )
      return made
    })
    return this.followed(viewer, handoutId, begun)
  }

  private async toUndo(tx: EntityManager, all: readonly Handout[]): Promise<Undone[]> {
    if (await this.driver.isRunning(tx, all)) throw running()
    const undone = await lastUndoable(tx, all)
    if (undone.length === 0) throw conflict('nothing-to-undo', 'There is no hand-out to take back.')
    return undone
  }

  /** Takes single copies back, or gives them again; the rest of the handout stays as it was handed out. */
  async takeBack(viewer: Viewer, handoutId: string, slotKeys: readonly string[], back: boolean) {
    return this.alterSome(viewer, handoutId, async (tx, handout) => {
      const own = await inSchool(tx, handout.schoolId).find(
        Copy,
        { handoutId: handout.id, slotKey: Any(slotKeys) },
        { select: ['slotKey'] },
      )
      const chosen = new Set(own.map(({ slotKey }) => slotKey))
      return {
        alter: (statement) => withTakenBack(statement, chosen, handout.classId, back),
        isMeant: ({ slotKey }) => chosen.has(slotKey),
        nothing: back ? 'These copies are given out already.' : 'These copies are taken back already.',
      }
    })
  }

  /** Gives copies to single students of the class who have none; the rest of the handout stays as it was handed out. */
  async giveTo(viewer: Viewer, handoutId: string, personIds: readonly string[]) {
    return this.alterSome(viewer, handoutId, async (tx, handout) => {
      const students = await inSchool(tx, handout.schoolId).find(
        ClassMember,
        { classId: handout.classId, role: 'student', leftAt: null, personId: Any(personIds) },
        { select: ['personId'] },
      )
      const people = new Set(students.map(({ personId }) => personId))
      return {
        alter: (statement) => withGivenTo(statement, [...people], handout.classId),
        isMeant: (change) =>
          (change.kind === 'create' && change.copy.holders.some(({ personId }) => people.has(personId))) ||
          (change.kind === 'notify' && people.has(change.notice.about)),
        nothing:
          'Nobody of them gets a copy by this: the slip chooses its students by a column or by groups. Edit the slip to give them one.',
      }
    })
  }

  /** Gives those who hold these copies another due time; the rest of the handout stays as it was handed out. */
  async dueFor(viewer: Viewer, handoutId: string, copyIds: readonly string[], dueAt: number) {
    return this.alterSome(viewer, handoutId, async (tx, handout) => {
      const school = inSchool(tx, handout.schoolId)
      const all = await school.find(Copy, { handoutId: handout.id }, { select: ['id', 'slotKey'] })
      const chosen = new Set(copyIds)
      const ofChosen = all.flatMap(({ id }) => (chosen.has(id) ? [id] : []))
      const holders = await school.find(CopyHolder, { copyId: Any(ofChosen) }, { select: ['personId'] })
      const people = [...new Set(holders.map(({ personId }) => personId))]
      // A due time is a person's: it holds for all that they have of this handout.
      const held = await school.find(CopyHolder, { personId: Any(people) }, { select: ['copyId'] })
      const theirs = new Set(held.map(({ copyId }) => copyId))
      const slots = new Set(all.flatMap(({ id, slotKey }) => (theirs.has(id) ? [slotKey] : [])))
      return {
        alter: (statement) => withDueFor(statement, people, dueAt),
        isMeant: ({ kind, slotKey }) => kind === 'date' && slots.has(slotKey),
        nothing: 'No copy is due at another time by this.',
      }
    })
  }

  /**
   * Gives copies something of their own: another name, another permission, the newest edition of their worksheet. The rest of the
   * handout stays as it was handed out.
   */
  async singleFor(viewer: Viewer, handoutId: string, wish: SingleWish) {
    return this.alterSome(viewer, handoutId, (tx, handout, all) => this.single(tx, handout, all, wish))
  }

  /** What that would do, before it is done. */
  async singleProof(viewer: Viewer, handoutId: string, wish: SingleWish): Promise<SingleProof> {
    return this.source.transaction(async (tx) => {
      const { handout, only } = await this.planSome(tx, viewer, handoutId, (_, own, all) =>
        this.single(tx, own, all, wish),
      )
      const copies = await inSchool(tx, handout.schoolId).find(
        Copy,
        { handoutId: handout.id },
        { select: ['slotKey', 'title', 'edition'] },
      )
      const bySlot = new Map(copies.map((copy) => [copy.slotKey, copy]))
      return {
        renamed: only.flatMap((change) =>
          change.kind === 'rename' ? [{ from: bySlot.get(change.slotKey)?.title ?? '', to: change.title }] : [],
        ),
        permitted: only.filter(({ kind }) => kind === 'permit').length,
        moved: only.flatMap((change) =>
          change.kind === 'move'
            ? [
                {
                  title: bySlot.get(change.slotKey)?.title ?? '',
                  slotKey: change.slotKey,
                  worksheetId: change.worksheetId,
                  from: bySlot.get(change.slotKey)?.edition ?? 0,
                  to: change.edition,
                },
              ]
            : [],
        ),
      }
    })
  }

  private async single(
    tx: EntityManager,
    handout: Handout,
    all: readonly Handout[],
    { copyIds, renaming, may, newest }: SingleWish,
  ): Promise<Alteration> {
    const school = inSchool(tx, handout.schoolId)
    const copies = await school.find(
      Copy,
      { handoutId: Any(all.map(({ id }) => id)) },
      { select: ['id', 'handoutId', 'slotKey', 'title', 'edition', 'worksheetId', 'setAside'] },
    )
    const ids = new Set(copyIds)
    const chosen = copies.filter(({ id, handoutId, setAside }) => ids.has(id) && handoutId === handout.id && !setAside)
    const slots = new Set(chosen.map(({ slotKey }) => slotKey))
    const changes = new Map(
      chosen.map(({ slotKey, title }) => [
        slotKey,
        { ...(renaming && { called: renamed(title, renaming) }), ...(may !== undefined && { may }) },
      ]),
    )
    if (renaming)
      holdNames(
        copies.filter(({ handoutId }) => handoutId === handout.id),
        slots,
        changes,
      )
    const editions = newest
      ? new Map(
          (await newestEditions(tx, handout.schoolId, [...new Set(chosen.map(({ worksheetId }) => worksheetId))])).map(
            ({ worksheetId, number }) => [worksheetId, number],
          ),
        )
      : null
    const kinds = [
      ...(renaming ? ['rename'] : []),
      ...(may !== undefined ? ['permit'] : []),
      ...(newest ? ['move'] : []),
    ]
    return {
      alter: (statement) => {
        const named = withSingle(statement, changes, handout.classId)
        return editions ? withNewest(named, slots, copies, (id) => editions.get(id)) : named
      },
      // A number behind another name comes and goes with what is called alike.
      isMeant: ({ kind, slotKey }) =>
        kinds.includes(kind) && slots.size > 0 && (kind === 'rename' || slots.has(slotKey)),
      nothing: newest
        ? 'These copies are on the newest edition already.'
        : 'These copies are so already: there is nothing to change.',
    }
  }

  /**
   * Alters what was handed out for some copies alone: what else differs from what is there stays as it is.
   * @param how what becomes of a statement, which of the changes that follow are meant, and what to say where there are none
   */
  private async alterSome(viewer: Viewer, handoutId: string, how: How): Promise<RunSoFar> {
    const begun = await this.source.transaction(async (tx): Promise<Begun[]> => {
      const { handout, all, alter, given, facts, only } = await this.planSome(tx, viewer, handoutId, how)
      for (const part of all) {
        await writeStatement(tx, { ...part, version: part.version + 1 }, alter(part.statement))
        // In the other classes nothing changes by it: their slips are not edited.
        if (part.given && part.id !== handout.id)
          await inSchool(tx, part.schoolId).update(Handout, { id: part.id }, { given: alter(part.given) })
      }
      return [
        await this.driver.begin(tx, handout, {
          personId: viewer.personId,
          kind: 'hand out',
          statement: given,
          proof: { changes: only, facts },
          onlySlots: [...new Set(only.map(({ slotKey }) => slotKey))],
        }),
      ]
    })
    return this.followed(viewer, handoutId, begun)
  }

  private async planSome(tx: EntityManager, viewer: Viewer, handoutId: string, how: How) {
    const { handout, all } = await lockSet(tx, viewer, handoutId)
    await holdInClass(tx, viewer, handout.classId, 'hand out')
    if (await this.driver.isRunning(tx, all)) throw running()
    if (!handout.given) throw conflict('not-handed-out', 'Nothing of this handout is handed out.')
    const { alter, isMeant, nothing } = await how(tx, handout, all)
    const given = alter(handout.given)
    const { changes, facts } = await this.driver.proof(tx, handout, given)
    const only = changes.filter(isMeant)
    if (only.length === 0) throw conflict('nothing-to-do', nothing)
    return { handout, all, alter, given, facts, only }
  }

  /** Hands out a statement that is nobody's slip to look at first: the shelf. In an empty class it waits for who comes in. */
  async apply(tx: EntityManager, handout: Handout, personId: string, statement: Statement): Promise<Begun | null> {
    if (await this.driver.isRunning(tx, [handout])) throw running()
    const proof = await this.driver.proof(tx, handout, statement)
    if (standingStops(proof.plan)) return null
    return this.driver.begin(tx, handout, { personId, kind: 'hand out', statement, proof })
  }

  /**
   * Makes some of what was handed out true by itself: nothing else of it changes. Waits for a run that is under way, and then for
   * what it begins, or a few seconds.
   * @param pick which of the changes there are
   */
  async applySome(schoolId: string, handoutId: string, personId: string, pick: PickSome): Promise<void> {
    for (let tries = 0; tries < 20; tries++) {
      const begun = await this.source.transaction(async (tx) => {
        const handout = await findHandout(tx, { schoolId }, handoutId, true)
        return handout.given ? this.beginSome(tx, handout, personId, handout.given, pick) : 'done'
      })
      if (begun === 'done') return
      if (begun !== 'running') return this.follow([begun], 5_000)
      await this.settled()
    }
  }

  private async beginSome(
    tx: EntityManager,
    handout: Handout,
    personId: string,
    given: Statement,
    pick: PickSome,
  ): Promise<Begun | 'done' | 'running'> {
    if (await this.driver.isRunning(tx, [handout])) return 'running'
    const { changes, facts } = await this.driver.proof(tx, handout, given)
    const some = pick(changes, facts, await existingOf(tx, handout.schoolId, handout.id, false))
    if (some.length === 0) return 'done'
    return this.driver.begin(tx, handout, {
      personId,
      kind: 'by itself',
      statement: given,
      proof: { changes: some, facts },
      onlySlots: some.map(({ slotKey }) => slotKey),
    })
  }

  /** Resolves when all runs of this process are done. */
  async settled(): Promise<void> {
    await this.looks.settled()
    await this.driver.settled()
  }

  /** Resolves when runs are done, or after a moment: larger ones are followed by their bar. */
  async follow(begun: readonly Begun[], wait = 250): Promise<void> {
    const finished = Promise.all(begun.map((one) => this.driver.drive(one)))
    await Promise.race([finished, new Promise((resolve) => setTimeout(resolve, wait).unref())])
  }

  /** How far these runs are after a moment; what was done at once need not be read again. */
  private async followed(viewer: Viewer, handoutId: string, begun: readonly Begun[]): Promise<RunSoFar> {
    await this.follow(begun)
    const total = begun.reduce((sum, { changes }) => sum + changes.length, 0)
    return begun.length > 0 && begun.every(({ step }) => step?.finished)
      ? { total, done: total, finished: true, failures: [] }
      : this.run(viewer, handoutId)
  }

  /** How far the latest hand-out is, in all classes together, and what of it failed. */
  async run(viewer: Viewer, handoutId: string): Promise<RunSoFar> {
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'see handouts')
    const all = await handoutsOfSet(this.source.manager, handout)
    const runs = await lastRunOfEach(
      this.source,
      viewer.schoolId,
      all.map(({ id }) => id),
    )
    const failures = await inSchool(this.source, viewer.schoolId).find(
      HandOutFailure,
      { runId: Any(runs.map(({ id }) => id)) },
      { select: ['slotKey', 'reason'], order: { slotKey: 'ASC' } },
    )
    return {
      total: runs.reduce((sum, { total }) => sum + total, 0),
      done: runs.reduce((sum, { done }) => sum + done, 0),
      finished: runs.every(({ finished }) => finished),
      failures,
    }
  }

  /** Tries again what failed in the latest hand-out: these slots alone, or all that failed. */
  async retry(viewer: Viewer, handoutId: string, slotKeys: readonly string[] | null) {
    const begun = await this.source.transaction(async (tx): Promise<Begun[]> => {
      const all = await holdSet(tx, viewer, handoutId, 'hand out')
      if (await this.driver.isRunning(tx, all)) return []
      const made: Begun[] = []
      for (const part of all) {
        if (!part.given) continue
        const { changes, facts } = await this.driver.proof(tx, part, part.given)
        const [last] = await lastRuns(tx, [part])
        const failed = new Set((await failedInLast(tx, part.schoolId, part.id)).map(({ slot_key }) => slot_key))
        const again = changes.filter(({ slotKey }) => failed.has(slotKey) && (!slotKeys || slotKeys.includes(slotKey)))
        const left = [...failed].filter((slot) => slotKeys && !slotKeys.includes(slot))
        if (again.length === 0) continue
        const begunOne = await this.driver.begin(tx, part, {
          personId: viewer.personId,
          kind: 'hand out',
          statement: part.given,
          proof: { changes: again, facts },
          onlySlots: [...failed],
          // It is the rest of the hand-out that failed: undone, that is.
          before: last?.before ?? null,
        })
        // What was not tried again is still said to have failed.
        await putOffFailures(tx, part.schoolId, begunOne.runId, left)
        made.push(begunOne)
      }
      return made
    })
    await this.follow(begun)
    return this.run(viewer, handoutId)
  }

  /**
   * Late joiners of a class get theirs where the handout says so.
   * @returns false when a handout is being handed out at the moment: it must be looked at again
   */
  private async joiners(schoolId: string, classId: string): Promise<boolean> {
    const handouts = await handoutsForJoiners(this.source, schoolId, classId)
    let all = true
    for (const { id } of handouts) {
      if (this.stopped) return false
      const begun = await this.source.transaction(async (tx): Promise<Begun | null> => {
        const { handout, all: set } = await lockSet(tx, { schoolId }, id)
        if (!handout.given) return null
        if (await this.driver.isRunning(tx, [handout])) {
          all = false
          return null
        }
        const existing = await existingOf(tx, schoolId, id, false)
        const ownOf = async (statement: Statement) => {
          const { plan, changes, facts } = await this.driver.proof(tx, handout, statement)
          return { stops: planStops(plan), changes: changesByThemselves(changes, existing), facts }
        }
        let statement = handout.given
        let own = await ownOf(statement)
        if (own.stops || own.changes.length === 0) return null
        // Nobody gets a copy that is overdue before they saw it.
        const from = timesFor(statement, handout.classId).opensAt ?? handout.handedOutAt ?? 0
        const later = withDueForJoiners(statement, own.changes, from, Date.now(), own.facts.timeZone)
        if (later) {
          await this.giveOwnDue(tx, set, later.exceptions)
          statement = later
          own = await ownOf(statement)
        }
        return this.driver.begin(tx, handout, { personId: handout.createdBy, kind: 'by itself', statement, proof: own })
      })
      if (begun) await this.driver.drive(begun)
    }
    return all
  }

  /** Puts due times of their own into the slip, so that it says what is true; whoever has it open is told as of any change. */
  private async giveOwnDue(
    tx: EntityManager,
    set: readonly Handout[],
    exceptions: readonly Exception[],
  ): Promise<void> {
    for (const part of set) {
      await inSchool(tx, part.schoolId).update(
        Handout,
        { id: part.id },
        { statement: withOwnDue(part.statement, exceptions), version: () => 'version + 1', updatedAt: () => 'now()' },
      )
    }
  }
}

const running = () =>
  conflict('running', 'This is being handed out at the moment: wait until it is done, then try again.')

/** No copy is called by this what another is called: a number behind it would be nobody's wish. */
function holdNames(
  copies: readonly Pick<Copy, 'slotKey' | 'title' | 'setAside'>[],
  slots: ReadonlySet<string>,
  changes: ReadonlyMap<string, { readonly called?: string | null }>,
): void {
  const taken = new Set(
    copies.filter(({ slotKey, setAside }) => !setAside && !slots.has(slotKey)).map(({ title }) => title.toLowerCase()),
  )
  for (const { called } of changes.values()) {
    if (called === null || called === undefined) continue
    const field = 'renaming.text'
    if (!called) throw malformed([{ code: 'no-title', field, sentence: 'Type what they are called.' }])
    if (taken.has(called.toLowerCase()))
      throw malformed([
        { code: 'same-title', field, sentence: `Two copies would be called “${called}”: say what tells them apart.` },
      ])
    taken.add(called.toLowerCase())
  }
}
