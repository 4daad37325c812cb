import { type Finding, type Statement, type WholeProof, countChanges } from '@gavrin/core'
import { useMemo, useState } from 'react'
import { Notice } from '../ui/Notice'
import { SheetMark } from '../ui/SheetMark'
import { WindowedTable } from '../ui/WindowedTable'
import type { SlipFacts } from './blanks/slip'
import { type LeftOutRow, type ProofFilter, type ProofRow, leftOutRows, proofRows } from './proofRows'
import type { SlipPart } from './queries'

interface Props {
  readonly proof: WholeProof<SlipPart>
  readonly statement: Statement
  readonly facts: SlipFacts
  readonly failures: ReadonlyMap<string, string>
  readonly chosen: string | null
  readonly choose: (row: ProofRow) => void
}

/** Exactly what would exist, who gets what, and what would change. */
export function Proof({ proof, statement, facts, failures, chosen, choose }: Props) {
  const [filter, setFilter] = useState<ProofFilter | 'left' | null>(null)
  const rows = useMemo(() => proofRows(proof, statement, facts, failures), [proof, statement, facts, failures])
  const leftOut = useMemo(() => leftOutRows(proof), [proof])
  const counts = countChanges(proof.changes)
  const general = generalFindings(proof)
  const look = rows.filter(({ kinds }) => kinds.has('look')).length
  const people = new Set(leftOut.map(({ key }) => key.split(' ').at(-1))).size
  const heads: { key: ProofFilter | 'left'; value: number; words: string; warn?: boolean }[] = [
    { key: 'make', value: counts.create, words: 'copies to make' },
    { key: 'rename', value: counts.rename, words: 'to rename' },
    { key: 'change', value: rows.filter(({ kinds }) => kinds.has('change')).length, words: 'to change' },
    { key: 'aside', value: counts['set aside'], words: 'to set aside' },
    { key: 'look', value: look, words: 'to look at', warn: look > 0 },
    { key: 'left', value: people, words: 'left out' },
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
      {counts.permit + counts.move + counts.date + counts.carry > 0 && (
        <p className="proof-parts soft">
          To change:{' '}
          {(
            [
              ['permit', 'new access'],
              ['move', 'new edition or worksheet'],
              ['date', 'new times'],
              ['bring back', 'brought back'],
              ['carry', 'answers that go along'],
            ] as const
          )
            .filter(([kind]) => counts[kind] > 0)
            .map(([kind, word]) => `${counts[kind]} ${word}`)
            .join(', ')}
        </p>
      )}
      {general.map(({ sentence, stops }) => (
        <Notice key={sentence} kind={stops ? 'bad' : 'look'}>
          {sentence}
        </Notice>
      ))}
      {filter === 'left' ? (
        <LeftOutList rows={leftOut} several={proof.parts.length > 1} />
      ) : (
        <ProofTable rows={shown} several={proof.parts.length > 1} chosen={chosen} choose={choose} />
      )}
    </section>
  )
}

/** What concerns no single copy, each sentence once. */
function generalFindings(proof: WholeProof<SlipPart>): Pick<Finding, 'sentence' | 'stops'>[] {
  const bySentence = new Map<string, boolean>()
  for (const { plan } of proof.parts)
    for (const { slotKey, sentence, stops } of plan.findings)
      if (slotKey === undefined) bySentence.set(sentence, stops || (bySentence.get(sentence) ?? false))
  return [...bySentence]
    .map(([sentence, stops]) => ({ sentence, stops }))
    .toSorted((a, b) => Number(b.stops) - Number(a.stops))
}

function LeftOutList({ rows, several }: { rows: readonly LeftOutRow[]; several: boolean }) {
  return (
    <ul className="left-out">
      {rows.map(({ key, name, class: className, reason }) => (
        <li key={key}>
          <bdi>{name}</bdi> {several && <span className="soft">{className}: </span>}
          <span className="soft">{reason}</span>
        </li>
      ))}
    </ul>
  )
}

const ROW = 33

interface TableProps {
  readonly rows: readonly ProofRow[]
  readonly several: boolean
  readonly chosen: string | null
  readonly choose: (row: ProofRow) => void
}

function ProofTable({ rows, several, chosen, choose }: TableProps) {
  const withReaders = rows.some(({ copy, kinds }) => copy.readers.length > 0 && !kinds.has('aside'))
  // A copy each is called by its holder: the width is for those who read it.
  const withHolders = !withReaders || rows.some(({ copy }) => copy.way === 'one per group')
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
          {several && <th scope="col">Class</th>}
          {withHolders && <th scope="col">Holders</th>}
          {withReaders && <th scope="col">Peer readers</th>}
          <th scope="col">Access</th>
          <th scope="col">Worksheet</th>
          <th scope="col">Change</th>
        </>
      }
      row={(index) => {
        const row = rows[index]!
        return (
          <tr
            key={row.key}
            className={[row.kinds.has('aside') && 'row-aside', row.key === chosen && 'row-chosen']
              .filter(Boolean)
              .join(' ')}
          >
            <td className="mark-cell">
              <SheetMark state={row.exists ? 'opened' : 'not opened'} silent />
            </td>
            <td className="title-cell" title={row.title}>
              <button
                type="button"
                className="row-button"
                aria-pressed={row.key === chosen}
                onClick={() => choose(row)}
              >
                <bdi>{row.title}</bdi>
              </button>
            </td>
            {several && (
              <td>
                <bdi>{row.class}</bdi>
              </td>
            )}
            {withHolders && (
              <td className="title-cell soft" title={row.holders}>
                <bdi>{row.holders}</bdi>
              </td>
            )}
            {withReaders && (
              <td className="title-cell soft" title={row.readers}>
                <bdi>{row.readers}</bdi>
              </td>
            )}
            <td>{row.access}</td>
            <td className="title-cell soft" title={row.worksheet}>
              <bdi>{row.worksheet}</bdi>
            </td>
            <td
              className="news"
              title={[...row.news, row.ownTimes, ...row.warnings, row.failed].filter(Boolean).join('; ')}
            >
              {row.failed && <span className="bad">failed: {row.failed} </span>}
              {row.news.length > 0 && <strong>{row.news.join(', ')}</strong>}
              {row.news.length > 0 && row.ownTimes && ' · '}
              {row.ownTimes}
              {(row.news.length > 0 || row.ownTimes) && row.warnings.length > 0 && ' · '}
              {row.warnings.length > 0 && <span className="warn">{row.warnings.join('; ')}</span>}
              {row.news.length + row.warnings.length === 0 && !row.ownTimes && <span className="soft">as it is</span>}
            </td>
          </tr>
        )
      }}
    />
  )
}
