import pg from 'pg'

/** The lock that whoever serves a database holds while it runs. */
const LOCK = 7_341_002
const LOOK = 250

/** How long a process waits for one that was killed to be noticed as gone, in milliseconds. */
const PATIENCE = 15_000

export const SECOND_PROCESS =
  'Another Gavrin process serves this database. Two may not: what is submitted or ended through one would go on being ' +
  'written through the other. Stop the other one first.'

/** The database is there, and does not answer yet: it is starting, or its machine is busy. */
const isSlow = (error: unknown): error is Error =>
  error instanceof Error && (error.message === 'timeout expired' || (error as { code?: string }).code === '57P03')

/**
 * Holds a database for one process. The lock belongs to a connection, so that a process that was killed lets it go; one
 * whose connection breaks takes it again, or gives up if another has it by then.
 */
export class OnlyProcess {
  private client: pg.Client | null = null
  private stopped = false
  /** Taking the lock again after its connection broke. */
  private again: Promise<void> = Promise.resolve()

  private constructor(
    private readonly databaseUrl: string,
    private readonly onLost: () => void,
  ) {}

  /**
   * @param onLost called when another process has taken over
   * @throws with a sentence when another process serves this database, and goes on to
   */
  static async hold(databaseUrl: string, onLost: () => void, patience = PATIENCE): Promise<OnlyProcess> {
    const only = new OnlyProcess(databaseUrl, onLost)
    const end = Date.now() + patience
    for (;;) {
      const refused = await only.take().then(
        (taken) => (taken ? null : new Error(SECOND_PROCESS)),
        (error: unknown) => {
          if (isSlow(error)) return error
          throw error
        },
      )
      if (!refused) return only
      if (Date.now() >= end) throw refused
      await new Promise((resolve) => setTimeout(resolve, LOOK))
    }
  }

  async release(): Promise<void> {
    this.stopped = true
    await this.client?.end().catch(() => undefined)
    // Released in the moment in which it is taken again, it is not kept by a connection that nobody knows of.
    await this.again
  }

  private async take(): Promise<boolean> {
    const client = new pg.Client({
      connectionString: this.databaseUrl,
      keepAlive: true,
      connectionTimeoutMillis: 10_000,
    })
    client.on('error', () => undefined)
    await client.connect()
    const { rows } = await client.query<{ held: boolean }>('SELECT pg_try_advisory_lock($1) AS held', [LOCK])
    if (!rows[0]?.held || this.stopped) {
      await client.end()
      return this.stopped
    }
    this.client = client
    client.once('end', () => {
      this.again = this.takeAgain()
    })
    return true
  }

  private async takeAgain(): Promise<void> {
    while (!this.stopped) {
      try {
        if (await this.take()) return
        return this.onLost()
      } catch {
        // The database is away; nothing is committed meanwhile.
        await new Promise((resolve) => setTimeout(resolve, LOOK).unref())
      }
    }
  }
}
