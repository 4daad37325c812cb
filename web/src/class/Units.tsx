import { mayInClass } from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Notice } from '../ui/Notice'
import { ApiError, api, sentenceOf } from '../ui/api'
import { type ClassOpened, type Unit, classKey } from './queries'
import type { Bodies } from '../contract'

/** The units of a class, in the order they are taught. */
export function Units({ opened }: { readonly opened: ClassOpened }) {
  const client = useQueryClient()
  const may = mayInClass(opened.role, 'set up the class', opened.archived).may
  const [fresh, setFresh] = useState('')
  const [problem, setProblem] = useState<string | null>(null)
  const [before, setBefore] = useState<readonly Unit[] | null>(null)
  const keep = async (units: readonly Unit[], undoable = true) => {
    try {
      await api.put(`classes/${opened.id}/units`, { units } satisfies Bodies['PUT classes/{classId}/units'])
      setProblem(null)
      setBefore(undoable ? opened.units : null)
      await client.invalidateQueries({ queryKey: classKey(opened.id), exact: true })
      return true
    } catch (error) {
      setProblem((error instanceof ApiError && error.errors[0]?.sentence) || sentenceOf(error))
      return false
    }
  }
  const move = (from: number, to: number) => {
    const units = [...opened.units]
    const [unit] = units.splice(from, 1)
    units.splice(to, 0, unit!)
    void keep(units)
  }
  const add = async (event: SubmitEvent) => {
    event.preventDefault()
    if (await keep([...opened.units, { name: fresh }])) setFresh('')
  }
  return (
    <section aria-labelledby="units-title">
      <h2 id="units-title">Units</h2>
      <ol className="units">
        {opened.units.map((unit, at) => (
          <li key={unit.id}>
            <UnitName
              key={unit.name}
              name={unit.name}
              may={may}
              keep={(name) => keep(opened.units.map((other) => (other === unit ? { ...unit, name } : other)))}
            />
            {may && (
              <span>
                <Button
                  size="sm"
                  variant="link"
                  disabled={at === 0}
                  aria-label={`Up: ${unit.name}`}
                  onClick={() => move(at, at - 1)}
                >
                  Up
                </Button>
                <Button
                  size="sm"
                  variant="link"
                  disabled={at === opened.units.length - 1}
                  aria-label={`Down: ${unit.name}`}
                  onClick={() => move(at, at + 1)}
                >
                  Down
                </Button>
                <Button
                  size="sm"
                  variant="link"
                  aria-label={`Take away: ${unit.name}`}
                  onClick={() => void keep(opened.units.filter((other) => other !== unit))}
                >
                  Take away
                </Button>
              </span>
            )}
          </li>
        ))}
      </ol>
      {opened.units.length === 0 && <p className="soft">No units yet: name the first one.</p>}
      {may && (
        <Form className="add-unit" onSubmit={(event) => void add(event)} noValidate>
          <Form.Control
            size="sm"
            aria-label="Name of a new unit"
            placeholder="Name of a new unit"
            value={fresh}
            isInvalid={!!problem}
            onChange={({ target }) => {
              setFresh(target.value)
              setProblem(null)
            }}
          />
          <Button size="sm" type="submit" variant="outline-dark">
            Add
          </Button>
          {before && (
            <Button size="sm" variant="link" onClick={() => void keep(before, false)}>
              Undo
            </Button>
          )}
        </Form>
      )}
      {problem && <Notice kind="bad">{problem}</Notice>}
    </section>
  )
}

function UnitName({ name, may, keep }: { name: string; may: boolean; keep: (name: string) => Promise<boolean> }) {
  const [typed, setTyped] = useState(name)
  const done = () => {
    if (typed !== name) void keep(typed).then((kept) => !kept && setTyped(name))
  }
  if (!may) return <span>{name}</span>
  return (
    <input
      className="unit-name"
      aria-label={`Name of the unit ${name}`}
      value={typed}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={done}
      onKeyDown={({ key, currentTarget }) => {
        if (key === 'Enter') currentTarget.blur()
        if (key === 'Escape') setTyped(name)
      }}
    />
  )
}
