/** Limits of live connections. Beyond a rate a person is slowed, never cut: their messages wait in their sockets. */
export const LIMITS = {
  /** Bytes of one frame; beyond it the socket is closed. */
  frameBytes: 1_500_000,
  /** Client ids that one person may register in one space over one connection. */
  writers: 100,
  channels: 60,
  watches: 20,
  connectionsOfPerson: 40,
  /** Messages of one person a second, over all connections, and in one burst. */
  messageRate: 120,
  messageBurst: 600,
  /** Milliseconds of the server's time for one person a second, and in one burst. */
  workRate: 60,
  workBurst: 400,
  /** Updates waiting for the database, beyond which all writers are slowed. */
  backlog: 5_000,
} as const
/** Lets `rate` units a second through, and up to `burst` at once. */
export class Bucket {
  private level: number
  private filledAt: number

  constructor(
    private readonly rate: number,
    private readonly burst: number,
    private readonly clock: () => number = Date.now,
  ) {
    this.level = burst
    this.filledAt = clock()
  }

  /**
   * Takes units out, if need be on credit.
   * @returns milliseconds to wait until the bucket is not in debt
   */
  take(units: number): number {
    const now = this.clock()
    this.level = Math.min(this.burst, this.level + (Math.max(0, now - this.filledAt) / 1000) * this.rate) - units
    this.filledAt = now
    return this.level >= 0 ? 0 : (-this.level / this.rate) * 1000
  }
}
