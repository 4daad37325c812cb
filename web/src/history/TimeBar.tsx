import { HERE_COLOURS } from '@gavrin/core'
import { useMemo } from 'react'
import { exactTime } from '../ui/time'
import type { HistoryRead } from './queries'
import { STEP_WORDS } from './words'

/** Columns that the bar is drawn in, at most. */
const COLUMNS = 320

interface Props {
  readonly history: HistoryRead
  /** How many moments had passed by each step. */
  readonly passed: readonly { readonly step: HistoryRead['steps'][number]; readonly to: number }[]
  readonly at: number
  readonly other: number | null
  /** What is shown, in words. */
  readonly words: string
  readonly goTo: (at: number) => void
}

/** All moments of a history in one line: how much was written in each, by whom, and the steps of the copy. */
export function TimeBar({ history: { moments, people }, passed, at, other, words, goTo }: Props) {
  const count = Math.max(moments.length, 1)
  const columns = useMemo(() => {
    const colours = new Map(people.map(({ id }, index) => [id, index % HERE_COLOURS]))
    const size = Math.max(1, Math.ceil(moments.length / COLUMNS))
    const found: { from: number; width: number; written: number; colour: number }[] = []
    for (let from = 0; from < moments.length; from += size) {
      const some = moments.slice(from, from + size)
      const most = some.reduce((one, next) => (next.changes > one.changes ? next : one))
      const written = some.reduce((sum, { changes }) => sum + changes, 0) / some.length
      found.push({ from, width: some.length, written, colour: colours.get(most.personId) ?? 0 })
    }
    return found
  }, [moments, people])
  const most = Math.max(1, ...columns.map(({ written }) => written))
  const along = (moment: number) => `${(100 * moment) / count}%`
  return (
    <div className="time-bar">
      <div className="time-steps" aria-hidden="true">
        {passed.map(({ step, to }, index) => (
          <button
            key={index}
            type="button"
            tabIndex={-1}
            className={to === at ? 'time-step here' : 'time-step'}
            style={{ insetInlineStart: along(to) }}
            title={`${STEP_WORDS[step.kind]}, ${exactTime(step.at)}`}
            onClick={() => goTo(to)}
          />
        ))}
      </div>
      <svg viewBox={`0 0 ${count} 24`} preserveAspectRatio="none" aria-hidden="true">
        {columns.map(({ from, width, written, colour }) => {
          const height = 4 + (20 * Math.sqrt(written)) / Math.sqrt(most)
          return (
            <rect
              key={from}
              className={`here-${colour}${from < at ? '' : ' later'}`}
              x={from + 0.08 * width}
              y={24 - height}
              width={0.84 * width}
              height={height}
            />
          )
        })}
      </svg>
      {other !== null && <span className="time-other" style={{ insetInlineStart: along(other) }} aria-hidden="true" />}
      <input
        type="range"
        min={0}
        max={moments.length}
        value={at}
        aria-label="Moment"
        aria-valuetext={words}
        onChange={({ target }) => goTo(Number(target.value))}
      />
    </div>
  )
}
