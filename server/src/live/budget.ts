import { Bucket } from '../common/bucket.js'
import { LIMITS } from './limits.js'

/** What one person may ask of the server, over all connections: messages, and time of the server's own thread. */
export class Budget {
  private readonly messages = new Bucket(LIMITS.messageRate, LIMITS.messageBurst)
  private readonly work = new Bucket(LIMITS.workRate, LIMITS.workBurst)
  usedAt = Date.now()

  /** Takes a message; milliseconds until it may be dealt with. */
  message(): number {
    this.usedAt = Date.now()
    return Math.max(this.messages.take(1), this.debt())
  }

  /** Puts time that will be spent, or was, on the account, in milliseconds. */
  charge(milliseconds: number): void {
    this.work.take(milliseconds)
  }

  /** Milliseconds until nothing is owed. */
  debt(): number {
    return this.work.take(0)
  }
}

/** After this time an account is full again whatever was taken, in milliseconds. */
const FORGET = 60_000

/** The accounts of everybody who is connected, or was lately. */
export class Budgets {
  private readonly budgets = new Map<string, Budget>()

  of(personId: string): Budget {
    let budget = this.budgets.get(personId)
    if (!budget) {
      const now = Date.now()
      for (const [id, { usedAt }] of this.budgets) if (now - usedAt > FORGET) this.budgets.delete(id)
      this.budgets.set(personId, (budget = new Budget()))
    }
    budget.usedAt = Date.now()
    return budget
  }
}
