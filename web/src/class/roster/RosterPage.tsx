import { FIXED_COLUMNS, fullName, mayInClass, tagsOf } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { Menu } from '../../ui/Menu'
import { Notice } from '../../ui/Notice'
import { SheetGrid } from '../../ui/SheetGrid'
import type { GridColumn } from '../../ui/gridWork'
import { api, sentenceOf } from '../../ui/api'
import { useStored } from '../../ui/useStored'
import { ClassFrame } from '../ClassFrame'
import { AddStudent } from './AddStudent'
import { AskName } from '../AskName'
import { InviteNext, invitable, needCards, useInvite } from './InviteNext'
import { ColumnMenu, type RosterField, RosterNotices, RosterTools, StudentMenu, valuesOf } from './RosterParts'
import { SelectionBar } from './SelectionBar'
import { WithClass } from '../WithClass'
import { type ClassOpened, type Student, classKey, rosterKey, useGroupSets } from '../queries'
import { type CellEdit, cellKey, useRosterEdits } from './useRosterEdits'
import { type ColumnFilter, type Sort, groupNamesOf, shownText, useRosterView } from './useRosterView'
import type { Bodies } from '../../contract'

/** A class: its roster, worked in as in a spreadsheet. */
export function RosterPage() {
  return <WithClass>{(opened, students) => <Roster key={opened.id} opened={opened} students={students} />}</WithClass>
}

const WIDTHS: Record<string, number> = { last: 142, first: 124, email: 244, number: 132, 'sign-in': 126 }

function Roster({ opened, students }: { opened: ClassOpened; students: readonly Student[] }) {
  const present = students.filter(({ leftAt }) => leftAt === null)
  const may = mayInClass(opened.role, 'change the roster', opened.archived).may
  const invite = useInvite(opened.id)
  const withMail = invitable(students)
  const withCards = needCards(students)
  const waiting = present.filter(({ canSignIn }) => !canSignIn)
  return (
    <ClassFrame
      opened={opened}
      present={present.length}
      acts={
        may && (
          <>
            {waiting.length > 0 && withMail.length === 0 && (
              <Link className="btn btn-outline-dark" to={`/class/${opened.id}/cards`}>
                Sign-in cards for {waiting.length}
              </Link>
            )}
            {withMail.length > 0 && (
              <Menu label={`${waiting.length} cannot sign in yet`} align="end">
                <Dropdown.Item as="button" type="button" onClick={() => invite.mutate(withMail)}>
                  Invite {withMail.length} by mail
                </Dropdown.Item>
                {withCards.length > 0 && (
                  <Dropdown.Item
                    as={Link}
                    to={`/class/${opened.id}/cards`}
                    state={{ personIds: withCards.map(({ personId }) => personId) }}
                  >
                    Sign-in cards for {withCards.length} without an e-mail
                  </Dropdown.Item>
                )}
                <Dropdown.Item as={Link} to={`/class/${opened.id}/cards`}>
                  Sign-in cards for all {waiting.length}
                </Dropdown.Item>
              </Menu>
            )}
            <Link
              className={students.length ? 'btn btn-outline-dark' : 'btn btn-primary'}
              to={`/class/${opened.id}/bring-in`}
            >
              Bring in a list
            </Link>
          </>
        )
      }
    >
      {students.length === 0 && (
        <div className="roster-empty">
          <h2>No students yet</h2>
          <p className="soft">
            {may ? (
              <>
                <Link to={`/class/${opened.id}/bring-in`}>Bring in a list</Link> from a spreadsheet or a school system,
                let students <Link to={`/class/${opened.id}/join`}>ask to join</Link>, or type the first name into the
                row below.
              </>
            ) : (
              'The teachers of this class have not brought in a list yet.'
            )}
          </p>
        </div>
      )}
      {may && <InviteNext opened={opened} students={students} invite={invite} />}
      <RosterSheet opened={opened} students={students} may={may} />
    </ClassFrame>
  )
}

function RosterSheet({ opened, students, may }: { opened: ClassOpened; students: readonly Student[]; may: boolean }) {
  const client = useQueryClient()
  const groupSets = useGroupSets(opened.id)
  const sets = useMemo(() => groupSets.data ?? [], [groupSets.data])
  const edits = useRosterEdits(opened.id)
  const [find, setFind] = useState('')
  const [filter, setFilter] = useState<ColumnFilter | null>(null)
  const [sort, setSort] = useState<Sort | null>(null)
  const [withLeft, setWithLeft] = useState(false)
  const [hidden, setHidden] = useStored<string[]>(`gavrin.hidden.${opened.id}`, [])
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set())
  const [asking, setAsking] = useState<{ rename?: { id: string; name: string } } | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [removed, setRemoved] = useState<{ id: string; name: string } | null>(null)
  const [adding, setAdding] = useState(false)
  const [gone, setGone] = useState<readonly Student[]>([])

  const groupOf = useMemo(() => groupNamesOf(sets), [sets])
  const shown = useRosterView(students, sets, { find, filter, sort, withLeft })
  const byId = useMemo(() => new Map(students.map((student) => [student.personId, student])), [students])
  const left = students.filter(({ leftAt }) => leftAt !== null).length

  const fields: RosterField[] = [
    ...Object.entries(FIXED_COLUMNS)
      .filter(([key]) => key !== 'number' || students.some(({ number }) => number) || !hidden.includes('number'))
      .map(([key, label]) => ({ key, label, editable: true, extra: false })),
    ...opened.columns.map(({ id, name }) => ({ key: id, label: name, editable: true, extra: true })),
    ...sets.map(({ id, name }) => ({ key: `set ${id}`, label: name, editable: false, extra: false })),
    { key: 'sign-in', label: 'Sign-in', editable: false, extra: false },
  ]
  const invalidate = () => client.invalidateQueries({ queryKey: classKey(opened.id) })
  /** @param done what is told of it then: the page shows it already */
  const attempt = async (work: () => Promise<unknown>, done?: () => void) => {
    setProblem(null)
    let told = done
    try {
      await work()
    } catch (error) {
      setProblem(sentenceOf(error))
      told = undefined
    }
    await invalidate()
    told?.()
  }
  const labelOf = (key: string) => fields.find((field) => field.key === key)?.label ?? ''
  const columns: GridColumn[] = fields
    .filter(({ key }) => !hidden.includes(key))
    .map(({ key, label, editable, extra }) => ({
      key,
      label,
      editable,
      width: WIDTHS[key] ?? 116,
      ...(sort?.field === key && { sorted: sort.descending ? 'descending' : 'ascending' }),
      menu: (
        <ColumnMenu
          field={{ key, label, editable, extra }}
          sort={sort}
          values={() => valuesOf(students, key, groupOf)}
          may={may}
          setSort={setSort}
          setFilter={setFilter}
          hide={() => setHidden([...hidden, key])}
          rename={() => setAsking({ rename: { id: key, name: label } })}
          remove={() =>
            void attempt(async () => {
              await api.delete(`classes/${opened.id}/columns/${key}`)
              setRemoved({ id: key, name: label })
            })
          }
        />
      ),
    }))

  /** Takes students out of the class; a line says what became of their work, and takes them back in. */
  const leave = (leaving: readonly Student[]) =>
    attempt(
      () =>
        api.post(`classes/${opened.id}/roster/leave`, {
          personIds: leaving.map(({ personId }) => personId),
        } satisfies Bodies['POST classes/{classId}/roster/leave']),
      () => setGone(leaving),
    )

  const takeBack = (back: readonly Student[]) =>
    api.post(`classes/${opened.id}/roster/return`, {
      personIds: back.map(({ personId }) => personId),
    } satisfies Bodies['POST classes/{classId}/roster/return'])

  /** Changes cells; rows under the last one begin new students. */
  const change = async (list: readonly { rowId: string | null; row: number; column: string; value: string }[]) => {
    setProblem(null)
    const known: CellEdit[] = list.flatMap(({ rowId, column, value }) =>
      rowId ? [{ personId: rowId, field: column, value }] : [],
    )
    const fresh = new Map<number, Record<string, string>>()
    for (const { rowId, row, column, value } of list)
      if (!rowId && value) fresh.set(row, { ...fresh.get(row), [column]: value })
    if (!(await edits.apply(known)) || fresh.size === 0) return
    await attempt(() =>
      api.post(`classes/${opened.id}/roster`, {
        rows: [...fresh.values()].map((cells) => ({
          last: cells['last'] ?? '',
          first: cells['first'] ?? '',
          email: cells['email'] ?? '',
          number: cells['number'] ?? '',
          cells: Object.fromEntries(
            opened.columns.flatMap(({ id, name }) => (cells[id] ? [[name, cells[id]] as const] : [])),
          ),
        })),
      } satisfies Bodies['POST classes/{classId}/roster']),
    )
  }

  const tagColumns = new Set(opened.columns.filter(({ kind }) => kind === 'tags').map(({ id }) => id))
  const show = (rowId: string, column: string) => {
    const student = byId.get(rowId)
    if (!student) return null
    const text = shownText(student, column, groupOf)
    if (column === 'email' && !text) return <span className="warn">none yet</span>
    if (column === 'sign-in') return <span className={text === 'ready' ? 'soft' : 'warn'}>{text}</span>
    if (column.startsWith('set ')) return text ? <span>{text}</span> : <span className="soft">–</span>
    if (tagColumns.has(column))
      return tagsOf(text).map((tag) => (
        <span key={tag} className="tag-word">
          {tag}
        </span>
      ))
    return <bdi>{text}</bdi>
  }

  return (
    <>
      <RosterTools
        classId={opened.id}
        find={find}
        setFind={setFind}
        filter={filter}
        filterLabel={filter ? labelOf(filter.field) : ''}
        clearFilter={() => setFilter(null)}
        counts={{ shown: shown.length, all: students.length, left }}
        withLeft={withLeft}
        setWithLeft={setWithLeft}
        edits={edits}
        may={may}
        add={() => setAdding(true)}
        fields={fields}
        hidden={hidden}
        setHidden={setHidden}
        addColumn={() => setAsking({})}
        report={setProblem}
      />
      {(problem ?? edits.problem) && <Notice kind="bad">{problem ?? edits.problem}</Notice>}
      <RosterNotices
        removed={removed}
        gone={gone}
        bringBackColumn={() =>
          void attempt(async () => {
            await api.post(`classes/${opened.id}/columns/${removed!.id}/return`)
            setRemoved(null)
          })
        }
        takeBack={() =>
          void attempt(async () => {
            await takeBack(gone)
            setGone([])
          })
        }
        close={() => setGone([])}
      />
      <SheetGrid
        label={`Roster of ${opened.name}`}
        columns={columns}
        rows={shown.map((student) => ({
          id: student.personId,
          label: fullName(student),
          dim: student.leftAt !== null,
          fixed: student.leftAt !== null,
        }))}
        textOf={(rowId, column) => {
          const student = byId.get(rowId)
          return student ? shownText(student, column, groupOf) : ''
        }}
        show={show}
        trouble={(rowId, column) => edits.troubles.get(cellKey(rowId, column))}
        change={(list) => void change(list)}
        undo={() => void edits.undo()}
        redo={() => void edits.redo()}
        selected={selected}
        select={setSelected}
        mayEdit={may}
        newRow="New student"
        rowMenu={(rowId) => {
          const student = byId.get(rowId)
          return (
            student && (
              <StudentMenu
                student={student}
                may={may}
                leave={() => void leave([student])}
                takeBack={() => void attempt(() => takeBack([student]))}
              />
            )
          )
        }}
      />
      {selected.size > 0 && (
        <SelectionBar
          opened={opened}
          sets={sets}
          chosen={students.filter(({ personId }) => selected.has(personId))}
          may={may}
          apply={edits.apply}
          clear={() => setSelected(new Set())}
          changed={invalidate}
          leave={leave}
        />
      )}
      {adding && <AddStudent opened={opened} close={() => setAdding(false)} />}
      {asking && (
        <AskName
          title={asking.rename ? 'Rename the column' : 'Add a column'}
          label="Name of the column"
          name={asking.rename?.name ?? ''}
          done={asking.rename ? 'Rename it' : 'Add it'}
          close={() => setAsking(null)}
          keep={async (name) => {
            if (asking.rename)
              await api.put(`classes/${opened.id}/columns/${asking.rename.id}`, {
                name,
              } satisfies Bodies['PUT classes/{classId}/columns/{columnId}'])
            else
              await api.post(`classes/${opened.id}/columns`, {
                name,
                kind: 'text',
              } satisfies Bodies['POST classes/{classId}/columns'])
            await client.invalidateQueries({ queryKey: classKey(opened.id), exact: true })
            await client.invalidateQueries({ queryKey: rosterKey(opened.id) })
          }}
        />
      )}
    </>
  )
}
