import { type SpaceBasics, wholeNumber } from './basics.js'
import type { Kind } from './kind.js'
import { wholeSchema } from './schema.js'

/** A place to hand in photographs or documents. */
export interface FileSpace extends SpaceBasics {
  readonly kind: 'file'
  /** How many at most, 1 to 10. */
  readonly most: number
}

export const file: Kind<FileSpace> = {
  name: 'File',
  kept: 'files',
  read: (reading, raw, field) => ({
    kind: 'file',
    most: wholeNumber(reading, raw['most'], `${field}.most`, [1, 10], 'A place for files takes 1 to 10 of them.'),
  }),
  schema: { properties: { most: wholeSchema(1, 10) }, required: ['most'] },
  fresh: () => ({ kind: 'file', most: 3 }),
  words: ({ most }) => (most === 1 ? 'a file' : `up to ${most} files`),
  drawn: ({ most }) => ({
    is: 'request',
    what: most === 1 ? 'a photograph or document' : `up to ${most} photographs or documents`,
  }),
  key: null,
}
