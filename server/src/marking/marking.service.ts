import {
  type MarkChange,
  type MarkMoved,
  type MarkParts,
  type MarkedSo,
  type Reading,
  type Viewer,
  NO_PARTS,
  changeParts,
  checkChange,
  checkMarking,
  fullName,
  isComplete,
  markOf,
  marksMoved,
  mayInClass,
  mayReadAgain,
  memberParts,
  readMarkChanges,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { Any, DataSource } from 'typeorm'
import { classRole, helpedBy, holdInClass } from '../access/classRole.js'
import { valueOf } from '../common/checked.js'
import { ProblemException, conflict, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { Events } from '../events/events.js'
import { ALL_HOLDERS } from '../kept/mark.entity.js'
import { backOf } from '../kept/mark.queries.js'
import { findHandout, handoutsOfSet } from '../slip/handoutSet.js'
import type { Handout } from '../slip/slip.entity.js'
import { Edition } from '../worksheet/worksheet.entity.js'
import {
  type CopyThen,
  type MarkedCopy,
  countedBy,
  markedCopies,
  reckonAnew,
  reckoned,
  wayFingerprint,
  wayOf,
} from './facts.js'
import { SecondReading } from './marking.entity.js'
import { type MarkToKeep, enterMarked, holdCopies, keepMarks, readingsOf, touchMark } from './marking.queries.js'

/** How copies would be marked, and what they would be of: what is left out stays as it is. */
export interface OtherWay {
  /** As in a slip. */
  readonly marking?: object | undefined
  readonly rubric?: readonly object[] | undefined
  readonly lateDeduction?: object | null | undefined
  readonly copies: readonly CopyWished[]
}
export interface CopyWished extends CopyThen {
  readonly slotKey: string
}

/** What is to become of the mark of a copy, or of what in it is one holder's alone. */
export interface MarkWish {
  readonly copyId: string
  /** Null: of all who hold it. */
  readonly personId: string | null
  readonly changes: readonly unknown[]
  /** The marking of the copy is done, or not; left out: as it is. */
  readonly done?: boolean | undefined
}

/** Marks of copies: parts that are changed one by one, and what they come to. */
@Injectable()
export class MarkingService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  /** The copies of a handout with their marks, and how they are marked. */
  async page(viewer: Viewer, handoutId: string) {
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    const role = await holdInClass(this.source, viewer, handout.classId, 'see marks')
    const { archived, helpersMark } = await classRole(this.source, viewer, handout.classId)
    const students = await helpedBy(this.source, viewer, handout.classId, role)
    const all = await markedCopies(this.source, handout, null)
    await reckonAnew(this.source, handout, all)
    const copies = students ? all.filter(({ holders }) => holders.some(({ personId }) => students.has(personId))) : all
    const back = await backOf(
      this.source,
      viewer.schoolId,
      copies.map(({ copyId }) => copyId),
    )
    const readings = await readingsOf(
      this.source,
      viewer.schoolId,
      copies.map(({ copyId }) => copyId),
    )
    return {
      way: wayOf(handout),
      mayMark: mayInClass(role, 'mark', archived, helpersMark).may,
      mayHandBack: mayInClass(role, 'hand back', archived).may,
      copies: copies.map((copy) => ({
        ...marked(copy),
        // Of a group whoever helps one of it sees what is the group's and theirs.
        own: Object.fromEntries(Object.entries(copy.own).filter(([id]) => !students || students.has(id))),
        back: back
          .filter(({ copyId, personId }) => copyId === copy.copyId && (!students || students.has(personId)))
          .map(({ personId, at, lookedAt }) => ({ personId, at, lookedAt })),
        /** What those who read it a second time would give it, with the mark as it was then. */
        readings: readings.flatMap(({ copyId, ...reading }) => (copyId === copy.copyId ? [reading] : [])),
      })),
    }
  }

  /**
   * What marking copies in another way, or moving them to another edition or due time, would do to the marks that were given, in all
   * classes of a handout that somebody hands out in. Nothing is changed.
   */
  async otherWay(viewer: Viewer, handoutId: string, { marking, rubric, lateDeduction, copies: wished }: OtherWay) {
    const handout = await findHandout(this.source.manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'hand out')
    const otherwise =
      marking === undefined
        ? {}
        : valueOf(checkMarking({ marking, rubric: rubric ?? [], lateDeduction: lateDeduction ?? null }))
    const found = { of: 0, moved: [] as (MarkMoved & { readonly title: string; readonly name: string | null })[] }
    for (const one of await handoutsOfSet(this.source.manager, handout)) {
      const { role, archived } = await classRole(this.source, viewer, one.classId)
      if (!mayInClass(role, 'hand out', archived).may) continue
      const after = { ...one, given: { ...(one.given ?? one.statement), ...otherwise } }
      const then = await this.thenOf(one, wished)
      const copies = await markedCopies(this.source, one, null)
      const moved = marksMoved(
        { way: wayOf(one), copies: copies.flatMap((copy) => marksIn(one, copy)) },
        {
          way: wayOf(after),
          copies: (await markedCopies(this.source, after, null, then)).flatMap((copy) => marksIn(after, copy)),
        },
      )
      const byId = new Map(copies.map((copy) => [copy.copyId, copy]))
      found.of += copies.filter(({ version }) => version >= 0).length
      for (const mark of moved) {
        const { title, holders } = byId.get(mark.copyId)!
        const alone = holders.find(({ personId }) => personId === mark.personId)
        found.moved.push({ ...mark, title, name: alone ? fullName(alone) : null })
      }
    }
    return found
  }

  /** What copies would be of and due: only editions that there are, of worksheets that the slip gives out or gave out. */
  private async thenOf(handout: Handout, wished: readonly CopyWished[]): Promise<Map<string, CopyThen>> {
    const given = new Set(
      [handout.given, handout.statement].flatMap((slip) => slip?.items.map(({ worksheetId }) => worksheetId) ?? []),
    )
    const asked = [...new Set(wished.flatMap(({ worksheetId }) => worksheetId ?? []))].filter((id) => given.has(id))
    const editions = await inSchool(this.source, handout.schoolId).find(
      Edition,
      { worksheetId: Any(asked) },
      { select: ['worksheetId', 'number'] },
    )
    const there = new Set(editions.map(({ worksheetId, number }) => `${worksheetId} ${number}`))
    const then = new Map<string, CopyThen>()
    for (const { slotKey, worksheetId, edition, dueAt } of wished)
      then.set(slotKey, {
        ...then.get(slotKey),
        ...(there.has(`${worksheetId} ${edition}`) && { worksheetId, edition }),
        ...(dueAt !== undefined && { dueAt }),
      })
    return then
  }

  /**
   * What somebody who reads a marked copy a second time would give it, beside its mark, which stays what it is; the mark as it was then
   * is kept with it. Nothing at all: it is taken back.
   */
  async readAgain(
    viewer: Viewer,
    handoutId: string,
    copyId: string,
    wished: Reading & { readonly remark: string },
  ): Promise<void> {
    const { schoolId, personId } = viewer
    const classId = await this.source.transaction(async (tx) => {
      const handout = await findHandout(tx, viewer, handoutId)
      const role = await holdInClass(tx, viewer, handout.classId, 'mark')
      const helped = await helpedBy(tx, viewer, handout.classId, role)
      await holdCopies(tx, schoolId, [copyId])
      const [copy] = await markedCopies(tx, handout, [copyId])
      if (!copy) throw notThere()
      if (helped) holdHelped(copy, [{ copyId, personId: null, changes: [] }], helped)
      const school = inSchool(tx, schoolId)
      const remark = wished.remark.trim()
      const { total, step } = wished
      await touchMark(tx, schoolId, copyId)
      if (total === null && step === null && !remark) {
        await school.delete(SecondReading, { copyId, personId })
        return handout.classId
      }
      const way = wayOf(handout)
      for (const change of [
        ...(total === null ? [] : [{ of: 'total' as const, was: null, to: total }]),
        ...(step === null ? [] : [{ of: 'step' as const, was: null, to: step }]),
      ])
        valueOf(checkChange(way, copy.spaces, change))
      const [known] = await school.find(SecondReading, { copyId, personId }, { select: ['firstBy'] })
      const markedBy = copy.changed?.personId ?? null
      const about = { isDone: copy.isDone, markedBy, readers: known ? [personId] : [] }
      const ruling = mayReadAgain(about, personId)
      if (!ruling.may) throw conflict(ruling.code, ruling.sentence)
      if (known) {
        await school.update(SecondReading, { copyId, personId }, { total, step, remark, at: Date.now() })
        return handout.classId
      }
      const first = { firstTotal: copy.mark.total, firstStep: copy.mark.step, firstBy: copy.changed!.personId }
      await school.insert(SecondReading, { copyId, personId, total, step, remark, at: Date.now(), ...first })
      return handout.classId
    })
    await this.events.tell('marks changed', { schoolId, handoutId, copyIds: [copyId] })
    await this.events.tell('class changed', { schoolId, classId, part: 'marks', columnId: handoutId })
  }

  /** Changes marks, of one copy or of many at once: all of it, or with the first that cannot be nothing. */
  async change(viewer: Viewer, handoutId: string, wishes: readonly MarkWish[]) {
    const { schoolId, personId } = viewer
    const read = wishes.map((wish) => ({
      ...wish,
      changes: wish.changes.length === 0 ? [] : valueOf(readMarkChanges(wish.changes)),
    }))
    const copyIds = [...new Set(read.map(({ copyId }) => copyId))]
    const { classId, changed } = await this.source.transaction(async (tx) => {
      const handout = await findHandout(tx, viewer, handoutId)
      const role = await holdInClass(tx, viewer, handout.classId, 'mark')
      const helped = await helpedBy(tx, viewer, handout.classId, role)
      await holdCopies(tx, schoolId, copyIds)
      const copies = new Map((await markedCopies(tx, handout, copyIds)).map((copy) => [copy.copyId, copy]))
      const by = { personId, at: Date.now() }
      const kept: MarkToKeep[] = []
      const finished: string[] = []
      for (const copyId of copyIds) {
        const copy = copies.get(copyId)
        if (!copy) throw notThere()
        const own = read.filter((wish) => wish.copyId === copyId)
        if (helped) holdHelped(copy, own, helped)
        kept.push(...changedMarks(handout, copy, own, by.at))
        if (own.some(({ done }) => done) && !copy.isDone) finished.push(copyId)
      }
      await keepMarks(tx, schoolId, kept, by)
      if (finished.length > 0) await enterMarked(tx, schoolId, finished, by)
      return { classId: handout.classId, changed: await markedCopies(tx, handout, copyIds) }
    })
    await this.events.tell('marks changed', { schoolId, handoutId, copyIds })
    await this.events.tell('class changed', { schoolId, classId, part: 'marks', columnId: handoutId })
    return { copies: changed.map(marked) }
  }
}

/** Who helps only some marks what is theirs alone: of a group that others are in too its teachers do. */
function holdHelped(copy: MarkedCopy, wishes: readonly MarkWish[], helped: ReadonlySet<string>): void {
  const isHelped = ({ personId }: { readonly personId: string }) => helped.has(personId)
  if (!copy.holders.some(isHelped)) throw notThere()
  for (const { personId } of wishes)
    if (personId === null ? !copy.holders.every(isHelped) : !helped.has(personId))
      throw new ProblemException(403, 'not-helped', 'Others hold this copy too: the teachers of the class mark it.')
}

/** The marks of a copy that somebody has marked: its own, and those that are one holder's alone. */
function marksIn(handout: Pick<Handout, 'given' | 'statement'>, copy: MarkedCopy): MarkedSo[] {
  const { copyId, spaces, parts, mark, isDone, daysLate } = copy
  if (copy.version < 0) return []
  return [
    { ...{ copyId, spaces, parts, mark, isDone }, personId: null },
    ...Object.entries(copy.own).map(([personId, alone]) => {
      const together = memberParts(parts, alone)
      return {
        ...{ copyId, personId, spaces, isDone },
        parts: together,
        mark: markOf(wayOf(handout), spaces, together, daysLate),
      }
    }),
  ]
}

/** A copy with its mark, as its teachers are shown it. */
function marked({ kept: _, holders, ...copy }: MarkedCopy) {
  return { ...copy, holders: holders.map(({ email: __, ...holder }) => holder) }
}

/** What is to be kept of a copy after changes of its mark: its own, and what of it is one holder's alone, for this follows from the other. */
function changedMarks(
  handout: Handout,
  copy: MarkedCopy,
  wishes: readonly (Omit<MarkWish, 'changes'> & { readonly changes: readonly MarkChange[] })[],
  now: number,
): MarkToKeep[] {
  const way = wayOf(handout)
  let { parts } = copy
  const own = new Map(Object.entries(copy.own))
  const touched = new Set<string>()
  let { doneAt } = copy
  for (const { personId, changes, done } of wishes) {
    if (personId !== null && !copy.holders.some((holder) => holder.personId === personId)) throw notThere()
    for (const change of changes) {
      if (personId !== null && (change.of === 'space' || change.of === 'criterion'))
        throw conflict('not-own', 'Points for answers and for the rubric are the whole copy’s.')
      valueOf(checkChange(way, copy.spaces, change))
      const next = changed(personId === null ? parts : (own.get(personId) ?? NO_PARTS), change)
      if (personId === null) parts = next
      else {
        own.set(personId, next)
        touched.add(personId)
      }
    }
    if (done === true && personId === null) {
      const mark = markOf(way, copy.spaces, parts, copy.daysLate)
      if (!isComplete(way, mark)) throw conflict('not-complete', lacking(mark.open))
      doneAt = now
    } else if (done === false) doneAt = null
  }
  const by = countedBy(wayFingerprint(way), copy)
  const row = (personId: string, rowParts: MarkParts, alone: MarkParts | null): MarkToKeep => ({
    ...{ copyId: copy.copyId, personId, parts: rowParts, countedBy: by },
    ...reckoned(way, copy, parts, alone),
    doneAt: personId === ALL_HOLDERS ? doneAt : null,
  })
  return [row(ALL_HOLDERS, parts, null), ...[...own].map(([personId, alone]) => row(personId, alone, alone))]
}

function changed(parts: MarkParts, change: MarkChange): MarkParts {
  const outcome = changeParts(parts, change)
  if (outcome.ok) return outcome.value
  const [problem] = outcome.problems
  throw new ProblemException(409, problem!.code, problem!.sentence)
}

const lacking = (open: number) =>
  open === 0
    ? 'Give the mark first.'
    : open === 1
      ? 'One part has no points yet: give them, or type the whole mark.'
      : `${open} parts have no points yet: give them, or type the whole mark.`
