import { Worker } from 'node:worker_threads'
import { LIMITS } from './limits.js'

/** How long an update took on a clone, in milliseconds; null: not within the deadline, or it broke the clone. */
export type SlowVerdict = number | null

/**
 * Tries large updates on a clone of their document in a worker thread, one at a time, before they may reach the document:
 * a small message can cost Yjs seconds.
 */
export class SlowCheck {
  private worker: Worker | null = null
  private last: Promise<unknown> = Promise.resolve()

  constructor(private readonly deadline: number = LIMITS.slowDeadline) {}

  /**
   * @param state the document, as one update
   * @param bytes the update to try
   */
  check(state: Uint8Array, bytes: Uint8Array): Promise<SlowVerdict> {
    const next = this.last.then(() => this.tryOnce(state, bytes))
    this.last = next
    return next
  }

  async close(): Promise<void> {
    await this.worker?.terminate()
    this.worker = null
  }

  private tryOnce(state: Uint8Array, bytes: Uint8Array): Promise<SlowVerdict> {
    const worker = (this.worker ??= this.start())
    return new Promise((resolve) => {
      const end = (verdict: SlowVerdict) => {
        clearTimeout(timer)
        worker.off('message', onMessage)
        worker.off('error', onError)
        resolve(verdict)
      }
      const drop = () => {
        if (this.worker === worker) this.worker = null
        void worker.terminate()
        end(null)
      }
      const onMessage = (verdict: SlowVerdict) => end(verdict)
      const onError = () => drop()
      const timer = setTimeout(drop, this.deadline)
      worker.on('message', onMessage)
      worker.on('error', onError)
      worker.postMessage({ state, bytes })
    })
  }

  private start(): Worker {
    const worker = new Worker(new URL('./slowCheckWorker.js', import.meta.url), {
      resourceLimits: { maxOldGenerationSizeMb: 256 },
    })
    worker.unref()
    return worker
  }
}
