import type { AnswerKind, AnswerSpace, SpaceOf } from '@gavrin/core'
import { type ComponentType, lazy } from 'react'
import { ChoiceRead, DrawingRead, FilesRead, PassageRead, TextRead } from './AnswerRead'
import { ChoiceField } from './ChoiceField'
import { FileField } from './FileField'
import type { SpaceProps } from './place'
import { TextField } from './TextField'

/** How an answer is given, and how it is shown to whoever only reads. */
interface Shown<S extends AnswerSpace> {
  readonly Write: ComponentType<SpaceProps<S>>
  readonly Read: ComponentType<SpaceProps<S>>
}

const TEXT = { Write: TextField, Read: TextRead }

/** The kinds of answer spaces on the sheet. How an empty place is drawn follows from the core. */
const SHOWN: { readonly [K in AnswerKind]: Shown<SpaceOf<K>> } = {
  line: TEXT,
  number: TEXT,
  gap: TEXT,
  cell: TEXT,
  choice: { Write: ChoiceField, Read: ChoiceRead },
  passage: { Write: lazy(() => import('./PassageField')), Read: PassageRead },
  drawing: { Write: lazy(() => import('./DrawingField')), Read: DrawingRead },
  file: { Write: FileField, Read: FilesRead },
}

/** The same, of any kind: what it is given must be of it. */
export const ON_SHEET = SHOWN as unknown as Readonly<Record<AnswerKind, Shown<AnswerSpace>>>
