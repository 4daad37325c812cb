import { type Viewer, fullName, mayRunOffice, mayTeach, noteAsHtml, noteAsText } from '@gavrin/core'
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
import {
  type MessageKind,
  type MessageRow,
  addMessages,
  addReminderMessages,
  messageToSend,
  noteSent,
  standInMailFor,
  type KeptMail,
  type Recipient,
} from './mail.queries.js'

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
    const rows = await addMessages(tx, viewer.schoolId, {
      kind,
      personIds: to.map(({ personId }) => personId),
      addresses: to.map(({ address }) => address),
      classId,
      personId: viewer.personId,
    })
    await this.queue.put(
      tx,
      viewer.schoolId,
      rows.map(({ id }) => id),
    )
  }

  /** Puts reminders of a handout down, to be sent once the transaction is through; the id of the message to each person. */
  async postReminders(
    tx: EntityManager,
    { schoolId, personId }: Pick<Viewer, 'schoolId'> & { readonly personId: string | null },
    to: readonly Recipient[],
    of: { readonly classId: string; readonly handoutId: string },
  ): Promise<ReadonlyMap<string, string>> {
    const rows = await addReminderMessages(tx, schoolId, {
      ...of,
      personId,
      personIds: to.map((one) => one.personId),
      addresses: to.map(({ address }) => address),
    })
    await this.queue.put(
      tx,
      schoolId,
      rows.map(({ id }) => id),
    )
    return new Map(rows.map((row) => [row.personId, row.id]))
  }

  private async send(schoolId: string, messageId: string, jobId: string): Promise<void> {
    const [message] = await messageToSend(this.source, schoolId, messageId)
    if (!message) return
    const note = (state: 'waiting' | 'sent' | 'failed' | 'withdrawn', problem: string | null) =>
      noteSent(this.source, schoolId, { messageId, state, problem })
    if (message.has_left) return void (await note('withdrawn', 'They had left the class before this went out.'))
    if (message.archived) return void (await note('withdrawn', 'The class was archived before this went out.'))
    if (message.is_in)
      return void (await note('withdrawn', 'It was submitted, taken back or withdrawn before this went out.'))
    // A link that opens an account goes to nobody but who has the account.
    if (message.gone) return void (await note('failed', 'The e-mail of this person has changed since.'))
    const { transport } = this
    if (!transport)
      return void (await note(
        'failed',
        message.kind === 'cover note'
          ? 'No mail server is set for this school: the note is on their desk.'
          : message.kind === 'reminder'
            ? 'No mail server is set for this school: tell them.'
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
    if (kind === 'reminder') return { subject: message.reminder_subject ?? '', text: message.reminder_text ?? '' }
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
  async standInMail(viewer: Viewer): Promise<KeptMail[] | null> {
    if (!this.standIn || !this.settings.demo || !(mayTeach(viewer).may || mayRunOffice(viewer).may)) return null
    // A letter that opens an account is for the office alone; a teacher sees the notes of their classes.
    return standInMailFor(this.source, viewer.schoolId, mayRunOffice(viewer).may, viewer.personId)
  }
}
