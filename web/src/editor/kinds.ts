import type { AnswerKind, AnswerSpace, SpaceOf } from '@gavrin/core'
import type { ComponentType } from 'react'
import * as settings from './kindSettings'

/** What the editor has of a kind of answer space. */
interface InEditor<S extends AnswerSpace> {
  /** What can be set about it besides what every space has. */
  readonly Settings: ComponentType<settings.KindSettingsProps<S>>
  /** With Alt it puts one on the page; null: it has a place of its own to be put from. */
  readonly key: string | null
  /** Said beside its settings. */
  readonly advice?: string
}

/** The kinds of answer spaces in the editor, as they stand in the palette. */
const KINDS: { readonly [K in AnswerKind]: InEditor<SpaceOf<K>> } = {
  line: { Settings: settings.LineSettings, key: '1' },
  passage: { Settings: settings.PassageSettings, key: '2' },
  choice: { Settings: settings.ChoiceSettings, key: '3' },
  number: { Settings: settings.NumberSettings, key: '4' },
  gap: { Settings: settings.GapSettings, key: '5' },
  cell: { Settings: settings.CellAnswerSettings, key: null },
  drawing: {
    Settings: settings.DrawingSettings,
    key: '7',
    advice: 'Put a picture just before it to draw beside one.',
  },
  file: { Settings: settings.FileSettings, key: '8' },
}

/** The same, of any kind: what it is given must be of it. */
export const IN_EDITOR = KINDS as unknown as Readonly<Record<AnswerKind, InEditor<AnswerSpace>>>
export const PALETTE_KINDS = Object.keys(KINDS) as readonly AnswerKind[]
