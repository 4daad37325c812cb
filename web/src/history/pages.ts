import { type AnswerSpace, type LogEntry, type Moment, Replay, countsAfter, newAnswerDoc } from '@gavrin/core'
import type * as Y from 'yjs'

/** The answers of a copy as they were at one moment. */
export type PageThen = ReadonlyMap<string, Y.Doc>

/** The log of each answer, with the states in it that a replay has come to. */
export type Logs = ReadonlyMap<string, { readonly updates: Uint8Array[]; readonly states: Uint8Array[] }>

/** A log parted by answers. */
export function logsOf(log: readonly LogEntry[]): Logs {
  const logs = new Map<string, { updates: Uint8Array[]; states: Uint8Array[] }>()
  for (const { space, bytes } of log) {
    const known = logs.get(space)
    if (known) known.updates.push(bytes)
    else logs.set(space, { updates: [bytes], states: [] })
  }
  return logs
}

/** How long a page is kept from answering, and how many changes are made between two looks at the clock. */
const TURN = 12
const LOOK = 40

/** The logs of the answers of a copy, and its answers at any moment made from them. */
export class Pages {
  private readonly replays: ReadonlyMap<string, Replay>

  constructor(
    private readonly spaces: readonly AnswerSpace[],
    private readonly moments: readonly Moment[],
    logs: Logs,
  ) {
    this.replays = new Map(
      spaces.flatMap(({ id, kind }) => {
        const log = logs.get(id)
        return log ? [[id, new Replay(kind, log.updates, log.states)] as const] : []
      }),
    )
    this.empty = new Map(spaces.map(({ id, kind }) => [id, newAnswerDoc(kind)]))
  }

  private readonly empty: PageThen

  /** Goes through all of it once, in turns: a log that takes long, whoever wrote it, does not stop the page meanwhile. */
  async prepare(): Promise<void> {
    let began = performance.now()
    for (const replay of this.replays.values())
      while (replay.goesOn(LOOK))
        if (performance.now() - began > TURN) {
          await new Promise((resolve) => setTimeout(resolve))
          began = performance.now()
        }
  }

  /** The answers after so many moments. Of what is shown already, what goes on is changed in place. */
  after(shown: number): PageThen {
    const counts = countsAfter(this.moments, shown)
    return new Map(
      this.spaces.map(({ id }) => [id, this.replays.get(id)?.after(counts.get(id) ?? 0) ?? this.empty.get(id)!]),
    )
  }
}
