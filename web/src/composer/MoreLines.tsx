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

const markingWords = (marking: Marking) =>
  marking.kind === 'points'
    ? `marked out of ${marking.points}`
    : marking.kind === 'scale'
      ? `marked ${marking.steps[0]} to ${marking.steps.at(-1)}`
      : 'ungraded'

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
      <BlankChoice chosen={marking.kind === 'ungraded'} choose={() => set({ kind: 'ungraded' })}>
        ungraded
      </BlankChoice>
      <BlankChoice
        chosen={marking.kind === 'points'}
        choose={() => set({ kind: 'points', points: marking.kind === 'points' ? marking.points : 10 })}
      >
        marked by points
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
        </div>
      )}
    </Blank>
  )
}

function Rubric({ statement, change }: WholeProps) {
  const { rubric, marking } = statement
  const set = (rows: readonly RubricRow[]) => change({ ...statement, rubric: rows })
  const add = () => set([...rubric, { id: crypto.randomUUID().slice(0, 8), name: '', points: 1 }])
  if (rubric.length === 0)
    return marking.kind === 'ungraded' ? null : (
      <Button variant="link" size="sm" onClick={add}>
        Add a rubric
      </Button>
    )
  const sum = rubric.reduce((total, { points }) => total + points, 0)
  const alter = (id: string, alteration: Partial<RubricRow>) =>
    set(rubric.map((row) => (row.id === id ? { ...row, ...alteration } : row)))
  return (
    <div className="slip-part rubric">
      {rubric.map(({ id, name, points }, at) => (
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
            onChange={({ target }) => alter(id, { points: Math.max(0, Math.min(10_000, Number(target.value) || 0)) })}
          />
          <Button
            variant="link"
            size="sm"
            aria-label={`Take row ${at + 1} out`}
            onClick={() => set(rubric.filter((row) => row.id !== id))}
          >
            ×
          </Button>
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
