import { oneOf } from '../reading.js'
import type { SpaceBasics } from './basics.js'
import type { Kind } from './kind.js'
import { type WordKey, WORD_KEY, readWordKey } from './wordKey.js'
import { wordKeySchema } from './schema.js'

/** A place for a few words on one line. */
export interface LineSpace extends SpaceBasics, WordKey {
  readonly kind: 'line'
  readonly width: 'short' | 'full'
}

export const line: Kind<LineSpace> = {
  name: 'Line',
  kept: 'text',
  read: (reading, raw, field) => ({
    kind: 'line',
    width: oneOf(raw['width'], ['full', 'short']),
    ...readWordKey(reading, raw, field),
  }),
  schema: { properties: { ...wordKeySchema, width: { enum: ['short', 'full'] } }, required: ['width'] },
  fresh: () => ({ kind: 'line', width: 'full' }),
  words: ({ width }) => (width === 'short' ? 'short line' : 'line'),
  drawn: ({ width }) => ({ is: 'blank', size: width, letters: width === 'short' ? 28 : 68, unit: '' }),
  key: WORD_KEY,
}
