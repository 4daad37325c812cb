import {
  type JournalKind,
  type KeptSpaceProgress,
  answerSpaces,
  copyProgress,
  keptProgress,
  newAnswerDoc,
  readAnswer,
} from '@gavrin/core'
import type { DataSource } from 'typeorm'
import * as Y from 'yjs'
import { copyOf } from '../kept/copyRecord.js'
import { addToJournal } from '../kept/journal.js'
import { type LoggedUpdate, appendUpdates } from '../kept/spaces.queries.js'
import { demoAfterthought, demoAnswer } from './answers.js'
import { DEMO_SCHOOL_ID } from './school.js'
import { copiesToWorkIn, keepDemoProgress } from './demo.queries.js'

export const HOUR = 3_600_000
export const DAY = 24 * HOUR

/** How far a demo copy is: the share of its answer spaces that are filled, and what was done with it. */
export interface DemoWork {
  readonly share: number
  readonly steps: readonly JournalKind[]
  /** What came too late, at the end of the last passage. */
  readonly late?: string
}

export const untouched: DemoWork = { share: 0, steps: [] }
export const opened: DemoWork = { share: 0, steps: ['opened'] }
export const working = (share: number): DemoWork => ({ share, steps: ['opened', 'first written in'] })
export const submitted = (share = 1): DemoWork => ({ share, steps: ['opened', 'first written in', 'submitted'] })
export const takenBack = (share: number): DemoWork => ({
  share,
  steps: ['opened', 'first written in', 'submitted', 'taken back'],
})

/** When the steps are taken: opened, first written in, submitted, as shares of the time there is. Answers are written between. */
const STEP_AT = [0.28, 0.3, 0.97]

/** Why what comes after it was submitted is late, as the core says it. */
const STANDS_STILL = 'This copy is submitted and stands still.'

/** The day `days` school days from now at 16:00, in the zone of this machine. */
export function dueIn(days: number, now: number): number {
  const date = new Date(now)
  date.setHours(16, 0, 0, 0)
  for (let left = Math.abs(days); left > 0;) {
    date.setDate(date.getDate() + Math.sign(days))
    if (date.getDay() % 6 !== 0) left--
  }
  return date.getTime()
}

/** Lets those who can sign in work in their copies of a handout: one person in each. */
export async function workIn(
  source: DataSource,
  handoutId: string,
  workOf: (index: number) => DemoWork,
  givenAt: number,
  dueAt: number,
): Promise<void> {
  const copies = await copiesToWorkIn(source, DEMO_SCHOOL_ID, handoutId)
  for (const [index, copy] of copies.entries())
    if (copy.can_sign_in)
      await work(source, { copyId: copy.id, personId: copy.person_id }, workOf(index), index, { givenAt, dueAt })
}

/** Does what a student would do with a copy, at times between when it was given and its due time. */
export async function work(
  source: DataSource,
  { copyId, personId }: { readonly copyId: string; readonly personId: string },
  { share, steps, late }: DemoWork,
  variant: number,
  { givenAt, dueAt }: { readonly givenAt: number; readonly dueAt: number },
): Promise<void> {
  if (steps.length === 0) return
  const end = Math.min(dueAt, Date.now()) - (variant % 7) * 7 * 60_000 - 60_000
  const timeOf = (part: number) => Math.round(givenAt + (end - givenAt) * part)
  const copy = await copyOf(source, DEMO_SCHOOL_ID, copyId)
  const spaces = answerSpaces(copy.content)
  const progress: Record<string, KeptSpaceProgress> = {}
  const about = { schoolId: DEMO_SCHOOL_ID, copyId, personId }
  let afterthought: LoggedUpdate | null = null
  const updates = spaces.slice(0, Math.round(share * spaces.length)).flatMap((space, index): LoggedUpdate[] => {
    const answer = demoAnswer(space, variant + index)
    if (!answer) return []
    const doc = newAnswerDoc(space.kind)
    for (const { bytes } of answer) Y.applyUpdate(doc, bytes)
    const added = late
      ? demoAfterthought(
          space,
          answer.map(({ bytes }) => bytes),
          late,
        )
      : null
    if (added) afterthought = { ...about, space: space.id, seq: 1, at: end + 40_000, bytes: added, late: STANDS_STILL }
    const at = timeOf(0.3 + (0.5 * index) / spaces.length)
    progress[space.id] = { ...keptProgress(space, readAnswer(space, doc)), at }
    return answer.map(({ bytes, after }, count) => ({
      ...{ ...about, space: space.id, seq: count + 1, bytes, late: null },
      // Before the next of its steps, however long it took.
      at: at + Math.min(after, (end - givenAt) * 0.04),
    }))
  })
  if (updates.length) await appendUpdates(source, updates)
  for (const [index, kind] of steps.entries())
    await source.transaction((tx) =>
      addToJournal(tx, DEMO_SCHOOL_ID, { copyId, kind, personId, at: timeOf(STEP_AT[index] ?? 1) }),
    )
  if (afterthought) {
    await appendUpdates(source, [afterthought])
    await source.transaction((tx) =>
      addToJournal(tx, DEMO_SCHOOL_ID, { copyId, kind: 'late writing', personId, at: end + 40_000 }),
    )
  }
  const { answered, words } = copyProgress(copy.content, progress)
  const writtenAt = updates.length ? new Date(Math.max(...updates.map(({ at }) => at))) : null
  await keepDemoProgress(source, DEMO_SCHOOL_ID, {
    ...{ copyId, answered, words, writtenAt },
    progress: JSON.stringify(progress),
  })
}
