import { Injectable } from '@nestjs/common'
import type { BroughtIn, DocumentKind, Outcome, PersonName, PossibleDouble, Viewer } from '@gavrin/core'
import { Worker } from 'node:worker_threads'
import { valueOf } from '../common/checked.js'
import { malformed } from '../common/problemDetails.js'
import { Turns } from '../common/turns.js'
import type { WorksheetFile } from '../worksheet/out/write.js'
import type { FileTask } from './fileWorker.js'
import { type ReadList, listKind } from './listFile.js'

// Generous: a slow machine is no reason to refuse a school's list.
const DEADLINE = 45_000
const MEGABYTES = 640

type Who = Pick<Viewer, 'schoolId' | 'personId'>

/** Reads and writes files, and compares many people, in threads of their own, each within a time and a memory limit, two at once, in turns. */
@Injectable()
export class FileTasks {
  private readonly turns = new Turns({ atOnce: 2, ofPerson: 6, inAll: 60 })

  /** What a file of a list holds; a problem with a sentence for whatever cannot be read. */
  async read(who: Who, bytes: Uint8Array): Promise<ReadList> {
    valueOf(listKind(bytes))
    return valueOf(await this.run<Outcome<ReadList>>(who, { do: 'read', bytes }))
  }

  /** What a document holds, as a worksheet that is not kept yet. */
  async document(who: Who, kind: DocumentKind, bytes: Uint8Array): Promise<BroughtIn> {
    return valueOf(await this.run<Outcome<BroughtIn>>(who, { do: 'document', kind, bytes }))
  }

  write(who: Who, format: 'xlsx' | 'ods', name: string, rows: string[][]): Promise<Uint8Array> {
    return this.run(who, { do: 'write', format, name, rows })
  }

  /** A worksheet as a file; as a web page where it is printed after. */
  worksheet(who: Who, worksheet: WorksheetFile): Promise<Uint8Array> {
    return this.run(who, { do: 'worksheet', worksheet })
  }

  /** Who of a school may be there twice. */
  doubles(who: Who, people: readonly (PersonName & { readonly role: string })[]): Promise<PossibleDouble[]> {
    return this.run(who, { do: 'doubles', people })
  }

  private run<T>(who: Who, task: FileTask): Promise<T> {
    return this.turns.take(who, () => inThread<T>(task))
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
