import { type Reading, isRecord, readNumber, readText } from '../reading.js'

/** Blanks that Gavrin found and proposes as an answer space, until the author takes or leaves it. */
export interface Proposal {
  /** The print that stands here if it is left: text, or empty. */
  readonly was: string
}

/** What every answer space has. All but the id may be missing. */
export interface SpaceBasics {
  /** Stable through all editions: answers are kept under it. */
  readonly id: string
  /** What it is called instead of the print before it. */
  readonly label?: string
  readonly points?: number
  /** Shown to students who ask for it. */
  readonly hint?: string
  /** On the way to a student in place of the hint: there is one, to be asked for. Never kept. */
  readonly hasHint?: true
  /** A copy is not complete without it. */
  readonly required?: boolean
  /** How a good answer reads: for the teacher. */
  readonly model?: string
  readonly proposed?: Proposal
}

export const SPACE_LIMITS = {
  options: 40,
  optionText: 500,
  unit: 30,
  label: 200,
  hint: 1_000,
  model: 10_000,
  starter: 5_000,
  accepted: 30,
  acceptedText: 300,
  points: 1_000,
  proposal: 2_000,
} as const

export type Writable<T> = { -readonly [K in keyof T]: T[K] }

/** Reads what every answer space has. What is not said stays away. */
export function readBasics(reading: Reading, raw: Record<string, unknown>, field: string): SpaceBasics {
  const basics: Writable<SpaceBasics> = { id: reading.takeId(raw['id'], field) }
  const label = readText(reading, raw['label'], `${field}.label`, SPACE_LIMITS.label, 'A label').trim()
  if (label) basics.label = label
  const hint = readText(reading, raw['hint'], `${field}.hint`, SPACE_LIMITS.hint, 'A hint').trim()
  if (hint) basics.hint = hint
  const model = readText(reading, raw['model'], `${field}.model`, SPACE_LIMITS.model, 'A model answer').trim()
  if (model) basics.model = model
  if (raw['points'] !== undefined && raw['points'] !== null)
    basics.points = readNumber(
      reading,
      raw['points'],
      `${field}.points`,
      [0, SPACE_LIMITS.points],
      `Points go from 0 to ${SPACE_LIMITS.points}.`,
    )
  if (raw['required'] === true) basics.required = true
  if (isRecord(raw['proposed']))
    basics.proposed = {
      was: readText(reading, raw['proposed']['was'], `${field}.proposed`, SPACE_LIMITS.proposal, 'A proposal'),
    }
  return basics
}

/** A whole number within bounds; problems are noted and the lower bound stands for it. */
export function wholeNumber(
  reading: Reading,
  raw: unknown,
  field: string,
  bounds: readonly [number, number],
  sentence: string,
): number {
  return Math.round(readNumber(reading, Number.isInteger(raw) ? raw : null, field, bounds, sentence))
}
