import type { Viewer } from '@gavrin/core'
import { ProblemException } from './problemDetails.js'

type Who = Pick<Viewer, 'schoolId' | 'personId'>

interface Waiting {
  readonly who: Who
  readonly go: () => void
}

export interface TurnsLimits {
  /** Pieces of work at a time; of one person one less, so that somebody else always comes to their turn. */
  readonly atOnce: number
  /** Pieces of work of one person that wait. */
  readonly ofPerson: number
  readonly inAll: number
}

/** What a browser does with it: it waits so many seconds and asks again. */
const AGAIN_AFTER = 3

/**
 * Heavy work, few pieces at a time. Who had their turn longest ago is next, first by school and then by person, so that
 * nobody waits for more than one piece of anybody else's.
 */
export class Turns {
  private readonly running: Who[] = []
  private waiting: Waiting[] = []
  private count = 0
  private readonly served = new Map<string, number>()

  constructor(private readonly limits: TurnsLimits) {}

  /** Does a piece of work in its turn; told to come again when too much waits already. */
  async take<T>(who: Who, work: () => Promise<T>): Promise<T> {
    const mine = this.waiting.filter((one) => one.who.personId === who.personId).length
    if (mine >= this.limits.ofPerson || this.waiting.length >= this.limits.inAll)
      throw new ProblemException(
        429,
        'wait-your-turn',
        'Much is being read at the moment: wait a little, then try again.',
        {
          retryAfter: AGAIN_AFTER,
        },
      )
    await new Promise<void>((go) => {
      this.waiting.push({ who, go })
      this.next()
    })
    try {
      return await work()
    } finally {
      this.running.splice(this.running.indexOf(who), 1)
      this.next()
    }
  }

  private next(): void {
    while (this.running.length < this.limits.atOnce) {
      const most = Math.max(1, this.limits.atOnce - 1)
      const free = this.waiting.filter(
        ({ who }) => this.running.filter(({ personId }) => personId === who.personId).length < most,
      )
      const last = (key: string) => this.served.get(key) ?? 0
      const [first] = free.sort(
        (one, other) =>
          last(one.who.schoolId) - last(other.who.schoolId) || last(one.who.personId) - last(other.who.personId),
      )
      if (!first) {
        if (this.waiting.length === 0 && this.running.length === 0) this.served.clear()
        return
      }
      this.waiting = this.waiting.filter((one) => one !== first)
      this.running.push(first.who)
      this.served.set(first.who.schoolId, ++this.count).set(first.who.personId, this.count)
      first.go()
    }
  }
}
