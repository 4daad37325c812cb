/** Limits of one live connection. Beyond a rate it is slowed, never cut: its messages wait in its socket. */
export const LIMITS = {
  /** Bytes of one frame; beyond it the socket is closed. */
  frameBytes: 1_500_000,
  /** Bytes and structs of an update that is looked at in the ordinary way; larger ones are tried on a clone first. */
  quickBytes: 64_000,
  quickStructs: 300,
  /** Bytes and structs of an update beyond which it is refused. */
  slowBytes: 1_000_000,
  slowStructs: 60_000,
  /** How long an update may take on the clone, and how much of that the server's own thread may then spend, in milliseconds. */
  slowDeadline: 3_000,
  slowShare: 250,
  /** Bytes of the updates in one answer space, beyond which it is full. */
  spaceBytes: 4_000_000,
  /** Client ids that one person may register in one space over one connection. */
  writers: 100,
  channels: 60,
  watches: 20,
  connectionsOfPerson: 40,
  /** Messages a second, and in one burst. */
  messageRate: 120,
  messageBurst: 600,
  /** Milliseconds of the server's time a second, and in one burst. */
  workRate: 150,
  workBurst: 600,
  /** Late writings kept of one copy. */
  lateWritings: 200,
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
