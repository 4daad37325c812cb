/** Words in a row that are looked at together: shorter runs are never told alike. */
export const GRAM = 4
/** Of so many runs in a row one is kept: whatever is alike over {@link GRAM} + {@link WINDOW} − 1 words is found. */
export const WINDOW = 3

const PRIME = 16_777_619

/**
 * The hash of every run of {@link GRAM} words, by the place of its first word; empty where there are fewer.
 * @param ids a number for each word, the same for the same word
 */
export function gramsOf(ids: Int32Array): Uint32Array {
  const grams = new Uint32Array(Math.max(0, ids.length - GRAM + 1))
  for (let at = 0; at < grams.length; at++) {
    let hash = 2_166_136_261
    for (let word = at; word < at + GRAM; word++) {
      hash = Math.imul(hash ^ ids[word]!, PRIME)
      hash ^= hash >>> 15
    }
    grams[at] = hash >>> 0
  }
  return grams
}

/**
 * The places of the runs that are kept as fingerprints of a text: of every {@link WINDOW} in a row the one with the smallest hash,
 * of equal ones the last. Winnowing, after S. Schleimer, D. S. Wilkerson and A. Aiken, “Winnowing: local algorithms for document
 * fingerprinting”, Proceedings of SIGMOD 2003, pp. 76–85.
 */
export function winnow(grams: Uint32Array): number[] {
  const kept: number[] = []
  const last = grams.length - 1
  for (let begin = 0; begin <= Math.max(0, last - WINDOW + 1) && last >= 0; begin++) {
    let least = begin
    for (let at = begin; at <= Math.min(last, begin + WINDOW - 1); at++) if (grams[at]! <= grams[least]!) least = at
    if (kept.at(-1) !== least) kept.push(least)
  }
  return kept
}
