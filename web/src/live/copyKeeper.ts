import * as Y from 'yjs'
import type { KeptCopy, StateKeeping } from './keptStates'

/** How long changes are gathered before they are kept, in milliseconds. */
const GATHER = 1_000

/** What a copy is asked for by who keeps it. */
export interface KeptFrom {
  /** The answers that were changed, as the server has them: none in which something is not answered by it. */
  readonly settled: (spaces: Iterable<string>) => ReadonlyMap<string, Y.Doc>
  /** What may be done with it; null: the server has not said. */
  readonly about: () => KeptCopy | null
}

/** Keeps a copy in this browser as the server has it, so that it can be opened without a connection. */
export class CopyKeeper {
  private readonly changed = new Set<string>()
  private timer: ReturnType<typeof setTimeout> | null = null
  private readonly leaving = () => void this.keepNow()

  constructor(
    private readonly name: string,
    private readonly from: KeptFrom,
    private readonly states: StateKeeping,
  ) {
    addEventListener('pagehide', this.leaving)
  }

  /** An answer is other than it was kept; or what may be done, without one. */
  note(space?: string): void {
    if (space !== undefined) this.changed.add(space)
    this.timer ??= setTimeout(() => void this.keepNow(), GATHER)
  }

  read: () => ReturnType<StateKeeping['read']> = () => this.states.read(this.name).catch(() => null)

  stop(): void {
    removeEventListener('pagehide', this.leaving)
    void this.keepNow()
  }

  private async keepNow(): Promise<void> {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    const about = this.from.about()
    if (!about || !this.states.mayKeep(this.name)) return
    const settled = this.from.settled(this.changed)
    for (const space of settled.keys()) this.changed.delete(space)
    const states = new Map([...settled].map(([space, doc]) => [space, Y.encodeStateAsUpdate(doc)]))
    // What was changed and is not answered yet is kept when it is.
    await this.states.keep(this.name, about, states).catch(() => undefined)
  }
}
