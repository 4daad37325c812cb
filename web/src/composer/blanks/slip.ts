import type { HandoutItem, PlanFacts, PlanMember, Statement } from '@gavrin/core'
import type { SlipPart } from '../queries'

/** What the blanks of a slip are filled in from. */
export interface SlipFacts {
  readonly worksheets: PlanFacts['worksheets']
  readonly parts: readonly SlipPart[]
}

/** What every blank of an item is given. */
export interface BlankProps {
  readonly item: HandoutItem
  readonly facts: SlipFacts
  readonly alter: (alteration: Partial<HandoutItem>) => void
}

/** What the blanks that concern the whole handout are given. */
export interface WholeProps {
  readonly statement: Statement
  readonly facts: SlipFacts
  readonly change: (statement: Statement) => void
}

/** The students of all classes of a handout, each once. */
export function membersOf({ parts }: SlipFacts): PlanMember[] {
  const seen = new Set<string>()
  return parts.flatMap(({ facts }) => facts.members).filter(({ personId }) => !seen.has(personId) && seen.add(personId))
}

export const columnsOf = ({ parts }: SlipFacts) => parts[0]?.facts.columns ?? []
export const groupSetsOf = ({ parts }: SlipFacts) => parts[0]?.facts.groupSets ?? []
export const columnNames = (facts: SlipFacts) => columnsOf(facts).map(({ name }) => name)

/** What stands in a column, each text once, in the order of the alphabet. */
export function valuesOf(facts: SlipFacts, columnId: string): string[] {
  const values = new Set(facts.parts.flatMap((part) => part.facts.members.map(({ cells }) => cells?.[columnId] ?? '')))
  return [...values].filter(Boolean).toSorted((a, b) => a.localeCompare(b, undefined, { numeric: true }))
}

/** What the classes of a handout are called together. */
export const classesInWords = ({ parts }: SlipFacts) => parts.map(({ facts }) => facts.className).join(' and ')
