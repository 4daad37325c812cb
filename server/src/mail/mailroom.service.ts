import type { Viewer } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { holdInClass } from '../access/classRole.js'
import { CoverNotes } from './coverNotes.service.js'
import { MailService } from './mail.service.js'
import { type MailroomLine, messagesOfClass, peopleToInvite } from './mail.queries.js'

/** The mailroom of a class: its messages, how each went, and what is sent once more. */
@Injectable()
export class MailroomService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly mail: MailService,
    private readonly notes: CoverNotes,
  ) {}

  /** The messages of a class, newest first. */
  async ofClass(viewer: Viewer, classId: string): Promise<MailroomLine[]> {
    await holdInClass(this.source, viewer, classId, 'change the roster')
    return messagesOfClass(this.source, viewer.schoolId, classId)
  }

  /** Invites students of a class who have an e-mail and cannot sign in yet; those of a list, or all of them. */
  async invite(viewer: Viewer, classId: string, personIds: readonly string[] | null): Promise<{ invited: number }> {
    return this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change the roster')
      const to = await peopleToInvite(tx, viewer.schoolId, classId, personIds)
      await this.mail.post(tx, viewer, 'invitation', to, classId)
      return { invited: to.length }
    })
  }

  /** Sends cover notes that failed once more: these, or all of the class. */
  async again(viewer: Viewer, classId: string, messageIds: readonly string[] | null): Promise<{ sent: number }> {
    return this.source.transaction(async (tx) => {
      await holdInClass(tx, viewer, classId, 'change the roster')
      return { sent: await this.notes.again(tx, viewer.schoolId, classId, messageIds) }
    })
  }
}
