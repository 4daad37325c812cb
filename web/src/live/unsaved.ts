import * as Y from 'yjs'

/** A change that the server has not answered. */
export interface Unsaved {
  readonly space: string
  readonly bytes: Uint8Array
  /** Of the change it went with; 0: not sent. */
  number: number
  key: Promise<number | null>
}

/** Changes in an order in which each run of them can become one, without gaps in what a writer wrote. */
export function runsOf(entries: readonly Unsaved[]): Unsaved[][] {
  const runs: Unsaved[][] = []
  let ends = new Map<number, number>()
  for (const entry of entries) {
    const { from, to } = Y.parseUpdateMeta(entry.bytes)
    const follows = [...from].every(([client, clock]) => clock <= (ends.get(client) ?? clock))
    const run = runs.at(-1)
    if (run && follows) run.push(entry)
    else {
      runs.push([entry])
      ends = new Map()
    }
    for (const [client, clock] of to) ends.set(client, Math.max(clock, ends.get(client) ?? 0))
  }
  return runs
}
