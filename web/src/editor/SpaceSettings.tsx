import { type AnswerSpace, KINDS, SPACE_LIMITS } from '@gavrin/core'
import type { ReactNode } from 'react'
import { NumberSetting, TextSetting, TickSetting } from './fields'
import { type KindSettingsProps, withPart } from './kindSettings'
import { IN_EDITOR } from './kinds'

interface Props extends KindSettingsProps<AnswerSpace> {
  readonly number: number
  /** Where else it can be set up, under its head. */
  readonly children?: ReactNode
}

/** What can be set about the answer space that is selected. */
export function SpaceSettings({ space, number, change, children }: Props) {
  const { Settings } = IN_EDITOR[space.kind]
  const set = (part: string) => (value: unknown) => change(withPart(space, part, value))
  return (
    <section aria-label="Answer space">
      <h2>
        {number > 0 && `${number} · `}
        {KINDS[space.kind].name}
      </h2>
      {children}
      <Settings space={space} change={change} />
      <NumberSetting
        label="Points"
        empty
        least={0}
        most={SPACE_LIMITS.points}
        value={space.points ?? null}
        change={(points) => {
          const { points: _, ...rest } = space
          change(points === null ? rest : { ...rest, points })
        }}
      />
      <TextSetting
        label="Hint, shown when asked for"
        rows={2}
        limit={SPACE_LIMITS.hint}
        value={space.hint ?? ''}
        change={set('hint')}
      />
      <TextSetting
        label="Model answer, for the answer key"
        rows={2}
        limit={SPACE_LIMITS.model}
        value={space.model ?? ''}
        change={set('model')}
      />
      <TextSetting
        label="Label"
        limit={SPACE_LIMITS.label}
        value={space.label ?? ''}
        change={set('label')}
        hint="Over the space, and its name in the answer grid. Without one it is called by the print before it."
      />
      <TickSetting label="Must be filled in" value={space.required ?? false} change={set('required')} />
    </section>
  )
}
