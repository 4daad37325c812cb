import {
  type OverviewCopy,
  type OverviewHandout,
  type OverviewLine,
  copyInWords,
  fullName,
  gathered,
  inOfHandout,
  isOverdue,
  listName,
  overviewLines,
  mayInClass,
} from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useParams, useSearchParams } from 'react-router'
import type { Answers, Bodies } from '../contract'
import { FindField } from '../ui/FindField'
import { Loaded } from '../ui/Loaded'
import { SaveCopiesButton } from '../savedCopies/SaveCopiesButton'
import { GiveToKeepButton } from '../toKeep/GiveToKeep'
import { SaveTableMenu } from '../ui/SaveTableMenu'
import { SheetMark } from '../ui/SheetMark'
import { api } from '../ui/api'
import { exactTime } from '../ui/time'
import { useNow } from '../ui/useNow'
import { ClassFrame } from './ClassFrame'
import { type ClassOpened, type Unit, useClass, useRoster } from './queries'

type Overview = Answers['GET classes/{classId}/overview']
type Line = OverviewLine<Overview['students'][number]>

/** How often it is read again while it is looked at, in milliseconds. */
const AGAIN = 20_000
/** A class at a glance: its students by its handouts, each copy a mark. */
export function OverviewPage() {
  const { classId = '' } = useParams()
  const opened = useClass(classId)
  const roster = useRoster(classId)
  const overview = useQuery({
    queryKey: ['class', classId, 'overview'],
    queryFn: () => api.get<Overview>(`classes/${classId}/overview`),
    staleTime: 0,
    refetchInterval: AGAIN,
  })
  return (
    <Loaded query={opened}>
      {(found) => (
        <ClassFrame opened={found} present={(roster.data ?? []).filter(({ leftAt }) => leftAt === null).length}>
          <Loaded query={overview}>{(all) => <All opened={found} overview={all} />}</Loaded>
        </ClassFrame>
      )}
    </Loaded>
  )
}

/** The handouts of a unit; of none where it has no name. */
interface Part {
  readonly unit: string | null
  readonly handouts: readonly OverviewHandout[]
}

/** Handouts under their units, in the order of these; those of none at the end. */
function byUnit(handouts: readonly OverviewHandout[], units: readonly Unit[]): Part[] {
  const order = new Map(units.map(({ name }, at) => [name, at]))
  const place = (unit: string | null) => (unit === null ? Infinity : (order.get(unit) ?? units.length))
  return [...gathered(handouts, ({ unit }) => unit)]
    .map(([unit, own]) => ({ unit, handouts: own }))
    .toSorted((a, b) => (place(a.unit) === place(b.unit) ? 0 : place(a.unit) - place(b.unit)))
}

function All({ opened, overview }: { readonly opened: ClassOpened; readonly overview: Overview }) {
  const now = useNow()
  const [search, setSearch] = useSearchParams()
  const [find, setFind] = useState('')
  const [onlyMissing, setOnlyMissing] = useState(false)
  const [byMissing, setByMissing] = useState(false)
  const all = byUnit(overview.handouts, opened.units)
  const chosen = all.find(({ unit }) => unit !== null && unit === search.get('unit'))
  const parts = chosen ? [chosen] : all
  const handouts = parts.flatMap((part) => part.handouts)
  const lines = useMemo(() => {
    const words = find.toLocaleLowerCase().split(/\s+/).filter(Boolean)
    const found = overviewLines(overview.students, handouts, overview.copies, now).filter(({ student, missing }) => {
      const name = fullName(student).toLocaleLowerCase()
      return words.every((word) => name.includes(word)) && (!onlyMissing || missing.length > 0)
    })
    return byMissing ? found.toSorted((a, b) => b.missing.length - a.missing.length) : found
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- the handouts are those of the unit
  }, [overview, chosen?.unit, find, onlyMissing, byMissing, now])

  if (overview.handouts.length === 0)
    return (
      <div className="empty">
        <h2>Nothing handed out yet</h2>
        <p>
          Each handout becomes a column here, each student a line, and each copy a mark that fills as it is written.
        </p>
      </div>
    )
  return (
    <div className="overview">
      <div className="overview-tools no-print">
        <FindField label="Find a student" value={find} change={setFind} />
        {all.length > 1 && (
          <Form.Select
            size="sm"
            aria-label="Unit"
            value={chosen?.unit ?? ''}
            onChange={({ target }) => setSearch(target.value ? { unit: target.value } : {}, { replace: true })}
          >
            <option value="">All units</option>
            {all.map(({ unit }) => unit !== null && <option key={unit}>{unit}</option>)}
          </Form.Select>
        )}
        <Form.Check
          id="only-missing"
          label="only who misses something"
          checked={onlyMissing}
          onChange={({ target }) => setOnlyMissing(target.checked)}
        />
        <span className="overview-acts">
          <Button size="sm" variant="outline-dark" onClick={() => window.print()}>
            Print
          </Button>
          {mayInClass(opened.role, 'give to keep').may && <GiveToKeepButton of={{ classId: opened.id }} small />}
          <SaveCopiesButton of={{ classId: opened.id }} what={`All copies of ${opened.name}`} small />
          <SaveTableMenu
            path={`classes/${opened.id}/overview/out`}
            body={
              (chosen?.unit
                ? { unit: chosen.unit }
                : {}) satisfies Bodies['POST classes/{classId}/overview/out/{format}']
            }
          />
        </span>
      </div>
      {chosen && <h2 className="only-print">{chosen.unit}</h2>}
      {lines.length === 0 ? (
        <p className="soft">{find ? 'Nobody is called so.' : 'Nobody misses anything.'}</p>
      ) : (
        <div className="overview-scroll">
          <table className="grid overview-table">
            <thead>
              {parts.some(({ unit }) => unit !== null) && !chosen && (
                <tr>
                  <td className="overview-name" />
                  {parts.map(({ unit, handouts: own }) => (
                    <th key={unit} scope="colgroup" colSpan={own.length} className="overview-unit">
                      <bdi>{unit ?? 'In no unit'}</bdi>
                    </th>
                  ))}
                  <td colSpan={2} />
                </tr>
              )}
              <tr>
                <th scope="col" className="overview-name">
                  Student
                </th>
                {parts.flatMap((part) =>
                  part.handouts.map((handout, at) => (
                    <HandoutHead
                      key={handout.id}
                      classId={opened.id}
                      handout={handout}
                      copies={overview.copies}
                      isFirst={at === 0}
                    />
                  )),
                )}
                <th scope="col" className="n overview-sum">
                  In
                </th>
                <th
                  scope="col"
                  className="n overview-sum"
                  aria-sort={byMissing ? 'descending' : undefined}
                  title="Due, and not submitted"
                >
                  <button type="button" className="head-sort" onClick={() => setByMissing(!byMissing)}>
                    Missing{byMissing && <span aria-hidden="true"> ↓</span>}
                  </button>
                </th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line) => (
                <StudentLine key={line.student.personId} line={line} parts={parts} now={now} />
              ))}
            </tbody>
          </table>
        </div>
      )}
    </div>
  )
}

interface HeadProps {
  readonly classId: string
  readonly handout: OverviewHandout
  readonly copies: readonly OverviewCopy[]
  readonly isFirst: boolean
}

function HandoutHead({ classId, handout, copies, isFirst }: HeadProps) {
  const { isIn, of } = inOfHandout(copies, handout.id)
  return (
    <th scope="col" className={isFirst ? 'overview-handout first-of-unit' : 'overview-handout'}>
      <Link
        to={`/class/${classId}/handouts/${handout.id}`}
        title={`No. ${handout.number} ${handout.title}${handout.dueAt === null ? '' : `, due ${exactTime(handout.dueAt)}`}`}
      >
        <span className="soft">No. {handout.number}</span>
        <span className="overview-title" dir="auto">
          {handout.title}
        </span>
      </Link>
      <span className="soft overview-in">{of === 0 ? 'to read' : `${isIn} of ${of} in`}</span>
    </th>
  )
}

function StudentLine({
  line: { student, cells, isIn, of, missing },
  parts,
  now,
}: {
  readonly line: Line
  readonly parts: readonly Part[]
  readonly now: number
}) {
  return (
    <tr>
      <th scope="row" className="overview-name">
        <Link className="row-link" to={`/person/${student.personId}`}>
          <bdi>{listName(student)}</bdi>
        </Link>
      </th>
      {parts.flatMap((part) =>
        part.handouts.map(({ id }, at) => (
          <td key={id} className={at === 0 ? 'overview-cell first-of-unit' : 'overview-cell'}>
            {(cells.get(id) ?? []).map((copy) => (
              <Link
                key={copy.copyId}
                to={`/copies/${copy.copyId}`}
                title={`${copy.title}: ${copyInWords(copy, now)}`}
                aria-label={`${copy.title}: ${copyInWords(copy, now)}`}
              >
                <SheetMark
                  state={copy.state}
                  share={copy.spaces ? copy.answered / copy.spaces : 0}
                  pensDown={copy.pensDown}
                  overdue={isOverdue(copy, now)}
                  silent
                />
              </Link>
            ))}
          </td>
        )),
      )}
      <td className="n">
        {isIn} <span className="soft">of {of}</span>
      </td>
      <td className={missing.length > 0 ? 'n bad' : 'n soft'} title={missing.map(({ title }) => title).join('\n')}>
        {missing.length || '–'}
      </td>
    </tr>
  )
}
