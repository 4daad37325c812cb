import { type WorksheetContent, spaceLabel } from '@gavrin/core'
import { useEffect } from 'react'
import { exactTime, timeInWords } from '../ui/time'
import { useLateWritings } from './queries'

interface Props {
  readonly copyId: string
  readonly content: WorksheetContent
  /** Grows when there may be more, or other, than was read. */
  readonly news?: number
}

/** What was written when the copy stood still already: kept beside it, with no answer changed by it. */
export function LateWritings({ copyId, content, news = 0 }: Props) {
  const { data, refetch } = useLateWritings(copyId, true)
  useEffect(() => {
    if (news > 0) void refetch()
  }, [news, refetch])
  if (!data?.length) return null
  return (
    <section className="late-writings" aria-label="Late writing">
      <h3>Late writing</h3>
      <p>Written after this copy stood still. No answer was changed by it.</p>
      {data.map(({ id, space, at, by, reason, text }) => (
        <div key={id} className="late-writing">
          <div className="soft">
            {spaceLabel(content, space)} · {by} · <span title={exactTime(at)}>{timeInWords(at)}</span> · {reason}
          </div>
          <div className="answer" dir="auto">
            {text || '(emptied)'}
          </div>
        </div>
      ))}
    </section>
  )
}
