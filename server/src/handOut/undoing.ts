import {
  NOTHING,
  type Statement,
  type UndoProof,
  type UndoneCopy,
  countCopies,
  fingerprintChanges,
  fullName,
  gathered,
  isSame,
} from '@gavrin/core'
import type { EntityManager } from 'typeorm'
import { boardRows } from '../kept/boardRows.js'
import { HandOutRun, type Handout } from '../slip/slip.entity.js'
import { existingOf } from '../slip/planFacts.js'
import type { RunDriver } from './runDriver.js'
import { inSchool } from '../database/inSchool.js'
import { Person } from '../access/access.entity.js'
import { newestRunIds, notesSince } from './run.queries.js'

/** A run that can be undone in one of its classes, and what was handed out before it. */
export interface Undone {
  readonly part: Handout
  readonly run: HandOutRun
  readonly target: Statement
}

/** The last hand-out or undo of these handouts, of those that were begun together: of each class its part. */
export async function lastRuns(tx: EntityManager, all: readonly Handout[]): Promise<HandOutRun[]> {
  const rows = await newestRunIds(
    tx,
    all[0]!.schoolId,
    all.map(({ id }) => id),
  )
  const runs = []
  for (const { id } of rows) {
    const run = await tx.findOneBy(HandOutRun, { schoolId: all[0]!.schoolId, id })
    if (run) runs.push(run)
  }
  return runs
}

/** What an undo goes back from, and to; empty when the last hand-out changed nothing of what should exist. */
export async function lastUndoable(tx: EntityManager, all: readonly Handout[]): Promise<Undone[]> {
  const runs = await lastRuns(tx, all)
  return runs.flatMap((run): Undone[] => {
    const part = all.find(({ id }) => id === run.handoutId)
    if (!part || isSame(run.before, run.statement)) return []
    return [{ part, run, target: run.before ?? { ...NOTHING, classes: part.statement.classes } }]
  })
}

/** Shows what an undo would do, copy by copy. */
export async function proveUndo(tx: EntityManager, driver: RunDriver, undone: readonly Undone[]): Promise<UndoProof> {
  const copies: UndoneCopy[] = []
  const all = []
  const counts = { make: 0, change: 0, aside: 0 }
  for (const { part, target } of undone) {
    const { changes, facts } = await driver.proof(tx, part, target)
    all.push(...changes)
    const { make, change, aside } = countCopies(changes)
    counts.make += make
    counts.change += change
    counts.aside += aside
    const existing = await existingOf(tx, part.schoolId, part.id, true)
    const written = new Set(
      existing.copies.flatMap((copy) => (Object.keys(copy.written).length > 0 ? [copy.slotKey] : [])),
    )
    const rows = new Map((await boardRows(tx, part.schoolId, part.id)).map((row) => [row.slotKey, row]))
    for (const [slotKey, own] of gathered(changes, (change) => change.slotKey)) {
      const row = rows.get(slotKey)
      const becomes = own.flatMap(({ kind }) => (kind === 'notify' ? [] : [kind]))
      if (row && becomes.length > 0)
        copies.push({
          copyId: row.copyId,
          title: row.title,
          className: facts.className,
          becomes,
          state: row.state,
          written: written.has(slotKey),
        })
    }
  }
  const { run } = undone[0]!
  const [by] = await inSchool(tx, run.schoolId).find(Person, { id: run.personId }, { select: ['first', 'last'] })
  const [notes] = await notesSince(
    tx,
    run.schoolId,
    undone.map((one) => one.run.id),
  )
  return {
    kind: run.kind === 'undo' ? 'undo' : 'hand out',
    at: run.startedAt,
    isFirst: undone.every(({ target }) => target.items.length === 0),
    by: by ? fullName(by) : '',
    copies: copies.toSorted((a, b) => a.title.localeCompare(b.title)),
    counts,
    notes: notes!.count,
    fingerprint: fingerprintChanges(all),
  }
}
