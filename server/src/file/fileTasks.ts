import { Injectable } from '@nestjs/common'
import type { BroughtIn, DocumentKind, Outcome } from '@gavrin/core'
import { Worker } from 'node:worker_threads'
import { valueOf } from '../common/checked.js'
import { ProblemException, malformed } from '../common/problemDetails.js'
import type { FileTask } from './fileWorker.js'
import { type ListFile, listKind } from './listFile.js'

// Generous: a slow machine is no reason to refuse a school's list.
const DEADLINE = 45_000
const MEGABYTES = 640
const AT_ONCE = 2
const WAITING = 20

/** Reads and writes files in threads of their own, each within a time and a memory limit, two at once. */
@Injectable()
export class FileTasks {
  private running = 0
  private readonly waiting: (() => void)[] = []

  /** What a file of a list holds; a problem with a sentence for whatever cannot be read. */
  async read(bytes: Uint8Array): Promise<ListFile> {
    valueOf(listKind(bytes))
    const outcome = await this.run<Outcome<ListFile>>({ do: 'read', bytes })
    return valueOf(outcome)
  }

  /** What a document holds, as a worksheet that is not kept yet. */
  async document(kind: DocumentKind, bytes: Uint8Array): Promise<BroughtIn> {
    return valueOf(await this.run<Outcome<BroughtIn>>({ do: 'document', kind, bytes }))
  }

  write(format: 'xlsx' | 'ods', name: string, rows: string[][]): Promise<Uint8Array> {
    return this.run({ do: 'write', format, name, rows })
  }

  private async run<T>(task: FileTask): Promise<T> {
    if (this.running >= AT_ONCE) {
      if (this.waiting.length >= WAITING)
        throw new ProblemException(503, 'busy', 'Many files are being read at the moment: try again in a minute.')
      await new Promise<void>((resolve) => this.waiting.push(resolve))
    }
    this.running++
    try {
      return await inThread<T>(task)
    } finally {
      this.running--
      this.waiting.shift()?.()
    }
  }
}

function inThread<T>(task: FileTask): Promise<T> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL('./fileWorker.js', import.meta.url), {
      workerData: task,
      resourceLimits: { maxOldGenerationSizeMb: MEGABYTES },
    })
    const tooMuch = () =>
      malformed([
        {
          code: 'file-too-much',
          field: 'file',
          sentence: 'This file takes too long or too much memory to read: bring in only the part that you need.',
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
