import {
  type Inspection,
  type RefusalCode,
  type SpaceUpdate,
  type Viewer,
  inspectUpdate,
  mayWithCopy,
  mayWriteAt,
} from '@gavrin/core'
import * as Y from 'yjs'
import { roleIn } from '../copy/copyRecord.js'
import { LIMITS } from './limits.js'
import type { LiveCopy, LiveSpace } from './liveCopy.js'
import type { SlowCheck } from './slowCheck.js'

/** What became of an update. */
export type Acceptance =
  /** Applied and handed to `log`. */
  | { readonly outcome: 'applied' }
  /** Sound, and nothing in it is new. */
  | { readonly outcome: 'known' }
  /** It rests on something that is not here. */
  | { readonly outcome: 'missing' }
  /** Sound, but written when the copy stood still already: to be kept beside it. */
  | { readonly outcome: 'late'; readonly reason: string; readonly bytes: Uint8Array }
  | { readonly outcome: 'refused'; readonly code: RefusalCode; readonly sentence: string }
  /** The document broke although the update had passed: it must be loaded anew. */
  | { readonly outcome: 'broken' }

const refused = (code: RefusalCode, sentence: string): Acceptance => ({ outcome: 'refused', code, sentence })

/** Takes the document's own updates, in this order, in the same tick that applied them. */
export type LogUpdates = (live: LiveSpace, updates: readonly Uint8Array[]) => void

/**
 * Checks an update, applies it and hands it to `log`. Between the last look at the document, the change of it and the log
 * nothing else runs; only a large update is first tried on a clone, and looked at again after.
 */
export async function acceptUpdate(
  copy: LiveCopy,
  viewer: Viewer,
  update: Pick<SpaceUpdate, 'space' | 'bytes'>,
  slow: SlowCheck,
  log: LogUpdates,
): Promise<Acceptance> {
  const live = copy.space(update.space)
  if (!live) return refused('no-such-space', 'This worksheet has no such answer space.')
  const place = mayWriteAt(viewer, copy.record.facts, update.space)
  // A full exchange repeats what is there already, for everybody.
  if (!place.may && inspect(live, viewer, update.bytes, LIMITS.quickStructs).verdict !== 'known')
    return refused('not-yours', place.sentence)
  if (update.bytes.length > LIMITS.slowBytes)
    return refused('too-large', 'This is more than an answer can take at once: write or paste less of it.')

  if (update.bytes.length > LIMITS.quickBytes) return acceptSlowly(copy, live, viewer, update.bytes, slow, log)
  const inspection = inspect(live, viewer, update.bytes, LIMITS.quickStructs)
  if (inspection.verdict === 'refuse' && inspection.code === 'too-many')
    return acceptSlowly(copy, live, viewer, update.bytes, slow, log)
  return settle(copy, live, viewer, inspection, log)
}

function inspect(live: LiveSpace, viewer: Viewer, bytes: Uint8Array, maxStructs: number): Inspection {
  return inspectUpdate(live.doc, bytes, {
    kind: live.space.kind,
    owns: (client) => live.writers.get(client) === viewer.personId,
    maxStructs,
  })
}

async function acceptSlowly(
  copy: LiveCopy,
  live: LiveSpace,
  viewer: Viewer,
  bytes: Uint8Array,
  slow: SlowCheck,
  log: LogUpdates,
): Promise<Acceptance> {
  const before = inspect(live, viewer, bytes, LIMITS.slowStructs)
  if (before.verdict !== 'apply') return settle(copy, live, viewer, before, log)
  const took = await slow.check(Y.encodeStateAsUpdate(live.doc), before.bytes)
  if (took === null || took > LIMITS.slowShare)
    return refused('too-many', 'This change is too large to take at once: write or paste less of it.')
  if (copy.dropped) return { outcome: 'broken' }
  return settle(copy, live, viewer, inspect(live, viewer, bytes, LIMITS.slowStructs), log)
}

function settle(copy: LiveCopy, live: LiveSpace, viewer: Viewer, inspection: Inspection, log: LogUpdates): Acceptance {
  if (inspection.verdict === 'known') return { outcome: 'known' }
  const ruling = mayWithCopy(viewer, roleIn(copy.record, viewer), copy.record.facts, 'write', Date.now())
  const wrote = copy.record.facts.holders.get(viewer.personId) === 'edit'
  // Who never could write here learns nothing about the form of what they sent.
  if (!ruling.may && !wrote) return refused('may-not-write', ruling.sentence)
  if (inspection.verdict === 'missing') return { outcome: 'missing' }
  if (inspection.verdict === 'refuse') return refused(inspection.code, inspection.sentence)
  if (!ruling.may) return { outcome: 'late', reason: ruling.sentence, bytes: inspection.bytes }
  if (live.bytes + inspection.bytes.length > LIMITS.spaceBytes)
    return refused('full', 'This answer space is full: nothing more can be added to it.')

  const updates: Uint8Array[] = []
  const collect = (bytes: Uint8Array) => updates.push(bytes)
  live.doc.on('update', collect)
  try {
    Y.applyUpdate(live.doc, inspection.bytes)
  } catch {
    return { outcome: 'broken' }
  } finally {
    live.doc.off('update', collect)
  }
  if (live.doc.store.pendingStructs || live.doc.store.pendingDs) return { outcome: 'broken' }
  log(live, updates)
  return { outcome: 'applied' }
}
