import { type RubricRow, foldText, fullName } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Dropdown, Form } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { SaveTableMenu } from '../ui/SaveTableMenu'
import { api, sentenceOf } from '../ui/api'
import { newUuid } from '../ui/newUuid'
import { OVER_PAGE } from '../ui/overPage'
import { RubricFromTable } from './RubricFromTable'

type Kept = Answers['GET rubrics'][number]
type Whole = Answers['GET rubrics/{rubricId}']

const KEY = ['rubrics']
/** From so many on there is a field to find one. */
const MANY = 8

interface Props {
  readonly rows: readonly RubricRow[]
  readonly put: (rows: readonly RubricRow[]) => void
}

const renamed = (rows: readonly RubricRow[]): RubricRow[] =>
  rows.map((row) => ({
    ...row,
    id: newId(),
    ...(row.levels && { levels: row.levels.map((level) => ({ ...level, id: newId() })) }),
  }))
const newId = () => newUuid().slice(0, 8)

/** Rubrics that are kept, one's own and those that colleagues share: to be used, kept, read from a table, saved as one. */
export function RubricMenu({ rows, put }: Props) {
  const client = useQueryClient()
  const [isOpen, setOpen] = useState(false)
  const [find, setFind] = useState('')
  const [name, setName] = useState('')
  const [shared, setShared] = useState(false)
  const [isTable, setTable] = useState(false)
  const [before, setBefore] = useState<readonly RubricRow[] | null>(null)
  const kept = useQuery({ queryKey: KEY, queryFn: () => api.get<Kept[]>('rubrics'), enabled: isOpen })
  const renew = () => client.invalidateQueries({ queryKey: KEY })
  const own = kept.data?.find((one) => one.by === null && one.name === name.trim())
  const keep = useMutation({
    mutationFn: () =>
      api.put(`rubrics/${own?.id ?? newUuid()}`, {
        name,
        rows: [...rows],
        shared,
      } satisfies Bodies['PUT rubrics/{rubricId}']),
    onSuccess: () => setName(''),
    onSettled: renew,
  })
  // Its rows are asked for first: taken out, it can be put back.
  const remove = useMutation({
    mutationFn: async ({ id }: Kept) => {
      const whole = await api.get<Whole>(`rubrics/${id}`)
      await api.delete(`rubrics/${id}`)
      return { id, ...whole }
    },
    onSettled: renew,
  })
  const bringBack = useMutation({
    mutationFn: ({ id, name: called, rows: kept_, shared: wasShared }: Whole & { readonly id: string }) =>
      api.put(`rubrics/${id}`, {
        ...{ name: called, rows: [...kept_], shared: wasShared },
      } satisfies Bodies['PUT rubrics/{rubricId}']),
    onSuccess: () => remove.reset(),
    onSettled: renew,
  })
  const fetch = useMutation({
    mutationFn: ({ id }: Kept) => api.get<Whole>(`rubrics/${id}`),
    onSuccess: ({ rows: taken }) => take(taken),
  })
  const take = (taken: readonly RubricRow[]) => {
    // Rows of its own: who changes them here changes nothing of what is kept.
    setBefore(rows)
    put(renamed(taken))
  }
  const all = kept.data ?? []
  const shown = all.filter((one) => foldText(one.name).includes(foldText(find)))
  const trouble = keep.error ?? fetch.error ?? remove.error ?? bringBack.error
  return (
    <>
      <Dropdown autoClose="outside" className="rubric-menu" show={isOpen} onToggle={setOpen}>
        <Dropdown.Toggle variant="link" size="sm">
          Rubrics
        </Dropdown.Toggle>
        <Dropdown.Menu className="blank-menu" popperConfig={OVER_PAGE}>
          {all.length >= MANY && (
            <div className="blank-find">
              <Form.Control
                size="sm"
                type="search"
                aria-label="Find a rubric"
                placeholder="Find a rubric"
                value={find}
                onChange={({ target }) => setFind(target.value)}
              />
            </div>
          )}
          {shown.map((one) => (
            <div key={one.id} className="recipe-line">
              <button type="button" className="btn btn-link btn-sm" onClick={() => fetch.mutate(one)}>
                <bdi>{one.name}</bdi>{' '}
                <span className="soft">
                  {one.count} {one.count === 1 ? 'row' : 'rows'}
                  {one.by ? ` · ${fullName(one.by)}` : one.shared ? ' · shared' : ''}
                </span>
              </button>
              {one.by === null && (
                <Button
                  variant="link"
                  size="sm"
                  aria-label={`Take the rubric ${one.name} out of those you keep`}
                  onClick={() => remove.mutate(one)}
                >
                  ×
                </Button>
              )}
            </div>
          ))}
          {kept.data?.length === 0 && (
            <div className="blank-empty soft">Rubrics that you keep, or that colleagues share, stand here.</div>
          )}
          {all.length > 0 && shown.length === 0 && <div className="blank-empty soft">None is called that.</div>}
          {remove.isSuccess && (
            <div className="blank-empty soft" role="status">
              <bdi>{remove.variables.name}</bdi> is taken out.{' '}
              <Button variant="link" size="sm" onClick={() => bringBack.mutate(remove.data)}>
                Undo
              </Button>
            </div>
          )}
          {before !== null && (
            <div className="blank-empty soft" role="status">
              {before.length > 0 ? 'It took the place of the rubric that was here.' : 'It is in the slip now.'}{' '}
              <Button
                variant="link"
                size="sm"
                onClick={() => {
                  put(before)
                  setBefore(null)
                }}
              >
                Undo
              </Button>
            </div>
          )}
          <Dropdown.Divider />
          <Dropdown.Item
            as="button"
            type="button"
            onClick={() => {
              setOpen(false)
              setTable(true)
            }}
          >
            From a table …
          </Dropdown.Item>
          {rows.length > 0 && (
            <form
              className="blank-find rubric-keep"
              onSubmit={(event) => {
                event.preventDefault()
                keep.mutate()
              }}
            >
              <div className="recipe-new">
                <Form.Control
                  size="sm"
                  aria-label="Name of this rubric, to keep it"
                  placeholder="Keep this rubric as …"
                  maxLength={80}
                  value={name}
                  onChange={({ target }) => setName(target.value)}
                />
                <Button type="submit" size="sm" variant="outline-dark" disabled={!name.trim() || keep.isPending}>
                  {own ? 'Replace' : 'Keep'}
                </Button>
              </div>
              <Form.Check
                id="rubric-shared"
                label="Colleagues may use it too"
                checked={shared}
                onChange={({ target }) => setShared(target.checked)}
              />
              <div>
                <SaveTableMenu path="rubrics/out" body={{ name: name.trim() || 'Rubric', rows }} />
              </div>
            </form>
          )}
          {trouble && <div className="blank-empty bad">{sentenceOf(trouble)}</div>}
        </Dropdown.Menu>
      </Dropdown>
      {isTable && <RubricFromTable close={() => setTable(false)} takesPlace={rows.length > 0} put={take} />}
    </>
  )
}
