import {
  changesToPlan,
  countDifferences,
  differencesInWords,
  differencesOf,
  fullName,
  planHandout,
  planStops,
} from '@gavrin/core'
import { type DataSource, Any } from 'typeorm'
import type { Handout } from '../slip/slip.entity.js'
import { type ClassFacts, existingOf, planFacts } from '../slip/planFacts.js'
import { inSchool } from '../database/inSchool.js'
import { Person } from '../access/access.entity.js'

/** What differs between what was handed out and what exists, in one line, and how many it concerns. */
export interface DifferencesNow {
  readonly count: number
  readonly sentence: string
}

/**
 * What of a handout differs from what was handed out; null if nothing does, or it cannot be said what there should be.
 * @param ofClass what is known of its class already
 */
export async function differencesNow(
  source: DataSource,
  handout: Handout,
  ofClass?: ClassFacts,
): Promise<DifferencesNow | null> {
  const { given, schoolId, id } = handout
  if (!given) return null
  const facts = await planFacts(source, handout, given, ofClass)
  const plan = planHandout(given, facts, Date.now())
  if (planStops(plan)) return null
  const existing = await existingOf(source, schoolId, id, false)
  const differences = differencesOf(plan, existing, changesToPlan(plan, existing))
  if (!differences) return null
  const names = new Map(facts.members.map((member) => [member.personId, fullName(member)]))
  for (const { personId, name } of facts.guests) names.set(personId, name)
  const gone = await namesOf(
    source,
    schoolId,
    [...differences.over, ...differences.regrouped, ...differences.moved].filter((one) => !names.has(one)),
  )
  return {
    count: countDifferences(differences),
    sentence: differencesInWords(differences, (personId) => names.get(personId) ?? gone.get(personId) ?? 'somebody'),
  }
}

/** Those who are not in the class any more. */
async function namesOf(source: DataSource, schoolId: string, ids: readonly string[]): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map()
  const people = await inSchool(source, schoolId).find(Person, { id: Any(ids) }, { select: ['id', 'first', 'last'] })
  return new Map(people.map((person) => [person.id, fullName(person)]))
}
