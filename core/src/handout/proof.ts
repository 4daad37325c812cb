import { type Change, type Existing, changesToPlan } from './changes.js'
import type { PlanFacts } from './facts.js'
import { type Plan, planHandout } from './plan.js'
import type { Statement } from './statement.js'

/** What a proof needs to know of one class. */
export interface ProofPart {
  readonly classId: string
  readonly facts: Omit<PlanFacts, 'worksheets'>
  readonly existing: Existing
}

/** What a statement means and would change, in all its classes. */
export interface WholeProof<P extends ProofPart = ProofPart> {
  readonly parts: readonly { readonly part: P; readonly plan: Plan; readonly changes: Change[] }[]
  /** Of all parts, one after the other: what is handed out when this proof is. */
  readonly changes: Change[]
}

/** A dry run of a statement in its classes, in the order of the parts. */
export function proofOf<P extends ProofPart>(
  statement: Statement,
  worksheets: PlanFacts['worksheets'],
  parts: readonly P[],
  now: number,
): WholeProof<P> {
  const carry = new Map(statement.items.map((item) => [item.id, item.carry]))
  const proved = parts.map((part) => {
    const plan = planHandout(statement, { ...part.facts, worksheets }, now)
    return { part, plan, changes: changesToPlan(plan, part.existing, carry) }
  })
  return { parts: proved, changes: proved.flatMap(({ changes }) => changes) }
}
