import { type CoverNote, type Marking, type RubricRow, noteStart, plainNote } from '@gavrin/core'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Blank, BlankChoice } from './Blank'
import { NoteField } from './NoteField'
import { type WholeProps, columnNames } from './blanks/slip'

/** The cover note and how it is marked. */
export function MoreLines(props: WholeProps) {
  return (
    <div className="more-lines">
      <div className="sentence">
        Cover note: <CoverBlank {...props} />. It is <MarkingBlank {...props} />.
      </div>
      <CoverPart {...props} />
      <Rubric {...props} />
      <LateDeduction {...props} />
    </div>
  )
}

const GREETING = {
  type: 'doc' as const,
  content: [
    {
      type: 'paragraph',
      content: [
        { type: 'text', text: 'Dear ' },
        { type: 'nameToken', attrs: { token: 'first' } },
        { type: 'text', text: ',' },
      ],
    },
    { type: 'paragraph' },
  ],
}

function CoverBlank({ statement, change }: WholeProps) {
  const { cover } = statement
  const set = (by: CoverNote['by'] | null) =>
    change({
      ...statement,
      cover: by && { text: cover?.text ?? GREETING, staffCopied: cover?.staffCopied ?? false, by },
    })
  const words = cover ? `${cover.by === 'mail' ? 'by mail' : 'on their desk'}: “${noteStart(cover.text, 24)}”` : 'none'
  return (
    <Blank label={`Cover note: ${words}`} value={words}>
      <BlankChoice chosen={!cover} choose={() => set(null)}>
        none
      </BlankChoice>
      <BlankChoice chosen={cover?.by === 'mail'} choose={() => set('mail')}>
        by mail <span className="soft">and on their desk; who has no e-mail reads it there</span>
      </BlankChoice>
      <BlankChoice chosen={cover?.by === 'here'} choose={() => set('here')}>
        on their desk <span className="soft">beside the copy, no mail</span>
      </BlankChoice>
    </Blank>
  )
}

function CoverPart({ statement, facts, change }: WholeProps) {
  const { cover } = statement
  if (!cover) return null
  return (
    <div className="slip-part">
      <NoteField
        id="cover"
        label="Cover note"
        value={cover.text}
        columns={columnNames(facts)}
        withTokens
        change={(text) => change({ ...statement, cover: { ...cover, text: text ?? plainNote('') } })}
      />
      <Form.Check
        id="staff-copied"
        label="The staff of the class get every one too"
        checked={cover.staffCopied}
        onChange={({ target }) => change({ ...statement, cover: { ...cover, staffCopied: target.checked } })}
      />
    </div>
  )
}

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

function MarkingBlank({ statement, change }: WholeProps) {
  const { marking } = statement
  const [steps, setSteps] = useState(
    marking.kind === 'scale' ? marking.steps.join(', ') : 'Very good, Good, Sound, Not yet',
  )
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
          <Thresholds marking={marking} set={set} />
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

function Rubric({ statement, change }: WholeProps) {
  const { rubric, marking } = statement
  const set = (rows: readonly RubricRow[]) => change({ ...statement, rubric: rows })
  const add = () => set([...rubric, { id: crypto.randomUUID().slice(0, 8), name: '', points: 1 }])
  if (rubric.length === 0)
    return marking.kind === 'ungraded' || marking.kind === 'not marked' ? null : (
      <Button variant="link" size="sm" onClick={add}>
        Add a rubric
      </Button>
    )
  const sum = rubric.reduce((total, { points }) => total + points, 0)
  const alter = (id: string, alteration: Partial<RubricRow>) =>
    set(rubric.map((row) => (row.id === id ? { ...row, ...alteration } : row)))
  return (
    <div className="slip-part rubric">
      {rubric.map(({ id, name, points, levels = [] }, at) => (
        <div key={id} className="rubric-row">
          <Form.Control
            size="sm"
            aria-label={`Row ${at + 1} of the rubric`}
            placeholder="What is looked at"
            maxLength={200}
            value={name}
            onChange={({ target }) => alter(id, { name: target.value })}
          />
          <Form.Control
            size="sm"
            type="number"
            min={0}
            max={10_000}
            aria-label={`Points of row ${at + 1}`}
            value={points}
            onChange={({ target }) => {
              const most = Math.max(0, Math.min(10_000, Number(target.value) || 0))
              alter(id, {
                points: most,
                ...(levels.length > 0 && { levels: levels.filter((one) => one.points <= most) }),
              })
            }}
          />
          <Button
            variant="link"
            size="sm"
            aria-label={`Take row ${at + 1} out`}
            onClick={() => set(rubric.filter((row) => row.id !== id))}
          >
            ×
          </Button>
          <Levels row={{ id, name, points, levels }} number={at + 1} alter={(to) => alter(id, to)} />
        </div>
      ))}
      <Button variant="link" size="sm" onClick={add}>
        Add a row
      </Button>
      <span className="soft">
        {sum} {sum === 1 ? 'point' : 'points'} together
      </span>
      {marking.kind === 'points' && marking.points !== sum && sum > 0 && (
        <Button
          variant="link"
          size="sm"
          onClick={() => change({ ...statement, marking: { kind: 'points', points: sum } })}
        >
          Mark out of {sum}
        </Button>
      )}
    </div>
  )
}

/** The levels of a row: what who reaches each has done, and what it is worth. None: any points up to the most are given. */
function Levels({
  row: { name, points: most, levels = [] },
  number,
  alter,
}: {
  readonly row: RubricRow
  readonly number: number
  readonly alter: (to: Partial<RubricRow>) => void
}) {
  const set = (next: NonNullable<RubricRow['levels']>) => alter({ levels: next })
  const used = new Set(levels.map(({ points }) => points))
  const free = Array.from({ length: Math.floor(most) + 1 }, (_, at) => most - at).find((points) => !used.has(points))
  return (
    <div className="rubric-levels">
      {levels.map((level, at) => (
        <div key={level.id} className="rubric-level">
          <Form.Control
            size="sm"
            type="number"
            min={0}
            max={most}
            step={0.5}
            aria-label={`Points of level ${at + 1} of ${name || `row ${number}`}`}
            value={level.points}
            onChange={({ target }) => {
              const points = Math.max(0, Math.min(most, Number(target.value) || 0))
              // No two are worth the same: which one was reached is told by its points.
              if (levels.some((one) => one.id !== level.id && one.points === points)) return
              set(levels.map((one) => (one.id === level.id ? { ...one, points } : one)))
            }}
          />
          <Form.Control
            size="sm"
            aria-label={`Level ${at + 1} of ${name || `row ${number}`}`}
            placeholder="What who reaches it has done"
            maxLength={200}
            value={level.name}
            onChange={({ target }) =>
              set(levels.map((one) => (one.id === level.id ? { ...one, name: target.value } : one)))
            }
          />
          <Button
            variant="link"
            size="sm"
            aria-label={`Take level ${at + 1} of row ${number} out`}
            onClick={() => set(levels.filter((one) => one.id !== level.id))}
          >
            ×
          </Button>
        </div>
      ))}
      {levels.length < 10 && free !== undefined && (
        <Button
          variant="link"
          size="sm"
          onClick={() => set([...levels, { id: crypto.randomUUID().slice(0, 8), name: '', points: free }])}
        >
          {levels.length === 0 ? 'Say what its levels are' : 'Add a level'}
        </Button>
      )}
    </div>
  )
}

/** What work that comes late loses. */
function LateDeduction({ statement, change }: WholeProps) {
  const { lateDeduction: rule, marking } = statement
  if (marking.kind === 'ungraded' || marking.kind === 'not marked') return null
  const set = (to: typeof rule) => change({ ...statement, lateDeduction: to })
  if (!rule)
    return (
      <Button variant="link" size="sm" onClick={() => set({ perDay: 10, atLeast: 50 })}>
        Late work loses points
      </Button>
    )
  const percent = (text: string, least: number) => Math.max(least, Math.min(100, Math.round(Number(text)) || least))
  return (
    <div className="slip-part late-deduction">
      Late work loses
      <Form.Control
        size="sm"
        type="number"
        min={1}
        max={100}
        aria-label="Per cent that late work loses a day"
        value={rule.perDay}
        onChange={({ target }) => set({ ...rule, perDay: percent(target.value, 1) })}
      />
      % of the most for each day, and keeps
      <Form.Control
        size="sm"
        type="number"
        min={0}
        max={100}
        aria-label="Per cent that it keeps in any case"
        value={rule.atLeast}
        onChange={({ target }) => set({ ...rule, atLeast: percent(target.value, 0) })}
      />
      % of its own in any case.
      <Button variant="link" size="sm" onClick={() => set(null)}>
        It loses nothing
      </Button>
    </div>
  )
}

export function Instructions({ statement, change }: WholeProps) {
  const { instructions } = statement
  const [open, setOpen] = useState(instructions !== null)
  if (!open)
    return (
      <Button variant="link" size="sm" onClick={() => setOpen(true)}>
        Add instructions
      </Button>
    )
  return (
    <div className="slip-part">
      <NoteField
        id="instructions"
        label="Instructions"
        value={instructions}
        columns={[]}
        withTokens={false}
        change={(text) => change({ ...statement, instructions: text })}
      />
      <span className="soft">Stands above every copy. Paste an address to make a link.</span>
    </div>
  )
}
