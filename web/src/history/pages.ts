import { type AnswerSpace, type LogEntry, type Moment, Replay, countsAfter, newAnswerDoc } from '@gavrin/core'
import type * as Y from 'yjs'

/** The answers of a copy as they were at one moment. */
export type PageThen = ReadonlyMap<string, Y.Doc>

/** The logs of the answers of a copy, and its answers at any moment made from them. */
export class Pages {
  private readonly replays: ReadonlyMap<string, Replay>

  constructor(
    private readonly spaces: readonly AnswerSpace[],
    private readonly moments: readonly Moment[],
    log: readonly LogEntry[],
  ) {
    const logs = new Map<string, Uint8Array[]>()
    for (const { space, bytes } of log) {
      const known = logs.get(space)
      if (known) known.push(bytes)
      else logs.set(space, [bytes])
    }
    this.replays = new Map(
      spaces.flatMap(({ id, kind }) => {
        const log = logs.get(id)
        return log ? [[id, new Replay(kind, log)] as const] : []
      }),
    )
    this.empty = new Map(spaces.map(({ id, kind }) => [id, newAnswerDoc(kind)]))
  }

  private readonly empty: PageThen

  /** The answers after so many moments. Of what is shown already, what goes on is changed in place. */
  after(shown: number): PageThen {
    const counts = countsAfter(this.moments, shown)
    return new Map(
      this.spaces.map(({ id }) => [id, this.replays.get(id)?.after(counts.get(id) ?? 0) ?? this.empty.get(id)!]),
    )
  }
}
