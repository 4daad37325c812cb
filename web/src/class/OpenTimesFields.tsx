import type { OpenTimes } from '@gavrin/core'
import { Form } from 'react-bootstrap'
import { MomentField } from '../ui/MomentField'

interface Props {
  readonly id: string
  readonly label: string
  readonly times: OpenTimes
  readonly change: (times: OpenTimes) => void
  readonly problem?: string | undefined
}

/** Something that opens and closes by hand, and if wanted by time. */
export function OpenTimesFields({ id, label, times, change, problem }: Props) {
  const field = (key: 'opensAt' | 'closesAt', word: string, usual: string) => (
    <div className="open-time">
      <span className="soft">{word}</span>
      <MomentField settles what={word} at={times[key]} usual={usual} change={(at) => change({ ...times, [key]: at })} />
    </div>
  )
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
