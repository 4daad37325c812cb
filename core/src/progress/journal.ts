/** What happened to a copy, in the order it happened. */
export const JOURNAL_KINDS = [
  'given',
  'opened',
  'first written in',
  'submitted',
  'taken back',
  'pens down',
  'pens up',
  'marked',
  'handed back',
  'hand-back withdrawn',
  'opened again',
  'set aside',
  'brought back',
  'late writing',
  'brought to last good',
  'late writing taken in',
  'late writing left out',
  'answers brought back',
  'guest matched',
  'guest not matched',
] as const
export type JournalKind = (typeof JOURNAL_KINDS)[number]

/** What becomes of writing that came late: in the answer now, in part, or not. */
export const LATE_DECISIONS = ['taken in', 'taken in part', 'left out'] as const
export type LateDecision = (typeof LATE_DECISIONS)[number]

export interface JournalEntry {
  readonly kind: JournalKind
  /** Milliseconds since 1970. */
  readonly at: number
}

/** The states of a copy, in the order work goes through them. */
export const COPY_STATES = [
  'not opened',
  'opened',
  'working',
  'taken back',
  'submitted',
  'marked',
  'handed back',
] as const
export type CopyState = (typeof COPY_STATES)[number]

/** The life of a copy, read from its journal. */
export interface CopyLife {
  readonly state: CopyState
  readonly pensDown: boolean
  readonly setAside: boolean
  /** When it was last submitted, or null while it is not. */
  readonly submittedAt: number | null
}

export const UNTOUCHED: CopyLife = { state: 'not opened', pensDown: false, setAside: false, submittedAt: null }

const REACHED: Partial<Record<JournalKind, CopyState>> = { opened: 'opened', 'first written in': 'working' }

/** The life of a copy after one more entry. An opening or a first word never takes it back from a later state. */
export function afterEntry(life: CopyLife, entry: JournalEntry): CopyLife {
  switch (entry.kind) {
    case 'opened':
    case 'first written in': {
      const reached = REACHED[entry.kind]!
      return COPY_STATES.indexOf(reached) > COPY_STATES.indexOf(life.state) ? { ...life, state: reached } : life
    }
    case 'submitted':
      return { ...life, state: 'submitted', submittedAt: entry.at }
    case 'taken back':
      return { ...life, state: 'taken back', submittedAt: null }
    case 'handed back':
      return { ...life, state: 'handed back' }
    // To be improved: it is written in again, and submitted again.
    case 'opened again':
      return { ...life, state: 'taken back', submittedAt: null }
    case 'hand-back withdrawn':
      return { ...life, state: life.submittedAt === null ? 'working' : 'submitted' }
    case 'pens down':
      return { ...life, pensDown: true }
    case 'pens up':
      return { ...life, pensDown: false }
    case 'set aside':
      return { ...life, setAside: true }
    case 'brought back':
      return { ...life, setAside: false }
    // Only its teachers know of it until it is handed back: see {@link stateForStaff}.
    case 'marked':
    case 'given':
    case 'late writing':
    case 'brought to last good':
    case 'late writing taken in':
    case 'late writing left out':
    case 'answers brought back':
    case 'guest matched':
    case 'guest not matched':
      return life
  }
}

/** The state of a copy as the staff of its class see it: whoever holds it is not told that it is marked before it is handed back. */
export const stateForStaff = (state: CopyState, isMarked: boolean): CopyState =>
  state === 'submitted' && isMarked ? 'marked' : state

/** The life of a copy from its whole journal. */
export function lifeFrom(journal: readonly JournalEntry[]): CopyLife {
  return journal.reduce(afterEntry, UNTOUCHED)
}

/** Whether a copy is in: submitted, or what comes after it. */
export const isIn = ({ state }: { readonly state: CopyState }): boolean =>
  COPY_STATES.indexOf(state) >= COPY_STATES.indexOf('submitted')

/** Whether a copy is not in although its due time has passed. */
export function isOverdue(copy: { readonly state: CopyState; readonly dueAt: number | null }, now: number): boolean {
  return copy.dueAt !== null && now > copy.dueAt && !isIn(copy)
}

/**
 * What of its journal those are told who hold a copy: not that it was marked, nor of a hand-back that was withdrawn before anybody
 * looked.
 */
export function journalForHolders<E extends { readonly kind: JournalKind }>(journal: readonly E[]): E[] {
  const told: E[] = []
  for (const entry of journal)
    if (entry.kind === 'hand-back withdrawn') {
      const at = told.findLastIndex(({ kind }) => kind === 'handed back')
      if (at >= 0) told.splice(at, 1)
    } else if (entry.kind !== 'marked') told.push(entry)
  return told
}
