import { type NoteText, type Viewer, fullName, noteAsHtml, noteAsText } from '@gavrin/core'
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import nodemailer, { type Transporter } from 'nodemailer'
import type PgBoss from 'pg-boss'
import { DataSource, type EntityManager } from 'typeorm'
import { newAccountLink } from '../account/accountLinks.js'
import { SETTINGS } from '../common/tokens.js'
import { holdInClass } from '../roster/classRole.js'
import { STAND_IN, type Settings } from '../settings.js'
import { MAIL_QUEUE, openJobs } from './jobs.js'
import { type Letter, coverLetter, invitationLetter, newPasswordLetter } from './letters.js'
import { StandInMailServer } from './standIn.js'

export type MessageKind = 'invitation' | 'new password' | 'cover note'

/** Somebody a message is for. */
export interface Recipient {
  readonly personId: string
  readonly address: string
}

/** A line of the mailroom. */
export interface MailroomLine {
  readonly id: string
  readonly kind: MessageKind
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly address: string
  readonly state: 'waiting' | 'sent' | 'failed'
  readonly attempts: number
  readonly createdAt: number
  readonly sentAt: number | null
  readonly problem: string | null
}

const RETRIES = 6

interface MessageRow {
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
}

/**
 * The mailroom: messages are put down in the transaction that is their reason, sent by a job after it, and tried again if the
 * mail server is away. Any server process may take the job; each message goes out once.
 */
@Injectable()
export class MailService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('mail')
  private readonly boss: PgBoss
  private transport: Transporter | null = null
  private standIn: StandInMailServer | null = null

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    this.boss = openJobs(settings.databaseUrl)
  }

  async onApplicationBootstrap(): Promise<void> {
    const { smtpUrl } = this.settings.mail
    if (smtpUrl === STAND_IN) this.standIn = await StandInMailServer.open(this.source)
    const address = this.standIn?.url ?? smtpUrl
    if (address) this.transport = nodemailer.createTransport(address)
    await this.boss.start()
    await this.boss.work<{ schoolId: string; messageId: string }>(
      MAIL_QUEUE,
      { pollingIntervalSeconds: 0.5, batchSize: 10 },
      async (jobs) => {
        for (const { data, id } of jobs) await this.send(data.schoolId, data.messageId, id)
      },
    )
  }

  async onApplicationShutdown(): Promise<void> {
    await this.boss.stop({ graceful: true, wait: true, timeout: 3_000 }).catch(() => undefined)
    this.transport?.close()
    await this.standIn?.close()
  }

  /** Puts messages down to be sent once the transaction is through. */
  async post(
    tx: EntityManager,
    viewer: Pick<Viewer, 'schoolId'> & { readonly personId: string | null },
    kind: MessageKind,
    to: readonly Recipient[],
    classId: string | null,
  ): Promise<void> {
    if (to.length === 0) return
    const rows = await tx.query<{ id: string }[]>(
      `INSERT INTO message (school_id, kind, person_id, address, class_id, created_by)
       SELECT $1, $2, person_id, address, $5, $6 FROM unnest($3::uuid[], $4::text[]) AS r(person_id, address) RETURNING id`,
      [
        viewer.schoolId,
        kind,
        to.map(({ personId }) => personId),
        to.map(({ address }) => address),
        classId,
        viewer.personId,
      ],
    )
    await this.queue(
      tx,
      viewer.schoolId,
      rows.map(({ id }) => id),
      null,
    )
  }

  /** Puts down the mails of notices, each once, to go out when their handout opens. Who has no e-mail reads it on the desk. */
  async postNotices(
    tx: EntityManager,
    handout: { readonly schoolId: string; readonly id: string; readonly classId: string },
    noticeKeys: readonly string[],
    personId: string,
  ): Promise<void> {
    if (noticeKeys.length === 0) return
    const rows = await tx.query<{ id: string; opens_at: Date | null }[]>(
      `INSERT INTO message (school_id, kind, person_id, address, class_id, created_by, handout_id, notice_key)
       SELECT n.school_id, 'cover note', n.person_id, p.email, $4, $5, n.handout_id, n.notice_key
         FROM notice n JOIN person p ON p.school_id = n.school_id AND p.id = n.person_id
        WHERE n.school_id = $1 AND n.handout_id = $2 AND n.notice_key = ANY($3) AND p.email IS NOT NULL
       ON CONFLICT (handout_id, notice_key, school_id) DO NOTHING
       RETURNING id, (SELECT opens_at FROM notice n WHERE n.school_id = message.school_id AND n.handout_id = message.handout_id AND n.notice_key = message.notice_key)`,
      [handout.schoolId, handout.id, noticeKeys, handout.classId, personId],
    )
    for (const opensAt of new Set(rows.map(({ opens_at }) => opens_at?.getTime() ?? null)))
      await this.queue(
        tx,
        handout.schoolId,
        rows.filter(({ opens_at }) => (opens_at?.getTime() ?? null) === opensAt).map(({ id }) => id),
        opensAt,
      )
  }

  /** Puts the jobs of messages down in the transaction that is their reason, all in one statement. */
  private async queue(
    tx: EntityManager,
    schoolId: string,
    messageIds: readonly string[],
    startAt: number | null,
  ): Promise<void> {
    if (messageIds.length === 0) return
    const db = {
      executeSql: async (text: string, values: unknown[]) => ({ rows: await tx.query<unknown[]>(text, values) }),
    }
    await this.boss.insert(
      messageIds.map((messageId) => ({
        name: MAIL_QUEUE,
        data: { schoolId, messageId },
        retryLimit: RETRIES,
        retryDelay: 20,
        retryBackoff: true,
        expireInSeconds: 300,
        ...(startAt !== null && { startAfter: new Date(startAt).toISOString() }),
      })),
      { db },
    )
  }

  private async send(schoolId: string, messageId: string, jobId: string): Promise<void> {
    const [message] = await this.source.query<MessageRow[]>(
      `SELECT m.school_id, m.id, m.kind, m.person_id, m.address, c.name AS class_name, b.first_name AS sender_first, b.last_name AS sender_last,
              p.first_name AS first, p.last_name AS last, s.name AS school, p.email IS DISTINCT FROM m.address AS gone,
              m.handout_id, h.title AS handout_title, h.number AS handout_number, n.note, n.person_id <> n.about_id AS is_staff, a.first_name AS about_first, a.last_name AS about_last
         FROM message m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id JOIN school s ON s.id = m.school_id
         LEFT JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
         LEFT JOIN person b ON b.school_id = m.school_id AND b.id = m.created_by
         LEFT JOIN handout h ON h.school_id = m.school_id AND h.id = m.handout_id
         LEFT JOIN notice n ON n.school_id = m.school_id AND n.handout_id = m.handout_id AND n.notice_key = m.notice_key
         LEFT JOIN person a ON a.school_id = n.school_id AND a.id = n.about_id
        WHERE m.school_id = $1 AND m.id = $2 AND m.state <> 'sent'`,
      [schoolId, messageId],
    )
    if (!message) return
    const note = (state: MailroomLine['state'], problem: string | null) =>
      this.source.query(
        `UPDATE message SET state = $3, problem = $4, attempts = attempts + 1, sent_at = CASE WHEN $3 = 'sent' THEN now() END WHERE school_id = $1 AND id = $2`,
        [schoolId, messageId, state, problem],
      )
    // A link that opens an account goes to nobody but who has the account.
    if (message.gone) return void (await note('failed', 'The e-mail of this person has changed since.'))
    const { transport } = this
    if (!transport)
      return void (await note('failed', 'No mail server is set for this school: print sign-in cards instead.'))
    if (await this.deliver(message, transport)) return void (await note('sent', null))
    const [job] = await this.source.query<{ last: boolean }[]>(
      'SELECT retry_count >= retry_limit AS last FROM jobs.job WHERE name = $1 AND id = $2',
      [MAIL_QUEUE, jobId],
    )
    const last = job?.last ?? true
    await note(
      last ? 'failed' : 'waiting',
      last
        ? 'The mail server did not take this message.'
        : 'The mail server did not take this message yet; it is tried again.',
    )
    // What the queue is told of it holds nothing of the message.
    throw new Error('not sent')
  }

  /** Hands a message to the mail server; whether it took it. */
  private async deliver(message: MessageRow, transport: Transporter): Promise<boolean> {
    const letter = await this.write(message)
    try {
      await transport.sendMail({
        from: { name: 'Gavrin', address: this.settings.mail.from },
        to: { name: fullName(message), address: message.address },
        subject: letter.subject,
        text: letter.text,
        ...(letter.html && { html: letter.html }),
        messageId: `<${message.id}@gavrin>`,
      })
      return true
    } catch (error) {
      this.log.warn(`a message could not be sent: ${error instanceof Error ? error.name : 'unknown'}`)
      return false
    }
  }

  private async write({ kind, school_id, person_id, ...message }: MessageRow): Promise<Letter> {
    if (kind === 'cover note')
      return coverLetter({
        className: message.class_name ?? '',
        number: message.handout_number ?? 0,
        title: message.handout_title ?? '',
        about: message.is_staff ? fullName({ first: message.about_first ?? '', last: message.about_last ?? '' }) : null,
        text: message.note ? noteAsText(message.note) : '',
        html: message.note ? noteAsHtml(message.note) : '',
        link: `${this.settings.mail.publicUrl}/to/${message.handout_id}`,
      })
    const token = await newAccountLink(this.source, school_id, person_id, kind)
    const link = `${this.settings.mail.publicUrl}/password#${token}`
    return kind === 'invitation'
      ? invitationLetter({
          name: fullName(message),
          school: message.school,
          className: message.class_name,
          sender: fullName({ first: message.sender_first ?? '', last: message.sender_last ?? '' }),
          link,
        })
      : newPasswordLetter({ name: fullName(message), school: message.school, link })
  }

  /** Invites students of a class who have an e-mail and cannot sign in yet; those of a list, or all of them. */
  async invite(viewer: Viewer, classId: string, personIds: readonly string[] | null): Promise<{ invited: number }> {
    return this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change the roster')
      const to = await tx.query<Recipient[]>(
        `SELECT p.id AS "personId", p.email AS address FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
          WHERE m.school_id = $1 AND m.class_id = $2 AND m.left_at IS NULL AND p.email IS NOT NULL AND p.password_hash IS NULL
            AND CASE WHEN $3::uuid[] IS NULL THEN m.role = 'student' ELSE p.id = ANY($3) END
            -- Whoever presses twice sends once.
            AND NOT EXISTS (SELECT 1 FROM message w WHERE w.school_id = p.school_id AND w.person_id = p.id AND w.kind = 'invitation' AND w.state = 'waiting' AND w.attempts = 0)
          ORDER BY p.last_name, p.first_name`,
        [viewer.schoolId, classId, personIds],
      )
      await this.post(tx, viewer, 'invitation', to, classId)
      return { invited: to.length }
    })
  }

  /** The mailroom of a class, newest first. */
  async ofClass(viewer: Viewer, classId: string): Promise<MailroomLine[]> {
    await holdInClass(this.source, viewer, classId, 'change the roster')
    return this.source.query<MailroomLine[]>(
      `SELECT m.id, m.kind, m.person_id AS "personId", p.first_name AS first, p.last_name AS last, m.address, m.state, m.attempts, m.problem,
              (extract(epoch FROM m.created_at) * 1000)::float8 AS "createdAt", (extract(epoch FROM m.sent_at) * 1000)::float8 AS "sentAt"
         FROM message m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
        WHERE m.school_id = $1 AND m.class_id = $2 ORDER BY m.created_at DESC, p.last_name LIMIT 1000`,
      [viewer.schoolId, classId],
    )
  }

  /** What the stand-in for a mail server took in; null where a real one is set. Only for the demo, where nothing is secret. */
  async standInMail(): Promise<{ id: string; at: number; recipient: string; subject: string; body: string }[] | null> {
    if (!this.standIn || !this.settings.demo) return null
    return this.source.query(
      `SELECT id, (extract(epoch FROM at) * 1000)::float8 AS at, recipient, subject, body FROM stand_in_mail ORDER BY id DESC LIMIT 200`,
    )
  }
}
