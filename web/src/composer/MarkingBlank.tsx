import type { Marking } from '@gavrin/core'
import { useState } from 'react'
import { Form } from 'react-bootstrap'
import { Blank, BlankChoice } from './Blank'
import { Scales } from './Scales'
import type { WholeProps } from './blanks/slip'

const MARKED = {
  ungraded: 'marked by a remark alone',
  'not marked': 'not marked',
  spaces: 'marked by the points of its answer spaces',
} as const

const markingWords = (marking: Marking) =>
  marking.kind === 'points'
    ? `marked out of ${marking.points}`
    : marking.kind === 'scale'
      ? `marked ${marking.steps[0]} to ${marking.steps.at(-1)}`
      : MARKED[marking.kind]

/** How copies are marked. */
export function MarkingBlank({ statement, facts, change }: WholeProps) {
  const { marking } = statement
  const [steps, setSteps] = useState(
    marking.kind === 'scale' ? marking.steps.join(', ') : 'Very good, Good, Sound, Not yet',
  )
  // What is typed into the fields gives way to a scale that is chosen.
  const [chosen, setChosen] = useState(0)
  const set = (next: Marking) => change({ ...statement, marking: next })
  const read = (text: string) =>
    [
      ...new Set(
        text
          .split(',')
          .map((step) => step.trim())
          .filter(Boolean),
      ),
    ].slice(0, 20)
  const scale = read(steps)
  return (
    <Blank stays label={`Marking: ${markingWords(marking)}`} value={markingWords(marking)}>
      {(['not marked', 'ungraded', 'spaces'] as const).map((kind) => (
        <BlankChoice key={kind} chosen={marking.kind === kind} choose={() => set({ kind })}>
          {MARKED[kind]}
        </BlankChoice>
      ))}
      <BlankChoice
        chosen={marking.kind === 'points'}
        choose={() => set({ kind: 'points', points: marking.kind === 'points' ? marking.points : 10 })}
      >
        marked out of a number of points
      </BlankChoice>
      {marking.kind === 'points' && (
        <div className="blank-find">
          <Form.Control
            size="sm"
            type="number"
            min={1}
            max={10_000}
            step={0.5}
            aria-label="Points"
            value={marking.points}
            onChange={({ target }) => {
              const points = Number(target.value)
              if (points > 0 && points <= 10_000) set({ kind: 'points', points: Math.round(points * 100) / 100 })
            }}
          />
        </div>
      )}
      <BlankChoice
        chosen={marking.kind === 'scale'}
        choose={() => scale.length >= 2 && set({ kind: 'scale', steps: scale })}
      >
        marked by a scale
      </BlankChoice>
      {marking.kind === 'scale' && (
        <div className="blank-find">
          <Form.Control
            size="sm"
            aria-label="Steps of the scale, best first"
            value={steps}
            isInvalid={scale.length < 2}
            onChange={({ target }) => {
              setSteps(target.value)
              const next = read(target.value)
              if (next.length >= 2) set({ kind: 'scale', steps: next })
            }}
          />
          <Form.Control.Feedback type="invalid">
            A scale has two steps at least, with commas between.
          </Form.Control.Feedback>
          <Thresholds key={chosen} marking={marking} set={set} />
          <Scales
            classId={statement.classes[0]?.classId ?? null}
            className={facts.parts[0]?.facts.className ?? ''}
            scale={{ steps: marking.steps, from: marking.from ?? null }}
            use={({ steps: taken, from }) => {
              setSteps(taken.join(', '))
              setChosen(chosen + 1)
              set({ kind: 'scale', steps: taken, ...(from && { from }) })
            }}
          />
        </div>
      )}
    </Blank>
  )
}

/** Per cent as they were typed, falling to 0, one for each step; null: they are not. */
function thresholdsIn(text: string, count: number): number[] | null {
  const read = text
    .split(/[,;\s]+/)
    .filter(Boolean)
    .map(Number)
  const isFalling = read.every((one, at) => Number.isInteger(one) && one <= 100 && (at === 0 || one < read[at - 1]!))
  return read.length === count && isFalling && read.at(-1) === 0 ? read : null
}

/** From how many per cent each step of a scale is reached; without, a step is given by hand. */
function Thresholds({
  marking,
  set,
}: {
  readonly marking: Extract<Marking, { kind: 'scale' }>
  readonly set: (to: Marking) => void
}) {
  const { steps, from } = marking
  const [text, setText] = useState(from?.join(', ') ?? '')
  const isRight = thresholdsIn(text, steps.length) !== null
  return (
    <>
      <Form.Control
        size="sm"
        className="mt-2"
        aria-label="From how many per cent each is reached"
        placeholder={`by hand; or per cent: ${steps.map((_, at) => Math.round(((steps.length - 1 - at) * 100) / steps.length)).join(', ')}`}
        value={text}
        isInvalid={text.trim() !== '' && !isRight}
        onChange={({ target }) => {
          setText(target.value)
          const next = thresholdsIn(target.value, steps.length)
          if (target.value.trim() === '') set({ kind: 'scale', steps })
          else if (next) set({ kind: 'scale', steps, from: next })
        }}
      />
      <Form.Control.Feedback type="invalid">
        One number of per cent for each step, falling, the last one 0.
      </Form.Control.Feedback>
    </>
  )
}
