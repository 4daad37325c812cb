import type { PensStand } from '@gavrin/core'
import { Injectable } from '@nestjs/common'

type HoldStill = <T>(schoolId: string, copyId: string, work: () => Promise<T>) => Promise<T>

/** What was done with the pens of several copies: how they stand in each that is other now. */
export interface PensMoved {
  readonly pens: ReadonlyMap<string, PensStand>
}
type HoldAllStill = <T extends PensMoved>(
  schoolId: string,
  copyIds: readonly string[],
  work: () => Promise<T>,
) => Promise<T>

/** The pens of open copies, held still by whoever has the copies open. */
@Injectable()
export class Pens {
  private hold: HoldStill = (_schoolId, _copyId, work) => work()
  private holdAll: HoldAllStill = (_schoolId, _copyIds, work) => work()

  /** Who has copies open, and can hold their pens still. */
  areHeldBy(hold: HoldStill, holdAll: HoldAllStill): void {
    this.hold = hold
    this.holdAll = holdAll
  }

  /** Does something that ends or begins writing in a copy, with all pens in it held still meanwhile. */
  holdStill<T>(schoolId: string, copyId: string, work: () => Promise<T>): Promise<T> {
    return this.hold(schoolId, copyId, work)
  }

  /**
   * Stops pens in several copies at once, or lets them go on, with all of them held still meanwhile. Whoever has one of them open
   * is told when this resolves.
   */
  holdAllStill<T extends PensMoved>(schoolId: string, copyIds: readonly string[], work: () => Promise<T>): Promise<T> {
    return this.holdAll(schoolId, copyIds, work)
  }
}
