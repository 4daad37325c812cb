import { fullName } from '@gavrin/core'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Student } from './queries'

interface Props {
  readonly label: string
  readonly students: readonly Student[]
  readonly first: readonly string[]
  /** Called at every tick. */
  readonly change?: (ids: readonly string[]) => void
  /** With these the choice is kept by a button. */
  readonly done?: string
  readonly keep?: (ids: readonly string[]) => Promise<void>
  readonly cancel?: () => void
}

/** Chooses some students of a class. */
export function StudentTicks({ label, students, first, change, done, keep, cancel }: Props) {
  const [ids, setIds] = useState<readonly string[]>(first)
  const toggle = (id: string) => {
    const next = ids.includes(id) ? ids.filter((other) => other !== id) : [...ids, id]
    setIds(next)
    change?.(next)
  }
  return (
    <fieldset className="student-ticks">
      <legend>{label}</legend>
      <div className="student-ticks-list">
        {students.map((student) => (
          <Form.Check
            key={student.personId}
            id={`tick-${label.replaceAll(' ', '-')}-${student.personId}`}
            label={<bdi>{fullName(student)}</bdi>}
            checked={ids.includes(student.personId)}
            onChange={() => toggle(student.personId)}
          />
        ))}
      </div>
      {keep && (
        <div>
          <Button size="sm" disabled={ids.length === 0} onClick={() => void keep(ids)}>
            {done} {ids.length}
          </Button>{' '}
          <Button size="sm" variant="link" onClick={cancel}>
            Cancel
          </Button>
        </div>
      )}
    </fieldset>
  )
}
