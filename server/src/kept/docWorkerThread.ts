import { newAnswerDoc, parseUpdate, updateCost } from '@gavrin/core'
import { parentPort } from 'node:worker_threads'
import * as Y from 'yjs'
import { type DocJob, type DocResult, READY } from './docWorker.js'
import { ANSWER_LIMITS } from './limits.js'

parentPort!.on('message', (job: DocJob) => {
  let result: DocResult | null = null
  try {
    result = done(job)
  } catch {
    // Said by null.
  }
  parentPort!.postMessage(result)
})

function done(job: DocJob): DocResult | null {
  if (job.what === 'try') {
    const doc = new Y.Doc()
    Y.applyUpdate(doc, job.state)
    return { took: timed(() => Y.applyUpdate(doc, job.bytes)), state: null, applied: 1 }
  }
  const doc = newAnswerDoc(job.kind)
  const applied = applyWhileBorne(doc, job)
  if (job.what === 'load' && applied < job.updates.length) return null
  const state = Y.encodeStateAsUpdate(doc)
  const again = newAnswerDoc(job.kind)
  return { took: timed(() => Y.applyUpdate(again, state)), state, applied }
}

/** Applies updates up to the first that costs more than is borne; all of them together may cost that of many such. */
function applyWhileBorne(doc: Y.Doc, { what, kind, updates }: Exclude<DocJob, { what: 'try' }>): number {
  let left = ANSWER_LIMITS.loadWorkerSteps
  for (const [at, update] of updates.entries()) {
    const parsed = parseUpdate(update, ANSWER_LIMITS.loadStructs)
    if (!parsed || parsed === 'too many') return at
    // The first may be a whole answer that was folded, or carried here.
    const limit = what === 'load' || at === 0 ? left : Math.min(left, ANSWER_LIMITS.slowSteps)
    const cost = updateCost(doc, parsed, kind, limit)
    if (cost > limit) return at
    left -= cost
    Y.applyUpdate(doc, update)
  }
  return updates.length
}

/** What it cost: on a machine that others have, time passes in which nothing of it was done. */
function timed(work: () => void): number {
  const before = performance.now()
  const used = process.cpuUsage()
  work()
  const passed = performance.now() - before
  const { user, system } = process.cpuUsage(used)
  // Of all threads together: no less than this one's.
  return Math.min(passed, (user + system) / 1_000)
}

parentPort!.postMessage(READY)
