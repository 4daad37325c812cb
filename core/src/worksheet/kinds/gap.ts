import { type SpaceBasics, wholeNumber } from './basics.js'
import type { Kind } from './kind.js'
import { type WordKey, WORD_KEY, readWordKey } from './wordKey.js'
import { wholeSchema, wordKeySchema } from './schema.js'

/** A gap inside a sentence: stands in rich text as a node of type `gap` with the space in its attributes. */
export interface GapSpace extends SpaceBasics, WordKey {
  readonly kind: 'gap'
  /** In letters, 3 to 60. */
  readonly width: number
}

export const gap: Kind<GapSpace> = {
  name: 'Gap in a sentence',
  kept: 'text',
  read: (reading, raw, field) => ({
    kind: 'gap',
    width: wholeNumber(reading, raw['width'], `${field}.width`, [3, 60], 'A gap is 3 to 60 letters wide.'),
    ...readWordKey(reading, raw, field),
  }),
  schema: { properties: { ...wordKeySchema, width: wholeSchema(3, 60) }, required: ['width'] },
  fresh: () => ({ kind: 'gap', width: 12 }),
  words: () => 'gap',
  drawn: ({ width }) => ({ is: 'blank', size: 'gap', letters: width, unit: '' }),
  key: WORD_KEY,
}
