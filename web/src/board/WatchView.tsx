import { type BoardRow, fullName } from '@gavrin/core'
import { useEffect } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { useCopy } from '../copy/queries'
import type { SignedIn } from '../frame/session'
import { Loaded } from '../ui/Loaded'
import { SheetMark } from '../ui/SheetMark'
import { useStored } from '../ui/useStored'
import { LiveSheet } from './CopyDrawer'

export interface WatchViewProps {
  readonly rows: readonly BoardRow[]
  readonly person: SignedIn
  /** Goes on to others, so many at once; null: there are none there. */
  readonly before: (() => void) | null
  readonly after: (() => void) | null
  readonly open: (copyId: string) => void
  readonly close: () => void
}

/** Two to four copies beside each other, each as it is being written. */
export default function WatchView({ rows, person, before, after, open, close }: WatchViewProps) {
  // There is room for little: the print is known.
  const [answersOnly, setAnswersOnly] = useStored('answers only beside', true)
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if ((event.target as HTMLElement).closest('input, textarea, select, [contenteditable], .modal')) return
      if (event.altKey || event.ctrlKey || event.metaKey) return
      if (event.key === 'Escape') close()
      else if (event.key === 'ArrowRight') after?.()
      else if (event.key === 'ArrowLeft') before?.()
    }
    window.addEventListener('keydown', key)
    return () => window.removeEventListener('keydown', key)
  }, [before, after, close])
  return (
    <section className="watch" aria-label="Copies beside each other">
      <div className="watch-head">
        <Button size="sm" variant="link" onClick={close}>
          ← All copies
        </Button>
        <Form.Check
          type="switch"
          id="answers-only-beside"
          label="Answers only"
          checked={answersOnly}
          onChange={({ target }) => setAnswersOnly(target.checked)}
        />
        <span className="tools-end">
          <Button size="sm" variant="outline-dark" disabled={!before} onClick={() => before?.()}>
            {rows.length} before
          </Button>
          <Button size="sm" variant="outline-dark" disabled={!after} onClick={() => after?.()}>
            Next {rows.length}
          </Button>
        </span>
      </div>
      <div className={`watch-copies watch-${rows.length}`}>
        {rows.map((row) => (
          <Watched key={row.copyId} {...{ row, person, open, answersOnly }} />
        ))}
      </div>
    </section>
  )
}

interface WatchedProps {
  readonly row: BoardRow
  readonly person: SignedIn
  readonly open: (copyId: string) => void
  readonly answersOnly: boolean
}

function Watched({ row, person, open, answersOnly }: WatchedProps) {
  const query = useCopy(row.copyId)
  const whose = row.way === 'one each' && row.holders.length > 0 ? row.holders.map(fullName).join(', ') : row.title
  return (
    <article className="watched" aria-label={`Copy of ${whose}`}>
      <h2>
        <SheetMark state={row.state} share={row.spaces ? row.answered / row.spaces : 0} pensDown={row.pensDown} />{' '}
        <button type="button" className="row-button" onClick={() => open(row.copyId)}>
          <bdi>{whose}</bdi>
        </button>
        <span className="soft">
          {row.answered} of {row.spaces}
        </span>
        <Link to={`/copies/${row.copyId}`}>open</Link>
      </h2>
      <Loaded query={query}>
        {(copy) => <LiveSheet data={copy} person={person} changed={[]} isPlain answersOnly={answersOnly} />}
      </Loaded>
    </article>
  )
}
