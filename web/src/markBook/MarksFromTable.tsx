import { type BookColumn, type Points, bookCellInWords, fullName, pointsInWords, readMarksTable } from '@gavrin/core'
import { useMemo, useState } from 'react'
import { Button, Modal } from 'react-bootstrap'
import { NO_TABLE, TableField, useTableRows } from '../class/lists/TableField'
import { Notice } from '../ui/Notice'
import { type BookRead, type CellEdit, type CellValue } from './queries'

interface Props {
  readonly students: BookRead['students']
  readonly columns: readonly BookColumn[]
  readonly valueOf: (personId: string, columnId: string) => CellValue
  /** Out of how many a cell is; null: it is not known yet. */
  readonly mostOf: (personId: string, columnId: string) => Points | null
  /** Why a cell cannot be typed into; null: it can. */
  readonly whyNot: (personId: string, columnId: string) => string | null
  readonly keep: (edits: readonly CellEdit[]) => void
  readonly close: () => void
}

/** Marks from a table: what is different from the mark book is shown before any of it is kept. */
export function MarksFromTable({ students, columns, valueOf, mostOf, whyNot, keep, close }: Props) {
  const [typed, setTyped] = useState(NO_TABLE)
  const { rows, trouble } = useTableRows(typed)
  const read = useMemo(() => rows && readMarksTable(rows, students, columns), [rows, students, columns])
  const byId = new Map(students.map((student) => [student.personId, student]))
  const titles = new Map(columns.map(({ id, title }) => [id, title]))
  const edits: CellEdit[] = []
  const wrong = read ? [...read.wrong] : []
  for (const { personId, columnId, to, typed: text } of read?.marks ?? []) {
    const was = valueOf(personId, columnId)
    if (was.total === to.total && was.excused === to.excused) continue
    const most = mostOf(personId, columnId)
    const why =
      whyNot(personId, columnId) ??
      (most !== null && to.total !== null && to.total > most
        ? `There are ${pointsInWords(most)} points at most.`
        : null)
    if (why)
      wrong.push({ name: fullName(byId.get(personId)!), head: titles.get(columnId)!, typed: text, sentence: why })
    else edits.push({ personId, columnId, was, to })
  }
  const isNothing = read !== null && read.columns.length === 0
  return (
    <Modal show onHide={close} aria-labelledby="marks-table-title" size="lg" scrollable>
      <Modal.Header closeButton>
        <Modal.Title id="marks-table-title">Marks from a table</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="soft">
          With the names of the students, and over each column of marks what was marked, as it stands in the mark book.
          An empty cell changes nothing.
        </p>
        <TableField typed={typed} change={setTyped} />
        {trouble && (
          <div className="mt-2">
            <Notice kind="bad">{trouble}</Notice>
          </div>
        )}
        {isNothing && (
          <div className="mt-2">
            <Notice kind="bad">
              No column with the name of a handout or of a paper column was found above the names of students of this
              class.
            </Notice>
          </div>
        )}
        {read && !isNothing && (
          <>
            <p className="mt-3">
              {edits.length === 0
                ? 'Nothing in it is different from the mark book.'
                : `${edits.length} ${edits.length === 1 ? 'mark is' : 'marks are'} different from the mark book:`}
            </p>
            {edits.length > 0 && (
              <table className="marks-read">
                <thead>
                  <tr>
                    <th scope="col">Student</th>
                    <th scope="col">What was marked</th>
                    <th scope="col">Now</th>
                    <th scope="col">Then</th>
                  </tr>
                </thead>
                <tbody>
                  {edits.map(({ personId, columnId, was, to }) => (
                    <tr key={`${personId} ${columnId}`}>
                      <td>
                        <bdi>{fullName(byId.get(personId)!)}</bdi>
                      </td>
                      <td>
                        <bdi>{titles.get(columnId)}</bdi>
                      </td>
                      <td className="slab">{bookCellInWords(was) || <span className="soft">none</span>}</td>
                      <td className="slab">{bookCellInWords(to) || <span className="soft">none</span>}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
            <Left words="No student of this class is called" of={read.unknown} />
            <Left words="Several are called" of={read.doubtful} />
            <Left words="No column of the mark book is called" of={read.otherHeads} />
            {wrong.length > 0 && (
              <ul className="marks-wrong">
                {wrong.map(({ name, head, typed: text, sentence }) => (
                  <li key={`${name} ${head}`}>
                    <bdi>{name}</bdi>, <bdi>{head}</bdi>, “<bdi>{text}</bdi>”: {sentence}
                  </li>
                ))}
              </ul>
            )}
          </>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-dark" onClick={close}>
          Cancel
        </Button>
        <Button
          disabled={edits.length === 0}
          onClick={() => {
            keep(edits)
            close()
          }}
        >
          {edits.length === 0 ? 'Keep' : `Keep ${edits.length} ${edits.length === 1 ? 'mark' : 'marks'}`}
        </Button>
      </Modal.Footer>
    </Modal>
  )
}

function Left({ words, of }: { readonly words: string; readonly of: readonly string[] }) {
  if (of.length === 0) return null
  return (
    <p className="soft">
      {words} <bdi>{of.join(', ')}</bdi>: left out.
    </p>
  )
}
