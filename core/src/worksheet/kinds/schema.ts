import { SPACE_LIMITS } from './basics.js'

/** A JSON Schema (2020-12). */
export type Schema = Readonly<Record<string, unknown>>

/** What a kind has of its own in the published form of worksheets. */
export interface OwnSchema {
  readonly properties: Readonly<Record<string, Schema>>
  readonly required: readonly string[]
}

export const idSchema: Schema = { type: 'string', pattern: '^[A-Za-z0-9_-]{1,64}$' }
export const textSchema = (maxLength: number): Schema => ({ type: 'string', maxLength })

/** An object; all that is not said to be required may be missing. */
export const objectSchema = (
  properties: Readonly<Record<string, Schema>>,
  required: readonly string[] = Object.keys(properties),
): Schema => ({ type: 'object', properties, required })

export const wholeSchema = (minimum: number, maximum: number): Schema => ({ type: 'integer', minimum, maximum })

export const wordKeySchema = {
  accepted: { type: 'array', items: textSchema(SPACE_LIMITS.acceptedText), maxItems: SPACE_LIMITS.accepted },
  lenient: objectSchema({ case: { type: 'boolean' }, accents: { type: 'boolean' } }),
}

export const numberKeySchema = { value: textSchema(60), tolerance: { type: 'number', minimum: 0 } }
