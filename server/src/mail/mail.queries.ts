import { type NoteText } from '@gavrin/core'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** Somebody a message is for. */
export interface Recipient {
  readonly personId: string
  readonly address: string
}

export interface Waiting {
  readonly id: string
  /** In milliseconds since 1970; null: at once. */
  readonly opensAt: number | null
}

export type MessageKind = 'invitation' | 'new password' | 'cover note' | 'reminder'

export interface MessageRow {
  school_id: string
  id: string
  kind: MessageKind
  person_id: string
  address: string
  class_name: string | null
  sender_first: string | null
  sender_last: string | null
  first: string
  last: string
  school: string
  gone: boolean
  handout_id: string | null
  handout_title: string | null
  handout_number: number | null
  note: NoteText | null
  is_staff: boolean
  about_first: string | null
  about_last: string | null
  /** Whom the note is about is not in the class any more. */
  has_left: boolean
  /** The class of what is about a handout is archived. */
  archived: boolean
  /** What a reminder says. */
  reminder_subject: string | null
  reminder_text: string | null
  /** Of a reminder: nothing is missing any more. */
  is_in: boolean
}

/** A line of the mailroom. */
export interface MailroomLine {
  readonly id: string
  readonly kind: MessageKind
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly address: string
  /** Withdrawn: a cover note that was not to go out any more when its time came. */
  readonly state: 'waiting' | 'sent' | 'failed' | 'withdrawn'
  readonly attempts: number
  readonly createdAt: number
  readonly sentAt: number | null
  /** When it goes out, if it waits for its handout to open. */
  readonly opensAt: number | null
  readonly problem: string | null
  readonly handout: { readonly id: string; readonly number: number; readonly title: string } | null
}

export const KEPT = 500

/** Links of the same purpose go, and those that open nothing any more. Raw: compares with the clock. */
export function dropLinks(database: Database, schoolId: string, personId: string, purpose: string): Promise<number> {
  return inSchool(database, schoolId).write(
    'DELETE FROM account_link WHERE school_id = $1 AND person_id = $2 AND (purpose = $3 OR expires_at < now())',
    personId,
    purpose,
  )
}

/** Whose link it is, while it opens anything. Raw: by what a link says: across schools. */
export function linkByToken(
  database: Database,
  tokenHash: string,
): Promise<{ schoolId: string; personId: string; purpose: string }[]> {
  return anySchool(database).rows<{ schoolId: string; personId: string; purpose: string }>(
    `SELECT school_id AS "schoolId", person_id AS "personId", purpose FROM account_link WHERE token_hash = $1 AND expires_at > now()`,
    tokenHash,
  )
}

/** Puts down the mails of cover notes, for those who have an address. Raw: a set by another one. */
export function addNoteMessages(
  database: Database,
  schoolId: string,
  {
    id,
    noticeKeys,
    classId,
    personId,
  }: {
    readonly id: string
    readonly noticeKeys: readonly string[]
    readonly classId: string
    readonly personId: string
  },
): Promise<Waiting[]> {
  return inSchool(database, schoolId).rows<Waiting>(
    `INSERT INTO message (school_id, kind, person_id, address, class_id, created_by, handout_id, notice_key)
       SELECT n.school_id, 'cover note', n.person_id, p.email, $4, $5, n.handout_id, n.notice_key
         FROM notice n JOIN person p ON p.school_id = n.school_id AND p.id = n.person_id
        WHERE n.school_id = $1 AND n.handout_id = $2 AND n.notice_key = ANY($3) AND p.email IS NOT NULL
       ON CONFLICT (handout_id, notice_key, school_id) DO NOTHING
       RETURNING id, (SELECT ${ms('opens_at')} FROM notice n
          WHERE n.school_id = message.school_id AND n.handout_id = message.handout_id AND n.notice_key = message.notice_key) AS "opensAt"`,
    id,
    noticeKeys,
    classId,
    personId,
  )
}

/** Cover notes that wait follow their copies: withdrawn with the last of them, waiting again with the first, at the time they open; which were altered. Raw: a set by four others. */
export function alterNoteMessages(
  database: Database,
  schoolId: string,
  id: string,
  queue: string,
): Promise<(Waiting & { state: 'waiting' | 'withdrawn' })[]> {
  return inSchool(database, schoolId).rows<Waiting & { state: 'waiting' | 'withdrawn' }>(
    `WITH now_so AS (
         SELECT n.notice_key, n.opens_at AS was,
                count(c.id) > 0 AS has, CASE WHEN count(c.id) = count(c.opens_at) THEN min(c.opens_at) END AS opens_at
           FROM notice n
           LEFT JOIN (copy_holder o JOIN copy c ON c.school_id = o.school_id AND c.id = o.copy_id AND NOT c.set_aside)
                  ON o.school_id = n.school_id AND o.person_id = n.about_id AND o.permission <> 'none' AND c.handout_id = n.handout_id
          WHERE n.school_id = $1 AND n.handout_id = $2 GROUP BY n.notice_key, n.opens_at
       ), altered AS (
         SELECT m.id, s.notice_key, s.has, s.opens_at FROM message m JOIN now_so s ON s.notice_key = m.notice_key
          WHERE m.school_id = $1 AND m.handout_id = $2 AND m.state IN ('waiting', 'withdrawn')
            AND ((m.state = 'waiting') <> s.has OR s.has AND s.opens_at IS DISTINCT FROM s.was)
            -- What is being sent at this moment is sent.
            AND NOT EXISTS (SELECT 1 FROM jobs.job j WHERE j.name = $3 AND j.state = 'active' AND j.data ->> 'messageId' = m.id::text)
       ), kept AS (
         UPDATE notice n SET opens_at = a.opens_at FROM altered a
          WHERE n.school_id = $1 AND n.handout_id = $2 AND n.notice_key = a.notice_key AND a.has
       )
       UPDATE message m SET state = CASE WHEN a.has THEN 'waiting' ELSE 'withdrawn' END, problem = CASE WHEN a.has THEN NULL ELSE 'The copy was taken back before this went out.' END FROM altered a
        WHERE m.school_id = $1 AND m.id = a.id
       RETURNING m.id, m.state, ${ms('a.opens_at')} AS "opensAt"`,
    id,
    queue,
  )
}

/** Cover notes that failed wait again. Raw: changes by other tables, and reads at once. */
export function tryNotesAgain(
  database: Database,
  schoolId: string,
  classId: string,
  messageIds: readonly string[] | null,
): Promise<Waiting[]> {
  return inSchool(database, schoolId).rows<Waiting>(
    `UPDATE message m SET state = 'waiting', problem = NULL, attempts = 0, address = p.email FROM person p, notice n
        WHERE m.school_id = $1 AND m.class_id = $2 AND m.kind = 'cover note' AND m.state = 'failed' AND ($3::uuid[] IS NULL OR m.id = ANY($3))
          AND p.school_id = m.school_id AND p.id = m.person_id AND p.email IS NOT NULL
          AND n.school_id = m.school_id AND n.handout_id = m.handout_id AND n.notice_key = m.notice_key
       RETURNING m.id, ${ms('n.opens_at')} AS "opensAt"`,
    classId,
    messageIds,
  )
}

/** Puts down mails of a kind. Raw: many rows at once. */
export function addMessages(
  database: Database,
  schoolId: string,
  {
    kind,
    personIds,
    addresses,
    classId,
    personId,
  }: {
    readonly kind: MessageKind
    readonly personIds: readonly string[]
    readonly addresses: readonly string[]
    readonly classId: string | null
    readonly personId: string | null
  },
): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    `INSERT INTO message (school_id, kind, person_id, address, class_id, created_by)
       SELECT $1, $2, person_id, address, $5, $6 FROM unnest($3::uuid[], $4::text[]) AS r(person_id, address) RETURNING id`,
    kind,
    personIds,
    addresses,
    classId,
    personId,
  )
}

/** A mail that has not gone out, with all that is written in it. Raw: nine tables. */
export function messageToSend(database: Database, schoolId: string, messageId: string): Promise<MessageRow[]> {
  return inSchool(database, schoolId).rows<MessageRow>(
    `SELECT m.school_id, m.id, m.kind, m.person_id, m.address, c.name AS class_name, m.handout_id IS NOT NULL AND c.archived_at IS NOT NULL AS archived, b.first_name AS sender_first, b.last_name AS sender_last,
              p.first_name AS first, p.last_name AS last, s.name AS school, p.email IS DISTINCT FROM m.address AS gone,
              m.handout_id, h.title AS handout_title, h.number AS handout_number, n.note, n.person_id <> n.about_id AS is_staff, a.first_name AS about_first, a.last_name AS about_last,
              r.subject AS reminder_subject, r.text AS reminder_text, coalesce(w.set_aside OR (r.reminded_of NOT IN ('question answered', 'message', 'handed back') AND w.state IN ('submitted', 'handed back')) OR (r.reminded_of = 'handed back' AND NOT EXISTS (SELECT 1 FROM handed_back b WHERE b.school_id = r.school_id AND b.copy_id = r.copy_id AND b.person_id = r.person_id AND b.at = r.at AND b.withdrawn_at IS NULL)), false) AS is_in,
              coalesce(n.about_id, r.person_id) IS NOT NULL AND NOT EXISTS (SELECT 1 FROM class_member k WHERE k.school_id = m.school_id AND k.class_id = m.class_id AND k.person_id = coalesce(n.about_id, r.person_id) AND k.left_at IS NULL) AS has_left
         FROM message m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id JOIN school s ON s.id = m.school_id
         LEFT JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
         LEFT JOIN person b ON b.school_id = m.school_id AND b.id = m.created_by
         LEFT JOIN handout h ON h.school_id = m.school_id AND h.id = m.handout_id
         LEFT JOIN notice n ON n.school_id = m.school_id AND n.handout_id = m.handout_id AND n.notice_key = m.notice_key
         LEFT JOIN person a ON a.school_id = n.school_id AND a.id = n.about_id
         LEFT JOIN reminder r ON r.school_id = m.school_id AND r.message_id = m.id
         LEFT JOIN copy w ON w.school_id = r.school_id AND w.id = r.copy_id
        WHERE m.school_id = $1 AND m.id = $2 AND m.state IN ('waiting', 'failed')`,
    messageId,
  )
}

/** Notes what became of a try. Raw: compares with the clock. */
export function noteSent(
  database: Database,
  schoolId: string,
  {
    messageId,
    state,
    problem,
  }: { readonly messageId: string; readonly state: string; readonly problem: string | null },
): Promise<number> {
  return inSchool(database, schoolId).write(
    `UPDATE message SET state = $3, problem = $4, attempts = attempts + 1, sent_at = CASE WHEN $3 = 'sent' THEN now() END WHERE school_id = $1 AND id = $2`,
    messageId,
    state,
    problem,
  )
}

/** Puts down reminders of a handout. Raw: many rows at once. */
export function addReminderMessages(
  database: Database,
  schoolId: string,
  {
    personIds,
    addresses,
    classId,
    handoutId,
    personId,
  }: {
    readonly personIds: readonly string[]
    readonly addresses: readonly string[]
    readonly classId: string
    readonly handoutId: string
    readonly personId: string | null
  },
): Promise<{ id: string; personId: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string; personId: string }>(
    `INSERT INTO message (school_id, kind, person_id, address, class_id, handout_id, created_by)
       SELECT $1, 'reminder', person_id, address, $4, $5, $6 FROM unnest($2::uuid[], $3::text[]) AS r(person_id, address) RETURNING id, person_id AS "personId"`,
    personIds,
    addresses,
    classId,
    handoutId,
    personId,
  )
}

/** A mail that the stand-in for a mail server took. */
export interface KeptMail {
  readonly id: string
  /** Milliseconds since 1970. */
  readonly at: number
  /** Addresses, with commas. */
  readonly recipient: string
  readonly subject: string
  readonly body: string
}

/** The kept mails that somebody may see, the newest first. Raw: three tables. */
export function standInMailFor(
  database: Database,
  schoolId: string,
  office: boolean,
  personId: string,
): Promise<KeptMail[]> {
  return inSchool(database, schoolId).rows<KeptMail>(
    `SELECT s.id, ${ms('s.at')} AS at, s.recipient, s.subject, s.body FROM stand_in_mail s JOIN message m ON m.id = s.message_id
        WHERE m.school_id = $1 AND ($2 OR m.kind IN ('cover note', 'reminder') AND EXISTS (SELECT 1 FROM class_member k
                WHERE k.school_id = m.school_id AND k.class_id = m.class_id AND k.person_id = $3 AND k.left_at IS NULL AND k.role IN ('lead', 'co-teacher')))
        ORDER BY s.id DESC LIMIT 200`,
    office,
    personId,
  )
}

/** The mails of a class, the newest first. Raw: four tables. */
export function messagesOfClass(database: Database, schoolId: string, classId: string): Promise<MailroomLine[]> {
  return inSchool(database, schoolId).rows<MailroomLine>(
    `SELECT m.id, m.kind, m.person_id AS "personId", p.first_name AS first, p.last_name AS last, m.address, m.state, m.attempts, m.problem,
              ${ms('m.created_at')} AS "createdAt", ${ms('m.sent_at')} AS "sentAt",
              CASE WHEN m.state = 'waiting' THEN ${ms('n.opens_at')} END AS "opensAt",
              CASE WHEN h.id IS NOT NULL THEN json_build_object('id', h.id, 'number', h.number, 'title', h.title) END AS handout
         FROM message m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
         LEFT JOIN handout h ON h.school_id = m.school_id AND h.id = m.handout_id
         LEFT JOIN notice n ON n.school_id = m.school_id AND n.handout_id = m.handout_id AND n.notice_key = m.notice_key
        WHERE m.school_id = $1 AND m.class_id = $2 ORDER BY m.created_at DESC, coalesce(nullif(p.last_name, ''), p.first_name) LIMIT 1000`,
    classId,
  )
}

/** Who of a class gets an invitation. Raw: three tables. */
export function peopleToInvite(
  database: Database,
  schoolId: string,
  classId: string,
  personIds: readonly string[] | null,
): Promise<Recipient[]> {
  return inSchool(database, schoolId).rows<Recipient>(
    `SELECT p.id AS "personId", p.email AS address FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
          WHERE m.school_id = $1 AND m.class_id = $2 AND m.left_at IS NULL AND p.email IS NOT NULL AND p.password_hash IS NULL
            AND CASE WHEN $3::uuid[] IS NULL THEN m.role = 'student' ELSE p.id = ANY($3) END
            -- Whoever presses twice sends once.
            AND NOT EXISTS (SELECT 1 FROM message w WHERE w.school_id = p.school_id AND w.person_id = p.id AND w.kind = 'invitation' AND w.state = 'waiting' AND w.attempts = 0)
          ORDER BY p.last_name, p.first_name`,
    classId,
    personIds,
  )
}

/** Jobs that wait for mails go. Raw: tables of a package. */
export function dropJobs(database: Database, queue: string, messageIds: readonly string[]): Promise<number> {
  return anySchool(database).write(
    `DELETE FROM jobs.job WHERE name = $1 AND state IN ('created', 'retry') AND data ->> 'messageId' = ANY($2)`,
    queue,
    messageIds,
  )
}

/** Whether a job is tried for the last time. Raw: tables of a package. */
export function isLastTryOf(database: Database, queue: string, jobId: string): Promise<{ last: boolean }[]> {
  return anySchool(database).rows<{ last: boolean }>(
    'SELECT retry_count >= retry_limit AS last FROM jobs.job WHERE name = $1 AND id = $2',
    queue,
    jobId,
  )
}

/** The newest are kept. Raw: counts from the newest. */
export function dropOldStandInMail(database: Database): Promise<number> {
  return anySchool(database).write(
    `DELETE FROM stand_in_mail WHERE id <= (SELECT max(id) - ${KEPT} FROM stand_in_mail)`,
  )
}
