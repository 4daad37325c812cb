import type { Moment } from './moments.js'

/** A stretch of the history in which was written without long pauses, between two steps of the copy. */
export interface Sitting {
  readonly is: 'written'
  /** How many moments had passed when it began, and when it had ended. */
  readonly from: number
  readonly to: number
  /** Milliseconds since 1970. */
  readonly began: number
  readonly at: number
  readonly personIds: readonly string[]
  readonly spaces: readonly string[]
}

/** A step of the copy, with how many moments had passed by then. */
export interface StepPassed<S> {
  readonly is: 'step'
  readonly step: S
  /** The answers that it is about: one step for each, taken together. */
  readonly spaces: readonly string[]
  readonly to: number
}

/** A step as it is kept. */
interface KeptStep {
  readonly kind: string
  readonly at: number
  readonly space: string | null
}

/** The step by which the change of a moment was made, as bringing an answer back; null: somebody wrote. */
export const stepOf = <S extends KeptStep>({ space, at }: Moment, steps: readonly S[]): S | null =>
  steps.find((step) => step.at === at && step.space === space) ?? null

/** A pause that parts two sittings, in milliseconds. */
export const SITTING_PAUSE = 10 * 60_000

/**
 * A history in a few lines: what was written in one sitting, and the steps between, in their order.
 * @param moments in the order in which they ended
 * @param steps in the order in which they were taken
 */
export function sittingsOf<S extends KeptStep>(
  moments: readonly Moment[],
  steps: readonly S[],
): (Sitting | StepPassed<S>)[] {
  const lines: (Sitting | StepPassed<S>)[] = []
  let taken = 0
  const passSteps = (until: number, to: number) => {
    for (; taken < steps.length && steps[taken]!.at <= until; taken++) {
      const step = steps[taken]!
      const last = lines.at(-1)
      if (step.space !== null && last?.is === 'step' && last.step.at === step.at && last.step.kind === step.kind)
        lines[lines.length - 1] = { ...last, spaces: withOne(last.spaces, step.space), to }
      else lines.push({ is: 'step', step, spaces: step.space === null ? [] : [step.space], to })
    }
  }
  for (const [index, moment] of moments.entries()) {
    const { personId, space, began, at } = moment
    passSteps(began, index)
    const last = lines.at(-1)
    // It is in the line of its step already.
    if (last?.is === 'step' && last.step.at === at && last.spaces.includes(space)) {
      lines[lines.length - 1] = { ...last, to: index + 1 }
      continue
    }
    if (last?.is === 'written' && began - last.at <= SITTING_PAUSE)
      lines[lines.length - 1] = {
        ...last,
        to: index + 1,
        began: Math.min(last.began, began),
        at,
        personIds: withOne(last.personIds, personId),
        spaces: withOne(last.spaces, space),
      }
    else lines.push({ is: 'written', from: index, to: index + 1, began, at, personIds: [personId], spaces: [space] })
  }
  passSteps(Infinity, moments.length)
  return lines
}

const withOne = (ids: readonly string[], id: string) => (ids.includes(id) ? ids : [...ids, id])
