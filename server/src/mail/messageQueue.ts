import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import type { EntityManager } from 'typeorm'
import { SETTINGS } from '../common/tokens.js'
import type { Settings } from '../common/settings.js'
import { MAIL_QUEUE, openJobs } from '../database/jobs.js'
import { dropJobs, isLastTryOf } from './mail.queries.js'
import type { Database } from '../database/inSchool.js'

const RETRIES = 6

/** The messages that are to go out, each as a job put down in the transaction that is its reason. */
@Injectable()
export class MessageQueue {
  private readonly boss: PgBoss

  constructor(@Inject(SETTINGS) settings: Settings) {
    this.boss = openJobs(settings.databaseUrl)
  }

  /** Ends after the message that is being sent. */
  async stop(): Promise<void> {
    await this.boss.stop({ graceful: true, wait: true, timeout: 3_000 }).catch(() => undefined)
  }

  /** Begins to take jobs; one whose work throws is tried again later. */
  async work(send: (schoolId: string, messageId: string, jobId: string) => Promise<void>): Promise<void> {
    await this.boss.start()
    await this.boss.work<{ schoolId: string; messageId: string }>(
      MAIL_QUEUE,
      { pollingIntervalSeconds: 0.5, batchSize: 10 },
      async (jobs) => {
        // Each for itself: one that cannot be sent fails alone, and holds up none of those taken with it.
        for (const { data, id } of jobs)
          await send(data.schoolId, data.messageId, id).catch((error: unknown) =>
            // While the database is away it cannot be said either: the job expires, and is taken again.
            this.boss
              .fail(MAIL_QUEUE, id, { reason: error instanceof Error ? error.message : 'unknown' })
              .catch(() => undefined),
          )
      },
    )
  }

  /**
   * Puts jobs down, all in one statement.
   * @param startAt when they may go out at the earliest, in milliseconds since 1970; null: now
   */
  async put(
    tx: EntityManager,
    schoolId: string,
    messageIds: readonly string[],
    startAt: number | null = null,
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

  /** Takes the jobs of messages out again, but for those that are being sent. */
  async drop(tx: EntityManager, messageIds: readonly string[]): Promise<void> {
    if (messageIds.length > 0) await dropJobs(tx, MAIL_QUEUE, messageIds)
  }

  /** Whether a job is on its last try; so is one that is gone. */
  async isLastTry(tx: Database, jobId: string): Promise<boolean> {
    const [job] = await isLastTryOf(tx, MAIL_QUEUE, jobId)
    return job?.last ?? true
  }
}
