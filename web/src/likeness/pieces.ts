/** A stretch of a text; of which run it is, or of none. */
export interface Piece {
  readonly words: string
  readonly run: number | null
}

interface Marked {
  readonly space: string
  readonly from: number
  readonly to: number
  readonly run: number
}

/** A text cut where runs begin and end; where two lie over each other the first of them counts. */
export function pieces(text: string, marks: readonly Marked[], space: string): Piece[] {
  const own = marks.filter((mark) => mark.space === space).toSorted((a, b) => a.from - b.from || a.run - b.run)
  const cut: Piece[] = []
  let at = 0
  for (const { from, to, run } of own) {
    const begin = Math.max(from, at)
    if (to <= begin) continue
    if (begin > at) cut.push({ words: text.slice(at, begin), run: null })
    cut.push({ words: text.slice(begin, to), run })
    at = to
  }
  if (at < text.length) cut.push({ words: text.slice(at), run: null })
  return cut
}
