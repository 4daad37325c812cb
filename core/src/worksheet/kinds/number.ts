import { readText } from '../reading.js'
import { type SpaceBasics, SPACE_LIMITS } from './basics.js'
import type { Kind } from './kind.js'
import { type NumberKey, NUMBER_KEY, readNumberKey } from './numberKey.js'
import { numberKeySchema, textSchema } from './schema.js'

/** A place for a number, with the unit printed after it. */
export interface NumberSpace extends SpaceBasics, NumberKey {
  readonly kind: 'number'
  readonly unit: string
}

export const number: Kind<NumberSpace> = {
  name: 'Number',
  kept: 'text',
  read: (reading, raw, field) => ({
    kind: 'number',
    unit: readText(reading, raw['unit'], `${field}.unit`, SPACE_LIMITS.unit, 'A unit').trim(),
    ...readNumberKey(reading, raw, field),
  }),
  schema: { properties: { ...numberKeySchema, unit: textSchema(SPACE_LIMITS.unit) }, required: ['unit'] },
  fresh: () => ({ kind: 'number', unit: '' }),
  words: () => 'number',
  drawn: ({ unit }) => ({ is: 'blank', size: 'number', letters: 16, unit }),
  key: NUMBER_KEY,
  isNumber: () => true,
  changes: (before, after) => [['unit', before.unit, after.unit]],
}
