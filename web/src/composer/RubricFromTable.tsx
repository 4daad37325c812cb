import { type RubricRow, pointsFrom, pointsInWords, readRubricTable } from '@gavrin/core'
import { useId, useMemo, useState } from 'react'
import { Button, Modal } from 'react-bootstrap'
import { NO_TABLE, TableField, useTableRows } from '../class/lists/TableField'
import { Notice } from '../ui/Notice'
import { newUuid } from '../ui/newUuid'

interface Props {
  /** There is a rubric already. */
  readonly takesPlace: boolean
  readonly put: (rows: readonly RubricRow[]) => void
  readonly close: () => void
}

const newId = () => newUuid().slice(0, 8)

/** A rubric read from a table: pasted, or from a file; what was read is shown before it is used. */
export function RubricFromTable({ takesPlace, put, close }: Props) {
  const id = useId()
  const [typed, setTyped] = useState(NO_TABLE)
  const { rows: found, trouble } = useTableRows(typed)
  const read = useMemo(() => found && readRubricTable(found, newId), [found])
  const wrong = trouble ?? (read && !read.ok ? read.problems[0]!.sentence : null)
  const rows = read?.ok ? read.value : []
  return (
    <Modal show onHide={close} aria-labelledby={`${id}-title`} size="lg">
      <Modal.Header closeButton>
        <Modal.Title id={`${id}-title`}>A rubric from a table</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="soft">
          A line for each thing that is looked at, its levels beside it. What a level is worth stands in the head, as in
          “Good (3)”, or before its words, as in “3: names both”.
        </p>
        <TableField typed={typed} change={setTyped} />
        {wrong && (
          <div className="mt-2">
            <Notice kind="bad">{wrong}</Notice>
          </div>
        )}
        {rows.length > 0 && (
          <table className="rubric-read mt-3">
            <thead>
              <tr>
                <th scope="col">What is looked at</th>
                <th scope="col">Points</th>
                <th scope="col">Levels</th>
              </tr>
            </thead>
            <tbody>
              {rows.map(({ id: rowId, name, points, levels = [] }) => (
                <tr key={rowId}>
                  <td>
                    <bdi>{name}</bdi>
                  </td>
                  <td className="slab">{pointsInWords(pointsFrom(points))}</td>
                  <td>
                    {levels.length === 0 && <span className="soft">any points</span>}
                    {levels.map((level) => (
                      <div key={level.id}>
                        <span className="slab">{pointsInWords(pointsFrom(level.points))}</span> <bdi>{level.name}</bdi>
                      </div>
                    ))}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </Modal.Body>
      <Modal.Footer>
        {takesPlace && rows.length > 0 && <span className="soft">It takes the place of the rubric in the slip.</span>}
        <Button variant="outline-dark" onClick={close}>
          Cancel
        </Button>
        <Button
          disabled={rows.length === 0}
          onClick={() => {
            put(rows)
            close()
          }}
        >
          {rows.length === 0 ? 'Use it' : `Use ${rows.length} ${rows.length === 1 ? 'row' : 'rows'}`}
        </Button>
      </Modal.Footer>
    </Modal>
  )
}
