import type { Change, PlannedCopy, PlannedHolder } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'

// What makes changes true. Raw throughout: one statement for each kind of change, however many copies it concerns.

/** The changes of one kind. */
export type Of<K extends Change['kind']> = Extract<Change, { kind: K }>

/** A handout whose copies are written. */
export interface WrittenHandout {
  readonly schoolId: string
  readonly id: string
  readonly classId: string
}

const time = (millis: number | null) => (millis === null ? null : new Date(millis))

/** People of copies as the columns of a set: slot key, person, permission. */
function perHolder<T extends { readonly slotKey: string }>(
  copies: readonly T[],
  people: (copy: T) => readonly PlannedHolder[],
) {
  const rows = copies.flatMap((copy) => people(copy).map((holder) => ({ slotKey: copy.slotKey, ...holder })))
  return [
    rows.map(({ slotKey }) => slotKey),
    rows.map(({ personId }) => personId),
    rows.map(({ permission }) => permission),
  ] as const
}

/** Makes copies with their holders, readers and journals; what is there already stays. */
export async function createCopies(
  database: Database,
  { schoolId, id: handoutId }: WrittenHandout,
  copies: readonly PlannedCopy[],
  personId: string,
): Promise<void> {
  await inSchool(database, schoolId).rows(
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
  )
}

/** Gives copies other titles. */
export async function renameCopies(
  database: Database,
  { schoolId, id: handoutId }: WrittenHandout,
  renames: readonly Of<'rename'>[],
): Promise<void> {
  await inSchool(database, schoolId).write(
    'UPDATE copy c SET title = r.title FROM unnest($3::text[], $4::text[]) AS r(slot_key, title) WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key',
    handoutId,
    renames.map(({ slotKey }) => slotKey),
    renames.map(({ title }) => title),
  )
}

/** Gives copies other editions. */
export async function moveCopies(
  database: Database,
  { schoolId, id: handoutId }: WrittenHandout,
  moves: readonly Of<'move'>[],
): Promise<void> {
  await inSchool(database, schoolId).write(
    `UPDATE copy c SET worksheet_id = r.worksheet_id, edition = r.edition, link = r.link
       FROM unnest($3::text[], $4::uuid[], $5::int[], $6::text[]) AS r(slot_key, worksheet_id, edition, link)
      WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key`,
    handoutId,
    moves.map(({ slotKey }) => slotKey),
    moves.map(({ worksheetId }) => worksheetId),
    moves.map(({ edition }) => edition),
    moves.map(({ link }) => link),
  )
}

/** Gives copies other times. */
export async function dateCopies(
  database: Database,
  { schoolId, id: handoutId }: WrittenHandout,
  dates: readonly Of<'date'>[],
): Promise<void> {
  await inSchool(database, schoolId).write(
    `UPDATE copy c SET opens_at = r.opens_at, due_at = r.due_at, pens_down_at_due = r.pens_down, late_work = r.late
       FROM unnest($3::text[], $4::timestamptz[], $5::timestamptz[], $6::bool[], $7::bool[]) AS r(slot_key, opens_at, due_at, pens_down, late)
      WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key`,
    handoutId,
    dates.map(({ slotKey }) => slotKey),
    dates.map(({ opensAt }) => time(opensAt)),
    dates.map(({ dueAt }) => time(dueAt)),
    dates.map(({ pensDownAtDue }) => pensDownAtDue),
    dates.map(({ lateWork }) => lateWork),
  )
}

/** Writes who holds copies, who reads them, and what classmates may do. Whom a holder invited stays. */
export async function permitCopies(
  database: Database,
  { schoolId, id: handoutId }: WrittenHandout,
  permits: readonly Of<'permit'>[],
): Promise<void> {
  const school = inSchool(database, schoolId)
  const slots = permits.map(({ slotKey }) => slotKey)
  await school.write(
    `UPDATE copy c SET classmates_may = r.may, may_invite = r.invite, places = r.places FROM unnest($3::text[], $4::text[], $5::bool[], $6::jsonb[]) AS r(slot_key, may, invite, places)
      WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = r.slot_key`,
    handoutId,
    slots,
    permits.map(({ classmatesMay }) => classmatesMay),
    permits.map(({ mayInvite }) => mayInvite),
    permits.map(({ places }) => JSON.stringify(places)),
  )
  for (const [table, chosen, people] of [
    ['copy_holder', '', (permit: Of<'permit'>) => permit.holders],
    ['copy_reader', 'AND o.invited_by IS NULL', (permit: Of<'permit'>) => permit.readers],
  ] as const) {
    await school.write(
      `DELETE FROM ${table} o USING copy c WHERE c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = ANY($3) AND o.school_id = c.school_id AND o.copy_id = c.id ${chosen}`,
      handoutId,
      slots,
    )
    await school.rows(
      `INSERT INTO ${table} (school_id, copy_id, person_id, permission)
       SELECT $1, c.id, h.person_id, h.permission FROM unnest($3::text[], $4::uuid[], $5::text[]) AS h(slot_key, person_id, permission)
         JOIN copy c ON c.school_id = $1 AND c.handout_id = $2 AND c.slot_key = h.slot_key
       ON CONFLICT (school_id, copy_id, person_id) DO UPDATE SET permission = EXCLUDED.permission`,
      handoutId,
      ...perHolder(permits, people),
    )
  }
}

/** Takes copies back, or brings them back, with an entry in the journal of each. */
export async function putAside(
  database: Database,
  { schoolId, id: handoutId }: WrittenHandout,
  {
    slotKeys,
    aside,
    personId,
  }: { readonly slotKeys: readonly string[]; readonly aside: boolean; readonly personId: string },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `WITH moved AS (UPDATE copy SET set_aside = $4 WHERE school_id = $1 AND handout_id = $2 AND slot_key = ANY($3) RETURNING id)
     INSERT INTO copy_journal (school_id, copy_id, kind, person_id) SELECT $1, id, $5, $6 FROM moved`,
    handoutId,
    slotKeys,
    aside,
    aside ? 'set aside' : 'brought back',
    personId,
  )
}

/** The holder of a copy in whose name answers come into it: the first of those who wrote them, if one of them holds it. */
export async function holderFor(
  database: Database,
  schoolId: string,
  copyId: string,
  writers: readonly string[],
): Promise<string | null> {
  const [holder] = await inSchool(database, schoolId).rows<{ person_id: string }>(
    'SELECT person_id FROM copy_holder WHERE school_id = $1 AND copy_id = $2 ORDER BY array_position($3::uuid[], person_id) NULLS LAST LIMIT 1',
    copyId,
    writers,
  )
  return holder?.person_id ?? null
}

/** Writes the first change of an answer; whether it had none yet. */
export async function beginAnswer(
  database: Database,
  schoolId: string,
  answer: { readonly copyId: string; readonly space: string; readonly personId: string; readonly bytes: Buffer },
): Promise<boolean> {
  const logged = await inSchool(database, schoolId).rows(
    `INSERT INTO live_update (school_id, copy_id, space, seq, person_id, at, bytes)
     SELECT $1, $2, $3, 1, $4, now(), $5 WHERE NOT EXISTS (SELECT 1 FROM live_update WHERE school_id = $1 AND copy_id = $2 AND space = $3) RETURNING seq`,
    answer.copyId,
    answer.space,
    answer.personId,
    answer.bytes,
  )
  return logged.length > 0
}

/** Writes cover notes that are not there yet; the keys of those. */
export async function addNotices(
  database: Database,
  { schoolId, id: handoutId }: WrittenHandout,
  changes: readonly Of<'notify'>[],
  noteFor: (about: string) => string,
): Promise<string[]> {
  const rows = await inSchool(database, schoolId).rows<{ notice_key: string }>(
    `INSERT INTO notice (school_id, handout_id, notice_key, person_id, about_id, note, opens_at)
     SELECT $1, $2, * FROM unnest($3::text[], $4::uuid[], $5::uuid[], $6::jsonb[], $7::timestamptz[])
     ON CONFLICT (school_id, handout_id, notice_key) DO NOTHING RETURNING notice_key`,
    handoutId,
    changes.map(({ notice }) => notice.noticeKey),
    changes.map(({ notice }) => notice.to),
    changes.map(({ notice }) => notice.about),
    changes.map(({ notice }) => noteFor(notice.about)),
    changes.map(({ notice }) => time(notice.opensAt)),
  )
  return rows.map(({ notice_key }) => notice_key)
}
