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
