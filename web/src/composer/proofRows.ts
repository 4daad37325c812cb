import {
  type Change,
  type ExistingCopy,
  type PlannedCopy,
  type Statement,
  type WholeProof,
  fullName,
  gathered,
  isNote,
  listName,
  timesFor,
  accessChangeInWords,
} from '@gavrin/core'
import { timeInWords } from '../ui/time'
import type { SlipFacts } from './blanks/slip'
import type { SlipPart } from './queries'

/** What becomes of a copy, and whether there is something to look at. */
export type ProofFilter = 'make' | 'change' | 'aside' | 'look'

const NEWS: Record<Exclude<Change['kind'], 'notify'>, { word: string; filter: ProofFilter }> = {
  create: { word: 'new', filter: 'make' },
  'bring back': { word: 'brought back', filter: 'change' },
  rename: { word: 'new name', filter: 'change' },
  permit: { word: 'new access', filter: 'change' },
  move: { word: 'new edition', filter: 'change' },
  date: { word: 'new times', filter: 'change' },
  carry: { word: 'writing goes along', filter: 'change' },
  'set aside': { word: 'set aside', filter: 'aside' },
}

const ACCESS = { edit: 'edit', comment: 'comment', view: 'only view', none: 'none' } as const

/** One line of the proof. */
export interface ProofRow {
  readonly key: string
  readonly slotKey: string
  readonly part: SlipPart
  readonly copy: PlannedCopy
  readonly title: string
  readonly class: string
  readonly holders: string
  readonly readers: string
  readonly access: string
  readonly worksheet: string
  /** What would change. */
  readonly news: readonly string[]
  /** When it opens and is due, where that is not as for the class. */
  readonly ownTimes: string
  readonly kinds: ReadonlySet<ProofFilter>
  /** What to look at, and what only follows from what was chosen. */
  readonly warnings: readonly string[]
  readonly notes: readonly string[]
  readonly exists: boolean
  readonly failed: string | null
}

/** A student who gets nothing of a slip, and why. */
export interface LeftOutRow {
  readonly key: string
  readonly name: string
  readonly class: string
  readonly reason: string
  readonly byChoice: boolean
}

/** The lines of a proof: every copy there would be, and after them those that would be set aside. */
export function proofRows(
  proof: WholeProof<SlipPart>,
  statement: Statement,
  facts: SlipFacts,
  failures: ReadonlyMap<string, string>,
): ProofRow[] {
  const titles = new Map(facts.worksheets.map(({ id, title }) => [id, title]))
  const several = new Set(proof.parts.flatMap(({ plan }) => plan.copies.map(({ worksheetId }) => worksheetId))).size > 1
  return proof.parts.flatMap(({ part, plan, changes }) => {
    const names = new Map(part.facts.members.map((member) => [member.personId, fullName(member)]))
    for (const { personId, name } of part.facts.guests) names.set(personId, `${name} (guest)`)
    const bySlot = gathered(changes, ({ slotKey }) => slotKey)
    const found = gathered(
      plan.findings.filter(({ slotKey }) => slotKey !== undefined),
      ({ slotKey }) => slotKey,
    )
    const noted = new Set(changes.flatMap((change) => (change.kind === 'notify' ? [change.notice.about] : [])))
    const there = new Set(part.existing.copies.map(({ slotKey }) => slotKey))
    const named = (people: PlannedCopy['holders']) =>
      people.length > 6
        ? `${people.length} students`
        : people.map(({ personId }) => names.get(personId) ?? 'no longer in the class').join(', ')
    const aside = new Set(changes.filter(({ kind }) => kind === 'set aside').map(({ slotKey }) => slotKey))
    const ofClass = timesFor(statement, part.classId)
    const ownTimes = ({ way, opensAt, dueAt }: PlannedCopy) =>
      [
        opensAt !== ofClass.opensAt && `opens ${opensAt === null ? 'at once' : timeInWords(opensAt)}`,
        dueAt !== ofClass.dueAt && way !== 'to read' && dueAt !== null && `due ${timeInWords(dueAt)}`,
      ]
        .filter(Boolean)
        .join(', ')
    const row = (copy: ExistingCopy | PlannedCopy): ProofRow => {
      const own = bySlot.get(copy.slotKey) ?? []
      const looked = found.get(copy.slotKey) ?? []
      const warnings = looked.filter((finding) => !isNote(finding)).map(({ sentence }) => sentence)
      const failed = failures.get(copy.slotKey) ?? null
      const becomes = new Set(own.flatMap(({ kind }) => (kind === 'notify' ? [] : [NEWS[kind].filter])))
      // What is made or set aside is no change besides.
      if (becomes.has('make') || becomes.has('aside')) becomes.delete('change')
      const kinds = new Set<ProofFilter>(becomes)
      if (warnings.length > 0 || failed) kinds.add('look')
      const before = part.existing.copies.find(({ slotKey }) => slotKey === copy.slotKey)
      const said = (change: Change): string[] => {
        if (change.kind === 'notify') return []
        const { word } = NEWS[change.kind]
        if (!before) return [word]
        if (change.kind === 'permit')
          return [
            `${word}: ${accessChangeInWords(before, copy, (id) => names.get(id) ?? 'somebody who left the class')}`,
          ]
        return [change.kind === 'rename' ? `${word}, was “${before.title}”` : word]
      }
      const news = own.flatMap(said)
      return {
        key: `${part.classId} ${copy.slotKey}`,
        slotKey: copy.slotKey,
        part,
        copy,
        title: copy.title,
        class: part.facts.className,
        holders: named(copy.holders),
        readers: named(copy.readers),
        access: copy.way === 'to read' ? `to read` : ACCESS[copy.holders[0]?.permission ?? 'none'],
        worksheet: copy.link
          ? 'link'
          : `${several ? `${titles.get(copy.worksheetId) ?? 'no longer there'}, ` : ''}edition ${copy.edition}${
              copy.places.length > 1 ? `, ${copy.places.length} places` : ''
            }`,
        news: [...new Set(news), ...(copy.holders.some(({ personId }) => noted.has(personId)) ? ['cover note'] : [])],
        ownTimes: aside.has(copy.slotKey) ? '' : ownTimes(copy),
        kinds,
        warnings,
        notes: looked.filter(isNote).map(({ sentence }) => sentence),
        exists: there.has(copy.slotKey),
        failed,
      }
    }
    return [
      ...plan.copies.map(row),
      ...part.existing.copies
        .filter(({ slotKey }) => aside.has(slotKey))
        .toSorted((a, b) => a.title.localeCompare(b.title))
        .map(row),
    ]
  })
}

/** Who is left out of which slip, and why. */
export function leftOutRows(proof: WholeProof<SlipPart>): LeftOutRow[] {
  return proof.parts.flatMap(({ part, plan }) => {
    const names = new Map(part.facts.members.map((member) => [member.personId, listName(member)]))
    return plan.leftOut.map(({ personId, itemId, reason, byChoice }) => ({
      key: `${part.classId} ${itemId} ${personId}`,
      name: names.get(personId) ?? '',
      class: part.facts.className,
      reason,
      byChoice,
    }))
  })
}
