import type { LeftOutReason, ParsedRoster, RosterReading } from '@gavrin/core'
import { Button } from 'react-bootstrap'

interface Props {
  readonly rows: readonly (readonly string[])[]
  readonly parsed: Pick<ParsedRoster, 'heading' | 'leftOut'>
  readonly reading: RosterReading
  readonly setReading: (reading: RosterReading) => void
  /** Rows that were left out by hand, counted from 0, and a way to have one back. */
  readonly byHand: readonly number[]
  readonly takeBack: (line: number) => void
}

const WHY: Record<LeftOutReason, string> = {
  above: 'above the list',
  'headings again': 'the headings again',
  note: 'a total or a note',
  nobody: 'no name, address or number',
}
/** As many are shown as anybody reads. */
const SHOWN = 200

const textOf = (row: readonly string[] | undefined) => (row ?? []).filter((cell) => cell.trim()).join(' · ')

/** Which row of a list holds the headings, and which rows are taken for no students; each can be said otherwise. */
export function WhereItStands({ rows, parsed: { heading, leftOut }, reading, setReading, byHand, takeBack }: Props) {
  const isFilled = (line: number) => (rows[line] ?? []).some((cell) => cell.trim())
  const next = (from: number, step: 1 | -1) => {
    let line = from + step
    while (line >= 0 && line < rows.length && !isFilled(line)) line += step
    return line >= 0 && line < rows.length ? line : null
  }
  // The columns may be others under other headings: what was said of them before is asked anew.
  const move = (line: number | null) => setReading({ heading: line })
  const above = heading === null ? null : next(heading, -1)
  const below = next(heading ?? -1, 1)
  const out = [
    ...leftOut.map(({ line, why, text }) => ({
      line,
      text,
      why: WHY[why],
      back: () => setReading({ ...reading, heading, take: [...(reading.take ?? []), line] }),
    })),
    ...byHand.map((line) => ({
      line,
      text: textOf(rows[line]),
      why: 'left out by hand',
      back: () => takeBack(line),
    })),
  ].toSorted((a, b) => a.line - b.line)
  return (
    <>
      <div className="heading-row" role="group" aria-label="Headings">
        <span>
          {heading === null ? (
            <>
              <strong>No headings</strong> <span className="soft">every row is a student</span>
            </>
          ) : (
            <>
              <strong>Headings: row {heading + 1}</strong> <span className="soft">{textOf(rows[heading])}</span>
            </>
          )}
        </span>
        <span className="heading-moves">
          {heading !== null && (
            <Button size="sm" variant="outline-dark" disabled={above === null} onClick={() => move(above)}>
              Row above
            </Button>
          )}
          {heading === null ? (
            <Button size="sm" variant="outline-dark" disabled={below === null} onClick={() => move(below)}>
              There are some
            </Button>
          ) : (
            <>
              <Button size="sm" variant="outline-dark" disabled={below === null} onClick={() => move(below)}>
                Row below
              </Button>
              <Button size="sm" variant="outline-dark" onClick={() => move(null)}>
                None
              </Button>
            </>
          )}
        </span>
      </div>
      {out.length > 0 && (
        <details className="left-out" open={out.length <= 8}>
          <summary>
            {out.length} {out.length === 1 ? 'row is' : 'rows are'} left out
          </summary>
          <ul>
            {out.slice(0, SHOWN).map(({ line, text, why, back }) => (
              <li key={line}>
                <span className="n soft">{line + 1}</span>
                <span className="left-out-text">
                  <bdi>{text}</bdi> <span className="soft">({why})</span>
                </span>
                <Button size="sm" variant="link" onClick={back} aria-label={`Row ${line + 1} is a student`}>
                  Is a student
                </Button>
              </li>
            ))}
          </ul>
          {out.length > SHOWN && <p className="soft">and {out.length - SHOWN} more of the kind.</p>}
        </details>
      )}
    </>
  )
}
