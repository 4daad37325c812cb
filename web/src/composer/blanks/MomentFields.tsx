import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { fieldsOf, fromFields } from '../../ui/time'

interface Props {
  /** What the moment is of: "Opens", "Due". */
  readonly what: string
  readonly whose: string
  /** The time of day to begin with, as "16:00". */
  readonly usual: string
  /** Milliseconds since 1970; null: none of its own. */
  readonly at: number | null
  readonly change: (at: number | null) => void
}

/** A day and a time in one line; emptying the day takes the moment away. */
export function MomentFields({ what, whose, usual, at, change }: Props) {
  const [typed, setTyped] = useState(at === null ? { date: '', time: usual } : fieldsOf(at))
  const set = (next: { date: string; time: string }) => {
    setTyped(next)
    const moment = next.date ? fromFields(next.date, next.time) : null
    if (moment !== null) change(moment)
  }
  return (
    <div className="moment-fields">
      <span>{what}</span>
      <Form.Control
        size="sm"
        type="date"
        aria-label={`${what}: day for ${whose}`}
        value={typed.date}
        onChange={({ target }) => set({ ...typed, date: target.value })}
        // While a day is being typed it is empty for the field, too: only leaving it so means none.
        onBlur={({ target }) => {
          if (target.value === '' && !target.validity.badInput && at !== null) change(null)
        }}
      />
      <Form.Control
        size="sm"
        type="time"
        aria-label={`${what}: time for ${whose}`}
        value={typed.time}
        onChange={({ target }) => set({ ...typed, time: target.value })}
      />
    </div>
  )
}
