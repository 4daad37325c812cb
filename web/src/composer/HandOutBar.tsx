import type { CopyCounts } from '@gavrin/core'
import { type ReactNode, useState } from 'react'
import { Button, ProgressBar } from 'react-bootstrap'
import { Link } from 'react-router'
import { sentenceOf } from '../ui/api'
import { UndoDialog } from './UndoDialog'
import type { SlipData } from './queries'
import type { HandingOut } from './useHandOut'

interface Props {
  readonly handing: HandingOut
  /** What becomes of the copies. */
  readonly counts: CopyCounts
  readonly nothing: boolean
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
export function HandOutBar({ handing, counts, nothing, stops, onlyWords, data, classId, chosen, children }: Props) {
  const { busy, run, failures, trouble } = handing
  const [undoing, setUndoing] = useState(false)
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
          {busy ? 'Handing out …' : onlyWords ? 'Hand out what is new in it' : handOutWords(counts)}
        </Button>
      )}
      {children}
      {data.handedOutAt !== null && data.id && (
        <Link className="btn btn-link" to={`/class/${classId}/handouts/${data.id}`}>
          Back to the board
        </Link>
      )}
      {data.undoable !== null && nothing && data.id && (
        <Button variant="link" disabled={busy} onClick={() => setUndoing(true)}>
          {data.undoable.kind === 'undo' ? 'Take the undo back …' : 'Undo the last hand-out …'}
        </Button>
      )}
      {undoing && data.id && (
        <UndoDialog
          handoutId={data.id}
          several={data.parts.length > 1}
          undone={handing.undone}
          close={() => setUndoing(false)}
        />
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
        <span className="soft">
          {nothing && !stops && !onlyWords
            ? 'All of this is handed out.'
            : 'You can mend or undo it afterwards; nothing written is lost.'}
        </span>
      )}
    </footer>
  )
}

/** The button always says the numbers, as the proof counts them. */
function handOutWords({ make, change, aside, notes }: CopyCounts): string {
  const copies = (count: number) => `${count} ${count === 1 ? 'copy' : 'copies'}`
  const acts = [
    make > 0 && `hand out ${copies(make)}`,
    change > 0 && `change ${make > 0 ? change : copies(change)}`,
    aside > 0 && `set ${make + change > 0 ? aside : copies(aside)} aside`,
  ].filter((act) => act !== false)
  if (acts.length === 0)
    return notes > 0 ? `Send ${notes} cover ${notes === 1 ? 'note' : 'notes'}` : 'Hand out 0 copies'
  const words = acts.length === 1 ? acts[0]! : `${acts.slice(0, -1).join(', ')} and ${acts.at(-1)}`
  return `${words[0]!.toUpperCase()}${words.slice(1)}`
}
