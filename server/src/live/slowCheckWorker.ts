import { parentPort } from 'node:worker_threads'
import * as Y from 'yjs'

parentPort!.on('message', ({ state, bytes }: { state: Uint8Array; bytes: Uint8Array }) => {
  const doc = new Y.Doc()
  try {
    Y.applyUpdate(doc, state)
    const before = performance.now()
    Y.applyUpdate(doc, bytes)
    parentPort!.postMessage(performance.now() - before)
  } catch {
    parentPort!.postMessage(null)
  } finally {
    doc.destroy()
  }
})
