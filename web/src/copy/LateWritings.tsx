import { type WorksheetContent, spaceLabel } from '@gavrin/core'
import { exactTime, timeInWords } from '../ui/time'
import { useLateWritings } from './queries'

/** What was written when the copy stood still already: kept beside it, with no answer changed by it. */
export function LateWritings({ copyId, content }: { readonly copyId: string; readonly content: WorksheetContent }) {
  const { data } = useLateWritings(copyId, true)
  if (!data?.length) return null
  return (
    <section className="late-writings" aria-label="Late writing">
      <h3>Late writing</h3>
      <p>Written after this copy stood still. No answer was changed by it.</p>
      {data.map(({ id, space, at, by, text }) => (
        <div key={id} className="late-writing">
          <div className="soft">
            {spaceLabel(content, space)} · {by} · <span title={exactTime(at)}>{timeInWords(at)}</span>
          </div>
          <div className="answer" dir="auto">
            {text || '(emptied)'}
          </div>
        </div>
      ))}
    </section>
  )
}
