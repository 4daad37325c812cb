import type { AnswerKind } from '@gavrin/core'
import { Worker } from 'node:worker_threads'
import { LIMITS } from './limits.js'

/** What is done with documents away from the server's own thread. */
export type DocJob =
  /** How long an update takes on a document, given as one update. */
  | { readonly what: 'try'; readonly state: Uint8Array; readonly bytes: Uint8Array }
  /** Updates become one, and how long applying that one takes. */
  | { readonly what: 'load'; readonly kind: AnswerKind; readonly updates: readonly Uint8Array[] }
  /** How many updates from the first on can be applied at a cost that is borne, and what they make. */
  | { readonly what: 'last good'; readonly kind: AnswerKind; readonly updates: readonly Uint8Array[] }

export interface DocResult {
  /** Milliseconds. */
  readonly took: number
  readonly state: Uint8Array | null
  /** Updates applied. */
  readonly applied: number
}

/**
 * Applies updates in a worker thread, one job at a time, each with a deadline: a small message can cost Yjs seconds.
 */
export class DocWorker {
  private worker: Worker | null = null
  private last: Promise<unknown> = Promise.resolve()

  /** @returns null: not within the deadline, or the document broke */
  run(job: DocJob, deadline: number = LIMITS.slowDeadline): Promise<DocResult | null> {
    const next = this.last.then(() => this.runOnce(job, deadline))
    this.last = next
    return next
  }

  async close(): Promise<void> {
    await this.worker?.terminate()
    this.worker = null
  }

  private runOnce(job: DocJob, deadline: number): Promise<DocResult | null> {
    const worker = (this.worker ??= this.start())
    return new Promise((resolve) => {
      const end = (result: DocResult | null) => {
        clearTimeout(timer)
        worker.off('message', end)
        worker.off('error', drop)
        worker.off('exit', drop)
        resolve(result)
      }
      const drop = () => {
        if (this.worker === worker) this.worker = null
        end(null)
        void worker.terminate()
      }
      const timer = setTimeout(drop, deadline)
      worker.on('message', end)
      worker.on('error', drop)
      worker.on('exit', drop)
      worker.postMessage(job)
    })
  }

  private start(): Worker {
    const worker = new Worker(new URL('./docWorkerThread.js', import.meta.url), {
      resourceLimits: { maxOldGenerationSizeMb: 512 },
    })
    worker.unref()
    return worker
  }
}
