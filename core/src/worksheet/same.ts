/**
 * Whether two values of JSON are the same, in whatever order their keys come: a database may give them back in another
 * order than they were kept. A key without a value is as good as none.
 */
export function isSame(one: unknown, other: unknown): boolean {
  if (one === other) return true
  if (typeof one !== 'object' || typeof other !== 'object' || one === null || other === null) return false
  if (Array.isArray(one) || Array.isArray(other))
    return (
      Array.isArray(one) &&
      Array.isArray(other) &&
      one.length === other.length &&
      one.every((part, at) => isSame(part, other[at]))
    )
  const left = one as Readonly<Record<string, unknown>>
  const right = other as Readonly<Record<string, unknown>>
  const count = (value: typeof left) => Object.keys(value).filter((key) => value[key] !== undefined).length
  return (
    count(left) === count(right) &&
    Object.keys(left).every((key) => left[key] === undefined || isSame(left[key], right[key]))
  )
}
