import { type BoardRow, COPY_STATES, type CopyState, TIME_SPANS, type TimeSpan } from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import type { Answers } from '../contract'
import { Chart } from '../ui/Chart'
import { Loaded } from '../ui/Loaded'
import { WindowedTable } from '../ui/WindowedTable'
import { api } from '../ui/api'
import { exactTime, shortTime, spanInWords, timeInWords } from '../ui/time'
import { useStored } from '../ui/useStored'
import { rowName } from './rowName'
import { RowButton, RowMark } from './RowParts'

export interface TimeViewProps {
  readonly handout: { readonly id: string; readonly dueAt: number | null }
  readonly rows: readonly BoardRow[]
  readonly now: number
  readonly chosen: string | null
  readonly choose: (copyId: string) => void
}

type OverTime = Answers['GET handouts/{handoutId}/over-time']

const SPAN_WORDS: Readonly<Record<TimeSpan, string>> = {
  'ten minutes': 'Last ten minutes',
  'two hours': 'Last two hours',
  'from the beginning': 'From the beginning',
}
/** How often it is read anew, in milliseconds: as fast as a step of it passes. */
const FRESH: Readonly<Record<TimeSpan, number>> = {
  'ten minutes': 10_000,
  'two hours': 30_000,
  'from the beginning': 60_000,
}
const ROW = 31

/** How a class goes on: the states of its copies over time, and how much was written in each. */
export default function TimeView({ handout, rows, now, chosen, choose }: TimeViewProps) {
  const [span, setSpan] = useStored<TimeSpan>('board span', 'from the beginning')
  const query = useQuery({
    queryKey: ['board', handout.id, 'over time', span],
    queryFn: () => api.get<OverTime>(`handouts/${handout.id}/over-time?span=${encodeURIComponent(span)}`),
    refetchInterval: FRESH[span],
    placeholderData: (before) => before,
  })
  return (
    <div className="time-view">
      <div className="time-spans" role="group" aria-label="How far back">
        {TIME_SPANS.map((one) => (
          <button key={one} type="button" aria-pressed={span === one} onClick={() => setSpan(one)}>
            {SPAN_WORDS[one]}
          </button>
        ))}
      </div>
      <Loaded query={query}>
        {(over) => (
          <>
            <StatesChart over={over} dueAt={handout.dueAt} now={now} />
            <WrittenTable {...{ over, rows, now, chosen, choose }} />
          </>
        )}
      </Loaded>
    </div>
  )
}

/** The tokens that states are drawn in, from what is not begun to what is done. */
const TOKENS: Readonly<Record<CopyState, string>> = {
  'not opened': '--rule',
  opened: '--field',
  working: '--mark-part',
  'taken back': '--brass',
  submitted: '--answer',
  marked: '--kelp',
  'handed back': '--kelp-deep',
}

function StatesChart({ over, dueAt, now }: { over: OverTime; dueAt: number | null; now: number }) {
  const { from, step, count, states } = over
  const present = useMemo(
    () => COPY_STATES.toReversed().filter((state) => states[state].some((of) => of > 0)),
    [states],
  )
  const options = useMemo(() => {
    const style = getComputedStyle(document.querySelector('.board') ?? document.documentElement)
    const token = (name: string) => style.getPropertyValue(name).trim()
    const text = { colors: token('--soft'), fontFamily: 'inherit', fontSize: '12px' }
    const end = (index: number) => Math.min(from + (index + 1) * step, now)
    return {
      chart: {
        type: 'area' as const,
        stacked: true,
        height: 220,
        animations: { enabled: false },
        toolbar: { show: false },
        zoom: { enabled: false },
        fontFamily: 'inherit',
        background: 'transparent',
      },
      series: present.map((state) => ({
        name: state,
        data: states[state].map((of, index) => ({ x: end(index), y: of })),
      })),
      colors: present.map((state) => token(TOKENS[state])),
      stroke: { curve: 'stepline' as const, width: 1 },
      fill: { type: 'solid', opacity: 0.85 },
      dataLabels: { enabled: false },
      legend: { show: false },
      grid: { borderColor: token('--rule-soft'), padding: { left: 28, right: 12 } },
      xaxis: {
        type: 'datetime' as const,
        labels: { formatter: (_: string, at?: number) => (at === undefined ? '' : shortTime(at, now)), style: text },
        axisBorder: { color: token('--rule') },
        axisTicks: { color: token('--rule') },
        tooltip: { enabled: false },
      },
      yaxis: {
        min: 0,
        forceNiceScale: true,
        labels: { formatter: (value: number) => String(Math.round(value)), style: text },
      },
      tooltip: { x: { formatter: (at: number) => timeInWords(at, now) }, theme: 'light' },
      annotations: {
        xaxis:
          dueAt !== null && dueAt >= from && dueAt <= from + count * step
            ? [
                {
                  x: dueAt,
                  borderColor: token('--signal'),
                  strokeDashArray: 4,
                  label: { text: 'due', style: { color: token('--signal'), background: 'transparent' } },
                },
              ]
            : [],
      },
    }
  }, [present, from, step, count, states, dueAt, now])
  const last = present.map((state) => `${states[state].at(-1)} ${state}`).join(', ')
  return (
    <div className="states-chart">
      <Chart options={options} height={225} label={`States over time, ${spanInWords(from, now, now)}. Now: ${last}`} />
      <ul className="states-key">
        {present.map((state) => (
          <li key={state}>
            <span className={`key-${state.replace(' ', '-')}`} aria-hidden="true" /> {states[state].at(-1)} {state}
          </li>
        ))}
      </ul>
    </div>
  )
}

function WrittenTable({
  over,
  rows,
  now,
  chosen,
  choose,
}: { over: OverTime } & Pick<TimeViewProps, 'rows' | 'now' | 'chosen' | 'choose'>) {
  const { from, step, count, written } = over
  const byCopy = useMemo(() => new Map(written.map(({ copyId, changes }) => [copyId, changes])), [written])
  const most = Math.max(1, ...written.flatMap(({ changes }) => changes))
  const end = Math.min(from + count * step, now)
  return (
    <WindowedTable
      className="board-table written-table"
      count={rows.length}
      rowHeight={ROW}
      shown={rows.findIndex(({ copyId }) => copyId === chosen)}
      head={
        <>
          <th scope="col" className="mark-cell">
            <span className="visually-hidden">Mark</span>
          </th>
          <th scope="col">{rows.some(({ way }) => way !== 'one each') ? 'Copy' : 'Student'}</th>
          <th scope="col" className="written-head">
            <span>{shortTime(from, now)}</span>
            <span>written</span>
            <span>{shortTime(end, now)}</span>
          </th>
          <th scope="col" className="n">
            Submitted
          </th>
        </>
      }
      row={(at) => {
        const row = rows[at]!
        const changes = byCopy.get(row.copyId)
        const submittedIn = row.submittedAt === null ? -1 : Math.floor((row.submittedAt - from) / step)
        return (
          <tr
            key={row.copyId}
            className={row.copyId === chosen ? 'chosen' : undefined}
            onClick={() => choose(row.copyId)}
          >
            <td className="mark-cell">
              <RowMark row={row} now={now} />
            </td>
            <td className="title-cell">
              <RowButton row={row} isChosen={row.copyId === chosen} choose={choose}>
                {rowName(row)}
              </RowButton>
            </td>
            <td className="written-cell">
              <Bars changes={changes ?? []} count={count} most={most} submittedIn={submittedIn} />
            </td>
            <td className="n">
              {row.submittedAt === null ? (
                <span className="soft">–</span>
              ) : (
                <span title={exactTime(row.submittedAt)}>{shortTime(row.submittedAt, now)}</span>
              )}
            </td>
          </tr>
        )
      }}
    />
  )
}

interface BarsProps {
  readonly changes: readonly number[]
  readonly count: number
  /** The tallest of all. */
  readonly most: number
  /** The step in which it was submitted; less than 0: it is not. */
  readonly submittedIn: number
}

/** How much was written in each step, as small bars; a tick where it was submitted. */
function Bars({ changes, count, most, submittedIn }: BarsProps) {
  const active = changes.filter((of) => of > 0).length
  return (
    <svg
      className="bars"
      viewBox={`0 0 ${count} 20`}
      preserveAspectRatio="none"
      role="img"
      aria-label={active === 0 ? 'nothing written' : `written in ${active} of ${count} stretches`}
    >
      <path className="bars-ground" d={`M0 19.5H${count}`} />
      {changes.map((of, step) => {
        // Few changes are seen too.
        const height = of === 0 ? 0 : 2 + 17 * Math.sqrt(of / most)
        return of > 0 && <rect key={step} x={step + 0.1} width={0.8} y={20 - height} height={height} />
      })}
      {submittedIn >= 0 && submittedIn < count && <path className="bars-submitted" d={`M${submittedIn + 0.5} 0V20`} />}
    </svg>
  )
}
