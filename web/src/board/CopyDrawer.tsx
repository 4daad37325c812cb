import { type BoardRow, fullName } from '@gavrin/core'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { AnswerView } from '../sheet/AnswerView'
import { useCopySheet } from '../copy/useCopySheet'
import { SheetContext } from '../sheet/surroundings'
import { LateWritings } from '../copy/LateWritings'
import { Sheet } from '../sheet/Sheet'
import '../copy/copy.css'
import { type CopyPageData, useCopy } from '../copy/queries'
import { useOpenCopy } from '../live/useOpenCopy'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import type { SignedIn } from '../ui/session'

interface Props {
  readonly row: BoardRow
  readonly person: SignedIn
  readonly up: (() => void) | null
  readonly down: (() => void) | null
  readonly close: () => void
}

/** A copy beside its row, seen as it is being written. */
export function CopyDrawer({ row, person, up, down, close }: Props) {
  const query = useCopy(row.copyId)
  return (
    <aside className="drawer" aria-label={`Copy of ${row.holders.map(fullName).join(', ')}`}>
      <div className="drawer-head">
        <h2>
          <bdi>{row.holders.map(fullName).join(', ') || row.title}</bdi>
        </h2>
        <span className="soft">
          {row.answered} of {row.spaces} · {row.state}
        </span>
        <span className="drawer-keys">
          <button type="button" onClick={() => up?.()} disabled={!up} aria-label="The copy before">
            ↑
          </button>
          <button type="button" onClick={() => down?.()} disabled={!down} aria-label="The next copy">
            ↓
          </button>
          <button type="button" onClick={close} aria-label="Close">
            ×
          </button>
        </span>
      </div>
      <Loaded query={query}>{(copy) => <LiveSheet data={copy} person={person} />}</Loaded>
      <div className="drawer-foot">
        <Link className="btn btn-outline-dark btn-sm" to={`/copies/${row.copyId}`}>
          Open the copy
        </Link>
        <Button
          size="sm"
          variant="link"
          onClick={() => void navigator.clipboard.writeText(`${location.origin}/copies/${row.copyId}`)}
        >
          Copy its link
        </Button>
      </div>
    </aside>
  )
}

function LiveSheet({ data, person }: { data: CopyPageData; person: SignedIn }) {
  const opened = useOpenCopy(data.id, person.id, data.content)
  const surroundings = useCopySheet(data.id, opened?.copy ?? null, opened?.view.generation ?? 0)
  return (
    <div className="drawer-sheet">
      {opened?.view.closed && <Notice kind="bad">{opened.view.closed}</Notice>}
      <SheetContext value={surroundings}>
        <Sheet
          content={data.content}
          ink={data.ink}
          answer={(space, label) =>
            opened ? (
              <AnswerView
                key={`${space.id}-${opened.view.generation}`}
                space={space}
                doc={opened.copy.doc(space.id)}
                label={label}
              />
            ) : (
              <div className="answer" aria-hidden="true" />
            )
          }
        />
      </SheetContext>
      <LateWritings copyId={data.id} content={data.content} />
    </div>
  )
}
