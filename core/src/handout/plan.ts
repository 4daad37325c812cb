import type { Permission } from '../access/permission.js'
import { nameFrom, nameKey, resolveClashes } from '../naming/pattern.js'
import { type PersonName, foldText, fullName, listName } from '../roster/names.js'
import type { HandoutItem, Statement } from './statement.js'

/** A student of the class, now. */
export interface PlanMember extends PersonName {
  readonly personId: string
  readonly email: string | null
}

/** A worksheet the statement speaks of. */
export interface PlanWorksheet {
  readonly id: string
  readonly title: string
  /** Editions that exist, newest last. */
  readonly editions: readonly { readonly number: number; readonly answerSpaces: number }[]
}

/** All that a plan depends on besides the statement. */
export interface PlanFacts {
  readonly className: string
  /** The students of the class in the order of the roster; the order decides which of two equal names is numbered. */
  readonly members: readonly PlanMember[]
  readonly worksheets: readonly PlanWorksheet[]
  /** When the handout was begun, milliseconds since 1970: the date in names when there is no due time. */
  readonly begunAt: number
  /** IANA time zone of the school. */
  readonly timeZone: string
  /** BCP 47 tag of the school's language. */
  readonly locale: string
}

export interface PlannedHolder {
  readonly personId: string
  readonly permission: Permission
}

/** A copy that should exist. */
export interface PlannedCopy {
  /** Stable: the same slot of the same statement has the same key however often it is planned. */
  readonly slotKey: string
  readonly itemId: string
  readonly title: string
  readonly worksheetId: string
  readonly edition: number
  readonly holders: readonly PlannedHolder[]
  readonly classmatesMay: Permission
  readonly dueAt: number | null
}

/** Something to look at before handing out. `stops`: nothing can be handed out until it is mended. */
export interface Finding {
  readonly code:
    | 'no-item'
    | 'no-worksheet'
    | 'no-edition'
    | 'worksheet-gone'
    | 'nobody'
    | 'empty-class'
    | 'no-answer-spaces'
    | 'nobody-writes'
    | 'due-past'
    | 'same-name'
    | 'no-email'
    | 'numbered'
    | 'namesake'
    | 'classmates-edit'
  readonly sentence: string
  readonly stops: boolean
  readonly itemId?: string
  readonly slotKey?: string
}

export interface LeftOut {
  readonly personId: string
  readonly reason: string
}

export interface Plan {
  readonly copies: PlannedCopy[]
  readonly findings: Finding[]
  readonly leftOut: LeftOut[]
}

/** The slot of a person in an item given one each. */
export const slotOf = (itemId: string, personId: string): string => `${itemId}:each:${personId}`

/**
 * What a statement means for everybody now: the copies that should exist, what to look at, and who is left out.
 * Pure, and independent of what exists: planning again gives the same copies.
 * @param now milliseconds since 1970; only findings depend on it
 */
export function planHandout(statement: Statement, facts: PlanFacts, now: number): Plan {
  const findings: Finding[] = []
  const drafts: { copy: Omit<PlannedCopy, 'title'>; name: string; fallback: string; member: PlanMember }[] = []
  const reached = new Set<string>()

  if (statement.items.length === 0)
    findings.push({ code: 'no-item', stops: true, sentence: 'Choose a worksheet to give out.' })
  if (facts.members.length === 0)
    findings.push({
      code: 'empty-class',
      stops: true,
      sentence: `${facts.className} has no students yet: bring in its list first.`,
    })
  if (statement.dueAt !== null && statement.dueAt < now)
    findings.push({
      code: 'due-past',
      stops: false,
      sentence: 'The due time is in the past: every copy would be overdue at once.',
    })

  for (const item of statement.items) {
    const audience = audienceOf(item, facts.members)
    for (const member of audience) reached.add(member.personId)
    const worksheet = readyWorksheet(item, facts, findings)
    if (facts.members.length > 0 && audience.length === 0)
      findings.push({
        code: 'nobody',
        itemId: item.id,
        stops: true,
        sentence: 'Nobody is chosen: say who this is for.',
      })
    if (!worksheet) continue
    if (item.holdersMay !== 'edit')
      findings.push({
        code: 'nobody-writes',
        itemId: item.id,
        stops: false,
        sentence: 'They may only look: nobody can write in these copies.',
      })
    if (item.classmatesMay === 'edit')
      findings.push({
        code: 'classmates-edit',
        itemId: item.id,
        stops: false,
        sentence: 'Classmates may write in each other’s copies.',
      })
    const date = new Intl.DateTimeFormat(facts.locale, {
      day: 'numeric',
      month: 'short',
      timeZone: facts.timeZone,
    }).format(statement.dueAt ?? facts.begunAt)
    for (const member of audience) {
      const name = nameFrom(item.pattern, {
        last: member.last,
        first: member.first,
        title: worksheet.title,
        class: facts.className,
        date,
      })
      drafts.push({
        member,
        name,
        fallback: worksheet.title || listName(member),
        copy: {
          slotKey: slotOf(item.id, member.personId),
          itemId: item.id,
          worksheetId: worksheet.id,
          edition: item.edition!,
          holders: [{ personId: member.personId, permission: item.holdersMay }],
          classmatesMay: item.classmatesMay,
          dueAt: statement.dueAt,
        },
      })
    }
  }

  const wanted = drafts.map(({ name, fallback }) => name || fallback)
  const titles = resolveClashes(wanted, 'Copy')
  const copies = drafts.map(({ copy }, index): PlannedCopy => ({ ...copy, title: titles[index]! }))
  findings.push(
    ...nameFindings(wanted, copies),
    ...memberFindings(
      drafts.map(({ member }) => member),
      copies,
    ),
  )

  const leftOut = facts.members
    .filter(({ personId }) => !reached.has(personId))
    .map(({ personId }) => ({ personId, reason: 'not chosen' }))
  return { copies, findings, leftOut: statement.items.length ? leftOut : [] }
}

/** Whether nothing can be handed out as the statement stands. */
export function planStops(plan: Plan): boolean {
  return plan.findings.some(({ stops }) => stops)
}

function audienceOf(item: HandoutItem, members: readonly PlanMember[]): readonly PlanMember[] {
  if (item.audience.kind === 'all') return members
  const chosen = new Set(item.audience.personIds)
  return members.filter(({ personId }) => chosen.has(personId))
}

function readyWorksheet(item: HandoutItem, facts: PlanFacts, findings: Finding[]): PlanWorksheet | null {
  const stop = (code: Finding['code'], sentence: string) => {
    findings.push({ code, itemId: item.id, stops: true, sentence })
    return null
  }
  if (!item.worksheetId) return stop('no-worksheet', 'Choose a worksheet to give out.')
  const worksheet = facts.worksheets.find(({ id }) => id === item.worksheetId)
  if (!worksheet)
    return stop('worksheet-gone', 'This worksheet is not yours to give out, or no longer there: choose another.')
  const edition = worksheet.editions.find(({ number }) => number === item.edition)
  if (!edition) return stop('no-edition', `“${worksheet.title}” has no kept edition yet: open it and keep one.`)
  if (edition.answerSpaces === 0)
    findings.push({
      code: 'no-answer-spaces',
      itemId: item.id,
      stops: false,
      sentence: `“${worksheet.title}” has no answer space: there is nowhere to write.`,
    })
  return worksheet
}

function nameFindings(wanted: readonly string[], copies: readonly PlannedCopy[]): Finding[] {
  const counts = new Map<string, number>()
  for (const name of wanted) counts.set(nameKey(name), (counts.get(nameKey(name)) ?? 0) + 1)
  if (wanted.length > 1 && counts.size === 1)
    return [
      {
        code: 'same-name',
        stops: false,
        sentence: 'The pattern gives every copy the same name; they are numbered. Put a name token into it.',
      },
    ]
  const findings: Finding[] = []
  copies.forEach(({ slotKey, title }, index) => {
    if (title !== wanted[index])
      findings.push({ code: 'numbered', slotKey, stops: false, sentence: 'numbered: another copy has this name' })
  })
  return findings
}

function memberFindings(members: readonly PlanMember[], copies: readonly PlannedCopy[]): Finding[] {
  const findings: Finding[] = []
  const names = new Map<string, string>()
  members.forEach((member, index) => {
    const { slotKey } = copies[index]!
    if (!member.email)
      findings.push({ code: 'no-email', slotKey, stops: false, sentence: 'no e-mail: cannot sign in yet' })
    const key = `${copies[index]!.itemId} ${foldText(fullName(member))}`
    const other = names.get(key)
    if (other !== undefined && other !== member.personId)
      findings.push({ code: 'namesake', slotKey, stops: false, sentence: 'same name as another student' })
    else names.set(key, member.personId)
  })
  return findings
}
