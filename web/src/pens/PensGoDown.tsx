import { exactTime } from '../ui/time'
import { useNow } from '../ui/useNow'
import './pens.css'
import { countdown } from './words'

/** Said ahead of time, so that the end does not come over a sentence. */
const AHEAD = 15 * 60_000
const LAST_MINUTE = 60_000

/** For who writes in a copy: how long it is until the pens go down. */
export function PensGoDown({ at }: { readonly at: number | null }) {
  return at === null ? null : <Told at={at} />
}

function Told({ at }: { readonly at: number }) {
  const now = useNow(1_000, [at - AHEAD, at - LAST_MINUTE, at])
  const left = at - now
  if (left <= 0 || left > AHEAD) return null
  return (
    <>
      <span className={left <= LAST_MINUTE ? 'pens-told last-minute' : 'pens-told'} role="timer" title={exactTime(at)}>
        pens down in <span className="slab">{countdown(at, now)}</span>
      </span>
      {/* Said once to who hears the page: the figures are not read out each second. */}
      <span className="visually-hidden" role="status">
        {left <= LAST_MINUTE ? 'Pens go down within a minute.' : 'Pens go down soon.'}
      </span>
    </>
  )
}
