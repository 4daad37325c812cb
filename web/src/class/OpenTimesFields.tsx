import type { OpenTimes } from '@gavrin/core'
import { Form } from 'react-bootstrap'
import { fieldsOf, fromFields } from '../ui/time'

interface Props {
  readonly id: string
  readonly label: string
  readonly times: OpenTimes
  readonly change: (times: OpenTimes) => void
  readonly problem?: string | undefined
}

/** Something that opens and closes by hand, and if wanted by time. */
export function OpenTimesFields({ id, label, times, change, problem }: Props) {
  const field = (key: 'opensAt' | 'closesAt', word: string, first: string) => {
    const at = times[key]
    const shown = at === null ? { date: '', time: '' } : fieldsOf(at)
    return (
      <div className="open-time">
        <span className="soft">{word}</span>
        <Form.Control
          size="sm"
          type="date"
          aria-label={`${word} on`}
          value={shown.date}
          onChange={({ target }) => change({ ...times, [key]: fromFields(target.value, shown.time || first) })}
        />
        <Form.Control
          size="sm"
          type="time"
          aria-label={`${word} at`}
          disabled={at === null}
          value={shown.time}
          onChange={({ target }) => change({ ...times, [key]: fromFields(shown.date, target.value) })}
        />
      </div>
    )
  }
  return (
    <>
      <Form.Check
        type="switch"
        id={`${id}-open`}
        label={label}
        checked={times.open}
        onChange={({ target }) => change({ ...times, open: target.checked })}
      />
      {times.open && (
        <div className="open-times">
          {field('opensAt', 'opens', '08:00')}
          {field('closesAt', 'closes', '16:00')}
          {problem && (
            <div className="bad" role="alert">
              {problem}
            </div>
          )}
          <span className="soft">Empty: at once, and until it is closed by hand.</span>
        </div>
      )}
    </>
  )
}
