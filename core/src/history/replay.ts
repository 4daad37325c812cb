import * as Y from 'yjs'
import { newAnswerDoc } from '../live/space.js'
import type { AnswerKind } from '../worksheet/content.js'

/** Changes between two states that are kept whole: going back takes no more changes than these. */
const STRIDE = 500

/** An answer as it was after any number of its changes. */
export class Replay {
  private doc: Y.Doc
  private at = 0

  /**
   * @param updates the log of the answer, from its first change on
   * @param states after each {@link STRIDE} of changes the state, as one update: filled as it goes, for all replays of one log
   */
  constructor(
    private readonly kind: AnswerKind,
    private readonly updates: readonly Uint8Array[],
    private readonly states: Uint8Array[] = [],
  ) {
    this.doc = newAnswerDoc(kind)
  }

  /**
   * The answer after the first `count` changes. It must not be written in; going on from it changes it, going back makes another.
   * @param count from 0 to the length of the log; beyond: its end
   */
  after(count: number): Y.Doc {
    const wanted = Math.min(count, this.updates.length)
    const known = Math.min(Math.floor(wanted / STRIDE), this.states.length)
    if (wanted < this.at || known * STRIDE > this.at + STRIDE) this.beginAt(known)
    while (this.at < wanted) {
      const next = Math.min(wanted, (Math.floor(this.at / STRIDE) + 1) * STRIDE)
      this.doc.transact(() => {
        for (; this.at < next; this.at++) Y.applyUpdate(this.doc, this.updates[this.at]!)
      })
      if (this.at % STRIDE === 0) this.states[this.at / STRIDE - 1] ??= Y.encodeStateAsUpdate(this.doc)
    }
    return this.doc
  }

  /** Goes on by a few changes; whether there are more, to be asked again once others have had their turn. */
  goesOn(changes: number): boolean {
    if (this.at < this.updates.length) this.after(this.at + changes)
    return this.at < this.updates.length
  }

  private beginAt(state: number): void {
    this.doc = newAnswerDoc(this.kind)
    this.at = state * STRIDE
    if (state > 0) Y.applyUpdate(this.doc, this.states[state - 1]!)
  }
}
