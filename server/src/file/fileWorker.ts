import { type DocumentKind, type PersonName, possibleDoubles, writeOds } from '@gavrin/core'
import { parentPort, workerData } from 'node:worker_threads'
import type { WorksheetFile } from '../worksheet/out/write.js'
import { pagesOf, readListFile } from './listFile.js'

/** Work on files that may take long or go wrong, away from the thread that answers everybody. */
export type FileTask =
  | { readonly do: 'read'; readonly bytes: Uint8Array }
  | { readonly do: 'document'; readonly kind: DocumentKind; readonly bytes: Uint8Array }
  | { readonly do: 'write'; readonly format: 'xlsx' | 'ods'; readonly name: string; readonly rows: string[][] }
  | { readonly do: 'worksheet'; readonly worksheet: WorksheetFile }
  | { readonly do: 'doubles'; readonly people: readonly (PersonName & { readonly role: string })[] }

const task = workerData as FileTask
parentPort!.postMessage(await done(task))

async function done(work: FileTask): Promise<unknown> {
  switch (work.do) {
    case 'read': {
      const list = await readListFile(work.bytes)
      return list.ok ? pagesOf(list.value) : list
    }
    case 'document':
      return (await import('../bringIn/readDocument.js')).readDocument(work.kind, work.bytes)
    case 'write':
      return work.format === 'xlsx'
        ? (await import('./xlsx.js')).writeXlsx(work.name, work.rows)
        : writeOds(work.name, work.rows)
    case 'worksheet':
      return (await import('../worksheet/out/write.js')).writeWorksheet(work.worksheet)
    case 'doubles':
      return possibleDoubles(work.people)
  }
}
