import { type AnswerKind, type ParsedUpdate, newAnswerDoc, parseUpdate, updateCost } from '@gavrin/core'
import * as Y from 'yjs'
import { ANSWER_LIMITS } from '../kept/limits.js'
import type { StoredLate } from '../kept/spaces.queries.js'

/** An answer space in memory, as far as what came late goes by it. */
export interface Beside {
  readonly space: { readonly kind: AnswerKind }
  readonly doc: Y.Doc
  /** Of the last update that was accepted. */
  readonly seq: number
  /** Who writes under which client id. */
  readonly writers: Map<number, string>
}

/**
 * What one person wrote too late in an answer space: a document of its own, the answer as it stands with all that came
 * late from this person, so that later late changes find what they rest on.
 */
export class LateSpace<Live extends Beside = Beside> {
  readonly doc: Y.Doc
  /** Of the last late update that was accepted, and of the last that is committed. */
  seq = 0
  committedSeq = 0
  bytes = 0
  /** Rows of it that could be one. */
  unfolded = 0
  /** Why the copy stood still when it was written. */
  reason = ''
  /** When the journal last had an entry of it, in milliseconds since 1970. */
  noted = 0
  private basedOn = 0

  constructor(
    readonly live: Live,
    readonly personId: string,
    stored: StoredLate | null,
  ) {
    this.doc = newAnswerDoc(live.space.kind)
    this.catchUp()
    if (!stored) return
    for (const bytes of stored.updates) {
      this.bytes += bytes.length
      const parsed = parseUpdate(bytes, ANSWER_LIMITS.slowStructs)
      // Kept before there was a limit to what it may cost: it stays in the log.
      if (!parsed || parsed === 'too many' || !isBorne(this.doc, parsed, live.space.kind)) continue
      Y.applyUpdate(this.doc, bytes)
      for (const client of parsed.clients.keys()) if (!live.writers.has(client)) live.writers.set(client, personId)
    }
    this.seq = this.committedSeq = stored.seq
    this.unfolded = stored.updates.length
    this.reason = stored.reason
    this.noted = stored.at
  }

  /** Brings in what was added to the answer since. */
  catchUp(): void {
    if (this.live.seq === this.basedOn) return
    Y.applyUpdate(this.doc, Y.encodeStateAsUpdate(this.live.doc, Y.encodeStateVector(this.doc)))
    this.basedOn = this.live.seq
  }

  /** Whether an update holds words of a writer whose earlier words came late: it belongs with them. */
  isContinuedBy(update: Uint8Array): boolean {
    const parsed = parseUpdate(update, ANSWER_LIMITS.slowStructs)
    if (!parsed || parsed === 'too many') return false
    for (const client of parsed.clients.keys())
      if (Y.getState(this.doc.store, client) > Y.getState(this.live.doc.store, client)) return true
    return false
  }

  destroy(): void {
    this.doc.destroy()
  }
}

const isBorne = (doc: Y.Doc, parsed: ParsedUpdate, kind: AnswerKind) =>
  updateCost(doc, parsed, kind, ANSWER_LIMITS.slowSteps) <= ANSWER_LIMITS.slowSteps
