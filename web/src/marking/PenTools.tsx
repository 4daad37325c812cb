import { sentenceOf } from '../ui/api'
import type { PenMode } from './PenLayer'
import './pen.css'

const TOOLS: readonly { readonly mode: Exclude<PenMode, null>; readonly sign: string; readonly words: string }[] = [
  { mode: 'tick', sign: '✓', words: 'Tick: click where it goes' },
  { mode: 'cross', sign: '✗', words: 'Cross: click where it goes' },
  { mode: 'stroke', sign: 'Pen', words: 'Pen: draw over the page' },
  { mode: 'rubber', sign: 'Rubber', words: 'Rubber: take out what you drew' },
]

/** The pen of whoever marks: ticks, crosses and strokes over the page; a second press, or Escape, puts it away. */
export function PenTools({
  mode,
  choose,
  undo,
  error,
  isAway,
}: {
  readonly mode: PenMode
  readonly choose: (mode: PenMode) => void
  readonly undo: (() => void) | null
  readonly error: Error | null
  readonly isAway: boolean
}) {
  return (
    <div className="pen-bar">
      <span className="pen-tools" role="toolbar" aria-label="Marking pen">
        {TOOLS.map((tool) => (
          <button
            key={tool.mode}
            type="button"
            title={tool.words}
            aria-label={tool.words}
            aria-pressed={mode === tool.mode}
            onClick={() => choose(mode === tool.mode ? null : tool.mode)}
          >
            {tool.sign}
          </button>
        ))}
        <button type="button" disabled={undo === null} onClick={() => undo?.()} aria-label="Undo what the pen did">
          Undo
        </button>
      </span>
      {isAway && (
        <span className="soft" role="status">
          drawn, not saved yet
        </span>
      )}
      {error && (
        <span className="bad" role="alert">
          {sentenceOf(error)}
        </span>
      )}
    </div>
  )
}
