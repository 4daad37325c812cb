import { isId, readNumber } from '../reading.js'
import type { SpaceBasics } from './basics.js'
import type { Kind } from './kind.js'
import { idSchema } from './schema.js'

/** A place to draw with the pen, blank or on a picture. */
export interface DrawingSpace extends SpaceBasics {
  readonly kind: 'drawing'
  /** Height as a percentage of its width, 10 to 200. */
  readonly height: number
  /** The id of the medium that is drawn on. */
  readonly ground: string | null
}

export const drawing: Kind<DrawingSpace> = {
  name: 'Drawing',
  kept: 'strokes',
  read(reading, raw, field) {
    const ground = raw['ground'] ?? null
    if (ground !== null && !isId(ground)) reading.wrong(`${field}.ground`, 'The picture to draw on cannot be read.')
    return {
      kind: 'drawing',
      height: readNumber(
        reading,
        raw['height'],
        `${field}.height`,
        [10, 200],
        'A drawing is 10 to 200 percent as tall as it is wide.',
      ),
      ground: ground as string | null,
    }
  },
  schema: {
    properties: {
      height: { type: 'number', minimum: 10, maximum: 200 },
      ground: { oneOf: [{ type: 'null' }, idSchema] },
    },
    required: ['height', 'ground'],
  },
  fresh: () => ({ kind: 'drawing', height: 45, ground: null }),
  words: () => 'drawing',
  drawn: ({ height, ground }) => ({ is: 'canvas', height, ground }),
  key: null,
  medium: { of: ({ ground }) => ground, with: (space, ground) => ({ ...space, ground }) },
}
