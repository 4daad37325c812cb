import { Injectable } from '@nestjs/common'
import type { EntityManager } from 'typeorm'
import { MAIL_QUEUE } from '../database/jobs.js'
import { MessageQueue } from './messageQueue.js'
import { type Waiting, addNoteMessages, alterNoteMessages, tryNotesAgain } from './mail.queries.js'

interface OfHandout {
  readonly schoolId: string
  readonly id: string
  readonly classId: string
}

/** Cover notes that go out by mail, each once, when what they are about opens. */
@Injectable()
export class CoverNotes {
  constructor(private readonly queue: MessageQueue) {}

  /** Puts the mails of notices down, to go out when their handout opens. Who has no e-mail reads it on the desk. */
  async post(tx: EntityManager, handout: OfHandout, noticeKeys: readonly string[], personId: string): Promise<void> {
    if (noticeKeys.length === 0) return
    const rows = await addNoteMessages(tx, handout.schoolId, {
      id: handout.id,
      noticeKeys,
      classId: handout.classId,
      personId,
    })
    await this.put(tx, handout.schoolId, rows)
  }

  /**
   * Follows the copies, whose times have changed, or which were set aside or brought back: what has not gone out yet goes out
   * when the first copy of whom it is about opens now, and not at all while there is none.
   */
  async follow(tx: EntityManager, { schoolId, id }: Pick<OfHandout, 'schoolId' | 'id'>): Promise<void> {
    const moved = await alterNoteMessages(tx, schoolId, id, MAIL_QUEUE)
    await this.queue.drop(
      tx,
      moved.map((message) => message.id),
    )
    await this.put(
      tx,
      schoolId,
      moved.filter(({ state }) => state === 'waiting'),
    )
  }

  /** Tries again what could not be sent in a class, to the addresses as they are now: these messages, or all. */
  async again(
    tx: EntityManager,
    schoolId: string,
    classId: string,
    messageIds: readonly string[] | null,
  ): Promise<number> {
    const failed = await tryNotesAgain(tx, schoolId, classId, messageIds)
    await this.put(tx, schoolId, failed)
    return failed.length
  }

  private async put(tx: EntityManager, schoolId: string, messages: readonly Waiting[]): Promise<void> {
    for (const startAt of new Set(messages.map(({ opensAt }) => opensAt)))
      await this.queue.put(
        tx,
        schoolId,
        messages.filter(({ opensAt }) => opensAt === startAt).map(({ id }) => id),
        startAt,
      )
  }
}
