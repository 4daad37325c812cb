import type { SpaceBasics } from './basics.js'
import { cell, type CellSpace } from './cell.js'
import { choice, type ChoiceSpace } from './choice.js'
import { drawing, type DrawingSpace } from './drawing.js'
import { file, type FileSpace } from './file.js'
import { gap, type GapSpace } from './gap.js'
import type { Drawn, Kind } from './kind.js'
import { line, type LineSpace } from './line.js'
import { number, type NumberSpace } from './number.js'
import { passage, type PassageSpace } from './passage.js'

/** The answer spaces that stand by themselves between the print. */
export type StandingSpace = LineSpace | PassageSpace | ChoiceSpace | NumberSpace | DrawingSpace | FileSpace
export type AnswerSpace = StandingSpace | GapSpace | CellSpace
export type AnswerKind = AnswerSpace['kind']
export type SpaceOf<K extends AnswerKind> = Extract<AnswerSpace, { kind: K }>

type Table<S extends AnswerSpace> = { readonly [K in S['kind']]: Kind<Extract<S, { kind: K }>> }

const STANDING: Table<StandingSpace> = { line, passage, choice, number, drawing, file }

/** The kinds of answer spaces, each with all that is particular about it. */
export const KINDS: Table<AnswerSpace> = { ...STANDING, gap, cell }

export const STANDING_KINDS = Object.keys(STANDING) as readonly StandingSpace['kind'][]
export const ANSWER_KINDS = Object.keys(KINDS) as readonly AnswerKind[]

/** What is particular about the kind of a space. */
export const kindOf = <S extends AnswerSpace>({ kind }: S): Kind<S> => KINDS[kind] as unknown as Kind<S>

/** How a place is drawn before anybody has written in it. */
export const drawnSpace = (space: AnswerSpace): Drawn => kindOf(space).drawn(space)

/** Which kind a space is, in a few words: `passage, 4 lines`. */
export const kindWords = (space: AnswerSpace): string => kindOf(space).words(space)

/** A new answer space as it is put on a page, with nothing set but what its kind must have. */
export function newSpace<K extends AnswerKind>(kind: K, newId: () => string): SpaceOf<K> {
  const basics: SpaceBasics = { id: newId() }
  return { ...basics, ...(KINDS[kind] as unknown as Kind<SpaceOf<K>>).fresh(newId) } as SpaceOf<K>
}
