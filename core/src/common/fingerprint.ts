/**
 * A short fingerprint of a list: two lists of the same values have the same one, in whatever order the keys of these came. Two lanes
 * of FNV-1a (Fowler, Noll, Vo), 32 bits each, over the UTF-16 units of the values written as text.
 * @returns 16 hexadecimal digits
 */
export function fingerprintOf(values: readonly unknown[]): string {
  let one = 0x811c9dc5
  let two = 0x050c5d1f
  const sortedKeys: SortedKeys = new Map()
  for (const value of values) {
    const text = canonical(value, sortedKeys)
    for (let index = 0; index < text.length; index++) {
      const unit = text.charCodeAt(index)
      one = Math.imul(one ^ unit, 0x01000193)
      two = Math.imul(two ^ unit, 0x01000193)
    }
  }
  return [one, two].map((hash) => (hash >>> 0).toString(16).padStart(8, '0')).join('')
}

/** Keys in an order of their own, by the keys as they come: sorting them for every change takes longer than all else. */
type SortedKeys = Map<string, readonly string[]>

function keysOf(object: object, sortedKeys: SortedKeys): readonly string[] {
  const keys = Object.keys(object)
  const shape = keys.join()
  const known = sortedKeys.get(shape)
  if (known) return known
  const sorted = keys.sort()
  if (sortedKeys.size < 1_000) sortedKeys.set(shape, sorted)
  return sorted
}

/** The same text for the same value, in whatever order its keys came. */
function canonical(value: unknown, sortedKeys: SortedKeys): string {
  if (typeof value === 'string') return JSON.stringify(value)
  if (Array.isArray(value)) return `[${value.map((one) => canonical(one, sortedKeys)).join()}]`
  if (typeof value !== 'object' || value === null) return String(value)
  const object = value as Record<string, unknown>
  let text = '{'
  for (const key of keysOf(object, sortedKeys))
    if (object[key] !== undefined) text += `${key}:${canonical(object[key], sortedKeys)},`
  return `${text}}`
}
