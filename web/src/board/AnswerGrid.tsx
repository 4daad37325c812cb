import { type BoardRow, type BoardSpace, type GridCell, type GridLine, gridHeads, gridLines } from '@gavrin/core'
import { memo, useMemo, useState } from 'react'
import { Form } from 'react-bootstrap'
import { useSearchParams } from 'react-router'
import { WindowedTable } from '../ui/WindowedTable'
import { sinceInWords } from '../ui/time'
import { OneQuestion } from './OneQuestion'
import { rowName } from './rowName'
import { RowButton, RowMark } from './RowParts'

export interface AnswerGridProps {
  readonly handoutId: string
  readonly rows: readonly BoardRow[]
  readonly sheets: readonly {
    readonly worksheetId: string
    readonly title: string
    readonly spaces: readonly BoardSpace[]
  }[]
  readonly now: number
  readonly chosen: string | null
  readonly choose: (copyId: string) => void
  readonly isNew: (row: BoardRow, at: number | undefined) => boolean
}

const ROW = 31

/** How an answer is, in words: for titles and for who hears the page. */
function inWords({ share, right, said }: GridCell, isNew: boolean): string {
  const how =
    share >= 1 ? (right === true ? 'right' : right === false ? 'wrong' : 'answered') : share > 0 ? 'begun' : 'empty'
  return [how, said === 'asked' ? 'a question waits' : said && 'commented', isNew && 'changed since you looked']
    .filter(Boolean)
    .join(', ')
}

/** Students down, answer spaces across: how each answer is, and how the class does on each question. */
export default function AnswerGrid({ handoutId, rows, sheets, now, chosen, choose, isNew }: AnswerGridProps) {
  const [search, setSearch] = useSearchParams()
  const [wished, setWished] = useState<string | null>(null)
  const sheet = sheets.find(({ worksheetId }) => worksheetId === (search.get('sheet') ?? wished)) ?? sheets[0]
  const spaces = sheet?.spaces ?? NO_SPACES
  const own = useMemo(() => rows.filter(({ worksheetId }) => worksheetId === sheet?.worksheetId), [rows, sheet])
  const lines = useMemo(() => own.flatMap((row) => gridLines(row, spaces)), [own, spaces])
  const heads = useMemo(() => gridHeads(lines, spaces), [lines, spaces])
  const asked = spaces.find(({ id }) => id === search.get('question'))
  const index = lines.findIndex(({ row }) => row.copyId === chosen)
  const open = (id: string | null) =>
    setSearch(
      { view: 'answers', ...(sheets.length > 1 && sheet && { sheet: sheet.worksheetId }), ...(id && { question: id }) },
      { replace: id === null },
    )
  if (!sheet || spaces.length === 0)
    return <p className="board-none soft">There is nothing to answer in what was given out.</p>
  if (asked)
    return (
      <OneQuestion
        handoutId={handoutId}
        worksheetId={sheet.worksheetId}
        number={spaces.indexOf(asked) + 1}
        space={asked}
        lines={lines}
        at={spaces.indexOf(asked)}
        close={() => open(null)}
        go={(step) => open(spaces[spaces.indexOf(asked) + step]?.id ?? asked.id)}
        last={spaces.length}
        choose={choose}
      />
    )
  return (
    <div className="answer-grid">
      {sheets.length > 1 && (
        <Form.Select
          size="sm"
          className="grid-sheet"
          aria-label="Worksheet"
          value={sheet.worksheetId}
          onChange={({ target }) => {
            setWished(target.value)
            setSearch({ view: 'answers', sheet: target.value }, { replace: true })
          }}
        >
          {sheets.map(({ worksheetId, title }) => (
            <option key={worksheetId} value={worksheetId}>
              {title}
            </option>
          ))}
        </Form.Select>
      )}
      <WindowedTable
        className="grid-of-answers"
        count={lines.length}
        rowHeight={ROW}
        shown={index}
        head={
          <>
            <th scope="col" className="mark-cell">
              <span className="visually-hidden">Mark</span>
            </th>
            <th scope="col">{lines.some(({ row }) => row.way !== 'one each') ? 'Copy' : 'Student'}</th>
            {spaces.map(({ id, label }, at) => (
              <th key={id} scope="col" className="asked-head">
                <button
                  type="button"
                  title={label}
                  onClick={() => open(id)}
                  aria-label={`${label}: ${headInWords(heads[at]!, lines.length)}. Read all answers`}
                >
                  {at + 1}
                  <HeadBar {...heads[at]!} all={lines.length} />
                </button>
              </th>
            ))}
            <th scope="col" className="n wide-only">
              Words
            </th>
            <th scope="col" className="n wide-only">
              Last change
            </th>
          </>
        }
        row={(at) => (
          <Line
            key={lines[at]!.key}
            line={lines[at]!}
            {...{ spaces, now, choose, isNew }}
            isChosen={lines[at]!.row.copyId === chosen}
          />
        )}
      />
    </div>
  )
}

const NO_SPACES: readonly BoardSpace[] = []

const headInWords = ({ answered, right, wrong }: { answered: number; right: number; wrong: number }, all: number) =>
  `${answered} of ${all} answered${right + wrong > 0 ? `, ${right} right, ${wrong} wrong` : ''}`

/** How the class does on a question, as a thin bar under its number. */
function HeadBar({ answered, right, wrong, all }: { answered: number; right: number; wrong: number; all: number }) {
  const of = Math.max(1, all)
  const unchecked = Math.max(0, answered - right - wrong)
  return (
    <svg className="head-bar" viewBox={`0 0 ${of} 1`} preserveAspectRatio="none" aria-hidden="true">
      <rect className="head-right" x={0} width={right} height={1} />
      <rect className="head-answered" x={right} width={unchecked} height={1} />
      <rect className="head-wrong" x={right + unchecked} width={wrong} height={1} />
    </svg>
  )
}

interface LineProps extends Pick<AnswerGridProps, 'now' | 'choose' | 'isNew'> {
  readonly line: GridLine
  readonly spaces: readonly BoardSpace[]
  readonly isChosen: boolean
}

const Line = memo(function Line({ line: { row, name, cells }, spaces, now, choose, isNew, isChosen }: LineProps) {
  const title = name ?? rowName(row)
  return (
    <tr className={isChosen ? 'chosen' : undefined} onClick={() => choose(row.copyId)}>
      <td className="mark-cell">
        <RowMark row={row} now={now} />
      </td>
      <td className="title-cell">
        <RowButton row={row} isChosen={isChosen} choose={choose}>
          {title}
        </RowButton>
      </td>
      {cells.map((cell, at) => {
        const fresh = isNew(row, cell.at)
        const words = inWords(cell, fresh)
        const how =
          cell.share >= 1
            ? cell.right === true
              ? 'right'
              : cell.right === false
                ? 'wrong'
                : 'full'
            : cell.share > 0
              ? 'part'
              : 'empty'
        return (
          <td key={spaces[at]!.id} className="asked-cell" title={`${spaces[at]!.label}: ${words}`}>
            <span
              role="img"
              aria-label={words}
              className={`cell-mark cell-${how}${cell.said ? ` cell-${cell.said}` : ''}${fresh ? ' cell-new' : ''}`}
            />
          </td>
        )
      })}
      <td className="n wide-only">{row.words}</td>
      <td className="n wide-only">
        {row.lastActivityAt === null ? <span className="soft">–</span> : sinceInWords(row.lastActivityAt, now)}
      </td>
    </tr>
  )
})
