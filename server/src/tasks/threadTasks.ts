import type { Viewer } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { Worker } from 'node:worker_threads'
import { malformed } from '../common/problemDetails.js'
import { Turns } from '../common/turns.js'

// Generous: a slow machine is no reason to refuse a school's list.
const DEADLINE = 45_000
const MEGABYTES = 640

/** What a thread is told: which function to call, and with what. */
export interface Task {
  readonly module: string
  readonly name: string
  readonly args: readonly unknown[]
}

type AnyFunction = (...args: never[]) => unknown

/** A function that can be called in a thread of its own, with whatever can be copied there. */
export interface ThreadCall<F extends AnyFunction> {
  /** The address of the module that exports it, or the name of its package. */
  readonly module: string
  readonly name: string
  /** What it takes and gives: for the types alone. */
  readonly is?: F
}

type Who = Pick<Viewer, 'schoolId' | 'personId'>

/**
 * Work that may take long or go wrong (files read and written, many people compared), away from the thread that answers
 * everybody: in threads of their own, each within a time and a memory limit, two at once, in turns.
 */
@Injectable()
export class ThreadTasks {
  private readonly turns = new Turns({ atOnce: 2, ofPerson: 6, inAll: 60 })

  run<F extends AnyFunction>(
    who: Who,
    { module, name }: ThreadCall<F>,
    ...args: Parameters<F>
  ): Promise<Awaited<ReturnType<F>>> {
    return this.turns.take(who, () => inThread({ module, name, args }))
  }
}

function inThread<T>(task: Task): Promise<T> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL('./taskThread.js', import.meta.url), {
      workerData: task,
      resourceLimits: { maxOldGenerationSizeMb: MEGABYTES },
    })
    const tooMuch = () =>
      malformed([
        {
          code: 'file-too-much',
          field: 'file',
          sentence:
            'This takes too long or too much memory: if it is a file, bring in only the part of it that you need.',
        },
      ])
    const timer = setTimeout(() => {
      reject(tooMuch())
      void worker.terminate()
    }, DEADLINE)
    worker.once('message', (answer: T) => {
      clearTimeout(timer)
      resolve(answer)
    })
    worker.once('error', () => {
      clearTimeout(timer)
      reject(tooMuch())
    })
    worker.once('exit', () => {
      clearTimeout(timer)
      reject(tooMuch())
    })
  })
}
