import { Injectable } from '@nestjs/common'
import type { EntityManager } from 'typeorm'
import { MAIL_QUEUE } from '../database/jobs.js'
import { MessageQueue } from './messageQueue.js'

interface OfHandout {
  readonly schoolId: string
  readonly id: string
  readonly classId: string
}

interface Waiting {
  readonly id: string
  /** In milliseconds since 1970; null: at once. */
  readonly opensAt: number | null
}

/** Cover notes that go out by mail, each once, when what they are about opens. */
@Injectable()
export class CoverNotes {
  constructor(private readonly queue: MessageQueue) {}

  /** Puts the mails of notices down, to go out when their handout opens. Who has no e-mail reads it on the desk. */
  async post(tx: EntityManager, handout: OfHandout, noticeKeys: readonly string[], personId: string): Promise<void> {
    if (noticeKeys.length === 0) return
    const rows = await tx.query<Waiting[]>(
      `INSERT INTO message (school_id, kind, person_id, address, class_id, created_by, handout_id, notice_key)
       SELECT n.school_id, 'cover note', n.person_id, p.email, $4, $5, n.handout_id, n.notice_key
         FROM notice n JOIN person p ON p.school_id = n.school_id AND p.id = n.person_id
        WHERE n.school_id = $1 AND n.handout_id = $2 AND n.notice_key = ANY($3) AND p.email IS NOT NULL
       ON CONFLICT (handout_id, notice_key, school_id) DO NOTHING
       RETURNING id, (SELECT (extract(epoch FROM opens_at) * 1000)::float8 FROM notice n
          WHERE n.school_id = message.school_id AND n.handout_id = message.handout_id AND n.notice_key = message.notice_key) AS "opensAt"`,
      [handout.schoolId, handout.id, noticeKeys, handout.classId, personId],
    )
    await this.put(tx, handout.schoolId, rows)
  }

  /**
   * Follows the copies, whose times have changed, or which were set aside or brought back: what has not gone out yet goes out
   * when the first copy of whom it is about opens now, and not at all while there is none.
   */
  async follow(tx: EntityManager, { schoolId, id }: Pick<OfHandout, 'schoolId' | 'id'>): Promise<void> {
    const [moved] = await tx.query<[(Waiting & { state: 'waiting' | 'withdrawn' })[], number]>(
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
       RETURNING m.id, m.state, (extract(epoch FROM a.opens_at) * 1000)::float8 AS "opensAt"`,
      [schoolId, id, MAIL_QUEUE],
    )
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
    const [failed] = await tx.query<[Waiting[], number]>(
      `UPDATE message m SET state = 'waiting', problem = NULL, attempts = 0, address = p.email FROM person p, notice n
        WHERE m.school_id = $1 AND m.class_id = $2 AND m.kind = 'cover note' AND m.state = 'failed' AND ($3::uuid[] IS NULL OR m.id = ANY($3))
          AND p.school_id = m.school_id AND p.id = m.person_id AND p.email IS NOT NULL
          AND n.school_id = m.school_id AND n.handout_id = m.handout_id AND n.notice_key = m.notice_key
       RETURNING m.id, (extract(epoch FROM n.opens_at) * 1000)::float8 AS "opensAt"`,
      [schoolId, classId, messageIds],
    )
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
