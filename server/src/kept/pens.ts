import { Injectable } from '@nestjs/common'

type HoldStill = <T>(schoolId: string, copyId: string, work: () => Promise<T>) => Promise<T>

/** The pens of open copies, held still by whoever has the copies open. */
@Injectable()
export class Pens {
  private hold: HoldStill = (_schoolId, _copyId, work) => work()

  /** Who has copies open, and can hold their pens still. */
  areHeldBy(hold: HoldStill): void {
    this.hold = hold
  }

  /** Does something that ends or begins writing in a copy, with all pens in it held still meanwhile. */
  holdStill<T>(schoolId: string, copyId: string, work: () => Promise<T>): Promise<T> {
    return this.hold(schoolId, copyId, work)
  }
}
