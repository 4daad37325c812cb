import * as Y from 'yjs'
import { newAnswerDoc } from '../live/space.js'
import type { AnswerKind } from '../worksheet/content.js'

/** Changes between two states that are kept whole: going back takes no more changes than these. */
const STRIDE = 500

/** An answer as it was after any number of its changes. */
export class Replay {
  private doc: Y.Doc
  private at = 0
  /** After each {@link STRIDE} of changes the state, as one update. */
  private readonly states: Uint8Array[] = []

  /** @param updates the log of the answer, from its first change on; more may be added at its end */
  constructor(
    private readonly kind: AnswerKind,
    private readonly updates: readonly Uint8Array[],
  ) {
    this.doc = newAnswerDoc(kind)
  }

  /**
   * The answer after the first `count` changes. It must not be written in; going on from it changes it, going back makes another.
   * @param count from 0 to the length of the log; beyond: its end
   */
  after(count: number): Y.Doc {
    const wanted = Math.min(count, this.updates.length)
    if (wanted < this.at) this.goBack(wanted)
    while (this.at < wanted) {
      const next = Math.min(wanted, (Math.floor(this.at / STRIDE) + 1) * STRIDE)
      this.doc.transact(() => {
        for (; this.at < next; this.at++) Y.applyUpdate(this.doc, this.updates[this.at]!)
      })
      if (this.at % STRIDE === 0) this.states[this.at / STRIDE - 1] ??= Y.encodeStateAsUpdate(this.doc)
    }
    return this.doc
  }

  private goBack(wanted: number): void {
    const whole = Math.floor(wanted / STRIDE)
    this.doc = newAnswerDoc(this.kind)
    this.at = whole * STRIDE
    if (whole > 0) Y.applyUpdate(this.doc, this.states[whole - 1]!)
  }
}
