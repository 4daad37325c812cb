import { type Statement, type WholeProof, countChanges, isNote } from '@gavrin/core'
import { useMemo, useState } from 'react'
import { Notice } from '../ui/Notice'
import { SheetMark } from '../ui/SheetMark'
import { WindowedTable } from '../ui/WindowedTable'
import type { SlipFacts } from './blanks/slip'
import { countWhole, proofLines } from './proofLines'
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

type Shown = ProofFilter | 'left' | 'without'

/** Exactly what would exist, who gets what, and what would change. */
export function Proof({ proof, statement, facts, failures, chosen, choose }: Props) {
  const [filter, setFilter] = useState<Shown | null>(null)
  const rows = useMemo(() => proofRows(proof, statement, facts, failures), [proof, statement, facts, failures])
  const leftOut = useMemo(() => leftOutRows(proof), [proof])
  const lines = useMemo(() => proofLines(proof, statement, facts.worksheets), [proof, statement, facts.worksheets])
  const counts = countWhole(proof)
  const general = generalFindings(proof)
  const peopleIn = (byChoice: boolean) =>
    new Set(leftOut.filter((row) => row.byChoice === byChoice).map(({ key }) => key.split(' ').at(-1))).size
  const heads: { key: Shown; value: number; words: string; warns?: boolean }[] = [
    { key: 'make', value: counts.make, words: counts.make === 1 ? 'copy to make' : 'copies to make' },
    { key: 'change', value: counts.change, words: 'to change' },
    { key: 'aside', value: counts.aside, words: 'to set aside' },
    { key: 'look', value: rows.filter(({ kinds }) => kinds.has('look')).length, words: 'to look at', warns: true },
    { key: 'without', value: peopleIn(false), words: 'without a copy', warns: true },
    { key: 'left', value: peopleIn(true), words: 'left out by choice' },
  ]
  const ofKind = countChanges(proof.changes)
  const parts = (
    [
      ['rename', 'new name'],
      ['permit', 'new access'],
      ['move', 'new edition or worksheet'],
      ['date', 'new times'],
      ['bring back', 'brought back'],
      ['carry', 'answer that goes along'],
    ] as const
  ).filter(([kind]) => ofKind[kind] > 0)
  return (
    <section className="proof" aria-label="Proof">
      <h2>Proof</h2>
      <div className="proof-counts" role="group" aria-label="What would change">
        {heads
          .filter(
            ({ key, value }) => value > 0 || filter === key || key === 'make' || key === 'change' || key === 'aside',
          )
          .map(({ key, value, words, warns }) => (
            <button
              key={key}
              type="button"
              className={warns && value > 0 ? 'proof-count warn' : 'proof-count'}
              aria-pressed={filter === key}
              disabled={value === 0 && filter !== key}
              onClick={() => setFilter(filter === key ? null : key)}
            >
              <span className="slab">{value}</span> {words}
            </button>
          ))}
      </div>
      {parts.length > 0 && (
        <p className="proof-parts soft">
          Of these:{' '}
          {parts.map(([kind, word]) => `${ofKind[kind]} ${ofKind[kind] === 1 ? word : several(word)}`).join(', ')}
        </p>
      )}
      <ul className="proof-lines soft">
        {lines.map((line) => (
          <li key={line}>
            <bdi>{line}</bdi>
          </li>
        ))}
      </ul>
      {general.map(({ sentence, kind }) =>
        kind === 'note' ? (
          <p key={sentence} className="proof-parts soft">
            {sentence}
          </p>
        ) : (
          <Notice key={sentence} kind={kind}>
            {sentence}
          </Notice>
        ),
      )}
      {filter === 'left' || filter === 'without' ? (
        <LeftOutList
          rows={leftOut.filter(({ byChoice }) => byChoice === (filter === 'left'))}
          several={proof.parts.length > 1}
        />
      ) : (
        <ProofTable
          rows={filter === null ? rows : rows.filter(({ kinds }) => kinds.has(filter))}
          several={proof.parts.length > 1}
          chosen={chosen}
          choose={choose}
        />
      )}
    </section>
  )
}

const several = (word: string) =>
  word === 'new access'
    ? word
    : word
        .replace('name', 'names')
        .replace('edition or worksheet', 'editions or worksheets')
        .replace('answer that goes', 'answers that go')

/** What is said of the handout as a whole, each sentence once: what stops it first, then what to look at, then what follows. */
function generalFindings({ parts }: Props['proof']): { sentence: string; kind: 'bad' | 'look' | 'note' }[] {
  const order = ['bad', 'look', 'note'] as const
  const bySentence = new Map<string, (typeof order)[number]>()
  for (const { plan } of parts)
    for (const finding of plan.findings)
      if (finding.slotKey === undefined)
        bySentence.set(finding.sentence, finding.stops ? 'bad' : isNote(finding) ? 'note' : 'look')
  return [...bySentence]
    .map(([sentence, kind]) => ({ sentence, kind }))
    .toSorted((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind))
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
      className={several ? 'proof-table proof-several' : 'proof-table'}
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
          {withHolders && <th scope="col">Students</th>}
          {withReaders && <th scope="col">Peer readers</th>}
          <th scope="col">Access</th>
          <th scope="col">Worksheet</th>
          <th scope="col">Change</th>
        </>
      }
      row={(index, measure) => {
        const row = rows[index]!
        return (
          <tr
            key={row.key}
            ref={measure}
            data-index={index}
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
            <td className="news">
              {row.failed && <span className="bad">failed: {row.failed} </span>}
              {row.news.length > 0 && <strong>{row.news.join(', ')}</strong>}
              {row.news.length > 0 && row.ownTimes && ' · '}
              {row.ownTimes}
              {row.news.length === 0 && !row.ownTimes && <span className="soft">as it is</span>}
              {row.warnings.length > 0 && (
                <>
                  {' · '}
                  <span className="warn">{row.warnings.join('; ')}</span>
                </>
              )}
              {row.notes.length > 0 && (
                <>
                  {' · '}
                  <span className="soft">{row.notes.join('; ')}</span>
                </>
              )}
            </td>
          </tr>
        )
      }}
    />
  )
}
