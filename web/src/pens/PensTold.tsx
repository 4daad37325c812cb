import type { BoardRow } from '@gavrin/core'
import { exactTime } from '../ui/time'
import { useNow } from '../ui/useNow'
import './pens.css'
import { copiesInWords, countdown } from './words'

/** That pens go down by themselves soon, counted down, for who looks at a board. */
export function PensTold({ rows }: { readonly rows: readonly BoardRow[] }) {
  const moments = rows.flatMap(({ pensDownFrom }) => pensDownFrom ?? [])
  return moments.length > 0 ? <Told moments={moments} all={rows.length} /> : null
}

function Told({ moments, all }: { readonly moments: readonly number[]; readonly all: number }) {
  const now = useNow(1_000)
  const ahead = moments.filter((at) => at > now).toSorted((a, b) => a - b)
  if (ahead.length === 0) return null
  const [first, last] = [ahead[0]!, ahead.at(-1)!]
  return (
    <span className="pens-told" role="timer" title={exactTime(first)}>
      pens down in <span className="slab">{countdown(first, now)}</span>
      {ahead.length < all && `, ${copiesInWords(ahead.length)}`}
      {last > first && `, the last in ${countdown(last, now)}`}
    </span>
  )
}
