import { readNumberText } from '../numbers.js'
import { type Reading, readNumber, readText } from '../reading.js'
import type { Writable } from './basics.js'
import type { AnySpace, Key } from './kind.js'
import { type Check, RIGHT, wrong } from './value.js'
import { checkText } from './wordKey.js'

/** How a number is checked. */
export interface NumberKey {
  /** As the teacher wrote it: `3.7`, `3,7`. */
  readonly value?: string
  /** The most that it may be away from the value, in the same unit. */
  readonly tolerance?: number
}

export function readNumberKey(reading: Reading, raw: Record<string, unknown>, field: string): NumberKey {
  const key: Writable<NumberKey> = {}
  const value = readText(reading, raw['value'], `${field}.value`, 60, 'A number').trim()
  if (value && readNumberText(value) === null)
    reading.unfinished(`${field}.value`, 'The accepted answer does not read as a number.')
  if (value) key.value = value
  const tolerance = raw['tolerance']
  if (tolerance !== undefined && tolerance !== null) {
    const read = readNumber(reading, tolerance, `${field}.tolerance`, [0, 1e12], 'A tolerance is nought or more.')
    if (read > 0) key.tolerance = read
  }
  return key
}

export const NUMBER_KEY: Key<AnySpace & NumberKey & { readonly unit?: string }> = {
  parts: ['value', 'tolerance'],
  isSet: ({ value }) => value !== undefined,
  words: ({ value, tolerance, unit }) =>
    value === undefined ? '' : [value, tolerance ? `± ${tolerance}` : '', unit].filter(Boolean).join(' '),
  check: ({ value: wanted, tolerance = 0, unit = '' }, value) =>
    checkText(value, (text) => checkNumber(text, wanted!, tolerance, unit)),
}

function checkNumber(text: string, wanted: string, tolerance: number, unit: string): Check {
  // The unit is printed after the place; whoever writes it again is not wrong for it.
  const bare = unit && text.toLowerCase().endsWith(unit.toLowerCase()) ? text.slice(0, -unit.length) : text
  const number = readNumberText(bare)
  const value = readNumberText(wanted)!
  if (number === null) return wrong('This does not read as a number.')
  // What binary fractions make of a tenth is not held against anybody.
  const noise = 1e-9 * Math.max(1, Math.abs(value))
  return Math.abs(number - value) <= tolerance + noise ? RIGHT : wrong()
}
