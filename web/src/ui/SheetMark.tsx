import type { CopyState } from '@gavrin/core'
import { useId } from 'react'

interface Props {
  readonly state: CopyState
  /** Of the answer spaces that are done, 0 to 1. */
  readonly share?: number
  readonly pensDown?: boolean
  readonly overdue?: boolean
  /** Width in pixels. */
  readonly size?: number
  /** Said by its neighbour: then the mark is only drawn. */
  readonly silent?: boolean
}

const FULL: ReadonlySet<CopyState> = new Set(['submitted', 'marked', 'handed back'])

/** The state of a copy as one upright little sheet. */
export function SheetMark({ state, share = 0, pensDown = false, overdue = false, size = 15, silent = false }: Props) {
  const id = useId()
  const words = [state, pensDown && 'pens down', overdue && 'overdue'].filter(Boolean).join(', ')
  const body = state === 'not opened' ? 'M1 1H14V18.5H1Z' : 'M1 1H10.5L14 4.6V18.5H1Z'
  const filled = FULL.has(state) ? 1 : share
  const top = 18.5 - 17.5 * filled
  return (
    <svg
      className="sheet-mark"
      width={size}
      height={Math.round(size * 1.3)}
      viewBox="0 0 15 19.5"
      fill="none"
      {...(silent ? { 'aria-hidden': true } : { role: 'img', 'aria-label': words })}
    >
      {!silent && <title>{words}</title>}
      {state === 'not opened' ? (
        <path className="mark-line" d={body} strokeDasharray="2 1.6" opacity=".75" />
      ) : (
        <>
          <path className="mark-sheet" d={body} />
          {filled > 0 && (
            <>
              <clipPath id={id}>
                <path d={body} />
              </clipPath>
              <rect
                className={FULL.has(state) ? 'mark-full' : 'mark-part'}
                clipPath={`url(#${id})`}
                x="1"
                y={top}
                width="13"
                height={18.5 - top}
              />
            </>
          )}
          <path className="mark-line" d={body} />
          <path className="mark-fold" d="M10.5 1V4.6H14" />
          {(state === 'submitted' || state === 'handed back') && (
            <path className="mark-cut" d="M4 11.2l2.6 2.7L11 8.4" strokeWidth="1.9" />
          )}
          {state === 'marked' && <circle className="mark-cut" cx="7.5" cy="11" r="3.2" strokeWidth="1.7" />}
          {state === 'handed back' && <circle className="mark-cut" cx="7.5" cy="11" r="5.2" strokeWidth="1" />}
          {state === 'taken back' && <path className="mark-turned" d="M1 13.5L5.8 18.5H1Z" />}
        </>
      )}
      {pensDown && <path className="mark-line" d="M0 1H15" strokeWidth="2.4" />}
      {overdue && <path className="mark-notch" d="M15 12l-4 3.2 4 3.2z" />}
    </svg>
  )
}
