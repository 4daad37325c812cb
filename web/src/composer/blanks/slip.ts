import {
  type HandoutItem,
  type PlanFacts,
  type PlanMember,
  type Ref,
  type Statement,
  findRef,
  foldText,
} from '@gavrin/core'
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

/** Whether two words are the same, in any spelling of case and spaces. */
export const isSameWord = (one: string, other: string): boolean => foldText(one) === foldText(other)

/** Words each once, those that are the same in another spelling too. */
const once = (words: readonly string[]): string[] => [...new Map(words.map((word) => [foldText(word), word])).values()]

/** What stands in a column of any of the classes, each text once, in the order of the alphabet. */
export function valuesOf({ parts }: SlipFacts, column: Ref): string[] {
  const values = parts.flatMap(({ facts: { columns, members } }) => {
    const id = findRef(columns, column)?.id
    return id === undefined ? [] : members.map(({ cells }) => cells?.[id] ?? '')
  })
  return once(values.filter(Boolean)).toSorted((a, b) => a.localeCompare(b, undefined, { numeric: true }))
}

/** The groups of a group set in any of the classes, each name once. */
export const groupsOf = ({ parts }: SlipFacts, set: Ref): string[] =>
  once(parts.flatMap(({ facts }) => findRef(facts.groupSets, set)?.groups.map(({ name }) => name) ?? []))

/** What a rule or an audience speaks of, with what there is of it in the classes. */
export const withChosen = (there: readonly string[], chosen: readonly string[]): string[] => [
  ...there,
  ...chosen.filter((word) => !there.some((other) => isSameWord(other, word))),
]

/** What the classes of a handout are called together. */
export const classesInWords = ({ parts }: SlipFacts) => parts.map(({ facts }) => facts.className).join(' and ')
