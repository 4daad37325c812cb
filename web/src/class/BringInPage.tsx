import {
  type CheckedRow,
  type ColumnRole,
  type Delimiter,
  type RosterField,
  type RosterReading,
  type RosterRow,
  checkRoster,
  parseRoster,
} from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useNavigate, useParams } from 'react-router'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { ApiError, api, sentenceOf } from '../ui/api'
import { WindowedTable } from '../ui/WindowedTable'
import { type ClassOpened, type Student, rosterKey, useClass, useRoster } from './queries'
import './class.css'

const ROLES: Record<ColumnRole, string> = {
  last: 'Last name',
  first: 'First name',
  full: 'Whole name',
  email: 'E-mail',
  unused: 'not used',
}
const DELIMITERS: Record<Delimiter, string> = { '\t': 'tabs', ',': 'commas', ';': 'semicolons' }

/** Pasted rows become a roster: seen as understood, corrected in place, then saved. */
export function BringInPage() {
  const { classId = '' } = useParams()
  const opened = useClass(classId)
  const roster = useRoster(classId)
  return (
    <Loaded query={opened}>
      {(found) => <Loaded query={roster}>{(students) => <BringIn opened={found} students={students} />}</Loaded>}
    </Loaded>
  )
}

interface Correction {
  readonly row: Partial<Record<RosterField, string>>
  readonly left?: boolean
}

function BringIn({ opened, students }: { opened: ClassOpened; students: readonly Student[] }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [text, setText] = useState('')
  const [reading, setReading] = useState<RosterReading>({})
  const [corrections, setCorrections] = useState<Readonly<Record<number, Correction>>>({})
  const [onlyDoubtful, setOnlyDoubtful] = useState(false)
  useEffect(() => {
    document.title = `Bring in a list – ${opened.name} – Gavrin`
  }, [opened.name])

  const parsed = useMemo(() => (text.trim() ? parseRoster(text, reading) : null), [text, reading])
  const members = useMemo(() => students.filter(({ leftAt }) => leftAt === null), [students])
  const { rows, lines, checked } = useMemo(() => {
    const entries = parsed?.ok ? parsed.value.entries : []
    const kept = entries.filter(({ line }) => !corrections[line]?.left)
    const corrected = kept.map(({ line, partedByGuess, ...entry }): RosterRow => {
      const correction = corrections[line]?.row ?? {}
      const touched = correction.first !== undefined || correction.last !== undefined
      return { ...entry, ...correction, partedByGuess: partedByGuess && !touched }
    })
    return { rows: corrected, lines: kept.map(({ line }) => line), checked: checkRoster(corrected, members) }
  }, [parsed, corrections, members])

  const save = useMutation({
    mutationFn: () =>
      api.post<unknown>(`classes/${opened.id}/roster`, {
        rows: checked.rows.map(({ row: { first, last, email } }) => ({ first, last, email })),
      }),
    onSuccess: async () => {
      await Promise.all([
        client.invalidateQueries({ queryKey: rosterKey(opened.id) }),
        client.invalidateQueries({ queryKey: ['classes'] }),
      ])
      await navigate(`/class/${opened.id}`)
    },
  })
  const serverProblems = save.error instanceof ApiError ? save.error.errors : []
  const paste = (pasted: string) => {
    setText(pasted)
    setReading({})
    setCorrections({})
    save.reset()
  }
  const correct = (line: number, field: RosterField, value: string) => {
    save.reset()
    setCorrections((before) => ({
      ...before,
      [line]: { ...before[line], row: { ...before[line]?.row, [field]: value } },
    }))
  }
  const leaveOut = (line: number) => {
    save.reset()
    setCorrections((before) => ({ ...before, [line]: { row: before[line]?.row ?? {}, left: true } }))
  }
  const leftOut = Object.values(corrections).filter(({ left }) => left).length
  const { counts } = checked
  const shown = rows.map((_, index) => index).filter((index) => !onlyDoubtful || checked.rows[index]!.doubts.length > 0)

  return (
    <main className="split">
      <section className="split-side bring-in-text">
        <h1>Bring in a list</h1>
        <p className="soft">
          for {opened.name}, {opened.subject}
        </p>
        <Form.Label htmlFor="pasted">Paste the rows from your spreadsheet</Form.Label>
        <textarea
          id="pasted"
          className="form-control paste-field"
          spellCheck={false}
          autoFocus
          dir="auto"
          value={text}
          placeholder={'Last name\tFirst name\tE-mail\nAbara\tChidi\tchidi@fennickquay.example'}
          onChange={({ target }) => paste(target.value)}
        />
        {parsed && !parsed.ok && <Notice kind="bad">{parsed.problems[0]!.sentence}</Notice>}
        {parsed?.ok && (
          <div className="reading">
            <Form.Group controlId="delimiter">
              <Form.Label>Cells are parted by</Form.Label>
              <Form.Select
                size="sm"
                value={parsed.value.delimiter}
                onChange={({ target }) => setReading({ delimiter: target.value as Delimiter })}
              >
                {Object.entries(DELIMITERS).map(([value, word]) => (
                  <option key={value} value={value}>
                    {word}
                  </option>
                ))}
              </Form.Select>
            </Form.Group>
            <Form.Check
              id="has-header"
              label="The first row is a header"
              checked={parsed.value.hasHeader}
              onChange={({ target }) => setReading({ ...reading, hasHeader: target.checked })}
            />
            <table className="columns-read">
              <caption>Columns</caption>
              <tbody>
                {parsed.value.roles.map((role, column) => (
                  <tr key={column}>
                    <th scope="row">{parsed.value.headings[column]}</th>
                    <td>
                      <Form.Select
                        size="sm"
                        aria-label={`Column ${parsed.value.headings[column]} holds`}
                        value={role}
                        onChange={({ target }) => {
                          const chosen = target.value as ColumnRole
                          const roles = parsed.value.roles.map((other, index) =>
                            index === column ? chosen : other === chosen && chosen !== 'unused' ? 'unused' : other,
                          )
                          setReading({ delimiter: parsed.value.delimiter, hasHeader: parsed.value.hasHeader, roles })
                        }}
                      >
                        {Object.entries(ROLES).map(([value, word]) => (
                          <option key={value} value={value}>
                            {word}
                          </option>
                        ))}
                      </Form.Select>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </section>
      <section className="split-main">
        <div className="understood-head">
          <h2>Understood</h2>
          {parsed?.ok && (
            <div className="counts" role="status">
              <Count value={counts.new} word="new" />
              <Count value={counts.changed} word="changed" />
              <Count value={counts.unchanged} word="as before" />
              <Count value={counts.inDoubt} word="in doubt" kind={counts.inDoubt ? 'warn' : undefined} />
              {leftOut > 0 && <Count value={leftOut} word="left out" />}
              <Form.Check
                className="only-doubtful"
                id="only-doubtful"
                label="Only rows in doubt"
                checked={onlyDoubtful}
                onChange={({ target }) => setOnlyDoubtful(target.checked)}
              />
            </div>
          )}
        </div>
        {parsed?.ok ? (
          <UnderstoodTable
            shown={shown}
            checked={checked.rows}
            lines={lines}
            problemOf={(index) => serverProblems.find(({ row }) => row === index)?.sentence}
            correct={correct}
            leaveOut={leaveOut}
          />
        ) : (
          <div className="empty">
            <p>What you paste is shown here at once, row by row, before anything is saved.</p>
          </div>
        )}
        <footer className="bar">
          <Button
            disabled={!parsed?.ok || rows.length === 0 || counts.stopping > 0 || save.isPending}
            onClick={() => save.mutate()}
          >
            {save.isPending ? 'Saving …' : `Save ${rows.length} ${rows.length === 1 ? 'row' : 'rows'}`}
          </Button>
          <Link className="btn btn-link" to={`/class/${opened.id}`}>
            Cancel
          </Link>
          {counts.stopping > 0 ? (
            <span className="bad" role="status">
              {counts.stopping} {counts.stopping === 1 ? 'row has' : 'rows have'} to be put right first.
            </span>
          ) : save.error ? (
            <span className="bad" role="alert">
              {sentenceOf(save.error)}
            </span>
          ) : (
            <span className="soft">Nobody is removed by saving a list.</span>
          )}
        </footer>
      </section>
    </main>
  )
}

function Count({ value, word, kind }: { value: number; word: string; kind?: 'warn' | undefined }) {
  return (
    <span className={kind ? `count ${kind}` : 'count'}>
      <strong>{value}</strong> {word}
    </span>
  )
}

const ROW = 40

function UnderstoodTable({
  shown,
  checked,
  lines,
  problemOf,
  correct,
  leaveOut,
}: {
  shown: readonly number[]
  checked: readonly CheckedRow[]
  lines: readonly number[]
  problemOf: (index: number) => string | undefined
  correct: (line: number, field: RosterField, value: string) => void
  leaveOut: (line: number) => void
}) {
  return (
    <WindowedTable
      className="understood"
      count={shown.length}
      rowHeight={ROW}
      head={
        <>
          <th scope="col" className="n">
            Row
          </th>
          <th scope="col">Last name</th>
          <th scope="col">First name</th>
          <th scope="col">E-mail</th>
          <th scope="col">In doubt</th>
          <th scope="col">
            <span className="visually-hidden">Leave out</span>
          </th>
        </>
      }
      row={(place) => {
        const index = shown[place]!
        const { row, doubts, effect } = checked[index]!
        const line = lines[index]!
        const server = problemOf(index)
        const stops = server !== undefined || doubts.some((doubt) => doubt.stops)
        return (
          <tr key={line} className={stops ? 'row-stops' : doubts.length ? 'row-doubt' : undefined}>
            <td className="n soft">{index + 1}</td>
            {(['last', 'first', 'email'] as const).map((field) => {
              const doubt = doubts.find((found) => found.field === field)
              return (
                <td key={field} className={doubt ? (doubt.stops ? 'cell-stops' : 'cell-doubt') : undefined}>
                  <input
                    dir="auto"
                    className="cell-field"
                    aria-label={`${ROLES[field]}, row ${index + 1}`}
                    aria-invalid={doubt?.stops ?? false}
                    value={row[field]}
                    onChange={({ target }) => correct(line, field, target.value)}
                  />
                </td>
              )
            })}
            <td className="doubts">
              {server ? <div className="bad">{server}</div> : null}
              {doubts.map((doubt) => (
                <div key={doubt.code} className={doubt.stops ? 'bad' : 'warn'}>
                  {doubt.sentence}
                </div>
              ))}
              {!server && doubts.length === 0 && (
                <span className="soft">{effect === 'unchanged' ? 'as before' : effect}</span>
              )}
            </td>
            <td>
              <Button size="sm" variant="link" onClick={() => leaveOut(line)} aria-label={`Leave out row ${index + 1}`}>
                Leave out
              </Button>
            </td>
          </tr>
        )
      }}
    />
  )
}
