import { type RosterField, type RosterReading, asksForAddress, rosterMembers } from '@gavrin/core'
import { useEffect, useMemo, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useLocation } from 'react-router'
import { Notice } from '../../ui/Notice'
import { ApiError, sentenceOf } from '../../ui/api'
import type { Correction } from '../../workers/listWorker'
import { WithClass } from '../WithClass'
import { type ClassOpened, type Student } from '../queries'
import '../class.css'
import { BundleClasses } from './BundleClasses'
import { MissingStudents } from './MissingStudents'
import { ReadingChoices } from './ReadingChoices'
import { SourceChooser } from './SourceChooser'
import { UnderstoodTable } from './UnderstoodTable'
import { type Source, rowsOf } from './source'
import { useListWork } from './useListWork'
import { useSaveList } from './useSaveList'

/** A list becomes a roster, or brings one up to date: seen as understood, corrected in place, compared, then saved. */
export function BringInPage() {
  // Another list that is handed over begins anew.
  const { key } = useLocation()
  return (
    <WithClass>
      {(opened, students) => <BringIn key={`${opened.id} ${key}`} opened={opened} students={students} />}
    </WithClass>
  )
}

type Filter = 'all' | 'new' | 'changed' | 'unchanged' | 'back' | 'in doubt'

function BringIn({ opened, students }: { opened: ClassOpened; students: readonly Student[] }) {
  const handed = (useLocation().state as { paste?: string } | null)?.paste ?? ''
  const [source, setSource] = useState<Source>({ kind: 'pasted', text: handed })
  const [reading, setReading] = useState<RosterReading>({})
  const [corrections, setCorrections] = useState<Readonly<Record<number, Correction>>>({})
  const [filter, setFilter] = useState<Filter>('all')
  // The row that is being corrected stays where it is, whatever becomes of it.
  const [edited, setEdited] = useState<number | null>(null)
  const [leaving, setLeaving] = useState<ReadonlySet<string>>(new Set())
  useEffect(() => {
    document.title = `Bring in a list – ${opened.name} – Gavrin`
  }, [opened.name])

  const table = useMemo(() => rowsOf(source), [source])
  const members = useMemo(() => rosterMembers(students, opened.columns), [opened, students])
  const task = useMemo(
    () => (table && !table.problem ? { rows: table.rows, reading, corrections, members } : null),
    [table, reading, corrections, members],
  )
  const { answer, busy } = useListWork(task)
  const understood = answer?.ok ? answer : null
  const checked = understood?.checked ?? null
  const problem = table?.problem ?? (answer && !answer.ok ? answer.problems[0]!.sentence : null)

  const save = useSaveList(opened, checked, leaving)
  const asks = understood !== null && asksForAddress(understood.parsed, reading)
  const serverProblems = save.error instanceof ApiError ? save.error.errors : []
  const bring = (next: Source) => {
    setSource(next)
    // What was chosen for one list means nothing for another; a new encoding or delimiter is the same list.
    if (next.kind !== source.kind || next.kind === 'pasted' || next.kind === 'workbook') setReading({})
    setCorrections({})
    setFilter('all')
    setLeaving(new Set())
    save.reset()
  }
  const correct = (line: number, correction: (before: Correction) => Correction) => {
    save.reset()
    setCorrections((before) => ({ ...before, [line]: correction(before[line] ?? { row: {} }) }))
  }
  const allSame = () => {
    const asked = checked!.rows.flatMap(({ namesake, row: { sameAs } }, index) =>
      namesake && sameAs === undefined ? [[understood!.lines[index]!, namesake.personId] as const] : [],
    )
    save.reset()
    setCorrections((before) => ({
      ...before,
      ...Object.fromEntries(asked.map(([line, sameAs]) => [line, { ...(before[line] ?? { row: {} }), sameAs }])),
    }))
  }
  const byHand = Object.entries(corrections).flatMap(([line, { left }]) => (left ? [Number(line)] : []))
  const leftOut = byHand.length + (understood?.parsed.leftOut.length ?? 0)
  const counts = checked?.counts
  const rows = checked?.rows ?? []
  const shown = rows
    .map((_, index) => index)
    .filter(
      (index) =>
        filter === 'all' ||
        understood!.lines[index] === edited ||
        (filter === 'in doubt' ? rows[index]!.doubts.length > 0 : rows[index]!.effect === filter),
    )
  const count = (value: number, word: string, key: Filter, warn = false) => (
    <button
      type="button"
      className={`count${warn && value ? ' warn' : ''}`}
      aria-pressed={filter === key}
      disabled={value === 0 && filter !== key}
      onClick={() => setFilter(filter === key ? 'all' : key)}
    >
      <strong>{value}</strong> {word}
    </button>
  )
  const going = checked?.missing.filter(({ personId }) => leaving.has(personId)).length ?? 0

  return (
    <main className="split">
      <section className="split-side bring-in-text">
        <h1>Bring in a list</h1>
        <p className="soft">
          for {opened.name}, {opened.subject}
        </p>
        <SourceChooser source={source} bring={bring} />
        {problem && <Notice kind="bad">{problem}</Notice>}
        {understood && table && (
          <ReadingChoices
            source={source}
            bring={(next) => setSource(next)}
            table={table}
            parsed={understood.parsed}
            reading={reading}
            setReading={(next) => {
              save.reset()
              // What was put right in a row stays; whom it is about was said of the name that was read.
              setCorrections((before) =>
                Object.fromEntries(Object.entries(before).map(([line, { sameAs: _, ...rest }]) => [line, rest])),
              )
              setReading(next)
            }}
            byHand={byHand}
            takeBack={(line) => correct(line, ({ left: _, ...before }) => before)}
          />
        )}
      </section>
      <section className="split-main" aria-busy={busy}>
        {source.kind === 'bundle' ? (
          <BundleClasses source={source} opened={opened} />
        ) : (
          <>
            <div className="understood-head">
              <h2>{students.length ? 'What would change' : 'Understood'}</h2>
              {counts && (
                <div className="counts" role="status">
                  {count(counts.new, 'new', 'new')}
                  {count(counts.changed, 'changed', 'changed')}
                  {count(counts.unchanged, 'as before', 'unchanged')}
                  {counts.back > 0 && count(counts.back, 'back again', 'back')}
                  {count(counts.inDoubt, 'in doubt', 'in doubt', true)}
                  {checked.missing.length > 0 && (
                    <span className="count warn">
                      <strong>{checked.missing.length}</strong> missing from the list
                    </span>
                  )}
                  {leftOut > 0 && (
                    <span className="count">
                      <strong>{leftOut}</strong> left out
                    </span>
                  )}
                  <Form.Check
                    className="only-doubtful"
                    id="only-doubtful"
                    label="Only rows in doubt"
                    checked={filter === 'in doubt'}
                    onChange={({ target }) => setFilter(target.checked ? 'in doubt' : 'all')}
                  />
                </div>
              )}
            </div>
            {checked ? (
              <>
                <UnderstoodTable
                  shown={shown}
                  checked={rows}
                  lines={understood!.lines}
                  numbered={understood!.parsed.roles.includes('number')}
                  problemOf={(index) => serverProblems.find(({ row }) => row === index)?.sentence}
                  typed={(line, field) => corrections[line]?.row[field]}
                  edit={setEdited}
                  correct={(line, field: RosterField, value) =>
                    correct(line, ({ sameAs, ...before }) => ({
                      ...before,
                      // Said of the name that stood there.
                      ...(sameAs !== undefined && field !== 'last' && field !== 'first' && { sameAs }),
                      row: { ...before.row, [field]: value },
                    }))
                  }
                  leaveOut={(line) => correct(line, (before) => ({ ...before, left: true }))}
                  sayWho={(line, sameAs) => correct(line, (before) => ({ ...before, sameAs }))}
                />
                <MissingStudents missing={checked.missing} leaving={leaving} change={setLeaving} />
              </>
            ) : understood ? (
              <div className="empty">
                <p>
                  This list has {understood.total} rows and one class takes up to 5,000. If it is the list of the whole
                  school, choose on the left which rows are this class.
                </p>
              </div>
            ) : (
              <div className="empty">
                <p>What you paste or choose is shown here at once, row by row, before anything is saved.</p>
                {!table && <Link to={`/class/${opened.id}`}>Back to the class</Link>}
              </div>
            )}
            <footer className="bar" hidden={!table}>
              <Button
                disabled={
                  !checked ||
                  rows.length === 0 ||
                  asks ||
                  counts!.stopping > 0 ||
                  counts!.asking > 0 ||
                  save.isPending ||
                  busy
                }
                onClick={() => save.mutate()}
              >
                {save.isPending ? 'Saving …' : `Save ${rows.length} ${rows.length === 1 ? 'row' : 'rows'}`}
              </Button>
              <Link className="btn btn-link" to={`/class/${opened.id}`}>
                Cancel
              </Link>
              {asks ? (
                <span className="bad" role="status">
                  This list has several addresses for each student: say on the left which are the students’ own.
                </span>
              ) : counts && counts.stopping > 0 ? (
                <span className="bad" role="status">
                  {counts.stopping} {counts.stopping === 1 ? 'row has' : 'rows have'} to be put right first.
                </span>
              ) : counts && counts.asking > 0 ? (
                <span className="bad" role="status">
                  Say first whether {counts.asking === 1 ? 'one row is' : `${counts.asking} rows are`} about somebody
                  who is in the class already.{' '}
                  {counts.asking > 1 && (
                    <Button variant="link" onClick={allSame}>
                      All {counts.asking} are the same people
                    </Button>
                  )}
                </span>
              ) : save.error ? (
                <span className="bad" role="alert">
                  {sentenceOf(save.error)}
                </span>
              ) : (
                <span className="soft">
                  {going
                    ? `${going} ${going === 1 ? 'student leaves' : 'students leave'} the class; their work is kept.`
                    : 'Nobody is removed by saving a list.'}
                </span>
              )}
            </footer>
          </>
        )}
      </section>
    </main>
  )
}
