import {
  type Inspection,
  type RefusalCode,
  type SpaceUpdate,
  inspectUpdate,
  isStarter,
  mayWithCopy,
  mayWriteAt,
  starterClient,
  starterOf,
} from '@gavrin/core'
import * as Y from 'yjs'
import { roleIn } from '../kept/copyRecord.js'
import type { Budget } from './budget.js'
import type { DocWorker } from '../kept/docWorker.js'
import { LateSpace } from './lateSpace.js'
import { ANSWER_LIMITS } from '../kept/limits.js'
import type { LiveCopy, LiveSpace, Writer } from './liveCopy.js'

/** What became of an update. */
export type Acceptance =
  /** Applied and handed to `log`. */
  | { readonly outcome: 'applied' }
  /** Sound, and nothing in it is new. */
  | { readonly outcome: 'known' }
  /** It rests on something that is not here. */
  | { readonly outcome: 'missing' }
  /** Sound, and kept beside the answer already. */
  | { readonly outcome: 'known late'; readonly late: LateSpace<LiveSpace> }
  | { readonly outcome: 'refused'; readonly code: RefusalCode; readonly sentence: string }
  /** The document broke although the update had passed: it must be loaded anew. */
  | { readonly outcome: 'broken' }

/** An update that passed, and where it goes: into the answer, or beside it with what came late. */
interface Passed {
  readonly outcome: 'passed'
  readonly to: LiveSpace | LateSpace<LiveSpace>
  readonly bytes: Uint8Array
  readonly steps: number
}

/** Too dear to be taken at once. */
interface Dear {
  readonly outcome: 'dear'
}

export interface AcceptanceTools {
  readonly worker: Pick<DocWorker, 'run'>
  readonly budget: Budget
  /** Resolves when pens are not held still. */
  readonly pensFree: () => Promise<void> | undefined
  /** Takes the document's own updates, in this order, in the same tick that applied them. */
  readonly log: (to: LiveSpace | LateSpace<LiveSpace>, updates: readonly Uint8Array[]) => void
}

type Limits = Pick<Parameters<typeof inspectUpdate>[2], 'maxStructs' | 'maxSteps'>
const QUICK: Limits = { maxStructs: ANSWER_LIMITS.quickStructs, maxSteps: ANSWER_LIMITS.quickSteps }
const SLOW: Limits = { maxStructs: ANSWER_LIMITS.slowStructs, maxSteps: ANSWER_LIMITS.slowSteps }
/** Milliseconds for a message, a byte of it and a step of its cost: what is charged before it is paid. */
const PRICE = { message: 0.05, byte: 1 / 20_000, step: 1 / 4_000, worker: 100, refusal: 1 }

const refused = (code: RefusalCode, sentence: string) => ({ outcome: 'refused', code, sentence }) as const
const TOO_MANY = refused('too-many', 'This change is too large to take at once: write or paste less of it.')
const FULL = refused('full', 'This answer space is full: nothing more can be added to it.')

/**
 * Checks an update, applies it and hands it to `log`. Between the last look at the document, the change of it and the log
 * nothing else runs; only a dear update is first tried on a clone, and looked at again after.
 */
export async function acceptUpdate(
  copy: LiveCopy,
  writer: Writer,
  { space, bytes }: Pick<SpaceUpdate, 'space' | 'bytes'>,
  tools: AcceptanceTools,
): Promise<Acceptance> {
  const live = copy.space(space)
  if (!live) return refused('no-such-space', 'This worksheet has no such answer space.')
  tools.budget.charge(PRICE.message + bytes.length * PRICE.byte)
  if (bytes.length > ANSWER_LIMITS.slowBytes)
    return refused('too-large', 'This is more than an answer can take at once: write or paste less of it.')
  if (bytes.length <= ANSWER_LIMITS.quickBytes) {
    const judged = judge(copy, writer, live, bytes, QUICK)
    // It was looked through for nothing, up to all items of the answer.
    if (judged.outcome === 'refused') tools.budget.charge(PRICE.refusal)
    if (judged.outcome !== 'dear') return settle(judged, tools)
  }
  tools.budget.charge(PRICE.worker)
  const before = judge(copy, writer, live, bytes, SLOW)
  if (before.outcome === 'dear') return TOO_MANY
  if (before.outcome !== 'passed') return before
  const state = Y.encodeStateAsUpdate(before.to.doc)
  const tried = await tools.worker.run({ what: 'try', state, bytes: before.bytes })
  if (!tried || tried.took > ANSWER_LIMITS.slowShare) return TOO_MANY
  await tools.pensFree()
  if (copy.dropped) return { outcome: 'broken' }
  const judged = judge(copy, writer, live, bytes, SLOW)
  return judged.outcome === 'dear' ? TOO_MANY : settle(judged, tools)
}

/** Where an update may go now. Changes nothing in the answer. */
function judge(
  copy: LiveCopy,
  writer: Writer,
  live: LiveSpace,
  bytes: Uint8Array,
  limits: Limits,
): Exclude<Acceptance, { outcome: 'applied' }> | Passed | Dear {
  const { viewer } = writer
  const { facts } = copy.record
  const ruling = mayWithCopy(viewer, roleIn(copy.record, viewer), facts, 'write', Date.now())
  const place = mayWriteAt(viewer, facts, live.space.id)
  const may = ruling.may && place.may
  const reason = ruling.may ? (place.may ? '' : place.sentence) : ruling.sentence
  const late = live.late.get(viewer.personId)
  if (late?.isContinuedBy(bytes)) return judgeLate(live, late, bytes, limits)
  const found = inspect(live, viewer.personId, live.doc, bytes, { ...limits, maxItems: ANSWER_LIMITS.spaceItems })
  // A full exchange repeats what is there already, for everybody.
  if (found.verdict === 'known') return { outcome: 'known' }
  // Who never could write here learns nothing about the form of what they sent.
  if (!may && !writer.couldWrite(live)) return refused(ruling.may ? 'not-yours' : 'may-not-write', reason)
  if (found.verdict === 'missing') return late ? judgeLate(live, late, bytes, limits) : { outcome: 'missing' }
  if (found.verdict === 'refuse') return isDear(found) ? { outcome: 'dear' } : refused(found.code, found.sentence)
  if (!may) return judgeLate(live, late ?? new LateSpace(live, viewer.personId, null), bytes, limits, reason)
  if (live.bytes + found.bytes.length > ANSWER_LIMITS.spaceBytes) return FULL
  return { outcome: 'passed', to: live, bytes: found.bytes, steps: found.steps }
}

/** The same for what goes beside the answer: judged by the answer with all that came late from this person before. */
function judgeLate(
  live: LiveSpace,
  late: LateSpace<LiveSpace>,
  bytes: Uint8Array,
  limits: Limits,
  reason?: string,
): Exclude<Acceptance, { outcome: 'applied' }> | Passed | Dear {
  late.catchUp()
  if (reason) late.reason = reason
  const found = inspect(live, late.personId, late.doc, bytes, { ...limits, maxItems: 2 * ANSWER_LIMITS.spaceItems })
  if (found.verdict === 'known') return { outcome: 'known late', late }
  if (found.verdict === 'missing') return { outcome: 'missing' }
  if (found.verdict === 'refuse') return isDear(found) ? { outcome: 'dear' } : refused(found.code, found.sentence)
  if (late.bytes + found.bytes.length > ANSWER_LIMITS.lateBytes) return FULL
  return { outcome: 'passed', to: late, bytes: found.bytes, steps: found.steps }
}

const isDear = (found: Extract<Inspection, { verdict: 'refuse' }>) => found.code === 'too-many'

function inspect(
  live: LiveSpace,
  personId: string,
  doc: Y.Doc,
  bytes: Uint8Array,
  limits: Limits & { readonly maxItems: number },
): Inspection {
  return inspectUpdate(doc, bytes, {
    kind: live.space.kind,
    owns: (client, structs) => {
      const starter = starterOf(live.space)
      return starter && client === starterClient(starter)
        ? isStarter(starter, structs)
        : live.writers.get(client) === personId
    },
    hasRoom: true,
    ...limits,
  })
}

function settle(
  judged: Exclude<Acceptance, { outcome: 'applied' }> | Passed,
  { budget, log }: AcceptanceTools,
): Acceptance {
  if (judged.outcome !== 'passed') return judged
  const { to, bytes, steps } = judged
  budget.charge(steps * PRICE.step)
  const updates: Uint8Array[] = []
  const collect = (update: Uint8Array) => updates.push(update)
  to.doc.on('update', collect)
  try {
    Y.applyUpdate(to.doc, bytes)
  } catch {
    return { outcome: 'broken' }
  } finally {
    to.doc.off('update', collect)
  }
  if (to.doc.store.pendingStructs || to.doc.store.pendingDs) return { outcome: 'broken' }
  log(to, updates)
  return { outcome: 'applied' }
}
