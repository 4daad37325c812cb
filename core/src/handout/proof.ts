import { type CarryOver, carryOver, carryWishes } from './carry.js'
import { type Change, changesToPlan } from './changes.js'
import { type Existing } from './existing.js'
import type { PlanFacts } from './facts.js'
import { fullName } from '../roster/names.js'
import { lookAtCarry } from './lookAtCarry.js'
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
  readonly parts: readonly {
    readonly part: P
    readonly plan: Plan
    readonly changes: Change[]
    readonly over: CarryOver
  }[]
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
  const wishes = carryWishes(statement)
  const proved = parts.map((part) => {
    const plan = planHandout(statement, { ...part.facts, worksheets }, now)
    const changes = changesToPlan(plan, part.existing, wishes)
    const over = carryOver(plan.copies, part.existing, wishes)
    lookAtCarry(plan, changes, part.existing, over, part.facts)
    return { part, plan, changes, over }
  })
  if (parts.length > 1) lookForDoubles(proved)
  return { parts: proved, changes: proved.flatMap(({ changes }) => changes) }
}

/** Points out who is in two of the classes, and so gets the same slip in each. */
function lookForDoubles(parts: WholeProof['parts']): void {
  const classes = new Map<string, string>()
  for (const { part, plan } of parts) {
    const names = new Map(part.facts.members.map((member) => [member.personId, fullName(member)]))
    for (const { itemId, slotKey, holders, way } of plan.copies) {
      if (way === 'to read') continue
      for (const { personId } of holders) {
        const key = `${itemId} ${personId}`
        const other = classes.get(key)
        if (other === undefined) classes.set(key, part.facts.className)
        else if (other !== part.facts.className)
          plan.findings.push({
            code: 'twice',
            slotKey,
            stops: false,
            sentence: `${names.get(personId) ?? 'somebody'} is in ${other} too, and gets it in both`,
          })
      }
    }
  }
}
