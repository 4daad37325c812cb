import { copyInWords, fullName, isIn, isOverdue, listName } from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { Link } from 'react-router'
import type { Answers } from '../contract'
import { Loaded } from '../ui/Loaded'
import { SheetMark } from '../ui/SheetMark'
import { WindowedTable } from '../ui/WindowedTable'
import { api } from '../ui/api'

type Read = Answers['GET handouts/{handoutId}/students']
type Part = Read['parts'][number]
type Row = Part['rows'][number]

/** How often it is read again while it is looked at, in milliseconds. */
const AGAIN = 15_000

export interface StudentsViewProps {
  readonly handoutId: string
  readonly find: string
  readonly now: number
}

/** A line for each student, the worksheets of the handout beside each other; of all its classes at once. */
export default function StudentsView({ handoutId, find, now }: StudentsViewProps) {
  const query = useQuery({
    queryKey: ['board', handoutId, 'students'],
    queryFn: () => api.get<Read>(`handouts/${handoutId}/students`),
    refetchInterval: AGAIN,
    staleTime: 0,
  })
  return <Loaded query={query}>{(read) => <Lines read={read} {...{ handoutId, find, now }} />}</Loaded>
}

interface Line {
  readonly key: string
  readonly student: Row['students'][number]
  readonly part: Part
  readonly rows: readonly Row[]
}

function linesOf(parts: readonly Part[]): Line[] {
  return parts.flatMap((part) => {
    const lines = new Map<string, { student: Line['student']; rows: Row[] }>()
    for (const row of part.rows)
      for (const student of row.students) {
        const own = lines.get(student.personId)
        if (own) own.rows.push(row)
        else lines.set(student.personId, { student, rows: [row] })
      }
    return [...lines.values()].map((line) => ({ ...line, part, key: `${part.handoutId} ${line.student.personId}` }))
  })
}

function Lines({ read, handoutId, find, now }: StudentsViewProps & { readonly read: Read }) {
  const { parts, sheets } = read
  const [shown, setShown] = useState('')
  const several = parts.length > 1
  const words = find.toLocaleLowerCase()
  const lines = linesOf(shown ? parts.filter((part) => part.handoutId === shown) : parts)
    .filter(({ student }) => fullName(student).toLocaleLowerCase().includes(words))
    .toSorted((a, b) => listName(a.student).localeCompare(listName(b.student)))
  return (
    <div className="students-view">
      {several && (
        <Form.Select
          size="sm"
          aria-label="Class"
          className="students-class"
          value={shown}
          onChange={({ target }) => setShown(target.value)}
        >
          <option value="">All {parts.length} classes</option>
          {parts.map((part) => (
            <option key={part.handoutId} value={part.handoutId}>
              {part.class}: {part.rows.filter(isIn).length} of {part.rows.length} in
            </option>
          ))}
        </Form.Select>
      )}
      {lines.length === 0 ? (
        <p className="board-none soft">Nobody is called so.</p>
      ) : (
        <WindowedTable
          className="students-table"
          count={lines.length}
          rowHeight={31}
          head={
            <>
              <th scope="col">Student</th>
              {several && <th scope="col">Class</th>}
              {sheets.map(({ worksheetId, title }) => (
                <th key={worksheetId} scope="col">
                  <bdi>{title}</bdi>
                </th>
              ))}
              <th scope="col" className="n">
                Words
              </th>
            </>
          }
          row={(at) => {
            const { key, student, part, rows } = lines[at]!
            return (
              <tr key={key}>
                <td>
                  <Link className="row-link" to={`/person/${student.personId}`}>
                    <bdi>{listName(student)}</bdi>
                  </Link>
                </td>
                {several && (
                  <td>
                    {part.handoutId === handoutId ? (
                      part.class
                    ) : (
                      <Link to={`/class/${part.classId}/handouts/${part.handoutId}`}>{part.class}</Link>
                    )}
                  </td>
                )}
                {sheets.map(({ worksheetId }) => (
                  <td key={worksheetId}>
                    {rows
                      .filter((row) => row.worksheetId === worksheetId)
                      .map((row) => (
                        <CopyCell key={row.copyId} row={row} handoutId={part.handoutId} now={now} />
                      ))}
                  </td>
                ))}
                <td className="n">{rows.reduce((sum, row) => sum + row.words, 0)}</td>
              </tr>
            )
          }}
        />
      )}
    </div>
  )
}

function CopyCell({ row, handoutId, now }: { readonly row: Row; readonly handoutId: string; readonly now: number }) {
  const said = copyInWords({ ...row, handoutId, personIds: [] }, now)
  return (
    <Link className="students-copy" to={`/copies/${row.copyId}`} title={`${row.title}: ${said}`}>
      <SheetMark
        state={row.state}
        share={row.spaces ? row.answered / row.spaces : 0}
        pensDown={row.pensDown}
        overdue={isOverdue(row, now)}
        silent
      />{' '}
      <span>{isIn(row) ? row.state : `${row.answered} of ${row.spaces}`}</span>
    </Link>
  )
}
