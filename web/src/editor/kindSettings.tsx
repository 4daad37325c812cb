import {
  type AnswerSpace,
  type CellSpace,
  type ChoiceSpace,
  type DrawingSpace,
  type FileSpace,
  type GapSpace,
  type LineSpace,
  type NumberKey,
  type NumberSpace,
  type PassageSpace,
  SPACE_LIMITS,
  type WordKey,
  readNumberText,
} from '@gavrin/core'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { newId } from './document'
import { ChoiceSetting, NumberSetting, TextSetting, TickSetting } from './fields'

// What can be set about a space of one kind, besides what every space has.

export interface KindSettingsProps<S extends AnswerSpace> {
  readonly space: S
  readonly change: (space: S) => void
}

/** The space with a part of it set, or left away where there is nothing to say. */
export function withPart<S extends AnswerSpace>(space: S, part: string, value: unknown): S {
  const changed: Record<string, unknown> = { ...space }
  const isNothing = value === undefined || value === null || value === '' || value === false
  if (isNothing || (Array.isArray(value) && value.length === 0)) delete changed[part]
  else changed[part] = value
  return changed as unknown as S
}

export function LineSettings({ space, change }: KindSettingsProps<LineSpace>) {
  return (
    <>
      <ChoiceSetting
        label="Width"
        value={space.width}
        change={(width: LineSpace['width']) => change({ ...space, width })}
        choices={[
          ['full', 'the whole line'],
          ['short', 'a few words'],
        ]}
      />
      <WordKeySettings space={space} change={change} />
    </>
  )
}

export function GapSettings({ space, change }: KindSettingsProps<GapSpace>) {
  return (
    <>
      <NumberSetting
        label="Width in letters"
        whole
        least={3}
        most={60}
        value={space.width}
        change={(width) => width !== null && change({ ...space, width })}
      />
      <WordKeySettings space={space} change={change} />
    </>
  )
}

export function NumberSettings({ space, change }: KindSettingsProps<NumberSpace>) {
  return (
    <>
      <NumberKeySettings space={space} change={change} />
      <TextSetting
        label="Unit, printed after it"
        limit={SPACE_LIMITS.unit}
        value={space.unit}
        change={(unit) => change({ ...space, unit })}
      />
    </>
  )
}

export function CellAnswerSettings({ space, change }: KindSettingsProps<CellSpace>) {
  return (
    <>
      <ChoiceSetting
        label="What is written there"
        value={space.numeric ? 'number' : 'text'}
        change={(is: 'number' | 'text') => {
          const { accepted: _, lenient: __, value: ___, tolerance: ____, ...rest } = space
          change({ ...rest, numeric: is === 'number' })
        }}
        choices={[
          ['text', 'words'],
          ['number', 'a number'],
        ]}
      />
      {space.numeric ? (
        <NumberKeySettings space={space} change={change} />
      ) : (
        <WordKeySettings space={space} change={change} />
      )}
    </>
  )
}

export function DrawingSettings({ space, change }: KindSettingsProps<DrawingSpace>) {
  return (
    <NumberSetting
      label="Height, in percent of its width"
      least={10}
      most={200}
      value={space.height}
      change={(height) => height !== null && change({ ...space, height })}
    />
  )
}

export function FileSettings({ space, change }: KindSettingsProps<FileSpace>) {
  return (
    <NumberSetting
      label="Files at most"
      whole
      least={1}
      most={10}
      value={space.most}
      change={(most) => most !== null && change({ ...space, most })}
    />
  )
}

export function WordKeySettings<S extends AnswerSpace & WordKey>({ space, change }: KindSettingsProps<S>) {
  // As typed: a line that is still empty is no answer, and no reason to take the line away.
  const [typed, setTyped] = useState<string | null>(null)
  const accepted = space.accepted ?? []
  const lenient = space.lenient ?? { case: true, accents: false }
  return (
    <>
      <TextSetting
        label="Accepted answers, one a line"
        rows={2}
        value={typed ?? accepted.join('\n')}
        change={(text) => {
          setTyped(text)
          const answers = text
            .split('\n')
            .map((line) => line.trim().slice(0, SPACE_LIMITS.acceptedText))
            .filter(Boolean)
          change(withPart(space, 'accepted', [...new Set(answers)].slice(0, SPACE_LIMITS.accepted)))
        }}
      />
      {accepted.length > 0 && (
        <>
          <TickSetting
            label="Capital or small does not matter"
            value={lenient.case}
            change={(on) => change(withPart(space, 'lenient', { ...lenient, case: on }))}
          />
          <TickSetting
            label="Accents do not matter"
            value={lenient.accents}
            change={(on) => change(withPart(space, 'lenient', { ...lenient, accents: on }))}
          />
        </>
      )}
    </>
  )
}

export function NumberKeySettings<S extends AnswerSpace & NumberKey>({ space, change }: KindSettingsProps<S>) {
  const [typed, setTyped] = useState<string | null>(null)
  const text = typed ?? space.value ?? ''
  const isWrong = text.trim() !== '' && readNumberText(text) === null
  return (
    <>
      <TextSetting
        label="Accepted answer"
        limit={60}
        value={text}
        problem={isWrong ? 'This does not read as a number.' : null}
        change={(value) => {
          setTyped(value)
          if (!value.trim() || readNumberText(value) !== null) change(withPart(space, 'value', value.trim()))
        }}
      />
      <NumberSetting
        label="May be off by"
        empty
        least={0}
        most={1e12}
        value={space.tolerance ?? null}
        change={(tolerance) => change(withPart(space, 'tolerance', tolerance || null))}
      />
    </>
  )
}

export function PassageSettings({ space, change }: KindSettingsProps<PassageSpace>) {
  const wanted = space.wanted ?? { least: null, most: null }
  const want = (part: Partial<typeof wanted>) => {
    const now = { ...wanted, ...part }
    change(withPart(space, 'wanted', now.least === null && now.most === null ? null : now))
  }
  return (
    <>
      <NumberSetting
        label="Height in lines"
        whole
        least={2}
        most={40}
        value={space.lines}
        change={(lines) => lines !== null && change({ ...space, lines })}
        hint="It grows while it is written in."
      />
      <TextSetting
        label="Begins with"
        rows={2}
        limit={SPACE_LIMITS.starter}
        value={space.starter ?? ''}
        change={(starter) => change(withPart(space, 'starter', starter))}
      />
      <div className="two-settings">
        <NumberSetting
          label="Words, at least"
          empty
          whole
          least={1}
          most={20_000}
          value={wanted.least}
          change={(least) => want({ least })}
        />
        <NumberSetting
          label="at most"
          empty
          whole
          least={1}
          most={20_000}
          value={wanted.most}
          change={(most) => want({ most })}
        />
      </div>
      {wanted.least !== null && wanted.most !== null && wanted.least > wanted.most && (
        <p className="bad">The longest wanted length is less than the shortest.</p>
      )}
    </>
  )
}

export function ChoiceSettings({ space, change }: KindSettingsProps<ChoiceSpace>) {
  const { options, right = [] } = space
  const write = (id: string, text: string) =>
    change({ ...space, options: options.map((option) => (option.id === id ? { id, text } : option)) })
  const mark = (id: string, on: boolean) => {
    const others = space.many ? right.filter((other) => other !== id) : []
    change(withPart(space, 'right', on ? [...others, id] : others))
  }
  return (
    <>
      <TickSetting
        label="Any number may be chosen"
        value={space.many}
        change={(many) => change({ ...(many ? space : withPart(space, 'right', right.slice(0, 1))), many })}
      />
      <TickSetting
        label="In another order on each copy"
        value={space.shuffled ?? false}
        change={(on) => change(withPart(space, 'shuffled', on))}
      />
      <fieldset className="option-fields">
        <legend>Options; tick what is right</legend>
        {options.map(({ id, text }, index) => (
          <div key={id} className="option-field">
            <Form.Check
              aria-label={`Option ${index + 1} is right`}
              checked={right.includes(id)}
              onChange={({ target }) => mark(id, target.checked)}
            />
            <Form.Control
              size="sm"
              dir="auto"
              maxLength={SPACE_LIMITS.optionText}
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
              onClick={() =>
                change({
                  ...withPart(
                    space,
                    'right',
                    right.filter((other) => other !== id),
                  ),
                  options: options.filter((option) => option.id !== id),
                })
              }
            >
              Remove
            </Button>
          </div>
        ))}
        <Button
          size="sm"
          variant="link"
          disabled={options.length >= SPACE_LIMITS.options}
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
