import type { SpaceBasics } from './basics.js'
import type { Key, Kind } from './kind.js'
import { type NumberKey, NUMBER_KEY, readNumberKey } from './numberKey.js'
import { type WordKey, WORD_KEY, readWordKey } from './wordKey.js'
import { numberKeySchema, wordKeySchema } from './schema.js'

/** A cell of a table to write in. */
export interface CellSpace extends SpaceBasics, WordKey, NumberKey {
  readonly kind: 'cell'
  readonly numeric: boolean
}

const keyOf = ({ numeric }: CellSpace): Key<CellSpace> => (numeric ? NUMBER_KEY : WORD_KEY)

export const cell: Kind<CellSpace> = {
  name: 'Table cell',
  kept: 'text',
  read(reading, raw, field) {
    const numeric = raw['numeric'] === true
    return {
      kind: 'cell',
      numeric,
      ...(numeric ? readNumberKey(reading, raw, field) : readWordKey(reading, raw, field)),
    }
  },
  schema: {
    properties: { ...wordKeySchema, ...numberKeySchema, numeric: { type: 'boolean' } },
    required: ['numeric'],
  },
  fresh: () => ({ kind: 'cell', numeric: false }),
  words: ({ numeric }) => (numeric ? 'number' : 'text'),
  drawn: () => ({ is: 'blank', size: 'cell', letters: 0, unit: '' }),
  key: {
    parts: [...WORD_KEY.parts, ...NUMBER_KEY.parts] as (keyof CellSpace)[],
    isSet: (space) => keyOf(space).isSet(space),
    words: (space) => keyOf(space).words(space),
    check: (space, value) => keyOf(space).check(space, value),
  },
  isNumber: ({ numeric }) => numeric,
}
