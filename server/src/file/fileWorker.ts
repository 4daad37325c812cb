import { type DocumentKind, writeOds } from '@gavrin/core'
import { parentPort, workerData } from 'node:worker_threads'
import { readListFile } from './listFile.js'

/** Work on files that may take long or go wrong, away from the thread that answers everybody. */
export type FileTask =
  | { readonly do: 'read'; readonly bytes: Uint8Array }
  | { readonly do: 'document'; readonly kind: DocumentKind; readonly bytes: Uint8Array }
  | { readonly do: 'write'; readonly format: 'xlsx' | 'ods'; readonly name: string; readonly rows: string[][] }

const task = workerData as FileTask
parentPort!.postMessage(await done(task))

async function done(work: FileTask): Promise<unknown> {
  switch (work.do) {
    case 'read':
      return readListFile(work.bytes)
    case 'document':
      return (await import('../bringIn/readDocument.js')).readDocument(work.kind, work.bytes)
    case 'write':
      return work.format === 'xlsx'
        ? (await import('./xlsx.js')).writeXlsx(work.name, work.rows)
        : writeOds(work.name, work.rows)
  }
}
