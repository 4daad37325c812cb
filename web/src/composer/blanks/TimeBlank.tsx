import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { fieldsOf, fromFields, timeInWords } from '../../ui/time'
import { Blank, BlankChoice } from '../Blank'

interface Props {
  /** What the time is of: "Due", "Open". */
  readonly what: string
  readonly at: number | null
  /** What no time means. */
  readonly none: string
  /** The time of day to begin with, as "16:00". */
  readonly usual: string
  readonly change: (at: number | null) => void
}

/** A day and a time, or none. */
export function TimeBlank({ what, at, none, usual, change }: Props) {
  const [typed, setTyped] = useState(at === null ? { date: '', time: usual } : fieldsOf(at))
  const set = (next: { date: string; time: string }) => {
    setTyped(next)
    const moment = fromFields(next.date, next.time)
    if (moment !== null && next.date) change(moment)
  }
  const id = what.toLowerCase().replace(/[^a-z]+/g, '-')
  const words = at === null ? none : timeInWords(at)
  return (
    <Blank stays label={`${what}: ${words}`} value={words}>
      <div className="due-fields">
        <Form.Group controlId={`${id}-date`}>
          <Form.Label>Day</Form.Label>
          <Form.Control
            size="sm"
            type="date"
            value={typed.date}
            onChange={({ target }) => set({ ...typed, date: target.value })}
          />
        </Form.Group>
        <Form.Group controlId={`${id}-time`}>
          <Form.Label>Time</Form.Label>
          <Form.Control
            size="sm"
            type="time"
            value={typed.time}
            onChange={({ target }) => set({ ...typed, time: target.value })}
          />
        </Form.Group>
      </div>
      <BlankChoice chosen={at === null} choose={() => change(null)}>
        {none}
      </BlankChoice>
    </Blank>
  )
}
