import type { ReactNode } from 'react'
import { Button, Dropdown } from 'react-bootstrap'
import { FindField } from '../ui/FindField'
import { Menu } from '../ui/Menu'
import type { BoardColumn } from './boardColumns'
import { type Only, onlyInWords } from './useBoardView'

const VIEWS = [
  { view: 'table', label: 'Table' },
  { view: 'answers', label: 'Answer grid' },
  { view: 'students', label: 'By student' },
  { view: 'time', label: 'Over time' },
] as const

const FIRST: readonly Only[] = [
  { is: 'not begun' },
  { is: 'asks' },
  { is: 'late writing' },
  { is: 'new' },
  { is: 'pens down' },
]

interface Props {
  readonly view: (typeof VIEWS)[number]['view']
  readonly setView: (view: (typeof VIEWS)[number]['view']) => void
  /** What is said of the copies, in short. */
  readonly said: readonly (string | false)[]
  readonly find: string
  readonly setFind: (find: string) => void
  readonly only: Only | null
  readonly setOnly: (only: Only | null) => void
  /** What stands in the columns of the roster, and which groups there are. */
  readonly values: readonly { readonly field: string; readonly label: string; readonly values: readonly string[] }[]
  readonly columns: readonly BoardColumn[]
  readonly wished: readonly string[]
  readonly setWished: (keys: readonly string[]) => void
  /** How many rows stand elsewhere than they would if they were chosen and sorted now. */
  readonly moved: number
  readonly anew: () => void
  /** Whether each who shares a copy is a row; null: nobody shares one. */
  readonly byPerson: boolean | null
  readonly setByPerson: (on: boolean) => void
  readonly save: ReactNode
}

/** What stands between the strip of a board and its rows: how it is looked at, finding, what is shown of it. */
export function BoardTools(props: Props) {
  const {
    view,
    setView,
    said,
    find,
    setFind,
    only,
    setOnly,
    values,
    columns,
    wished,
    setWished,
    moved,
    anew,
    byPerson,
    setByPerson,
    save,
  } = props
  const isChosen = find !== '' || only !== null
  return (
    <div className="table-tools board-tools">
      <div className="views" role="group" aria-label="Looked at as">
        {VIEWS.map((one) => (
          <button key={one.view} type="button" aria-pressed={view === one.view} onClick={() => setView(one.view)}>
            {one.label}
          </button>
        ))}
      </div>
      <span className="soft board-said">{said.filter(Boolean).join(' · ')}</span>
      <span className="tools-end">
        {moved > 0 && (
          <Button size="sm" variant="link" onClick={anew}>
            {moved} changed: {isChosen ? 'choose' : 'sort'} anew
          </Button>
        )}
        <FindField label="Find a copy" value={find} change={setFind} />
        {view === 'students' ? null : only ? (
          <Button size="sm" variant="outline-dark" onClick={() => setOnly(null)}>
            {onlyInWords(only)} <span aria-hidden="true">×</span>
            <span className="visually-hidden">Show all again</span>
          </Button>
        ) : (
          <Menu label="Only" small align="end">
            {FIRST.map((one) => (
              <Dropdown.Item key={one.is} as="button" type="button" onClick={() => setOnly(one)}>
                {onlyInWords(one)}
              </Dropdown.Item>
            ))}
            {values.map(({ field, label, values: each }) => (
              <div key={field}>
                <Dropdown.Header>{label}</Dropdown.Header>
                {each.map((value) => (
                  <Dropdown.Item
                    key={value}
                    as="button"
                    type="button"
                    onClick={() => setOnly({ is: 'value', field, label, value })}
                  >
                    {value || <em>nothing</em>}
                  </Dropdown.Item>
                ))}
              </div>
            ))}
          </Menu>
        )}
        {byPerson !== null && (
          <Button size="sm" variant="outline-dark" aria-pressed={byPerson} onClick={() => setByPerson(!byPerson)}>
            Who wrote
          </Button>
        )}
        {view === 'table' && (
          <Menu label="Columns" small align="end">
            {columns.map(({ key, label }) => (
              <Dropdown.Item
                key={key}
                as="button"
                type="button"
                aria-pressed={wished.includes(key)}
                onClick={(event) => {
                  event.stopPropagation()
                  setWished(wished.includes(key) ? wished.filter((other) => other !== key) : [...wished, key])
                }}
              >
                <span className="menu-check" aria-hidden="true">
                  {wished.includes(key) ? '✓' : ''}
                </span>
                {label}
              </Dropdown.Item>
            ))}
          </Menu>
        )}
        {save}
      </span>
    </div>
  )
}
