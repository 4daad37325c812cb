import {
  type Change,
  type ExistingCopy,
  type Finding,
  type Plan,
  type PlanFacts,
  countChanges,
  fullName,
  listName,
} from '@gavrin/core'
import { useMemo, useState } from 'react'
import { Notice } from '../ui/Notice'
import { SheetMark } from '../ui/SheetMark'
import { WindowedTable } from '../ui/WindowedTable'

interface Props {
  readonly plan: Plan
  readonly changes: readonly Change[]
  readonly existing: readonly ExistingCopy[]
  readonly facts: PlanFacts
}

interface ProofRow {
  readonly slotKey: string
  readonly title: string
  readonly holders: string
  readonly access: string
  readonly worksheet: string
  readonly news: readonly string[]
  readonly kinds: ReadonlySet<Filter>
  readonly warnings: readonly string[]
  readonly exists: boolean
}

type Filter = 'make' | 'rename' | 'change' | 'aside' | 'look'

const NEWS: Record<Change['kind'], { word: string; filter: Filter }> = {
  create: { word: 'new', filter: 'make' },
  'bring back': { word: 'brought back', filter: 'change' },
  rename: { word: 'new name', filter: 'rename' },
  permit: { word: 'new access', filter: 'change' },
  move: { word: 'new edition', filter: 'change' },
  date: { word: 'new due time', filter: 'change' },
  'set aside': { word: 'set aside', filter: 'aside' },
}

const ACCESS = { edit: 'edit', comment: 'comment', view: 'only read', none: 'none' } as const

/** Exactly what would exist, who gets what, and what would change. */
export function Proof({ plan, changes, existing, facts }: Props) {
  const [filter, setFilter] = useState<Filter | 'left' | null>(null)
  const rows = useMemo(() => proofRows(plan, changes, existing, facts), [plan, changes, existing, facts])
  const counts = countChanges(changes)
  const general = plan.findings.filter(({ slotKey }) => slotKey === undefined)
  const look = rows.filter(({ kinds }) => kinds.has('look')).length
  const heads: { key: Filter | 'left'; value: number; words: string; warn?: boolean }[] = [
    { key: 'make', value: counts.create, words: 'copies to make' },
    { key: 'rename', value: counts.rename, words: 'to rename' },
    { key: 'change', value: rows.filter(({ kinds }) => kinds.has('change')).length, words: 'to change' },
    { key: 'aside', value: counts['set aside'], words: 'to set aside' },
    { key: 'look', value: look, words: 'to look at', warn: look > 0 },
    { key: 'left', value: plan.leftOut.length, words: 'left out' },
  ]
  const shown = filter === null || filter === 'left' ? rows : rows.filter(({ kinds }) => kinds.has(filter))
  return (
    <section className="proof" aria-label="Proof">
      <h2>Proof</h2>
      <div className="proof-counts" role="group" aria-label="What would change">
        {heads.map(({ key, value, words, warn }) => (
          <button
            key={key}
            type="button"
            className={warn ? 'proof-count warn' : 'proof-count'}
            aria-pressed={filter === key}
            disabled={value === 0 && filter !== key}
            onClick={() => setFilter(filter === key ? null : key)}
          >
            <span className="slab">{value}</span> {words}
          </button>
        ))}
      </div>
      {general.map((finding) => (
        <FindingNotice key={`${finding.code}-${finding.itemId}`} finding={finding} />
      ))}
      {filter === 'left' ? <LeftOutList plan={plan} facts={facts} /> : <ProofTable rows={shown} />}
    </section>
  )
}

function FindingNotice({ finding }: { finding: Finding }) {
  return <Notice kind={finding.stops ? 'bad' : 'look'}>{finding.sentence}</Notice>
}

function LeftOutList({ plan, facts }: { plan: Plan; facts: PlanFacts }) {
  const names = new Map(facts.members.map((member) => [member.personId, listName(member)]))
  return (
    <ul className="left-out">
      {plan.leftOut.map(({ personId, reason }) => (
        <li key={personId}>
          <bdi>{names.get(personId)}</bdi> <span className="soft">{reason}</span>
        </li>
      ))}
    </ul>
  )
}

const ROW = 33

function ProofTable({ rows }: { rows: readonly ProofRow[] }) {
  return (
    <WindowedTable
      className="proof-table"
      label="Copies"
      count={rows.length}
      rowHeight={ROW}
      head={
        <>
          <th scope="col">
            <span className="visually-hidden">Mark</span>
          </th>
          <th scope="col">Copy</th>
          <th scope="col">Holder</th>
          <th scope="col">Access</th>
          <th scope="col">Edition</th>
          <th scope="col">Change</th>
        </>
      }
      row={(index) => {
        const row = rows[index]!
        return (
          <tr key={row.slotKey} className={row.kinds.has('aside') ? 'row-aside' : undefined}>
            <td className="mark-cell">
              <SheetMark state={row.exists ? 'opened' : 'not opened'} silent />
            </td>
            <td className="title-cell" title={row.title}>
              <bdi>{row.title}</bdi>
            </td>
            <td className="title-cell soft" title={row.holders}>
              <bdi>{row.holders}</bdi>
            </td>
            <td>{row.access}</td>
            <td>{row.worksheet}</td>
            <td className="news" title={[...row.news, ...row.warnings].join('; ')}>
              {row.news.length > 0 && <strong>{row.news.join(', ')}</strong>}
              {row.news.length > 0 && row.warnings.length > 0 && ' · '}
              {row.warnings.length > 0 && <span className="warn">{row.warnings.join('; ')}</span>}
              {row.news.length + row.warnings.length === 0 && <span className="soft">as it is</span>}
            </td>
          </tr>
        )
      }}
    />
  )
}

function proofRows(
  plan: Plan,
  changes: readonly Change[],
  existing: readonly ExistingCopy[],
  facts: PlanFacts,
): ProofRow[] {
  const names = new Map(facts.members.map((member) => [member.personId, fullName(member)]))
  const bySlot = new Map<string, Change[]>()
  for (const change of changes) bySlot.set(change.slotKey, [...(bySlot.get(change.slotKey) ?? []), change])
  const warnings = new Map<string, string[]>()
  for (const { slotKey, sentence } of plan.findings)
    if (slotKey) warnings.set(slotKey, [...(warnings.get(slotKey) ?? []), sentence])
  const there = new Set(existing.map(({ slotKey }) => slotKey))
  const row = (copy: ExistingCopy | Plan['copies'][number]): ProofRow => {
    const own = bySlot.get(copy.slotKey) ?? []
    const looked = warnings.get(copy.slotKey) ?? []
    const kinds = new Set<Filter>(own.map(({ kind }) => NEWS[kind].filter))
    if (looked.length) kinds.add('look')
    return {
      slotKey: copy.slotKey,
      title: copy.title,
      holders: copy.holders.map(({ personId }) => names.get(personId) ?? 'no longer in the class').join(', '),
      access: ACCESS[copy.holders[0]?.permission ?? 'none'],
      worksheet: String(copy.edition),
      news: own.map(({ kind }) => NEWS[kind].word),
      kinds,
      warnings: looked,
      exists: there.has(copy.slotKey),
    }
  }
  const aside = new Set(changes.filter(({ kind }) => kind === 'set aside').map(({ slotKey }) => slotKey))
  return [...plan.copies.map(row), ...existing.filter(({ slotKey }) => aside.has(slotKey)).map(row)]
}
