import { type Reading, isRecord, readText } from '../reading.js'
import { type SpaceBasics, SPACE_LIMITS, wholeNumber } from './basics.js'
import type { Kind } from './kind.js'
import { objectSchema, textSchema, wholeSchema } from './schema.js'

/** A place for sentences, with simple rich text. */
export interface PassageSpace extends SpaceBasics {
  readonly kind: 'passage'
  /** How many lines tall the empty place is drawn, 2 to 40. */
  readonly lines: number
  /** Text that the answer begins with. */
  readonly starter?: string
  /** How many words are wanted. */
  readonly wanted?: { readonly least: number | null; readonly most: number | null }
}

export const passage: Kind<PassageSpace> = {
  name: 'Passage',
  kept: 'rich',
  read: (reading, raw, field) => ({
    kind: 'passage',
    lines: wholeNumber(reading, raw['lines'], `${field}.lines`, [2, 40], 'A passage is 2 to 40 lines tall.'),
    ...readStarter(reading, raw, field),
    ...readWanted(reading, raw, field),
  }),
  schema: {
    properties: {
      lines: wholeSchema(2, 40),
      starter: textSchema(SPACE_LIMITS.starter),
      wanted: objectSchema({ least: { type: ['integer', 'null'] }, most: { type: ['integer', 'null'] } }),
    },
    required: ['lines'],
  },
  fresh: () => ({ kind: 'passage', lines: 4 }),
  words: ({ lines }) => `passage, ${lines} lines`,
  drawn: ({ lines, starter = '' }) => ({ is: 'lines', lines, starter }),
  key: null,
  starter: ({ starter }) => starter,
}

function readStarter(reading: Reading, raw: Record<string, unknown>, field: string): Pick<PassageSpace, 'starter'> {
  const starter = readText(reading, raw['starter'], `${field}.starter`, SPACE_LIMITS.starter, 'A beginning')
  return starter.trim() ? { starter } : {}
}

function readWanted(reading: Reading, raw: Record<string, unknown>, field: string): Pick<PassageSpace, 'wanted'> {
  const wanted = isRecord(raw['wanted']) ? raw['wanted'] : null
  const words = (name: 'least' | 'most') => {
    const value = wanted?.[name]
    if (value === null || value === undefined) return null
    return wholeNumber(
      reading,
      value,
      `${field}.wanted.${name}`,
      [1, 20_000],
      'A wanted length goes from 1 to 20,000 words.',
    )
  }
  const least = words('least')
  const most = words('most')
  if (least !== null && most !== null && least > most)
    reading.unfinished(`${field}.wanted.most`, 'The longest wanted length is less than the shortest.')
  return least !== null || most !== null ? { wanted: { least, most } } : {}
}
