import type { Viewer } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { holdInClass } from '../access/classRole.js'
import { CoverNotes } from './coverNotes.service.js'
import { MailService, type MessageKind, type Recipient } from './mail.service.js'

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
    return this.source.query<MailroomLine[]>(
      `SELECT m.id, m.kind, m.person_id AS "personId", p.first_name AS first, p.last_name AS last, m.address, m.state, m.attempts, m.problem,
              (extract(epoch FROM m.created_at) * 1000)::float8 AS "createdAt", (extract(epoch FROM m.sent_at) * 1000)::float8 AS "sentAt",
              CASE WHEN m.state = 'waiting' THEN (extract(epoch FROM n.opens_at) * 1000)::float8 END AS "opensAt",
              CASE WHEN h.id IS NOT NULL THEN json_build_object('id', h.id, 'number', h.number, 'title', h.title) END AS handout
         FROM message m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
         LEFT JOIN handout h ON h.school_id = m.school_id AND h.id = m.handout_id
         LEFT JOIN notice n ON n.school_id = m.school_id AND n.handout_id = m.handout_id AND n.notice_key = m.notice_key
        WHERE m.school_id = $1 AND m.class_id = $2 ORDER BY m.created_at DESC, coalesce(nullif(p.last_name, ''), p.first_name) LIMIT 1000`,
      [viewer.schoolId, classId],
    )
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
