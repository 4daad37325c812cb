import type { ReactNode } from 'react'
import { Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { exactTime, timeInWords } from '../ui/time'
import { PinMark } from './PinMark'
import type { WorksheetListed } from './queries'

/** The library as a list. */
export function WorksheetTable({
  worksheets,
  chosen,
  choose,
  menuOf,
}: {
  readonly worksheets: readonly WorksheetListed[]
  readonly chosen: ReadonlySet<string>
  readonly choose: (id: string, on: boolean) => void
  readonly menuOf: (worksheet: WorksheetListed) => ReactNode
}) {
  return (
    <table className="grid worksheets">
      <thead>
        <tr>
          <th scope="col" className="tick-column">
            <span className="visually-hidden">Selected</span>
          </th>
          <th scope="col">Worksheet</th>
          <th scope="col">Edition</th>
          <th scope="col" className="n">
            Answer spaces
          </th>
          <th scope="col" className="n">
            Copies
          </th>
          <th scope="col">Changed</th>
          <th scope="col">
            <span className="visually-hidden">What to do</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {worksheets.map((worksheet) => (
          <tr key={worksheet.id}>
            <td>
              <Form.Check
                aria-label={`Select ${worksheet.title}`}
                checked={chosen.has(worksheet.id)}
                onChange={({ target }) => choose(worksheet.id, target.checked)}
              />
            </td>
            <td>
              <Link className="row-link" to={`/worksheets/${worksheet.id}`}>
                <bdi>{worksheet.title}</bdi>
              </Link>
              {worksheet.pinned && <PinMark />}
              {!worksheet.isOwner && <span className="soft"> by {worksheet.owner}</span>}
            </td>
            <td>
              <EditionWords worksheet={worksheet} />
            </td>
            <td className="n">{worksheet.edition === null ? '–' : worksheet.answerSpaces}</td>
            <td className="n">{worksheet.copies}</td>
            <td>
              <span title={exactTime(worksheet.updatedAt)}>{timeInWords(worksheet.updatedAt)}</span>
            </td>
            <td className="n">{menuOf(worksheet)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function EditionWords({ worksheet }: { readonly worksheet: WorksheetListed }) {
  if (worksheet.edition === null) return <span className="warn">no edition kept yet</span>
  return (
    <>
      {worksheet.edition}
      {worksheet.version !== worksheet.keptVersion && <span className="tag">draft is newer</span>}
    </>
  )
}
