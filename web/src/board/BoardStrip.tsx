import { type BoardRow, COPY_STATES } from '@gavrin/core'
import { SheetMark } from '../ui/SheetMark'
import { type Strip, ofStrip } from './useBoardView'

interface Props {
  readonly rows: readonly BoardRow[]
  readonly leftOut: number
  readonly now: number
  readonly strip: Strip | null
  readonly choose: (strip: Strip | null) => void
}

/** How many copies there are of each state; each count shows its copies alone. */
export function BoardStrip({ rows, leftOut, now, strip, choose }: Props) {
  const there = ofStrip(rows, null, now)
  const states = COPY_STATES.map((state) => ({
    state,
    count: there.filter((row) => row.state === state).length,
  })).filter(({ count, state }) => count > 0 || state === 'working' || state === 'submitted')
  const overdue = ofStrip(rows, 'overdue', now).length
  const pressed = (own: Strip) => ({
    'aria-pressed': strip === own,
    onClick: () => choose(strip === own ? null : own),
  })
  return (
    <div className="strip" role="group" aria-label="Copies by state">
      {states.map(({ state, count }) => (
        <button
          key={state}
          type="button"
          className={`strip-part strip-${state.replaceAll(' ', '-')}`}
          style={{ flexGrow: Math.max(count, 1) }}
          {...pressed(state)}
        >
          <SheetMark state={state} share={state === 'working' || state === 'taken back' ? 0.5 : 0} silent />{' '}
          <span className="slab">{count}</span> {state}
        </button>
      ))}
      {overdue > 0 && (
        <button type="button" className="strip-part strip-overdue" {...pressed('overdue')}>
          <SheetMark state="not opened" overdue silent /> <span className="slab">{overdue}</span> overdue
        </button>
      )}
      {(
        [
          ['to read', ofStrip(rows, 'to read', now).length],
          ['set aside', ofStrip(rows, 'set aside', now).length],
          ['left out', leftOut],
        ] as const
      ).map(
        ([what, count]) =>
          count > 0 && (
            <button key={what} type="button" className="strip-part" {...pressed(what)}>
              <span className="slab">{count}</span> {what}
            </button>
          ),
      )}
    </div>
  )
}
