import { type AnswerKind, newAnswerDoc, parseUpdate, updateCost } from '@gavrin/core'
import { Injectable, type OnApplicationShutdown } from '@nestjs/common'
import * as Y from 'yjs'
import { DocWorker } from './docWorker.js'
import { ANSWER_LIMITS } from './limits.js'

/**
 * Makes documents of what is kept of them, without the server standing still for it: what costs little is applied at once,
 * the rest by a worker with a deadline, and then as one update.
 */
@Injectable()
export class DocLoader implements OnApplicationShutdown {
  private readonly worker = new DocWorker()

  /**
   * The document that updates make, in this order.
   * @returns null when that cannot be done in time
   */
  async load(kind: AnswerKind, updates: readonly Uint8Array[]): Promise<Y.Doc | null> {
    const doc = newAnswerDoc(kind)
    if (applyWithin(doc, kind, updates, CHEAP)) return doc
    doc.destroy()
    const folded = await this.worker.run({ what: 'load', kind, updates }, ANSWER_LIMITS.loadDeadline)
    if (!folded?.state || folded.took > ANSWER_LIMITS.loadShare) return null
    const loaded = newAnswerDoc(kind)
    Y.applyUpdate(loaded, folded.state)
    return loaded
  }

  /** How many updates, from the first on, can be applied at a cost that is borne; null when that takes too long to find. */
  async lastGood(kind: AnswerKind, updates: readonly Uint8Array[]): Promise<number | null> {
    return (
      (await this.worker.run({ what: 'last good', kind, updates }, 4 * ANSWER_LIMITS.loadDeadline))?.applied ?? null
    )
  }

  onApplicationShutdown(): Promise<void> {
    return this.worker.close()
  }
}

const CHEAP = { bytes: ANSWER_LIMITS.loadBytes, steps: ANSWER_LIMITS.loadSteps }

/** Applies updates as long as they cost no more than is borne; whether all were. */
export function applyWithin(
  doc: Y.Doc,
  kind: AnswerKind,
  updates: readonly Uint8Array[],
  { bytes, steps }: { readonly bytes: number; readonly steps: number },
): boolean {
  if (updates.reduce((sum, { length }) => sum + length, 0) > bytes) return false
  let left = steps
  return doc.transact(() =>
    updates.every((update) => {
      const parsed = parseUpdate(update, ANSWER_LIMITS.slowStructs)
      if (!parsed || parsed === 'too many') return false
      // Every update costs something, even one that moves nothing.
      left -= 1 + updateCost(doc, parsed, kind, Math.max(left, 0))
      if (left < 0) return false
      Y.applyUpdate(doc, update)
      return true
    }),
  )
}
