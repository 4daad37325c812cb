/** A source of numbers in [0, 1) that gives the same ones for the same seed (mulberry32, Tommy Ettinger). */
export function seededRandom(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let mixed = state
    mixed = Math.imul(mixed ^ (mixed >>> 15), mixed | 1)
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61)
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296
  }
}

/** The same things in an order that the source of numbers decides (Fisher and Yates). */
export function shuffled<T>(things: readonly T[], random: () => number): T[] {
  const order = [...things]
  for (let at = order.length - 1; at > 0; at--) {
    const other = Math.floor(random() * (at + 1))
    ;[order[at], order[other]] = [order[other]!, order[at]!]
  }
  return order
}
