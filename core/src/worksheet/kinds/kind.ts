import type { Reading } from '../reading.js'
import type { SpaceBasics } from './basics.js'
import type { OwnSchema } from './schema.js'
import type { AnswerValue, Check } from './value.js'

export type AnySpace = SpaceBasics & { readonly kind: string }

/** What a space of a kind has of its own, besides what every space has. */
export type OwnPart<S extends AnySpace> = Omit<S, keyof SpaceBasics>

/** The shape in which an answer is kept and written by several at once: `live/` has one shared type for each. */
export type KeptAs = 'text' | 'rich' | 'options' | 'strokes' | 'files'

export interface ChoiceOption {
  readonly id: string
  readonly text: string
}

export interface Options {
  readonly many: boolean
  readonly options: readonly ChoiceOption[]
  /** The ids of the right ones. */
  readonly right: readonly string[]
}

/** How a place is drawn before anybody has written in it: what a page, a file and the screen draw it from. */
export type Drawn =
  /** A line to write on; `letters`: how long it is where it is drawn of letters; `unit`: printed after it. */
  | {
      readonly is: 'blank'
      readonly size: 'full' | 'short' | 'number' | 'gap' | 'cell'
      readonly letters: number
      readonly unit: string
    }
  | { readonly is: 'lines'; readonly lines: number; readonly starter: string }
  | ({ readonly is: 'options' } & Options)
  /** `height`: in percent of its width; `ground`: the id of the medium that is drawn on. */
  | { readonly is: 'canvas'; readonly height: number; readonly ground: string | null }
  /** What is asked for. */
  | { readonly is: 'request'; readonly what: string }

/** By what an answer is checked, and what tells it. */
export interface Key<S extends AnySpace> {
  /** What of a space nobody but its teachers may see, besides the model answer. */
  readonly parts: readonly (keyof S)[]
  readonly isSet: (space: S) => boolean
  /** Empty: not set. */
  readonly words: (space: S) => string
  /** Asked only where a key is set. */
  readonly check: (space: S, value: AnswerValue) => Check
}

/**
 * All that is particular about a kind of answer space. From the table of kinds follow reading and checking of worksheets,
 * the published schema, new spaces, how answers are kept, inspected, shown as progress and in words, the answer key, what a student may see, and how
 * it is drawn on paper, in files and on the screen. What the screen adds is in one table of the sheet and one of the editor.
 */
export interface Kind<S extends AnySpace> {
  /** As it is called on the screen. */
  readonly name: string
  readonly kept: KeptAs
  /** Reads what is its own; null, with the problem noted, if it cannot stand. */
  readonly read: (reading: Reading, raw: Record<string, unknown>, field: string) => OwnPart<S> | null
  /** The same as it is published, for files from elsewhere. */
  readonly schema: OwnSchema
  /** As it is put on a page. */
  readonly fresh: (newId: () => string) => OwnPart<S>
  /** Which it is, in a few words: `passage, 4 lines`. */
  readonly words: (space: S) => string
  readonly drawn: (space: S) => Drawn
  readonly key: Key<S> | null
  /** An answer of it counts only once it reads as a number. */
  readonly isNumber?: (space: S) => boolean
  /** What an answer begins with. */
  readonly starter?: (space: S) => string | undefined
  /** What its author may have changed besides what every space has: name, before, after; or a whole phrase. */
  readonly changes?: (before: S, after: S) => readonly Change[]
  /** The medium it shows. */
  readonly medium?: { readonly of: (space: S) => string | null; readonly with: (space: S, id: string) => S }
}

export type Change = string | readonly [name: string, before: string, after: string]
