/** Things by a key, each key's in the order they came. */
export function gathered<T, K, V = T>(
  things: Iterable<T>,
  keyOf: (thing: T) => K,
  valueOf: (thing: T) => V = (thing) => thing as unknown as V,
): Map<K, V[]> {
  const found = new Map<K, V[]>()
  for (const thing of things) {
    const key = keyOf(thing)
    const known = found.get(key)
    if (known) known.push(valueOf(thing))
    else found.set(key, [valueOf(thing)])
  }
  return found
}
