import { gathered } from '../common/gathered.js'
import { fullName } from '../roster/names.js'
import { baseAddress } from '../worksheet/sections.js'
import type { CarryOver, LeftReason } from './carry.js'
import type { Change } from './changes.js'
import type { Existing } from './existing.js'
import type { PlanFacts } from './facts.js'
import type { Plan } from './plan.js'

const WHY: Record<LeftReason, string> = {
  'kept aside': 'kept aside, as is wished',
  met: 'several wrote to the same question',
  'not chosen': 'another answer was chosen',
  'place taken': 'there is writing in its place already',
  'no place': 'there is no place for it',
  'too long': 'together they are too long',
}

/** Points out what stays behind in copies that are set aside, and why, and those that were submitted. */
export function lookAtCarry(
  plan: Plan,
  changes: readonly Change[],
  existing: Existing,
  over: CarryOver,
  { members, guests }: Pick<PlanFacts, 'members' | 'guests'>,
): void {
  const names = new Map(members.map((member) => [member.personId, fullName(member)]))
  for (const { personId, name } of guests) names.set(personId, name)
  const called = (people: readonly string[]) => {
    const known = [...new Set(people)].map((id) => names.get(id) ?? 'somebody who left')
    return known.length > 5 ? `${known.slice(0, 5).join(', ')} and ${known.length - 5} more` : known.join(', ')
  }
  const aside = new Set(changes.flatMap(({ kind, slotKey }) => (kind === 'set aside' ? [slotKey] : [])))
  const left = over.left.filter(({ from }) => aside.has(from))
  const look = (code: 'left-behind' | 'was-submitted', sentence: string, slotKey?: string) =>
    plan.findings.push({ code, sentence, stops: false, ...(slotKey !== undefined && { slotKey }) })
  if (left.length > 0) {
    const reasons = gathered(left, ({ why }) => why)
    const parts = [...reasons].map(([why, answers]) => (reasons.size > 1 ? `${answers.length}: ${WHY[why]}` : WHY[why]))
    look(
      'left-behind',
      `${left.length === 1 ? '1 answer stays' : `${left.length} answers stay`} in copies that are set aside, of ${called(left.flatMap(({ by }) => by))} (${parts.join('; ')}).`,
    )
    for (const [from, answers] of gathered(left, ({ from: slot }) => slot)) {
      const all = Object.keys(existing.copies.find(({ slotKey }) => slotKey === from)?.written ?? {}).length
      // Of "Answer 2: When is high water?" the first part: the row has room for no more.
      const asked = answers.flatMap(({ space }) => existing.asked?.[baseAddress(space).base]?.label.split(':')[0] ?? [])
      look(
        'left-behind',
        `${answers.length} of ${all} ${all === 1 ? 'answer' : 'answers'} ${answers.length === 1 ? 'stays' : 'stay'} here${
          asked.length > 0 ? ` (${[...new Set(asked)].slice(0, 3).join(', ')}${asked.length > 3 ? ' …' : ''})` : ''
        }`,
        from,
      )
    }
  }
  const submitted = existing.copies.filter(({ slotKey, submitted: is }) => is && aside.has(slotKey))
  if (submitted.length === 0) return
  const went = new Set(over.carried.flatMap(({ sources }) => sources.map(({ from }) => from)))
  for (const { slotKey } of submitted)
    look(
      'was-submitted',
      went.has(slotKey)
        ? 'submitted; its answers go into a copy that is not'
        : 'submitted; it stays so, and what takes its place is not',
      slotKey,
    )
  look(
    'was-submitted',
    `${submitted.length === 1 ? '1 submitted copy is' : `${submitted.length} submitted copies are`} set aside, of ${called(
      submitted.flatMap(({ holders }) => holders.map(({ personId }) => personId)),
    )}: what takes their place is not submitted.`,
  )
}
