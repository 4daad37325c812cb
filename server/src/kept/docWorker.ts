import type { AnswerKind } from '@gavrin/core'
import { Worker } from 'node:worker_threads'
import { ANSWER_LIMITS } from './limits.js'

/** What is done with documents away from the server's own thread. */
export type DocJob =
  /** How long an update takes on a document, given as one update. */
  | { readonly what: 'try'; readonly state: Uint8Array; readonly bytes: Uint8Array }
  /** Updates become one, and how long applying that one takes. */
  | { readonly what: 'load'; readonly kind: AnswerKind; readonly updates: readonly Uint8Array[] }
  /** How many updates from the first on can be applied at a cost that is borne, and what they make. */
  | { readonly what: 'last good'; readonly kind: AnswerKind; readonly updates: readonly Uint8Array[] }

/** Said by the thread once it can take jobs. */
export const READY = 'ready'
/** So long a thread may take to start, in milliseconds. */
const STARTS_WITHIN = 30_000

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
  private isReady = false
  private last: Promise<unknown> = Promise.resolve()

  /** @returns null: not within the deadline, or the document broke */
  run(job: DocJob, deadline: number = ANSWER_LIMITS.slowDeadline): Promise<DocResult | null> {
    const next = this.last.then(() => this.runOnce(job, deadline))
    this.last = next
    return next
  }

  /** Ends it after the jobs that it was given. */
  async close(): Promise<void> {
    await this.last
    await this.worker?.terminate()
    this.worker = null
  }

  private runOnce(job: DocJob, deadline: number): Promise<DocResult | null> {
    const worker = (this.worker ??= this.start())
    return new Promise((resolve) => {
      const end = (result: DocResult | null | typeof READY) => {
        clearTimeout(timer)
        if (result === READY) {
          // What it takes to start is not the job's.
          this.isReady = true
          timer = setTimeout(drop, deadline)
          return
        }
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
      let timer = setTimeout(drop, this.isReady ? deadline : STARTS_WITHIN)
      worker.on('message', end)
      worker.on('error', drop)
      worker.on('exit', drop)
      worker.postMessage(job)
    })
  }

  private start(): Worker {
    this.isReady = false
    const worker = new Worker(new URL('./docWorkerThread.js', import.meta.url), {
      resourceLimits: { maxOldGenerationSizeMb: 512 },
    })
    worker.unref()
    return worker
  }
}
