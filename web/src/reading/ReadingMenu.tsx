import { useId } from 'react'
import Button from 'react-bootstrap/Button'
import Dropdown from 'react-bootstrap/Dropdown'
import Form from 'react-bootstrap/Form'
import { OVER_PAGE } from '../ui/overPage'
import { LETTERS, type ReadingWishes, TINTS } from './useReading'
import { type Speech, canSpeak } from './useSpeech'

export interface ReadingMenuProps {
  readonly wishes: ReadingWishes
  readonly wish: (wishes: Partial<ReadingWishes>) => void
  readonly speech: Speech
}

const SIZES = ['usual', 'larger', 'largest'] as const
const PACES: readonly (readonly [number, string])[] = [
  [0.75, 'slower'],
  [1, 'usual pace'],
  [1.25, 'faster'],
]

/** How a page is read: the size of its letters, their spacing, the tint of the paper, a ruler, and read aloud. */
export default function ReadingMenu({ wishes, wish, speech: { state, read, stop } }: ReadingMenuProps) {
  const id = useId()
  const { letters, isSpaced, tint, hasRuler, pace } = wishes
  return (
    <Dropdown autoClose="outside" className="reading-menu">
      {/* What is marked stays marked: it is read aloud from there. */}
      <Dropdown.Toggle variant="link" size="sm" onMouseDown={(event) => event.preventDefault()}>
        Reading
      </Dropdown.Toggle>
      <Dropdown.Menu popperConfig={OVER_PAGE} renderOnMount={false} className="menu-fixed reading-panel">
        {canSpeak() && (
          <div className="reading-row">
            {state === 'silent' ? (
              <Button size="sm" variant="outline-dark" onMouseDown={(event) => event.preventDefault()} onClick={read}>
                Read aloud
              </Button>
            ) : (
              <Button size="sm" variant="outline-dark" onClick={stop}>
                Stop reading
              </Button>
            )}
            <Form.Select
              size="sm"
              aria-label="How fast it is read"
              value={pace}
              onChange={({ target }) => wish({ pace: Number(target.value) })}
            >
              {PACES.map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </Form.Select>
          </div>
        )}
        {canSpeak() && <p className="soft">From words that you mark, or from the beginning.</p>}
        <fieldset>
          <legend>Letters</legend>
          {LETTERS.map((size, at) => (
            <Form.Check
              key={size}
              type="radio"
              inline
              name={`${id}-letters`}
              id={`${id}-letters-${size}`}
              label={SIZES[at]}
              checked={letters === size}
              onChange={() => wish({ letters: size })}
            />
          ))}
          <Form.Check
            id={`${id}-spaced`}
            label="More room between letters, words and lines"
            checked={isSpaced}
            onChange={({ target }) => wish({ isSpaced: target.checked })}
          />
        </fieldset>
        <fieldset>
          <legend>Paper</legend>
          <div className="tints">
            {TINTS.map((one) => (
              <label key={one} className="tint" data-tint={one}>
                <input
                  type="radio"
                  className="visually-hidden"
                  name={`${id}-tint`}
                  checked={tint === one}
                  onChange={() => wish({ tint: one })}
                />
                {one}
              </label>
            ))}
          </div>
        </fieldset>
        <Form.Check
          type="switch"
          id={`${id}-ruler`}
          label="A ruler: only the lines where I read"
          checked={hasRuler}
          onChange={({ target }) => wish({ hasRuler: target.checked })}
        />
      </Dropdown.Menu>
    </Dropdown>
  )
}
