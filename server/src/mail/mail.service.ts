import { type NoteText, type Viewer, fullName, mayRunOffice, mayTeach, noteAsHtml, noteAsText } from '@gavrin/core'
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import nodemailer, { type Transporter } from 'nodemailer'
import { DataSource, type EntityManager } from 'typeorm'
import { newAccountLink } from './accountLinks.js'
import { SETTINGS } from '../common/tokens.js'
import { STAND_IN, type Settings } from '../common/settings.js'
import { type Letter, coverLetter, invitationLetter, newPasswordLetter } from './letters.js'
import { MessageQueue } from './messageQueue.js'
import { MESSAGE_HEADER, StandInMailServer } from './standIn.js'

export type MessageKind = 'invitation' | 'new password' | 'cover note'

/** Somebody a message is for. */
export interface Recipient {
  readonly personId: string
  readonly address: string
}

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
  /** Whom the note is about is not in the class any more. */
  has_left: boolean
  /** The class of a cover note is archived. */
  archived: boolean
}

/**
 * The mailroom: messages are put down in the transaction that is their reason, sent by a job after it, and tried again if the
 * mail server is away. Any server process may take the job; each message goes out once.
 */
@Injectable()
export class MailService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('mail')
  private transport: Transporter | null = null
  private standIn: StandInMailServer | null = null

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly queue: MessageQueue,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const { smtpUrl } = this.settings.mail
    if (smtpUrl === STAND_IN) this.standIn = await StandInMailServer.open(this.source)
    const address = this.standIn?.url ?? smtpUrl
    if (address) this.transport = nodemailer.createTransport(address)
    await this.queue.work((schoolId, messageId, jobId) => this.send(schoolId, messageId, jobId))
  }

  async onApplicationShutdown(): Promise<void> {
    await this.queue.stop()
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
    await this.queue.put(
      tx,
      viewer.schoolId,
      rows.map(({ id }) => id),
    )
  }

  private async send(schoolId: string, messageId: string, jobId: string): Promise<void> {
    const [message] = await this.source.query<MessageRow[]>(
      `SELECT m.school_id, m.id, m.kind, m.person_id, m.address, c.name AS class_name, m.kind = 'cover note' AND c.archived_at IS NOT NULL AS archived, b.first_name AS sender_first, b.last_name AS sender_last,
              p.first_name AS first, p.last_name AS last, s.name AS school, p.email IS DISTINCT FROM m.address AS gone,
              m.handout_id, h.title AS handout_title, h.number AS handout_number, n.note, n.person_id <> n.about_id AS is_staff, a.first_name AS about_first, a.last_name AS about_last,
              n.about_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM class_member k WHERE k.school_id = m.school_id AND k.class_id = m.class_id AND k.person_id = n.about_id AND k.left_at IS NULL) AS has_left
         FROM message m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id JOIN school s ON s.id = m.school_id
         LEFT JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
         LEFT JOIN person b ON b.school_id = m.school_id AND b.id = m.created_by
         LEFT JOIN handout h ON h.school_id = m.school_id AND h.id = m.handout_id
         LEFT JOIN notice n ON n.school_id = m.school_id AND n.handout_id = m.handout_id AND n.notice_key = m.notice_key
         LEFT JOIN person a ON a.school_id = n.school_id AND a.id = n.about_id
        WHERE m.school_id = $1 AND m.id = $2 AND m.state IN ('waiting', 'failed')`,
      [schoolId, messageId],
    )
    if (!message) return
    const note = (state: 'waiting' | 'sent' | 'failed' | 'withdrawn', problem: string | null) =>
      this.source.query(
        `UPDATE message SET state = $3, problem = $4, attempts = attempts + 1, sent_at = CASE WHEN $3 = 'sent' THEN now() END WHERE school_id = $1 AND id = $2`,
        [schoolId, messageId, state, problem],
      )
    if (message.has_left) return void (await note('withdrawn', 'They had left the class before this went out.'))
    if (message.archived) return void (await note('withdrawn', 'The class was archived before this went out.'))
    // A link that opens an account goes to nobody but who has the account.
    if (message.gone) return void (await note('failed', 'The e-mail of this person has changed since.'))
    const { transport } = this
    if (!transport)
      return void (await note(
        'failed',
        message.kind === 'cover note'
          ? 'No mail server is set for this school: the note is on their desk.'
          : 'No mail server is set for this school: print sign-in cards instead.',
      ))
    if (await this.deliver(message, transport)) return void (await note('sent', null))
    const last = await this.queue.isLastTry(this.source.manager, jobId)
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
        ...(this.standIn && { headers: { [MESSAGE_HEADER]: message.id } }),
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

  /** What the stand-in for a mail server took in; null where a real one is set. Only for the demo, where nothing is secret. */
  async standInMail(
    viewer: Viewer,
  ): Promise<{ id: string; at: number; recipient: string; subject: string; body: string }[] | null> {
    if (!this.standIn || !this.settings.demo || !(mayTeach(viewer).may || mayRunOffice(viewer).may)) return null
    // A letter that opens an account is for the office alone; a teacher sees the notes of their classes.
    return this.source.query(
      `SELECT s.id, (extract(epoch FROM s.at) * 1000)::float8 AS at, s.recipient, s.subject, s.body FROM stand_in_mail s JOIN message m ON m.id = s.message_id
        WHERE m.school_id = $1 AND ($2 OR m.kind = 'cover note' AND EXISTS (SELECT 1 FROM class_member k
                WHERE k.school_id = m.school_id AND k.class_id = m.class_id AND k.person_id = $3 AND k.left_at IS NULL AND k.role IN ('lead', 'co-teacher')))
        ORDER BY s.id DESC LIMIT 200`,
      [viewer.schoolId, mayRunOffice(viewer).may, viewer.personId],
    )
  }
}
