import { type CheckedRow, FIXED_COLUMNS, type RosterField } from '@gavrin/core'
import { Button } from 'react-bootstrap'
import { WindowedTable } from '../../ui/WindowedTable'

interface Props {
  readonly shown: readonly number[]
  readonly checked: readonly CheckedRow[]
  readonly lines: readonly number[]
  /** The list has student numbers. */
  readonly numbered: boolean
  readonly problemOf: (index: number) => string | undefined
  /** What was typed into a field by hand; undefined if nothing. */
  readonly typed: (line: number, field: RosterField) => string | undefined
  readonly correct: (line: number, field: RosterField, value: string) => void
  /** The row that is being corrected; null when it is left. */
  readonly edit: (line: number | null) => void
  readonly leaveOut: (line: number) => void
  /** Says whether a row is about somebody of the class who has the same name. */
  readonly sayWho: (line: number, sameAs: string | null) => void
}

const ROW = 40
const EFFECTS = { new: 'new', changed: 'changed', unchanged: 'as before', back: 'back again' } as const

/** The rows of a list as they were understood, with what is doubtful and what saving them would do; each cell can be put right. */
export function UnderstoodTable({
  shown,
  checked,
  lines,
  numbered,
  problemOf,
  typed,
  correct,
  edit,
  leaveOut,
  sayWho,
}: Props) {
  const fields: readonly RosterField[] = numbered ? ['last', 'first', 'email', 'number'] : ['last', 'first', 'email']
  return (
    <WindowedTable
      className={numbered ? 'understood numbered' : 'understood'}
      count={shown.length}
      rowHeight={ROW}
      head={
        <>
          <th scope="col" className="n">
            Row
          </th>
          {fields.map((field) => (
            <th key={field} scope="col">
              {FIXED_COLUMNS[field]}
            </th>
          ))}
          <th scope="col">What it does, and doubts</th>
          <th scope="col">
            <span className="visually-hidden">Leave out</span>
          </th>
        </>
      }
      row={(place) => {
        const index = shown[place]!
        const { row, doubts, effect, changes, namesake } = checked[index]!
        const line = lines[index]!
        const server = problemOf(index)
        const number = line + 1
        const stops = server !== undefined || doubts.some((doubt) => doubt.stops)
        return (
          <tr
            key={line}
            className={stops ? 'row-stops' : doubts.length ? 'row-doubt' : undefined}
            onFocus={() => edit(line)}
            onBlur={({ currentTarget, relatedTarget }) => {
              if (!currentTarget.contains(relatedTarget)) edit(null)
            }}
          >
            <td className="n soft">{number}</td>
            {fields.map((field) => {
              const doubt = doubts.find((found) => found.field === field)
              const change = changes.find((found) => found.field === field)
              return (
                <td
                  key={field}
                  className={doubt ? (doubt.stops ? 'cell-stops' : 'cell-doubt') : change ? 'cell-change' : undefined}
                  title={change ? `so far: ${change.before || 'nothing'}` : undefined}
                >
                  <input
                    dir="auto"
                    className="cell-field"
                    aria-label={`${FIXED_COLUMNS[field]}, row ${number}`}
                    aria-invalid={doubt?.stops ?? false}
                    value={typed(line, field) ?? row[field] ?? ''}
                    onChange={({ target }) => correct(line, field, target.value)}
                  />
                </td>
              )
            })}
            <td className="doubts">
              {server ? <div className="bad">{server}</div> : null}
              {fields.map((field) => {
                const own = typed(line, field)
                const kept = row[field] ?? ''
                return own !== undefined && own !== kept && kept !== '' ? (
                  <div key={field} className="soft">
                    {FIXED_COLUMNS[field]} is kept as “<bdi>{kept}</bdi>”
                  </div>
                ) : null
              })}
              {doubts.map((doubt) => (
                <div key={doubt.code} className={doubt.stops ? 'bad' : 'warn'}>
                  {doubt.sentence}
                </div>
              ))}
              {namesake && (
                <div className="same-person" role="group" aria-label={`Who row ${number} is about`}>
                  <Button
                    size="sm"
                    variant="outline-dark"
                    aria-pressed={row.sameAs === namesake.personId}
                    onClick={() => sayWho(line, namesake.personId)}
                  >
                    Same person
                  </Button>
                  <Button
                    size="sm"
                    variant="outline-dark"
                    aria-pressed={row.sameAs === null}
                    onClick={() => sayWho(line, null)}
                  >
                    Somebody else
                  </Button>
                </div>
              )}
              {!server && (effect !== 'new' || doubts.length === 0) && (
                <span className="soft">
                  {changes.length
                    ? `${effect === 'back' ? 'back again, ' : ''}${changes
                        .map(({ field, before, after }) => {
                          const name = field in FIXED_COLUMNS ? FIXED_COLUMNS[field as RosterField] : field
                          return before ? `${name}: ${before} → ${after}` : `${name}: ${after}`
                        })
                        .join('; ')}`
                    : EFFECTS[effect]}
                </span>
              )}
            </td>
            <td>
              <Button size="sm" variant="link" onClick={() => leaveOut(line)} aria-label={`Leave out row ${number}`}>
                Leave out
              </Button>
            </td>
          </tr>
        )
      }}
    />
  )
}
