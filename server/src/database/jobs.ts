import PgBoss from 'pg-boss'

const SCHEMA = 'jobs'
export const MAIL_QUEUE = 'mail'

/** The queue of work to be done later, in the same database, so that a job is put down with its reason or not at all. */
export function openJobs(databaseUrl: string): PgBoss {
  const boss = new PgBoss({ connectionString: databaseUrl, schema: SCHEMA, max: 3 })
  // It goes on by itself once the database is back; without a listener the process would end.
  boss.on('error', () => undefined)
  return boss
}

/** Brings the tables of the queue to their newest form. */
export async function prepareJobs(databaseUrl: string): Promise<void> {
  const boss = openJobs(databaseUrl)
  await boss.start()
  await boss.createQueue(MAIL_QUEUE)
  await boss.stop({ graceful: false, wait: true })
}
