import type { PersonHere } from '@gavrin/core'

/** Where one is in a copy: in which answer space, where in its letters, and whether one looks at all. */
export interface Here {
  readonly space: string | null
  readonly at: string | null
  readonly away: boolean
}

const NOWHERE: Here = { space: null, at: null, away: false }

/** How often it is said at most, in milliseconds. */
const PACE = 150

const isSame = (one: Here, other: Here) => one.space === other.space && one.at === other.at && one.away === other.away

/** Says where one is in a copy: not more often than anybody could follow, and only while there is somebody else to see it. */
export class Whereabouts {
  private look: () => Here = () => NOWHERE
  private said = NOWHERE
  private isHeard = false
  private timer: ReturnType<typeof setTimeout> | null = null

  constructor(private readonly send: (here: Here) => void) {}

  /**
   * One is elsewhere now, maybe.
   * @param look finds out where; asked only when it is to be said
   */
  stand(look: () => Here): void {
    this.look = look
    this.say()
  }

  /** Somebody else has the copy open, or nobody has. */
  heardBySomebody(isHeard: boolean): void {
    this.isHeard = isHeard
    this.say()
  }

  /** The copy was opened anew: nothing has been said yet. */
  again(): void {
    this.said = NOWHERE
    this.isHeard = false
  }

  stop(): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    this.isHeard = false
  }

  private say(): void {
    if (!this.isHeard || this.timer) return
    const now = this.look()
    if (isSame(this.said, now)) return
    this.said = now
    this.send(now)
    this.timer = setTimeout(() => {
      this.timer = null
      this.say()
    }, PACE)
  }
}

const NOBODY: readonly PersonHere[] = []

/** Who has a copy open. On its own, so that a page is not drawn again by every move of somebody's caret. */
export class People {
  private now = NOBODY
  private readonly listeners = new Set<() => void>()

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  readonly list = (): readonly PersonHere[] => this.now

  show(people: readonly PersonHere[]): void {
    if (people.length === 0 && this.now.length === 0) return
    this.now = people
    for (const listener of [...this.listeners]) listener()
  }
}
