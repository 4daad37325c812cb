import {
  type Change,
  type NamedPassage,
  type PlanFacts,
  type PlannedCopy,
  type PlannedHolder,
  type Statement,
  fillNote,
  fullName,
  gatherPassages,
  noticeValues,
} from '@gavrin/core'
import { type EntityManager, Any } from 'typeorm'
import * as Y from 'yjs'
import type { DocLoader } from '../kept/docLoader.js'
import { type StoredSpace, loadSpaces } from '../kept/spaceStore.js'
import { addToJournal } from '../kept/journal.js'
import type { CoverNotes } from '../mail/coverNotes.service.js'
import { inSchool } from '../database/inSchool.js'
import { Copy, LiveSnapshot } from '../kept/kept.entity.js'
import { Person } from '../access/access.entity.js'

type Of<K extends Change['kind']> = Extract<Change, { kind: K }>
const ofKind = <K extends Change['kind']>(changes: readonly Change[], kind: K) =>
  changes.filter((change): change is Of<K> => change.kind === kind)

/** Changes after which a cover note that waits may be due at another time, or no more. */
const MOVES_NOTES: ReadonlySet<Change['kind']> = new Set(['permit', 'date', 'set aside', 'bring back'])

const time = (millis: number | null) => (millis === null ? null : new Date(millis))

export interface WrittenHandout {
  readonly schoolId: string
  readonly id: string
  readonly classId: string
}

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
  const { schoolId, id: handoutId } = handout
  const creates = ofKind(changes, 'create').map(({ copy }) => copy)
  if (creates.length) await createCopies(tx, schoolId, handoutId, creates, personId)

  const renames = ofKind(changes, 'rename')
  if (renames.length)
    await tx.query(
      'UPDATE copy c SET title = r.title FROM unnest($3::text[], $4::text[]) AS r(slot_key, title) WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key',
      [schoolId, handoutId, renames.map(({ slotKey }) => slotKey), renames.map(({ title }) => title)],
    )

  const permits = ofKind(changes, 'permit')
  if (permits.length) await writePermits(tx, schoolId, handoutId, permits)

  const moves = ofKind(changes, 'move')
  if (moves.length)
    await tx.query(
      `UPDATE copy c SET worksheet_id = r.worksheet_id, edition = r.edition, link = r.link
         FROM unnest($3::text[], $4::uuid[], $5::int[], $6::text[]) AS r(slot_key, worksheet_id, edition, link)
        WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key`,
      [
        schoolId,
        handoutId,
        moves.map(({ slotKey }) => slotKey),
        moves.map(({ worksheetId }) => worksheetId),
        moves.map(({ edition }) => edition),
        moves.map(({ link }) => link),
      ],
    )

  const dates = ofKind(changes, 'date')
  if (dates.length)
    await tx.query(
      `UPDATE copy c SET opens_at = r.opens_at, due_at = r.due_at, pens_down_at_due = r.pens_down, late_work = r.late
         FROM unnest($3::text[], $4::timestamptz[], $5::timestamptz[], $6::bool[], $7::bool[]) AS r(slot_key, opens_at, due_at, pens_down, late)
        WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key`,
      [
        schoolId,
        handoutId,
        dates.map(({ slotKey }) => slotKey),
        dates.map(({ opensAt }) => time(opensAt)),
        dates.map(({ dueAt }) => time(dueAt)),
        dates.map(({ pensDownAtDue }) => pensDownAtDue),
        dates.map(({ lateWork }) => lateWork),
      ],
    )

  await setAside(tx, handout, ofKind(changes, 'set aside'), true, personId)
  await setAside(tx, handout, ofKind(changes, 'bring back'), false, personId)
  for (const carried of ofKind(changes, 'carry')) await carry(tx, schoolId, handoutId, carried, tools.loader)
  if (changes.some(({ kind }) => MOVES_NOTES.has(kind))) await tools.notes.follow(tx, handout)
  const notify = ofKind(changes, 'notify')
  if (notify.length) await writeNotices(tx, handout, notify, personId, tools)
}

const perHolder = <T extends { slotKey: string }>(
  copies: readonly T[],
  people: (copy: T) => readonly PlannedHolder[],
) => {
  const rows = copies.flatMap((copy) => people(copy).map((holder) => ({ slotKey: copy.slotKey, ...holder })))
  return [
    rows.map(({ slotKey }) => slotKey),
    rows.map(({ personId }) => personId),
    rows.map(({ permission }) => permission),
  ] as const
}

async function createCopies(
  tx: EntityManager,
  schoolId: string,
  handoutId: string,
  copies: readonly PlannedCopy[],
  personId: string,
): Promise<void> {
  await tx.query(
    `WITH made AS (
       INSERT INTO copy (school_id, handout_id, slot_key, item_id, way, title, worksheet_id, edition, link, classmates_may, may_invite, places, opens_at, due_at, pens_down_at_due, late_work, counted_edition)
       SELECT $1, $2, u.*, u.edition FROM unnest($3::text[], $4::text[], $5::text[], $6::text[], $7::uuid[], $8::int[], $9::text[], $10::text[], $11::bool[], $12::jsonb[], $13::timestamptz[], $14::timestamptz[], $15::bool[], $16::bool[])
         AS u(slot_key, item_id, way, title, worksheet_id, edition, link, classmates_may, may_invite, places, opens_at, due_at, pens_down, late)
       ON CONFLICT (handout_id, slot_key, school_id) DO NOTHING
       RETURNING id, slot_key
     ), held AS (
       INSERT INTO copy_holder (school_id, copy_id, person_id, permission)
       SELECT $1, made.id, h.person_id, h.permission FROM unnest($17::text[], $18::uuid[], $19::text[]) AS h(slot_key, person_id, permission) JOIN made USING (slot_key)
     ), reading AS (
       INSERT INTO copy_reader (school_id, copy_id, person_id, permission)
       SELECT $1, made.id, h.person_id, h.permission FROM unnest($20::text[], $21::uuid[], $22::text[]) AS h(slot_key, person_id, permission) JOIN made USING (slot_key)
     )
     INSERT INTO copy_journal (school_id, copy_id, kind, person_id) SELECT $1, id, 'given', $23 FROM made`,
    [
      schoolId,
      handoutId,
      copies.map(({ slotKey }) => slotKey),
      copies.map(({ itemId }) => itemId),
      copies.map(({ way }) => way),
      copies.map(({ title }) => title),
      copies.map(({ worksheetId }) => worksheetId),
      copies.map(({ edition }) => edition),
      copies.map(({ link }) => link),
      copies.map(({ classmatesMay }) => classmatesMay),
      copies.map(({ mayInvite }) => mayInvite),
      copies.map(({ places }) => JSON.stringify(places)),
      copies.map(({ opensAt }) => time(opensAt)),
      copies.map(({ dueAt }) => time(dueAt)),
      copies.map(({ pensDownAtDue }) => pensDownAtDue),
      copies.map(({ lateWork }) => lateWork),
      ...perHolder(copies, ({ holders }) => holders),
      ...perHolder(copies, ({ readers }) => readers),
      personId,
    ],
  )
}

async function writePermits(
  tx: EntityManager,
  schoolId: string,
  handoutId: string,
  permits: readonly Of<'permit'>[],
): Promise<void> {
  const slots = permits.map(({ slotKey }) => slotKey)
  await tx.query(
    `UPDATE copy c SET classmates_may = r.may, may_invite = r.invite, places = r.places FROM unnest($3::text[], $4::text[], $5::bool[], $6::jsonb[]) AS r(slot_key, may, invite, places)
      WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key`,
    [
      schoolId,
      handoutId,
      slots,
      permits.map(({ classmatesMay }) => classmatesMay),
      permits.map(({ mayInvite }) => mayInvite),
      permits.map(({ places }) => JSON.stringify(places)),
    ],
  )
  for (const [table, chosen, people] of [
    ['copy_holder', '', (permit: Of<'permit'>) => permit.holders],
    ['copy_reader', 'AND o.invited_by IS NULL', (permit: Of<'permit'>) => permit.readers],
  ] as const) {
    await tx.query(
      `DELETE FROM ${table} o USING copy c WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = ANY($3) AND o.school_id = c.school_id AND o.copy_id = c.id ${chosen}`,
      [schoolId, handoutId, slots],
    )
    await tx.query(
      `INSERT INTO ${table} (school_id, copy_id, person_id, permission)
       SELECT $1, c.id, h.person_id, h.permission FROM unnest($3::text[], $4::uuid[], $5::text[]) AS h(slot_key, person_id, permission)
         JOIN copy c ON c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = h.slot_key
       ON CONFLICT (school_id, copy_id, person_id) DO UPDATE SET permission = EXCLUDED.permission`,
      [schoolId, handoutId, ...perHolder(permits, people)],
    )
  }
}

async function setAside(
  tx: EntityManager,
  { schoolId, id: handoutId }: WrittenHandout,
  changes: readonly { slotKey: string }[],
  aside: boolean,
  personId: string,
): Promise<void> {
  if (!changes.length) return
  await tx.query(
    `WITH moved AS (UPDATE copy SET set_aside = $4 WHERE school_id = $1 AND handout_id = $2 AND slot_key = ANY($3) RETURNING id)
     INSERT INTO copy_journal (school_id, copy_id, kind, person_id) SELECT $1, id, $5, $6 FROM moved`,
    [schoolId, handoutId, changes.map(({ slotKey }) => slotKey), aside, aside ? 'set aside' : 'brought back', personId],
  )
}

/**
 * Writes an answer of one copy into another, as it stands, or several under each other; where there is writing already, nothing is
 * done.
 */
async function carry(
  tx: EntityManager,
  schoolId: string,
  handoutId: string,
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
  const [holder] = await tx.query<{ person_id: string }[]>(
    'SELECT person_id FROM copy_holder WHERE school_id = $1 AND copy_id = $2 ORDER BY array_position($3::uuid[], person_id) NULLS LAST LIMIT 1',
    [schoolId, to, answers.flatMap(({ by }) => by)],
  )
  if (!holder) return
  const [logged] = await tx.query<unknown[]>(
    `INSERT INTO live_update (school_id, copy_id, space, seq, person_id, at, bytes)
     SELECT $1, $2, $3, 1, $4, now(), $5 WHERE NOT EXISTS (SELECT 1 FROM live_update WHERE school_id = $1 AND copy_id = $2 AND space = $3) RETURNING seq`,
    [schoolId, to, toSpace, holder.person_id, bytes],
  )
  if (!logged) return
  await inSchool(tx, schoolId).insert(LiveSnapshot, { copyId: to, space: toSpace, seq: 1, bytes, writers })
  await addToJournal(tx, schoolId, {
    copyId: to,
    kind: 'first written in',
    personId: holder.person_id,
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
  const rows = await tx.query<{ notice_key: string }[]>(
    `INSERT INTO notice (school_id, handout_id, notice_key, person_id, about_id, note, opens_at)
     SELECT $1, $2, * FROM unnest($3::text[], $4::uuid[], $5::uuid[], $6::jsonb[], $7::timestamptz[])
     ON CONFLICT (school_id, handout_id, notice_key) DO NOTHING RETURNING notice_key`,
    [
      handout.schoolId,
      handout.id,
      changes.map(({ notice }) => notice.noticeKey),
      changes.map(({ notice }) => notice.to),
      changes.map(({ notice }) => notice.about),
      changes.map(({ notice }) => noteFor(notice.about)),
      changes.map(({ notice }) => time(notice.opensAt)),
    ],
  )
  if (cover.by === 'mail')
    await notes.post(
      tx,
      handout,
      rows.map(({ notice_key }) => notice_key),
      personId,
    )
}
