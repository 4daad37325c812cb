import { type Change, countChanges } from '@gavrin/core'
import type { ReactNode } from 'react'
import { Button, ProgressBar } from 'react-bootstrap'
import { Link } from 'react-router'
import { sentenceOf } from '../ui/api'
import type { SlipData } from './queries'
import type { HandingOut } from './useHandOut'

interface Props {
  readonly handing: HandingOut
  readonly changes: readonly Change[]
  /** Something has to be mended first. */
  readonly stops: boolean
  /** No copy changes, but what stands above them does. */
  readonly onlyWords: boolean
  readonly data: SlipData
  readonly classId: string
  /** The slot of the row that is chosen. */
  readonly chosen: string | null
  /** What else can be done with the proof. */
  readonly children: ReactNode
}

/** The one button that hands out, a bar while it does, and what is said of it. */
export function HandOutBar({ handing, changes, stops, onlyWords, data, classId, chosen, children }: Props) {
  const { busy, run, failures, trouble } = handing
  const nothing = changes.length === 0
  if (busy && run && !run.finished)
    return (
      <footer className="bar">
        <div className="run" role="status">
          <ProgressBar now={run.total ? (100 * run.done) / run.total : 0} aria-label="Handing out" />
          <span>
            {run.done} of {run.total} done. It goes on if you leave this page.
          </span>
        </div>
      </footer>
    )
  return (
    <footer className="bar">
      {failures.size > 0 ? (
        <Button disabled={handing.isRetrying} onClick={() => handing.retry(chosen ? [chosen] : null)}>
          {chosen ? 'Try this one again' : `Try ${failures.size} again`}
        </Button>
      ) : (
        <Button disabled={busy || stops || (nothing && !onlyWords) || !data.mayHandOut} onClick={handing.handOut}>
          {busy ? 'Handing out …' : onlyWords ? 'Hand out the new wording' : handOutWords(changes)}
        </Button>
      )}
      {children}
      {data.handedOutAt !== null && data.id && (
        <Link className="btn btn-link" to={`/class/${classId}/handouts/${data.id}`}>
          Back to the board
        </Link>
      )}
      {data.undoable !== null && nothing && (
        <Button variant="link" disabled={busy} onClick={handing.undo}>
          Undo the last hand-out
        </Button>
      )}
      {trouble ? (
        <span className="bad" role="alert">
          {sentenceOf(trouble)}
        </span>
      ) : failures.size > 0 ? (
        <span className="bad" role="alert">
          {failures.size} could not be written: see “to look at”. All others are done.
        </span>
      ) : !data.mayHandOut ? (
        <span className="soft">You see this slip; those who teach all its classes hand out.</span>
      ) : (
        <span className="soft">{footWords(changes, nothing && !stops)}</span>
      )}
    </footer>
  )
}

/** The button always says the number. */
function handOutWords(changes: readonly Change[]): string {
  const { create, notify, ...others } = countChanges(changes)
  const rest = Object.values(others).reduce((sum, count) => sum + count, 0)
  const copies = `${create} ${create === 1 ? 'copy' : 'copies'}`
  if (create + rest === 0 && notify > 0) return `Send ${notify} cover ${notify === 1 ? 'note' : 'notes'}`
  if (rest === 0) return `Hand out ${copies}`
  const mend = `${rest} ${rest === 1 ? 'change' : 'changes'}`
  return create === 0 ? `Make ${mend}` : `Hand out ${copies} and make ${mend}`
}

function footWords(changes: readonly Change[], allDone: boolean): string {
  if (allDone) return 'All of this is handed out.'
  const { notify } = countChanges(changes)
  const notes = notify > 0 ? `${notify} cover ${notify === 1 ? 'note goes' : 'notes go'} out with it. ` : ''
  return `${notes}You can mend or undo it afterwards; nothing written is lost.`
}
