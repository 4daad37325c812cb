import {
  type Statement,
  type Viewer,
  checkStatement,
  cleanText,
  findAll,
  mayInClass,
  plainStatement,
  repeatStatement,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { conflict, notThere } from '../common/problemDetails.js'
import { classRole, holdInClass } from '../access/classRole.js'
import { Handout } from '../slip/slip.entity.js'
import {
  addHandout,
  changedMeanwhile,
  findHandout,
  handoutsOfSet,
  holdSet,
  keepInSet,
  refuseForeignWorksheets,
} from '../slip/handoutSet.js'
import { lastRuns, lastUndoable } from '../handOut/undoing.js'
import { existingOf, planFacts, planWorksheets, worksheetsOf } from '../slip/planFacts.js'
import { inSchool } from '../database/inSchool.js'
import { Copy } from '../kept/kept.entity.js'
import { Class } from '../access/access.entity.js'
import { handoutsOfClass, handoutsToFind, worksheetsSeen, classesTaught } from './handout.queries.js'
import { oneAtATime } from '../database/inSchool.js'
import type { ProofPart } from '@gavrin/core'

export const HANDOUT_TITLE_LIMIT = 200
const FOUND_LIMIT = 8

/** One class of a handout, with what its proof is computed from. */
export interface SlipPart extends ProofPart {
  /** Null: the handout has not been kept for this class yet. */
  readonly id: string | null
  readonly number: number
  readonly handedOutAt: number | null
}

/** Slips: begun, opened with all that their proof needs, kept, thrown away, repeated. Handing out is {@link HandOutRuns}. */
@Injectable()
export class HandoutService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  async list(viewer: Viewer, classId: string) {
    await holdInClass(this.source, viewer, classId, 'see handouts')
    return handoutsOfClass(this.source, viewer.schoolId, classId)
  }

  /** Handouts of one's classes in whose title, number and class the words stand, the latest first. */
  async find(viewer: Viewer, typed: string) {
    const all = await handoutsToFind(this.source, viewer.schoolId, viewer.personId)
    const seen = all.filter(
      ({ role, archived, handedOut }) => mayInClass(role, handedOut ? 'see handouts' : 'see the proof', archived).may,
    )
    return findAll(seen, ({ title, number, class: name }) => `${title} No. ${number} ${name}`, typed, FOUND_LIMIT).map(
      ({ role: _, ...found }) => found,
    )
  }

  /**
   * Begins a handout as a draft, with the next number of each class it is for. Begun under the same id by the same person before,
   * it is that one, as it is by now.
   */
  async create(
    viewer: Viewer,
    classId: string,
    input: { id?: string | undefined; title: string; statement: unknown },
  ): Promise<{ id: string; number: number; version: number; wasThere: boolean }> {
    const read = valueOf(checkStatement(input.statement))
    const statement: Statement = read.classes.some((times) => times.classId === classId)
      ? read
      : { ...read, classes: [{ classId, opensAt: null, dueAt: null }, ...read.classes] }
    return this.source.transaction(async (tx) => {
      for (const times of statement.classes) await holdInClass(tx, viewer, times.classId, 'hand out')
      if (input.id !== undefined) {
        // Whoever sends it twice at once waits here for the first.
        await oneAtATime(tx, input.id)
        const known = await tx.findOneBy(Handout, { schoolId: viewer.schoolId, id: input.id })
        if (known) {
          if (known.createdBy !== viewer.personId || known.classId !== classId) throw notThere()
          return { id: known.id, number: known.number, version: known.version, wasThere: true }
        }
      }
      await refuseForeignWorksheets(tx, viewer, statement, null)
      const setId = statement.classes.length > 1 ? randomUUID() : null
      let own: Handout | null = null
      for (const times of statement.classes) {
        const made = await addHandout(tx, viewer, times.classId, {
          title: cleanText(input.title),
          statement,
          setId,
          ...(times.classId === classId && { id: input.id }),
        })
        if (times.classId === classId) own = made
      }
      return { id: own!.id, number: own!.number, version: 1, wasThere: false }
    })
  }

  /** A handout with all that its proof is computed from, in each of its classes. */
  async open(viewer: Viewer, handoutId: string) {
    const { manager } = this.source
    const handout = await findHandout(manager, viewer, handoutId)
    await holdInClass(this.source, viewer, handout.classId, 'see the proof')
    const all = await handoutsOfSet(manager, handout)
    const parts: SlipPart[] = []
    let mayHandOut = true
    for (const part of all) {
      const { role, archived } = await classRole(this.source, viewer, part.classId)
      mayHandOut &&= mayInClass(role, 'hand out', archived).may
      // Somebody who teaches only one of the classes sees what is planned for that one.
      if (!mayInClass(role, 'see the proof', archived).may) continue
      const { worksheets: _, ...facts } = await planFacts(this.source, part, part.statement)
      parts.push({
        id: part.id,
        classId: part.classId,
        number: part.number,
        handedOutAt: part.handedOutAt,
        facts,
        existing: await existingOf(this.source, viewer.schoolId, part.id, true),
      })
    }
    const [last] = await lastRuns(manager, all)
    const [undone] = mayHandOut ? await lastUndoable(manager, all) : []
    return {
      id: handout.id,
      classId: handout.classId,
      number: handout.number,
      title: handout.title,
      kind: handout.kind,
      statement: handout.statement,
      given: handout.given,
      version: handout.version,
      handedOutAt: handout.handedOutAt,
      updatedAt: handout.updatedAt,
      lastRunAt: last?.startedAt ?? null,
      undoable: undone ? { kind: undone.run.kind, at: undone.run.startedAt } : null,
      mayHandOut,
      worksheets: await this.offered(viewer, worksheetsOf(handout.statement)),
      classes: await this.classesOf(viewer),
      parts,
    }
  }

  /** What a new handout in this class can be composed of. */
  async beginning(viewer: Viewer, classId: string) {
    await holdInClass(this.source, viewer, classId, 'hand out')
    const number = await this.nextNumber(viewer, classId)
    return {
      number,
      worksheets: await this.offered(viewer, []),
      classes: await this.classesOf(viewer),
      parts: [await this.emptyPart(viewer, classId, number)],
    }
  }

  /** What a slip needs to know of a class that is added to it. */
  async classFacts(viewer: Viewer, classId: string) {
    await holdInClass(this.source, viewer, classId, 'hand out')
    const number = await this.nextNumber(viewer, classId)
    return this.emptyPart(viewer, classId, number)
  }

  private async nextNumber(viewer: Viewer, classId: string): Promise<number> {
    const [found] = await inSchool(this.source, viewer.schoolId).find(
      Class,
      { id: classId },
      { select: ['lastHandoutNumber'] },
    )
    return found!.lastHandoutNumber + 1
  }

  private async emptyPart(viewer: Viewer, classId: string, number: number): Promise<SlipPart> {
    const { worksheets: _, ...facts } = await planFacts(
      this.source,
      { schoolId: viewer.schoolId, id: randomUUID(), classId, number, createdAt: Date.now() },
      plainStatement([], []),
    )
    return { id: null, classId, number, handedOutAt: null, facts, existing: { copies: [], notices: [] } }
  }

  /** Keeps the draft or the mended statement; nothing is handed out by it. */
  async keep(
    viewer: Viewer,
    handoutId: string,
    input: { title: string; statement: unknown; version: number },
  ): Promise<{ version: number; updatedAt: number }> {
    const statement = valueOf(checkStatement(input.statement))
    return this.source.transaction(async (tx) => {
      const all = await holdSet(tx, viewer, handoutId, 'hand out')
      const handout = all.find(({ id }) => id === handoutId)!
      if (handout.version !== input.version) throw changedMeanwhile(handout)
      await refuseForeignWorksheets(tx, viewer, statement, handout.statement)
      const kept = await keepInSet(tx, viewer, all, {
        title: cleanText(input.title),
        statement: statement.classes.length ? statement : { ...statement, classes: handout.statement.classes },
      })
      return { version: kept.version, updatedAt: kept.updatedAt.getTime() }
    })
  }

  /** Throws a draft away, in all its classes; only while nothing was handed out. */
  async discard(viewer: Viewer, handoutId: string): Promise<void> {
    await this.source.transaction(async (tx) => {
      const all = await holdSet(tx, viewer, handoutId, 'hand out')
      for (const { handedOutAt, schoolId, id } of all) {
        const copies = await inSchool(tx, schoolId).exists(Copy, { handoutId: id })
        if (handedOutAt || copies) throw conflict('handed-out', 'This handout has been handed out: it is kept.')
        await tx.delete(Handout, { schoolId, id })
      }
    })
  }

  /** Begins the same handout for another class or year, with its worksheets. */
  async repeat(viewer: Viewer, handoutId: string, classId: string): Promise<{ id: string; number: number }> {
    return this.source.transaction(async (tx) => {
      const handout = await findHandout(tx, viewer, handoutId)
      await holdInClass(tx, viewer, handout.classId, 'see the proof')
      await holdInClass(tx, viewer, classId, 'hand out')
      const worksheets = await planWorksheets(tx, viewer.schoolId, worksheetsOf(handout.statement))
      const [from] = await inSchool(tx, viewer.schoolId).find(
        Class,
        { id: handout.classId },
        { select: ['id', 'name'] },
      )
      const statement = repeatStatement(handout.given ?? handout.statement, from!, classId, worksheets)
      const made = await addHandout(tx, viewer, classId, { title: handout.title, statement, setId: null })
      return { id: made.id, number: made.number }
    })
  }

  /** The worksheets of the library that the person sees, those the handout speaks of already, and the built-in ones. */
  private async offered(viewer: Viewer, already: readonly string[]) {
    const own = await worksheetsSeen(this.source, viewer.schoolId, viewer.personId)
    return planWorksheets(this.source, viewer.schoolId, [...new Set([...own.map(({ id }) => id), ...already])])
  }

  /** The classes in which the person hands out. */
  private classesOf(viewer: Viewer) {
    return classesTaught(this.source, viewer.schoolId, viewer.personId)
  }
}
