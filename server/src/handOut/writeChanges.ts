import {
  type Change,
  type NamedPassage,
  type PlanFacts,
  type Statement,
  fillNote,
  fullName,
  gatherPassages,
  noticeValues,
} from '@gavrin/core'
import { type EntityManager, Any } from 'typeorm'
import * as Y from 'yjs'
import type { DocLoader } from '../kept/docLoader.js'
import { type StoredSpace, loadSpaces } from '../kept/spaces.queries.js'
import { addToJournal } from '../kept/journal.js'
import type { CoverNotes } from '../mail/coverNotes.service.js'
import { inSchool } from '../database/inSchool.js'
import { Copy, LiveSnapshot } from '../kept/kept.entity.js'
import { Person } from '../access/access.entity.js'
import {
  type Of,
  type WrittenHandout,
  addNotices,
  beginAnswer,
  createCopies,
  dateCopies,
  holderFor,
  moveCopies,
  permitCopies,
  putAside,
  renameCopies,
} from './changes.queries.js'

const ofKind = <K extends Change['kind']>(changes: readonly Change[], kind: K) =>
  changes.filter((change): change is Of<K> => change.kind === kind)

/** Changes after which a cover note that waits may be due at another time, or no more. */
const MOVES_NOTES: ReadonlySet<Change['kind']> = new Set(['permit', 'date', 'set aside', 'bring back'])

/** What changes are written with. */
export interface WriteTools {
  readonly statement: Statement
  readonly facts: () => Promise<PlanFacts>
  readonly notes: CoverNotes
  readonly loader: DocLoader
}

/**
 * Makes changes true in the database: one statement for each kind of change, however many copies it concerns. Does what
 * `applyChanges` of the core does to values.
 */
export async function writeChanges(
  tx: EntityManager,
  handout: WrittenHandout,
  changes: readonly Change[],
  personId: string,
  tools: WriteTools,
): Promise<void> {
  const creates = ofKind(changes, 'create').map(({ copy }) => copy)
  if (creates.length) await createCopies(tx, handout, creates, personId)
  const renames = ofKind(changes, 'rename')
  if (renames.length) await renameCopies(tx, handout, renames)
  const permits = ofKind(changes, 'permit')
  if (permits.length) await permitCopies(tx, handout, permits)
  const moves = ofKind(changes, 'move')
  if (moves.length) await moveCopies(tx, handout, moves)
  const dates = ofKind(changes, 'date')
  if (dates.length) await dateCopies(tx, handout, dates)
  for (const [kind, aside] of [
    ['set aside', true],
    ['bring back', false],
  ] as const) {
    const slotKeys = ofKind(changes, kind).map(({ slotKey }) => slotKey)
    if (slotKeys.length) await putAside(tx, handout, { slotKeys, aside, personId })
  }
  for (const carried of ofKind(changes, 'carry')) await carry(tx, handout, carried, tools.loader)
  if (changes.some(({ kind }) => MOVES_NOTES.has(kind))) await tools.notes.follow(tx, handout)
  const notify = ofKind(changes, 'notify')
  if (notify.length) await writeNotices(tx, handout, notify, personId, tools)
}

/**
 * Writes an answer of one copy into another, as it stands, or several under each other; where there is writing already, nothing is
 * done.
 */
async function carry(
  tx: EntityManager,
  { schoolId, id: handoutId }: WrittenHandout,
  { slotKey, toSpace, sources }: Of<'carry'>,
  loader: DocLoader,
): Promise<void> {
  const rows = await inSchool(tx, schoolId).find(
    Copy,
    { handoutId, slotKey: Any([slotKey, ...sources.map(({ from }) => from)]) },
    { select: ['id', 'slotKey'] },
  )
  const ids = new Map(rows.map((row) => [row.slotKey, row.id]))
  const to = ids.get(slotKey)
  if (!to) return
  const answers = []
  for (const { from, space, by } of sources) {
    const id = ids.get(from)
    const stored = id && (await loadSpaces(tx, schoolId, id)).get(space)
    if (stored) answers.push({ stored, by })
  }
  const [only, another] = answers
  const bytes = another
    ? await gather(tx, schoolId, answers, loader)
    : only && Buffer.from(Y.mergeUpdates(only.stored.updates))
  if (!bytes) return
  // Those who wrote in it go on writing under the same client ids; what is put together anew is nobody's.
  const writers = another ? {} : Object.fromEntries(only!.stored.writers)
  const personId = await holderFor(
    tx,
    schoolId,
    to,
    answers.flatMap(({ by }) => by),
  )
  if (!personId || !(await beginAnswer(tx, schoolId, { copyId: to, space: toSpace, personId, bytes }))) return
  await inSchool(tx, schoolId).insert(LiveSnapshot, { copyId: to, space: toSpace, seq: 1, bytes, writers })
  await addToJournal(tx, schoolId, {
    copyId: to,
    kind: 'first written in',
    personId,
    at: Date.now(),
  })
}

/** Passages under each other, each under the names of who wrote it; null if none of them can be read. */
async function gather(
  tx: EntityManager,
  schoolId: string,
  answers: readonly { readonly stored: StoredSpace; readonly by: readonly string[] }[],
  loader: DocLoader,
): Promise<Buffer | null> {
  const people = await inSchool(tx, schoolId).find(
    Person,
    { id: Any(answers.flatMap(({ by }) => by)) },
    { select: ['id', 'first', 'last'] },
  )
  const names = new Map(people.map((person) => [person.id, fullName(person)]))
  const passages: NamedPassage[] = []
  for (const { stored, by } of answers) {
    const doc = await loader.load('passage', stored.updates)
    if (doc) passages.push({ names: by.map((id) => names.get(id) ?? '').join(', '), doc })
  }
  if (passages.length === 0) return null
  const gathered = gatherPassages(passages)
  const bytes = Buffer.from(Y.encodeStateAsUpdate(gathered))
  for (const doc of [gathered, ...passages.map((passage) => passage.doc)]) doc.destroy()
  return bytes
}

async function writeNotices(
  tx: EntityManager,
  handout: WrittenHandout,
  changes: readonly Of<'notify'>[],
  personId: string,
  { statement, facts, notes }: WriteTools,
): Promise<void> {
  const { cover } = statement
  if (!cover) return
  const valuesFor = noticeValues(statement, await facts())
  const filled = new Map<string, string>()
  const noteFor = (about: string) => {
    const done = filled.get(about)
    if (done !== undefined) return done
    const note = JSON.stringify(fillNote(cover.text, valuesFor(about)))
    filled.set(about, note)
    return note
  }
  const written = await addNotices(tx, handout, changes, noteFor)
  if (cover.by === 'mail') await notes.post(tx, handout, written, personId)
}
