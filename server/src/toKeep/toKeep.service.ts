import {
  type ClassRole,
  type Viewer,
  NOTHING,
  fullName,
  keepFingerprint,
  mayInClass,
  maySeeAt,
  mayTeach,
  planKeep,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager } from 'typeorm'
import { classRole, holdInClass } from '../access/classRole.js'
import { hold } from '../access/viewer.js'
import { newClassCode } from '../common/classCode.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { copyOf, roleIn } from '../kept/copyRecord.js'
import { addToJournal } from '../kept/journal.js'
import { GivenToKeep } from '../kept/kept.entity.js'
import { findHandout } from '../slip/handoutSet.js'
import {
  type KeepOf,
  type KeepRow,
  classesOfAct,
  copiesToKeep,
  giveToKeep,
  holdToKeep,
  keptHandout,
  keptOf,
  makeOwn,
  takeActBack,
  takeAnswers,
} from './toKeep.queries.js'

/** Copies of which one act gives. */
export const MOST_TO_KEEP = 5_000

/** What somebody wishes to give to keep. */
export interface KeepWish {
  readonly of: KeepOf
  /** Only these; null: all of it. */
  readonly copyIds: readonly string[] | null
  /** Also those that are worked in and not submitted. */
  readonly unfinished: boolean
}

/** Copies that become their holders' own. */
@Injectable()
export class ToKeepService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** Who would get what, and who would not and why. */
  async proof(viewer: Viewer, wish: KeepWish) {
    const lines = await this.plan(this.source.manager, viewer, wish)
    return {
      fingerprint: keepFingerprint(lines),
      lines: lines.map(({ copyId, handoutId, number, handout, worksheet, is, personIds, holders }) => ({
        ...{ copyId, handoutId, number, handout, worksheet, is },
        names: holders
          .filter(({ personId }) => is !== 'given' || personIds.includes(personId))
          .map((holder) => fullName(holder)),
      })),
    }
  }

  /** Gives what the proof showed; anything else, and it says so and does nothing. */
  give(
    viewer: Viewer,
    { fingerprint, ...wish }: KeepWish & { readonly fingerprint: string },
  ): Promise<{ actId: string; copies: number; students: number }> {
    return this.source.transaction(async (tx) => {
      const shown = await this.plan(tx, viewer, wish)
      await holdToKeep(
        tx,
        viewer.schoolId,
        shown.map(({ copyId }) => copyId),
      )
      const lines = (await this.plan(tx, viewer, wish)).filter(({ is }) => is === 'given')
      if (keepFingerprint(lines) !== fingerprint)
        throw conflict('other-plan', 'Something has changed since this was shown: look at it again.')
      if (lines.length === 0) throw conflict('nothing-to-keep', 'There is nothing to give to keep.')
      const given = lines.flatMap(({ copyId, personIds }) => personIds.map((personId) => ({ copyId, personId })))
      const actId = randomUUID()
      await giveToKeep(tx, viewer.schoolId, given, { personId: viewer.personId, actId, at: Date.now() })
      const students = new Set(given.map(({ personId }) => personId)).size
      return { actId, copies: given.length, students }
    })
  }

  /** Takes back what was given in one act, from whoever has not opened theirs yet. */
  async takeBack(viewer: Viewer, actId: string): Promise<{ taken: number; opened: number }> {
    return this.source.transaction(async (tx) => {
      const classes = await classesOfAct(tx, viewer.schoolId, actId)
      if (classes.length === 0) throw notThere()
      for (const { classId } of classes) await holdInClass(tx, viewer, classId, 'give to keep')
      return takeActBack(tx, viewer.schoolId, actId)
    })
  }

  /** What this person was given to keep. */
  mine(viewer: Viewer) {
    return keptOf(this.source, viewer.schoolId, viewer.personId)
  }

  /** Their own copy of what they were given to keep, as it was then: made when it is opened first. */
  open(viewer: Viewer, keptId: string): Promise<{ copyId: string }> {
    const { schoolId, personId } = viewer
    return this.source.transaction(async (tx) => {
      const school = inSchool(tx, schoolId)
      const [kept] = await school.find(GivenToKeep, { id: keptId, personId }, { lock: true })
      if (!kept) throw notThere()
      if (kept.ownCopyId !== null) return { copyId: kept.ownCopyId }
      const ownId = randomUUID()
      const made = { classId: randomUUID(), handoutId: randomUUID(), code: newClassCode(), personId: kept.givenBy }
      const handoutId = await keptHandout(tx, schoolId, made, NOTHING)
      await makeOwn(tx, schoolId, { keptId, ownId, handoutId })
      // What was hidden from them in the class is not in it.
      const own = await copyOf(tx, schoolId, ownId)
      const seen = Object.keys(kept.answers).filter((space) =>
        maySeeAt(viewer, roleIn(own, viewer), own.facts, space, Date.now()),
      )
      await takeAnswers(tx, schoolId, keptId, seen)
      await addToJournal(tx, schoolId, { copyId: ownId, kind: 'given', personId: kept.givenBy, at: kept.at })
      return { copyId: ownId }
    })
  }

  private async plan(tx: EntityManager, viewer: Viewer, { of, copyIds, unfinished }: KeepWish) {
    if (Object.values(of).filter((id) => id !== null).length !== 1)
      throw malformed([{ code: 'keep-of', field: 'of', sentence: 'Say one handout, one class or one student.' }])
    if (of.handoutId !== null)
      await holdInClass(tx, viewer, (await findHandout(tx, viewer, of.handoutId)).classId, 'give to keep')
    else if (of.classId !== null) await holdInClass(tx, viewer, of.classId, 'give to keep')
    else hold(mayTeach(viewer))
    const rows = await copiesToKeep(tx, viewer.schoolId, of, copyIds, MOST_TO_KEEP + 1)
    if (rows.length > MOST_TO_KEEP)
      throw conflict(
        'too-many-copies',
        `Up to ${MOST_TO_KEEP} copies are given to keep at once: give those of one handout after the other.`,
      )
    return planKeep(of.studentId === null ? rows : await this.ofOwnClasses(tx, viewer, rows), unfinished)
  }

  /** Of the copies of a student those of classes that somebody teaches. */
  private async ofOwnClasses(tx: EntityManager, viewer: Viewer, rows: readonly KeepRow[]): Promise<KeepRow[]> {
    const roles = new Map<string, ClassRole>()
    for (const { classId } of rows)
      if (!roles.has(classId)) roles.set(classId, (await classRole(tx, viewer, classId)).role)
    return rows.filter(({ classId }) => mayInClass(roles.get(classId)!, 'give to keep', true).may)
  }
}
