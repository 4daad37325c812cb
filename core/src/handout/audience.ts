import { foldText } from '../roster/names.js'
import type { PlanFacts, PlanGroupSet, PlanMember } from './facts.js'
import { type HandoutItem, type MatchRule, findRef } from './statement.js'

/** Who an item is for, or what it speaks of that the class does not have. */
export type Reached =
  | { readonly ok: true; readonly members: readonly PlanMember[] }
  | {
      readonly ok: false
      readonly code: 'nobody' | 'no-column' | 'no-group-set' | 'no-such-group'
      readonly sentence: string
    }

export const noColumn = (facts: PlanFacts, name: string): string => `${facts.className} has no column “${name}”.`
export const noGroupSet = (facts: PlanFacts, name: string): string => `${facts.className} has no group set “${name}”.`

/** The students of the class that an item is for, in the order of the roster. */
export function audienceOf({ audience }: HandoutItem, facts: PlanFacts): Reached {
  const only = (chosen: (member: PlanMember) => boolean): Reached => ({
    ok: true,
    members: facts.members.filter(chosen),
  })
  switch (audience.kind) {
    case 'all':
      return { ok: true, members: facts.members }
    case 'some':
    case 'all but': {
      const named = new Set(audience.personIds)
      return only(({ personId }) => named.has(personId) === (audience.kind === 'some'))
    }
    case 'not said':
      return {
        ok: false,
        code: 'nobody',
        sentence: audience.was
          ? `It was for ${audience.was} before: say who it is for in ${facts.className}.`
          : 'Say who this is for.',
      }
    case 'column': {
      const column = findRef(facts.columns, audience.column)
      if (!column) return { ok: false, code: 'no-column', sentence: noColumn(facts, audience.column.name) }
      const values = new Set(audience.values.map(foldText))
      return only((member) => tagsOf(member.cells?.[column.id] ?? '').some((value) => values.has(value)))
    }
    case 'groups': {
      const set = findRef(facts.groupSets, audience.set)
      if (!set) return { ok: false, code: 'no-group-set', sentence: noGroupSet(facts, audience.set.name) }
      const groups = new Map(set.groups.map((group) => [foldText(group.name), group]))
      const gone = audience.groups.find((name) => !groups.has(foldText(name)))
      if (gone !== undefined)
        return {
          ok: false,
          code: 'no-such-group',
          sentence: `${set.name} of ${facts.className} has no group “${gone}”.`,
        }
      const chosen = new Set(audience.groups.flatMap((name) => groups.get(foldText(name))!.personIds))
      return only(({ personId }) => chosen.has(personId))
    }
  }
}

/** What a cell says: its whole text, and each of its tags where it holds several, folded. */
function tagsOf(cell: string): string[] {
  const whole = foldText(cell)
  return whole.includes(',') || whole.includes(';')
    ? [whole, ...whole.split(/[,;]/).map((tag) => tag.trim())].filter(Boolean)
    : [whole]
}

/** The rule of an item that fits a student, their group, or nobody; null: the item's own worksheet. */
export type RuleFor = (member: PlanMember) => MatchRule | null

/** How the worksheets of an item are told apart, or what it speaks of that the class does not have. */
export function rulesOf(
  { match }: HandoutItem,
  facts: PlanFacts,
): { readonly ok: true; readonly ruleFor: RuleFor } | { readonly ok: false; readonly sentence: string } {
  if (!match) return { ok: true, ruleFor: () => null }
  const byValue = new Map(match.rules.map((rule) => [foldText(rule.is), rule]))
  const first = (values: readonly string[]) => values.map((value) => byValue.get(value)).find(Boolean) ?? null
  if (match.by === 'column') {
    const column = findRef(facts.columns, match.of)
    if (!column) return { ok: false, sentence: noColumn(facts, match.of.name) }
    return { ok: true, ruleFor: (member) => first(tagsOf(member.cells?.[column.id] ?? '')) }
  }
  const set = findRef(facts.groupSets, match.of)
  if (!set) return { ok: false, sentence: noGroupSet(facts, match.of.name) }
  const groups = groupsByPerson(set)
  return {
    ok: true,
    ruleFor: ({ personId }) => {
      const group = groups.get(personId)
      return group ? first([foldText(group.name)]) : null
    },
  }
}

/** Person to the group of a set they are in. */
export const groupsByPerson = (set: PlanGroupSet | undefined): Map<string, PlanGroupSet['groups'][number]> =>
  new Map(set?.groups.flatMap((group) => group.personIds.map((personId) => [personId, group] as const)) ?? [])
