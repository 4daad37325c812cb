import { extraMinutes, fullName } from '@gavrin/core'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useClass, useRoster } from '../class/queries'
import { sentenceOf } from '../ui/api'
import { type ExtraTimes, type ExtraTimeWish, useKeepExtraTime } from './queries'
import { MORE_TIME, percentInWords } from './words'

interface Props {
  readonly classId: string
  readonly extra: ExtraTimes
  /** How long all the others have; 0: it is not said. */
  readonly minutes: number
  readonly on: boolean
  readonly setOn: (on: boolean) => void
}

const asWish = ({ of, percent }: ExtraTimes['rules'][number]): ExtraTimeWish =>
  of.kind === 'student' ? { personId: of.personId, percent } : { columnId: of.columnId, is: of.is, percent }

/** Who of the class has extra time: kept with the class, and proposed each time. */
export function ExtraTimeLines({ classId, extra, minutes, on, setOn }: Props) {
  const columns = useClass(classId).data?.columns ?? []
  const students = (useRoster(classId).data ?? []).filter(({ leftAt }) => leftAt === null)
  const keep = useKeepExtraTime(classId)
  const [who, setWho] = useState('')
  const [percent, setPercent] = useState(25)
  const values = columns.flatMap(({ id, name }) =>
    [...new Set(students.map(({ cells }) => cells[id] ?? ''))]
      .filter(Boolean)
      .slice(0, 24)
      .map((is) => ({ key: JSON.stringify([id, is]), label: `${name}: ${is}`, wish: { columnId: id, is } })),
  )
  const known = extra.rules.map(asWish)
  const names = new Map(students.map((student) => [student.personId, fullName(student)]))
  const about = ({ of }: ExtraTimes['rules'][number]) =>
    of.kind === 'student'
      ? (names.get(of.personId) ?? 'Somebody who left')
      : `${columns.find(({ id }) => id === of.columnId)?.name ?? 'A column that is gone'}: ${of.is}`
  const add = () => {
    const chosen = values.find(({ key }) => key === who)?.wish ?? (names.has(who) ? { personId: who } : null)
    if (chosen) keep.mutate([...known, { ...chosen, percent }], { onSuccess: () => setWho('') })
  }
  return (
    <section className="extra-time" aria-label="Extra time">
      {known.length > 0 && (
        <>
          <Form.Check
            type="checkbox"
            id="extra-time-on"
            label="More time for those who have it"
            checked={on}
            onChange={({ target }) => setOn(target.checked)}
          />
          <ul>
            {extra.rules.map((rule, at) => (
              <li key={JSON.stringify(rule)}>
                <bdi>{about(rule)}</bdi>{' '}
                <span className="soft">
                  {percentInWords(rule.percent)}
                  {minutes > 0 && `, ${extraMinutes(minutes, rule.percent)} min`}
                </span>{' '}
                <Button
                  size="sm"
                  variant="link"
                  aria-label={`No extra time for ${about(rule)}`}
                  disabled={keep.isPending}
                  onClick={() => keep.mutate(known.toSpliced(at, 1))}
                >
                  Take away
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
      <p className="soft extra-time-about">Extra time is kept with the class, and proposed each time.</p>
      <div className="extra-time-new">
        <Form.Select
          size="sm"
          aria-label="Who has extra time"
          value={who}
          onChange={({ target }) => setWho(target.value)}
        >
          <option value="">More time for …</option>
          {values.length > 0 && (
            <optgroup label="All of a kind">
              {values.map(({ key, label }) => (
                <option key={key} value={key}>
                  {label}
                </option>
              ))}
            </optgroup>
          )}
          <optgroup label="One student">
            {students.map((student) => (
              <option key={student.personId} value={student.personId}>
                {fullName(student)}
              </option>
            ))}
          </optgroup>
        </Form.Select>
        <Form.Select
          size="sm"
          aria-label="How much more"
          value={percent}
          onChange={({ target }) => setPercent(Number(target.value))}
        >
          {MORE_TIME.map((one) => (
            <option key={one.percent} value={one.percent}>
              {one.words}
            </option>
          ))}
        </Form.Select>
        <Button size="sm" variant="outline-dark" disabled={!who || keep.isPending} onClick={add}>
          Add
        </Button>
      </div>
      {keep.error && (
        <p className="bad" role="alert">
          {sentenceOf(keep.error)}
        </p>
      )}
    </section>
  )
}
