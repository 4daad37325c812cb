import { isId, isRecord } from '../reading.js'
import { type SpaceBasics, SPACE_LIMITS } from './basics.js'
import type { ChoiceOption, Kind } from './kind.js'
import { RIGHT, wrong } from './value.js'
import { idSchema, objectSchema, textSchema } from './schema.js'

/** One or several of the options are chosen. */
export interface ChoiceSpace extends SpaceBasics {
  readonly kind: 'choice'
  readonly many: boolean
  readonly options: readonly ChoiceOption[]
  /** Each copy has the options in an order of its own. */
  readonly shuffled?: boolean
  /** The ids of the right options. */
  readonly right?: readonly string[]
}

export const choice: Kind<ChoiceSpace> = {
  name: 'Choice',
  kept: 'options',
  read(reading, raw, field) {
    const options = raw['options']
    if (!Array.isArray(options) || options.length < 2 || options.length > SPACE_LIMITS.options) {
      reading.wrong(`${field}.options`, `A choice needs 2 to ${SPACE_LIMITS.options} options.`)
      return null
    }
    const ids = new Set<string>()
    const read = options.map((option: unknown, index): ChoiceOption => {
      const place = `${field}.options.${index}`
      const optionId = isRecord(option) ? option['id'] : null
      const text = isRecord(option) ? option['text'] : null
      if (!isId(optionId) || ids.has(optionId)) reading.wrong(`${place}.id`, 'This option has no id of its own.')
      else ids.add(optionId)
      if (typeof text !== 'string' || !text.trim())
        reading.unfinished(`${place}.text`, `Option ${index + 1} is empty: write it or remove it.`)
      else if (text.length > SPACE_LIMITS.optionText)
        reading.wrong(`${place}.text`, `Option ${index + 1} is longer than ${SPACE_LIMITS.optionText} characters.`)
      return { id: String(optionId), text: typeof text === 'string' ? text.trim() : '' }
    })
    const many = raw['many'] === true
    const right = (Array.isArray(raw['right']) ? raw['right'] : []).filter(
      (id): id is string => typeof id === 'string' && ids.has(id),
    )
    if (!many && right.length > 1)
      reading.wrong(`${field}.right`, 'Only one option may be chosen, so only one can be right.')
    return {
      kind: 'choice',
      many,
      options: read,
      ...(raw['shuffled'] === true && { shuffled: true }),
      ...(right.length > 0 && { right: [...new Set(right)] }),
    }
  },
  schema: {
    properties: {
      many: { type: 'boolean' },
      shuffled: { const: true },
      options: {
        type: 'array',
        minItems: 2,
        maxItems: SPACE_LIMITS.options,
        items: objectSchema({ id: idSchema, text: textSchema(SPACE_LIMITS.optionText) }),
      },
      right: { type: 'array', items: idSchema },
    },
    required: ['many', 'options'],
  },
  fresh: (newId) => ({
    kind: 'choice',
    many: false,
    options: ['First option', 'Second option'].map((text) => ({ id: newId(), text })),
  }),
  words: ({ many }) => (many ? 'choice, any number of them' : 'choice, one of them'),
  drawn: ({ many, options, right = [] }) => ({ is: 'options', many, options, right }),
  key: {
    parts: ['right'],
    isSet: ({ right }) => !!right?.length,
    words: ({ options, right }) =>
      options
        .filter(({ id }) => right?.includes(id))
        .map(({ text }) => text)
        .join(', '),
    check({ right }, value) {
      const chosen = 'chosen' in value ? value.chosen : []
      if (chosen.length === 0) return { is: 'empty' }
      const missing = right!.filter((id) => !chosen.includes(id)).length
      const surplus = chosen.filter((id) => !right!.includes(id)).length
      if (missing === 0 && surplus === 0) return RIGHT
      return wrong(surplus === 0 ? 'Right so far, but not complete.' : '')
    },
  },
  changes: (before, after) =>
    before.many === after.many ? [] : [after.many ? 'any number may be chosen now' : 'only one may be chosen now'],
}
