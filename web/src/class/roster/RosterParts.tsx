import { fullName, tagsOf } from '@gavrin/core'
import { Button, Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { FindField } from '../../ui/FindField'
import { Menu } from '../../ui/Menu'
import { Notice } from '../../ui/Notice'
import { SaveRosterMenu } from './SaveRosterMenu'
import type { Student } from '../queries'
import type { useRosterEdits } from './useRosterEdits'
import { type ColumnFilter, type Sort, shownText } from './useRosterView'

/** A column of the roster, whether it is shown or not. */
export interface RosterField {
  readonly key: string
  readonly label: string
  readonly editable: boolean
  /** Added by this class. */
  readonly extra: boolean
}

/** What can be done with a column. */
export function ColumnMenu({
  field: { key, label, extra },
  sort,
  values,
  may,
  setSort,
  setFilter,
  hide,
  rename,
  remove,
}: {
  readonly field: RosterField
  readonly sort: Sort | null
  /** What stands in it, for showing only rows with one of them. */
  readonly values: () => readonly string[]
  readonly may: boolean
  readonly setSort: (sort: Sort | null) => void
  readonly setFilter: (filter: ColumnFilter) => void
  readonly hide: () => void
  readonly rename: () => void
  readonly remove: () => void
}) {
  return (
    <Menu label={<span aria-hidden="true" />} name={`Column ${label}`} variant="link" small align="end">
      <Dropdown.Item onClick={() => setSort({ field: key, descending: false })}>Sort from A to Z</Dropdown.Item>
      <Dropdown.Item onClick={() => setSort({ field: key, descending: true })}>Sort from Z to A</Dropdown.Item>
      {sort && <Dropdown.Item onClick={() => setSort(null)}>Sort by name again</Dropdown.Item>}
      {(extra || key === 'sign-in' || key.startsWith('set ')) && (
        <>
          <Dropdown.Divider />
          <Dropdown.Header>Only rows with</Dropdown.Header>
          {values().map((value) => (
            <Dropdown.Item key={value} onClick={() => setFilter({ field: key, value })}>
              {value || <em>nothing</em>}
            </Dropdown.Item>
          ))}
        </>
      )}
      <Dropdown.Divider />
      {key !== 'last' && <Dropdown.Item onClick={hide}>Do not show it</Dropdown.Item>}
      {extra && may && (
        <>
          <Dropdown.Item onClick={rename}>Rename it</Dropdown.Item>
          <Dropdown.Item onClick={remove}>Take it away</Dropdown.Item>
        </>
      )}
    </Menu>
  )
}

/** What stands above the roster: finding, what is shown of it, undo, columns, files. */
export function RosterTools({
  classId,
  find,
  setFind,
  filter,
  filterLabel,
  clearFilter,
  counts,
  withLeft,
  setWithLeft,
  edits,
  may,
  add,
  fields,
  hidden,
  setHidden,
  addColumn,
  report,
}: {
  readonly classId: string
  readonly find: string
  readonly setFind: (find: string) => void
  readonly filter: ColumnFilter | null
  readonly filterLabel: string
  readonly clearFilter: () => void
  readonly counts: { readonly shown: number; readonly all: number; readonly left: number }
  readonly withLeft: boolean
  readonly setWithLeft: (on: boolean) => void
  readonly edits: ReturnType<typeof useRosterEdits>
  readonly may: boolean
  readonly add: () => void
  readonly fields: readonly RosterField[]
  readonly hidden: readonly string[]
  readonly setHidden: (keys: string[]) => void
  readonly addColumn: () => void
  readonly report: (problem: string | null) => void
}) {
  const { shown, all, left } = counts
  return (
    <div className="table-tools">
      <FindField label="Find in this class" value={find} change={setFind} />
      {filter && (
        <Button size="sm" variant="outline-dark" onClick={clearFilter}>
          {filterLabel}: {filter.value || 'nothing'} <span aria-hidden="true">×</span>
          <span className="visually-hidden">Show all again</span>
        </Button>
      )}
      {(find || filter) && (
        <span className="soft" role="status">
          {shown} of {all}
        </span>
      )}
      {left > 0 && (
        <Button size="sm" variant="link" aria-pressed={withLeft} onClick={() => setWithLeft(!withLeft)}>
          {withLeft ? 'Do not show those who left' : `Show ${left} who left`}
        </Button>
      )}
      <span className="tools-end">
        {may && (
          <>
            <Button size="sm" variant="link" disabled={!edits.steps.undo} onClick={() => void edits.undo()}>
              Undo
            </Button>
            <Button size="sm" variant="link" disabled={!edits.steps.redo} onClick={() => void edits.redo()}>
              Redo
            </Button>
            <Button size="sm" variant="outline-dark" onClick={add}>
              Add a student
            </Button>
          </>
        )}
        <Menu label="Columns" small align="end">
          {fields.slice(1).map(({ key, label }) => (
            <Dropdown.Item
              key={key}
              as="button"
              type="button"
              aria-pressed={!hidden.includes(key)}
              onClick={(event) => {
                event.stopPropagation()
                setHidden(hidden.includes(key) ? hidden.filter((other) => other !== key) : [...hidden, key])
              }}
            >
              <span className="menu-check" aria-hidden="true">
                {hidden.includes(key) ? '' : '✓'}
              </span>
              {label}
            </Dropdown.Item>
          ))}
          {may && (
            <>
              <Dropdown.Divider />
              <Dropdown.Item onClick={addColumn}>Add a column</Dropdown.Item>
            </>
          )}
        </Menu>
        <SaveRosterMenu classId={classId} report={report} />
      </span>
    </div>
  )
}

/** What was just taken away, with the way back. */
export function RosterNotices({
  removed,
  gone,
  bringBackColumn,
  takeBack,
  close,
}: {
  readonly removed: { readonly name: string } | null
  readonly gone: readonly Student[]
  readonly bringBackColumn: () => void
  readonly takeBack: () => void
  readonly close: () => void
}) {
  return (
    <>
      {removed && (
        <Notice kind="plain">
          The column {removed.name} was taken away; what stood in it is kept.{' '}
          <Button variant="link" onClick={bringBackColumn}>
            Bring it back
          </Button>
        </Notice>
      )}
      {gone.length > 0 && (
        <Notice kind="plain">
          {gone.length === 1 ? (
            <>
              <bdi>{fullName(gone[0]!)}</bdi> is not in the class any more
            </>
          ) : (
            `${gone.length} students are not in the class any more`
          )}
          : their copies leave their desks, and all their work is kept.{' '}
          <Button variant="link" onClick={takeBack}>
            Take {gone.length === 1 ? 'them' : `all ${gone.length}`} back in
          </Button>{' '}
          <Button variant="link" onClick={close}>
            Close
          </Button>
        </Notice>
      )}
    </>
  )
}

/** What can be done with one student. */
export function StudentMenu({
  student,
  may,
  leave,
  takeBack,
}: {
  readonly student: Student
  readonly may: boolean
  readonly leave: () => void
  readonly takeBack: () => void
}) {
  return (
    <Menu label="···" name={`··· More for ${fullName(student)}`} variant="link" small align="end">
      <Dropdown.Item as={Link} to={`/person/${student.personId}`}>
        Page of this student
      </Dropdown.Item>
      {may && student.leftAt === null && (
        <Dropdown.Item onClick={leave}>
          Remove from the class <span className="soft">the work is kept</span>
        </Dropdown.Item>
      )}
      {may && student.leftAt !== null && <Dropdown.Item onClick={takeBack}>Take back in</Dropdown.Item>}
    </Menu>
  )
}

const VALUES_SHOWN = 12

/** What stands in a column, each once. */
export function valuesOf(
  students: readonly Student[],
  field: string,
  groupOf: ReadonlyMap<string, ReadonlyMap<string, string>>,
): string[] {
  const values = new Set<string>()
  let blank = false
  for (const student of students) {
    const text = shownText(student, field, groupOf)
    if (!text) blank = true
    else for (const part of text.includes(',') ? tagsOf(text) : [text]) values.add(part)
  }
  const sorted = [...values].toSorted((a, b) => a.localeCompare(b, undefined, { numeric: true })).slice(0, VALUES_SHOWN)
  return blank ? [...sorted, ''] : sorted
}
