import type { AnswerSpace, ChoiceSpace } from '@gavrin/core'
import { Button, Form } from 'react-bootstrap'
import { newId } from './document'

interface Props<S extends AnswerSpace = AnswerSpace> {
  readonly space: S
  readonly number: number
  readonly change: (space: S) => void
}

const NAMES = { line: 'Line', passage: 'Passage', choice: 'Choice', number: 'Number' } as const

/** What can be set about the answer space that is selected. */
export function SpaceSettings({ space, number, change }: Props) {
  return (
    <section aria-label="Answer space">
      <h2>
        {number} · {NAMES[space.kind]}
      </h2>
      {space.kind === 'line' && (
        <Form.Group controlId="line-width">
          <Form.Label>Width</Form.Label>
          <Form.Select
            size="sm"
            value={space.width}
            onChange={({ target }) => change({ ...space, width: target.value === 'short' ? 'short' : 'full' })}
          >
            <option value="full">the whole line</option>
            <option value="short">a few words</option>
          </Form.Select>
        </Form.Group>
      )}
      {space.kind === 'passage' && (
        <Form.Group controlId="passage-lines">
          <Form.Label>Height in lines</Form.Label>
          <Form.Control
            size="sm"
            type="number"
            min={2}
            max={40}
            value={space.lines}
            onChange={({ target }) => {
              const lines = Math.round(Number(target.value))
              if (lines >= 2 && lines <= 40) change({ ...space, lines })
            }}
          />
          <Form.Text>2 to 40; it grows while it is written in.</Form.Text>
        </Form.Group>
      )}
      {space.kind === 'number' && (
        <Form.Group controlId="number-unit">
          <Form.Label>Unit, printed after it</Form.Label>
          <Form.Control
            size="sm"
            maxLength={30}
            value={space.unit}
            onChange={({ target }) => change({ ...space, unit: target.value })}
          />
        </Form.Group>
      )}
      {space.kind === 'choice' && <ChoiceSettings space={space} number={number} change={change} />}
    </section>
  )
}

function ChoiceSettings({ space, change }: Props<ChoiceSpace>) {
  const { options } = space
  const write = (id: string, text: string) =>
    change({ ...space, options: options.map((option) => (option.id === id ? { id, text } : option)) })
  return (
    <>
      <Form.Check
        id="choice-many"
        label="Any number may be chosen"
        checked={space.many}
        onChange={({ target }) => change({ ...space, many: target.checked })}
      />
      <fieldset className="option-fields">
        <legend>Options</legend>
        {options.map(({ id, text }, index) => (
          <div key={id} className="option-field">
            <Form.Control
              size="sm"
              dir="auto"
              maxLength={500}
              aria-label={`Option ${index + 1}`}
              isInvalid={!text.trim()}
              value={text}
              onChange={({ target }) => write(id, target.value)}
            />
            <Button
              size="sm"
              variant="link"
              disabled={options.length <= 2}
              aria-label={`Remove option ${index + 1}`}
              onClick={() => change({ ...space, options: options.filter((option) => option.id !== id) })}
            >
              Remove
            </Button>
          </div>
        ))}
        <Button
          size="sm"
          variant="link"
          disabled={options.length >= 40}
          onClick={() =>
            change({ ...space, options: [...options, { id: newId(), text: `Option ${options.length + 1}` }] })
          }
        >
          Add an option
        </Button>
      </fieldset>
    </>
  )
}
