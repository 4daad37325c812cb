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
  private now = NOWHERE
  private said: Here | null = NOWHERE
  private isHeard = false
  private timer: ReturnType<typeof setTimeout> | null = null

  constructor(private readonly send: (here: Here) => void) {}

  /** One is here now. */
  stand(here: Here): void {
    this.now = here
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
    if (!this.isHeard || this.timer || (this.said && isSame(this.said, this.now))) return
    this.said = this.now
    this.send(this.now)
    this.timer = setTimeout(() => {
      this.timer = null
      this.say()
    }, PACE)
  }
}
