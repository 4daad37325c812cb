import type { NameValues } from '../naming/pattern.js'
import { findRef } from './statement.js'
import { type ClassTimes, type HandoutItem, type Statement, timesFor } from './statement.js'
import type { PlanFacts, PlanGroup, PlanMember, PlanWorksheet } from './facts.js'
import type { Finding, LeftOut, PlaceOfGroup, PlannedHolder } from './planned.js'

/** A copy before it has a name. */
export interface Draft {
  readonly item: HandoutItem
  readonly slotKey: string
  readonly holders: readonly PlannedHolder[]
  readonly worksheet: PlanWorksheet
  readonly edition: number
  readonly group: PlanGroup | null
  readonly places: readonly PlaceOfGroup[]
  readonly values: NameValues
}

/** A plan while it is being made. */
export interface Planning {
  readonly statement: Statement
  readonly facts: PlanFacts
  /** Milliseconds since 1970; only findings depend on it. */
  readonly now: number
  readonly times: ClassTimes
  readonly byId: ReadonlyMap<string, PlanMember>
  /** What names say of every copy alike. */
  readonly common: Readonly<Record<'class' | 'number' | 'unit' | 'date', string>>
  readonly findings: Finding[]
  readonly leftOut: LeftOut[]
  readonly drafts: Draft[]
}

export function beginPlanning(statement: Statement, facts: PlanFacts, now: number): Planning {
  const times = timesFor(statement, facts.classId)
  const date = new Intl.DateTimeFormat(facts.locale, { day: 'numeric', month: 'short', timeZone: facts.timeZone })
  return {
    statement,
    facts,
    now,
    times,
    byId: new Map(facts.members.map((member) => [member.personId, member])),
    common: {
      class: facts.className,
      number: String(facts.number),
      unit: statement.unit ? (findRef(facts.units, statement.unit)?.name ?? statement.unit.name) : '',
      date: date.format(times.dueAt ?? facts.begunAt),
    },
    findings: [],
    leftOut: [],
    drafts: [],
  }
}

/** Notes something that must be mended before anything can be handed out. */
export function stop(p: Planning, code: Finding['code'], sentence: string, itemId?: string): void {
  p.findings.push({ code, sentence, stops: true, ...(itemId !== undefined && { itemId }) })
}

/** Notes something to look at. */
export function look(
  p: Planning,
  code: Finding['code'],
  sentence: string,
  at: { readonly itemId?: string; readonly slotKey?: string } = {},
): void {
  p.findings.push({ code, sentence, stops: false, ...at })
}

/** @param byChoice it was said so; else it may have been overlooked */
export function leaveOut(p: Planning, item: HandoutItem, member: PlanMember, reason: string, byChoice = false): void {
  p.leftOut.push({ personId: member.personId, itemId: item.id, reason, byChoice })
}

export function groupSetOf(p: Planning, item: HandoutItem) {
  return item.groupSet ? findRef(p.facts.groupSets, item.groupSet) : undefined
}
