import {
  type BookCopy,
  type MarkCell,
  type Points,
  type Rounds,
  bookOf,
  fullName,
  isIn,
  lateBy,
  lineMean,
  listName,
  markSpread,
  percentOf,
  pointsInWords,
  readBookCell,
} from '@gavrin/core'
import { type ReactNode, useMemo, useState } from 'react'
import { Button, Dropdown, Form } from 'react-bootstrap'
import { Link, useParams } from 'react-router'
import { type ClassOpened, useClass } from '../class/queries'
import { Chart } from '../ui/Chart'
import { FindField } from '../ui/FindField'
import { Loaded } from '../ui/Loaded'
import { Menu } from '../ui/Menu'
import { Notice } from '../ui/Notice'
import { SaveTableMenu } from '../ui/SaveTableMenu'
import { SheetGrid } from '../ui/SheetGrid'
import { SheetMark } from '../ui/SheetMark'
import { useNow } from '../ui/useNow'
import { useStored } from '../ui/useStored'
import { ColumnDialog } from './ColumnDialog'
import { MarksFromTable } from './MarksFromTable'
import { RulesDialog } from './RulesDialog'
import { StudentNote } from './StudentNote'
import { type BookRead, type CellEdit, useCellEdits, useMarkBook, valueOf } from './queries'
import './markBook.css'

/** The mark book of a class: students by handouts, and by what was marked on paper. */
export function MarkBookPage() {
  const { classId = '' } = useParams()
  const opened = useClass(classId)
  const book = useMarkBook(classId)
  return (
    <Loaded query={opened}>
      {(found) => (
        <main className="mark-book-page">
          <div className="page-head">
            <h1>Mark book</h1>
            <span className="soft">
              <bdi>{found.name}</bdi>
              {found.subject && `, ${found.subject}`}
            </span>
          </div>
          <Loaded query={book}>{(read) => <Book opened={found} read={read} />}</Loaded>
        </main>
      )}
    </Loaded>
  )
}

const percentInWords = (percent: number): string => `${Math.round(percent / 10) / 10} %`

function Book({ opened, read }: { readonly opened: ClassOpened; readonly read: BookRead }) {
  const now = useNow(60_000)
  const [unit, setUnit] = useState('')
  const [find, setFind] = useState('')
  const [inPercent, setInPercent] = useStored('marks in per cent', false)
  const [isRules, setRules] = useState(false)
  const [isTable, setTable] = useState(false)
  const [column, setColumn] = useState<string | null>(null)
  const [looked, setLooked] = useState<{ readonly of: 'column' | 'student'; readonly id: string } | null>(null)
  const [shared, setShared] = useState<readonly CellEdit[]>([])
  const [trouble, setTrouble] = useState<ReadonlyMap<string, { typed: string; sentence: string }>>(new Map())
  const book = useMemo(() => bookOf(read, now), [read, now])
  const edits = useCellEdits(opened.id, read)
  const units = [...new Set(book.columns.flatMap((one) => one.unit ?? []))]
  const columns = book.columns.filter((one) => unit === '' || one.unit === unit)
  const words = find.toLocaleLowerCase().split(/\s+/).filter(Boolean)
  const students = book.students.filter((student) =>
    words.every((word) => fullName(student).toLocaleLowerCase().includes(word)),
  )
  const means = useMemo(
    () =>
      new Map(
        book.students.map(({ personId }) => [
          personId,
          lineMean(columns, (id) => book.cellOf(personId, id), read.rules),
        ]),
      ),
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- the columns are those of the unit
    [book, unit, read.rules],
  )
  const mosts = useMemo(
    () =>
      new Map(
        book.columns.map(({ id }) => [
          id,
          book.students.reduce((most, { personId }) => {
            const cell = book.cellOf(personId, id)
            return cell.is === 'mark' ? Math.max(most, cell.most) : most
          }, 0),
        ]),
      ),
    [book],
  )
  const nameOf = useMemo(
    () => new Map(book.students.map((student) => [student.personId, listName(student)])),
    [book.students],
  )
  const paper = new Set(read.paper.map(({ id }) => id))
  const editable = (personId: string, columnId: string) =>
    paper.has(columnId) ||
    (book.earlierOf(personId, columnId).length === 0 && book.copiesOf(personId, columnId).length === 1)
  const isShared = (personId: string, columnId: string) =>
    !paper.has(columnId) && book.copiesOf(personId, columnId)[0]!.holders > 1
  const change = (typed: readonly { rowId: string | null; column: string; value: string }[]) => {
    const kept: CellEdit[] = []
    const asked: CellEdit[] = []
    const wrong = new Map(trouble)
    for (const { rowId, column: columnId, value } of typed) {
      if (rowId === null || !columns.some(({ id }) => id === columnId)) continue
      const key = `${rowId} ${columnId}`
      const to = readBookCell(value)
      if ('sentence' in to) wrong.set(key, { typed: value, sentence: to.sentence })
      else if (!editable(rowId, columnId))
        wrong.set(key, {
          typed: value,
          sentence: whyNot(book.copiesOf(rowId, columnId), book.earlierOf(rowId, columnId).length),
        })
      else {
        wrong.delete(key)
        const was = valueOf(book.cellOf(rowId, columnId))
        if (was.total !== to.total || was.excused !== to.excused)
          (isShared(rowId, columnId) ? asked : kept).push({ personId: rowId, columnId, was, to })
      }
    }
    setTrouble(wrong)
    setShared(asked)
    if (kept.length > 0) edits.edit(kept)
  }
  /** Which it is, out of how many, and how often it counts. */
  const headOf = (columnId: string, number: string) => {
    const most = mosts.get(columnId) ?? 0
    const weight = read.rules.weights[columnId] ?? 1
    return [number || 'on paper', most > 0 && pointsInWords(most), weight !== 1 && `×${weight}`]
      .filter(Boolean)
      .join(' · ')
  }
  if (book.columns.length === 0)
    return (
      <div className="empty">
        <h2>Nothing to mark yet</h2>
        <p>Each handout that is marked becomes a column here. What was marked on paper gets a column of its own.</p>
        {read.maySetUp && <Button onClick={() => setColumn('new')}>A column for marks on paper</Button>}
        {column === 'new' && <ColumnDialog classId={opened.id} column={null} close={() => setColumn(null)} />}
      </div>
    )
  return (
    <div className="mark-book">
      <div className="overview-tools no-print">
        <FindField label="Find a student" value={find} change={setFind} />
        {units.length > 0 && (
          <Form.Select size="sm" aria-label="Unit" value={unit} onChange={({ target }) => setUnit(target.value)}>
            <option value="">All units</option>
            {units.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </Form.Select>
        )}
        <Form.Check
          type="switch"
          id="marks-in-percent"
          label="per cent"
          checked={inPercent}
          onChange={({ target }) => setInPercent(target.checked)}
        />
        <span className="overview-acts">
          {read.maySetUp && (
            <>
              <Button size="sm" variant="outline-dark" onClick={() => setColumn('new')}>
                A column for marks on paper
              </Button>
              <Button size="sm" variant="outline-dark" onClick={() => setRules(true)}>
                What counts
              </Button>
            </>
          )}
          {read.mayMark && (
            <Button size="sm" variant="outline-dark" onClick={() => setTable(true)}>
              From a table …
            </Button>
          )}
          <Button size="sm" variant="outline-dark" onClick={() => window.print()}>
            Print
          </Button>
          <SaveTableMenu
            path={`classes/${opened.id}/mark-book/out`}
            body={{}}
            more={[['bundle', 'Rostering bundle', 'the class with its results, for a school’s records']]}
          />
        </span>
      </div>
      {edits.isAway && (
        <Notice kind="look">
          Not saved yet: Gavrin cannot be reached at the moment. What you type is kept as soon as it can be; leave this
          page open.
        </Notice>
      )}
      {edits.problem && (
        <Notice kind="bad">
          {edits.problem}{' '}
          <Button variant="link" onClick={edits.forget}>
            Close
          </Button>
        </Notice>
      )}
      {shared.map((edit) => (
        <SharedMark
          key={`${edit.personId} ${edit.columnId}`}
          edit={edit}
          student={fullName(book.students.find(({ personId }) => personId === edit.personId)!)}
          title={book.columns.find(({ id }) => id === edit.columnId)!.title}
          copy={book.copiesOf(edit.personId, edit.columnId)[0]}
          keep={(alone) => {
            setShared(shared.filter((one) => one !== edit))
            if (alone !== null) edits.edit([{ ...edit, alone }])
          }}
        />
      ))}
      <SheetGrid
        label="Mark book"
        columns={[
          { key: 'name', label: 'Student', width: 220, editable: false },
          ...columns.map(({ id, number, title }) => ({
            key: id,
            label: title,
            under: headOf(id, number),
            width: 118,
            editable: read.mayMark,
            menu: (
              <ColumnMenu
                {...{ opened, columnId: id, title }}
                isPaper={paper.has(id)}
                maySetUp={read.maySetUp}
                alter={() => setColumn(id)}
                look={() => setLooked({ of: 'column', id })}
              />
            ),
          })),
          { key: 'mean', label: 'So far', width: 92, editable: false },
        ]}
        rows={students.map((student) => ({ id: student.personId, label: fullName(student) }))}
        textOf={(personId, columnId) => {
          if (columnId === 'name') return nameOf.get(personId)!
          if (columnId === 'mean') {
            const percent = means.get(personId)?.percent
            return percent === null || percent === undefined ? '' : percentInWords(percent)
          }
          const cell = book.cellOf(personId, columnId)
          return cell.is === 'mark' ? pointsInWords(cell.total) : cell.is === 'excused' ? 'excused' : ''
        }}
        show={(personId, columnId) =>
          columnId === 'name' ? (
            <button
              type="button"
              className="btn btn-link btn-sm p-0 book-name"
              onClick={() => setLooked({ of: 'student', id: personId })}
            >
              <bdi>{nameOf.get(personId)}</bdi>
            </button>
          ) : columnId === 'mean' ? null : (
            <Cell
              cell={book.cellOf(personId, columnId)}
              copies={book.copiesOf(personId, columnId)}
              rounds={roundsInWords(
                read.handouts.find(({ id }) => id === columnId)?.rounds,
                book.earlierOf(personId, columnId).length,
              )}
              inPercent={inPercent}
              counts={means.get(personId)?.counts.includes(columnId) ?? false}
              now={now}
            />
          )
        }
        trouble={(personId, columnId) => trouble.get(`${personId} ${columnId}`)}
        change={change}
        undo={edits.undo}
        redo={edits.redo}
        mayEdit={read.mayMark}
      />
      <p className="soft book-foot no-print">
        {students.length} {students.length === 1 ? 'student' : 'students'} · type points over a cell, or “excused”; Ctrl
        Z takes it back · {read.rules.missing === 'zero' ? 'missing counts as 0' : 'missing does not count'}
        {read.rules.best !== null && ` · the best ${read.rules.best} of each unit count`}
      </p>
      {looked && (
        <Looked
          key={looked.id}
          {...{ looked, book, read, columns }}
          close={() => setLooked(null)}
          classId={opened.id}
        />
      )}
      {isTable && (
        <MarksFromTable
          students={book.students}
          columns={book.columns}
          valueOf={(personId, columnId) => valueOf(book.cellOf(personId, columnId))}
          mostOf={(personId, columnId) =>
            read.paper.find(({ id }) => id === columnId)?.most ?? book.copiesOf(personId, columnId)[0]?.most ?? null
          }
          whyNot={(personId, columnId) =>
            !editable(personId, columnId)
              ? whyNot(book.copiesOf(personId, columnId), book.earlierOf(personId, columnId).length)
              : isShared(personId, columnId) && !book.copiesOf(personId, columnId)[0]!.isDone
                ? 'Several hold this copy, which has no mark yet: mark it first.'
                : null
          }
          keep={(all) => edits.edit(all.map((edit) => ({ ...edit, alone: isShared(edit.personId, edit.columnId) })))}
          close={() => setTable(false)}
        />
      )}
      {isRules && <RulesDialog classId={opened.id} read={read} columns={book.columns} close={() => setRules(false)} />}
      {column !== null && (
        <ColumnDialog
          classId={opened.id}
          column={read.paper.find(({ id }) => id === column) ?? null}
          close={() => setColumn(null)}
        />
      )}
    </div>
  )
}

/** A mark typed for one of several who hold a copy: it is asked for whom it is. */
function SharedMark({
  edit: { to },
  student,
  title,
  copy,
  keep,
}: {
  readonly edit: CellEdit
  readonly student: string
  readonly title: string
  readonly copy: BookCopy | undefined
  /** True: for this student alone; false: for all who hold it; null: not at all. */
  readonly keep: (alone: boolean | null) => void
}) {
  if (!copy) return null
  const mark = to.excused ? 'excused' : to.total === null ? 'no mark' : pointsInWords(to.total)
  return (
    <Notice kind="look">
      {mark} in <bdi>{title}</bdi>: <bdi>{student}</bdi> shares this copy, {copy.holders} hold it. For whom is it?{' '}
      <Button size="sm" variant="outline-dark" onClick={() => keep(false)}>
        For all {copy.holders}
      </Button>{' '}
      {/* One's own stands over the group's, which there has to be. */}
      {copy.isDone && (
        <Button size="sm" variant="outline-dark" onClick={() => keep(true)}>
          For <bdi>{student}</bdi> alone
        </Button>
      )}{' '}
      <Button size="sm" variant="link" onClick={() => keep(null)}>
        Leave it
      </Button>
    </Notice>
  )
}

const roundsInWords = (rounds: Rounds | undefined, earlier: number): string =>
  earlier === 0 || !rounds || rounds === 'last' ? '' : `, ${ROUND_WORDS[rounds]} ${earlier + 1} rounds`

const ROUND_WORDS = { best: 'the best of', mean: 'the mean of' } as const

const whyNot = (copies: readonly BookCopy[], earlier: number): string =>
  copies.length === 0
    ? 'There is no copy to mark here.'
    : earlier > 0
      ? 'Marks of several rounds count here: mark it on the marking page.'
      : 'There are several copies here: mark them on the marking page.'

function ColumnMenu({
  opened,
  columnId,
  title,
  isPaper,
  maySetUp,
  alter,
  look,
}: {
  readonly opened: ClassOpened
  readonly columnId: string
  readonly title: string
  readonly isPaper: boolean
  readonly maySetUp: boolean
  readonly alter: () => void
  readonly look: () => void
}) {
  return (
    <Menu label="" name={`More on ${title}`} variant="link" small align="end">
      {isPaper ? (
        maySetUp && (
          <Dropdown.Item as="button" type="button" onClick={alter}>
            Change this column …
          </Dropdown.Item>
        )
      ) : (
        <>
          <Dropdown.Item as={Link} to={`/class/${opened.id}/handouts/${columnId}/marking`}>
            Mark its copies
          </Dropdown.Item>
          <Dropdown.Item as={Link} to={`/class/${opened.id}/handouts/${columnId}`}>
            Its board
          </Dropdown.Item>
        </>
      )}
      <Dropdown.Item as="button" type="button" onClick={look}>
        How its marks are spread
      </Dropdown.Item>
    </Menu>
  )
}

function Cell({
  cell,
  copies,
  rounds,
  inPercent,
  counts,
  now,
}: {
  readonly cell: MarkCell
  readonly copies: readonly BookCopy[]
  /** That marks of several rounds count, and how; empty: they do not. */
  readonly rounds: string
  readonly inPercent: boolean
  readonly counts: boolean
  readonly now: number
}): ReactNode {
  const isLate = copies.some((copy) => isIn(copy) && lateBy(copy, now) !== null)
  const late = isLate && <span className="book-late">late</span>
  switch (cell.is) {
    case 'mark':
      return (
        <span
          className={counts ? 'book-cell' : 'book-cell not-counted'}
          title={counts ? undefined : 'It does not count'}
        >
          {late}
          <span className="slab" title={`${pointsInWords(cell.total)} of ${pointsInWords(cell.most)}${rounds}`}>
            {inPercent ? percentInWords(percentOf(cell.total, cell.most)) : pointsInWords(cell.total)}
          </span>
        </span>
      )
    case 'words':
      return (
        <span className="book-cell">
          {late}
          <bdi>{copies.find(({ step }) => step)?.step ?? 'remark'}</bdi>
        </span>
      )
    case 'excused':
      return <span className="book-cell soft">excused</span>
    case 'missing':
      return <span className="book-cell book-missing">missing</span>
    case 'open':
      return (
        <span className="book-cell">
          {late}
          {copies.map(({ state, share }, at) => (
            <SheetMark key={at} state={state} share={share} />
          ))}
        </span>
      )
  }
}

/** How the marks of a column are spread, or how those of a student went. */
function Looked({
  looked,
  book,
  read,
  columns,
  classId,
  close,
}: {
  readonly looked: { readonly of: 'column' | 'student'; readonly id: string }
  readonly book: ReturnType<typeof bookOf<BookRead['students'][number], BookCopy>>
  readonly read: BookRead
  readonly columns: readonly { readonly id: string; readonly title: string; readonly number: string }[]
  readonly classId: string
  readonly close: () => void
}) {
  const column = book.columns.find(({ id }) => id === looked.id)
  const student = book.students.find(({ personId }) => personId === looked.id)
  const marks =
    looked.of === 'column' ? book.students.flatMap(({ personId }) => markIn(book.cellOf(personId, looked.id))) : []
  const { counts, median } = markSpread(marks, 10)
  const line = student
    ? columns.flatMap(({ id, title, number }) => {
        const [mark] = markIn(book.cellOf(student.personId, id))
        return mark ? [{ x: number || title, y: percentOf(mark.total, mark.most) / 100, title }] : []
      })
    : []
  const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()
  const text = { colors: token('--soft'), fontFamily: 'inherit', fontSize: '12px' }
  const common = {
    animations: { enabled: false },
    toolbar: { show: false },
    zoom: { enabled: false },
    fontFamily: 'inherit',
    background: 'transparent',
  }
  const yaxis = (formatter: (value: number) => string) => ({ labels: { style: text, formatter } })
  const grid = { borderColor: token('--rule-soft') }
  return (
    <section className="book-looked no-print" aria-label={column?.title ?? (student && fullName(student))}>
      <div className="book-looked-head">
        {student ? (
          <>
            <h2>
              <bdi>{fullName(student)}</bdi>
            </h2>
            <Link to={`/person/${student.personId}`}>All their work</Link>
          </>
        ) : (
          <h2>
            <bdi>{column?.title}</bdi>
          </h2>
        )}
        <span className="soft">
          {student
            ? `${line.length} ${line.length === 1 ? 'mark' : 'marks'}`
            : `${marks.length} marked${median === null ? '' : ` · median ${percentInWords(median)}`}`}
        </span>
        <Button size="sm" variant="link" onClick={close}>
          Close
        </Button>
      </div>
      {student && (
        <StudentNote
          key={student.personId}
          classId={classId}
          personId={student.personId}
          kept={read.notes.find(({ studentId }) => studentId === student.personId)?.text ?? ''}
        />
      )}
      {student ? (
        line.length === 0 ? (
          <p className="soft">No marks yet.</p>
        ) : (
          <Chart
            height={190}
            label={`Marks of ${fullName(student)}: ${line.map(({ title, y }) => `${title} ${Math.round(y)} per cent`).join(', ')}`}
            options={{
              chart: { type: 'line', height: 190, ...common },
              series: [{ name: 'per cent', data: line.map(({ x, y }) => ({ x, y })) }],
              colors: [token('--answer')],
              stroke: { width: 2 },
              markers: { size: 5 },
              yaxis: { min: 0, max: 100, tickAmount: 4, ...yaxis((value) => `${Math.round(value)} %`) },
              xaxis: { labels: { style: text } },
              grid,
            }}
          />
        )
      ) : marks.length === 0 ? (
        <p className="soft">
          Nothing is marked yet.{' '}
          {!read.paper.some(({ id }) => id === looked.id) && (
            <Link to={`/class/${classId}/handouts/${looked.id}/marking`}>Mark its copies</Link>
          )}
        </p>
      ) : (
        <Chart
          height={190}
          label={`How ${marks.length} marks are spread: ${counts.map((of, at) => `${of} from ${at * 10} per cent`).join(', ')}`}
          options={{
            chart: { type: 'bar', height: 190, ...common },
            series: [{ name: 'students', data: counts.map((of, at) => ({ x: `${at * 10}`, y: of })) }],
            colors: [token('--mark-part')],
            plotOptions: { bar: { columnWidth: '80%' } },
            dataLabels: { enabled: false },
            yaxis: { ...yaxis((value) => String(Math.round(value))), forceNiceScale: true },
            xaxis: {
              labels: { style: text, rotate: 0 },
              title: { text: 'from … per cent', style: { color: token('--soft'), fontWeight: 400 } },
            },
            grid,
          }}
        />
      )}
    </section>
  )
}

const markIn = (cell: MarkCell): { readonly total: Points; readonly most: Points }[] =>
  cell.is === 'mark' ? [{ total: cell.total, most: cell.most }] : []
