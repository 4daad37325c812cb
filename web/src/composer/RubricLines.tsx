import type { RubricRow } from '@gavrin/core'
import { Button, Form } from 'react-bootstrap'
import { RubricMenu } from './RubricMenu'
import type { WholeProps } from './blanks/slip'

/** What is looked at, with what it is worth. */
export function Rubric({ statement, change }: WholeProps) {
  const { rubric, marking } = statement
  const set = (rows: readonly RubricRow[]) => change({ ...statement, rubric: rows })
  const add = () => set([...rubric, { id: crypto.randomUUID().slice(0, 8), name: '', points: 1 }])
  if (rubric.length === 0)
    return marking.kind === 'ungraded' || marking.kind === 'not marked' ? null : (
      <div className="rubric-begin">
        <Button variant="link" size="sm" onClick={add}>
          Add a rubric
        </Button>
        <RubricMenu rows={rubric} put={set} />
      </div>
    )
  const sum = rubric.reduce((total, { points }) => total + points, 0)
  const alter = (id: string, alteration: Partial<RubricRow>) =>
    set(rubric.map((row) => (row.id === id ? { ...row, ...alteration } : row)))
  return (
    <div className="slip-part rubric">
      {rubric.map(({ id, name, points, levels = [] }, at) => (
        <div key={id} className="rubric-row">
          <Form.Control
            size="sm"
            aria-label={`Row ${at + 1} of the rubric`}
            placeholder="What is looked at"
            maxLength={200}
            value={name}
            onChange={({ target }) => alter(id, { name: target.value })}
          />
          <Form.Control
            size="sm"
            type="number"
            min={0}
            max={10_000}
            aria-label={`Points of row ${at + 1}`}
            value={points}
            onChange={({ target }) => {
              const most = Math.max(0, Math.min(10_000, Number(target.value) || 0))
              alter(id, {
                points: most,
                ...(levels.length > 0 && { levels: levels.filter((one) => one.points <= most) }),
              })
            }}
          />
          <Button
            variant="link"
            size="sm"
            aria-label={`Take row ${at + 1} out`}
            onClick={() => set(rubric.filter((row) => row.id !== id))}
          >
            ×
          </Button>
          <Levels row={{ id, name, points, levels }} number={at + 1} alter={(to) => alter(id, to)} />
        </div>
      ))}
      <Button variant="link" size="sm" onClick={add}>
        Add a row
      </Button>
      <span className="soft">
        {sum} {sum === 1 ? 'point' : 'points'} together
      </span>
      <RubricMenu rows={rubric} put={set} />
      {marking.kind === 'points' && marking.points !== sum && sum > 0 && (
        <Button
          variant="link"
          size="sm"
          onClick={() => change({ ...statement, marking: { kind: 'points', points: sum } })}
        >
          Mark out of {sum}
        </Button>
      )}
    </div>
  )
}

/** The levels of a row: what who reaches each has done, and what it is worth. None: any points up to the most are given. */
function Levels({
  row: { name, points: most, levels = [] },
  number,
  alter,
}: {
  readonly row: RubricRow
  readonly number: number
  readonly alter: (to: Partial<RubricRow>) => void
}) {
  const set = (next: NonNullable<RubricRow['levels']>) => alter({ levels: next })
  const used = new Set(levels.map(({ points }) => points))
  const free = Array.from({ length: Math.floor(most) + 1 }, (_, at) => most - at).find((points) => !used.has(points))
  return (
    <div className="rubric-levels">
      {levels.map((level, at) => (
        <div key={level.id} className="rubric-level">
          <Form.Control
            size="sm"
            type="number"
            min={0}
            max={most}
            step={0.5}
            aria-label={`Points of level ${at + 1} of ${name || `row ${number}`}`}
            value={level.points}
            onChange={({ target }) => {
              const points = Math.max(0, Math.min(most, Number(target.value) || 0))
              // No two are worth the same: which one was reached is told by its points.
              if (levels.some((one) => one.id !== level.id && one.points === points)) return
              set(levels.map((one) => (one.id === level.id ? { ...one, points } : one)))
            }}
          />
          <Form.Control
            size="sm"
            aria-label={`Level ${at + 1} of ${name || `row ${number}`}`}
            placeholder="What who reaches it has done"
            maxLength={200}
            value={level.name}
            onChange={({ target }) =>
              set(levels.map((one) => (one.id === level.id ? { ...one, name: target.value } : one)))
            }
          />
          <Button
            variant="link"
            size="sm"
            aria-label={`Take level ${at + 1} of row ${number} out`}
            onClick={() => set(levels.filter((one) => one.id !== level.id))}
          >
            ×
          </Button>
        </div>
      ))}
      {levels.length < 10 && free !== undefined && (
        <Button
          variant="link"
          size="sm"
          onClick={() => set([...levels, { id: crypto.randomUUID().slice(0, 8), name: '', points: free }])}
        >
          {levels.length === 0 ? 'Say what its levels are' : 'Add a level'}
        </Button>
      )}
    </div>
  )
}
