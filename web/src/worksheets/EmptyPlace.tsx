import { Link } from 'react-router'
import type { Place } from './useLibrary'

interface Props {
  readonly place: Place
  readonly typed: string
  /** There is no worksheet at all yet. */
  readonly isNew: boolean
}

/** What to do where there is nothing. */
export function EmptyPlace({ place, typed, isNew }: Props) {
  if (typed.trim()) return <p className="soft">No worksheet has this in its title or its text.</p>
  if (isNew && place === 'all')
    return (
      <div className="empty">
        <h2>No worksheets yet</h2>
        <p>
          Write one as students will see it, or bring in what you have: a document, a PDF, or a page photographed with
          your phone.
        </p>
        <Link className="btn btn-outline-dark" to="/worksheets/bring-in">
          Bring in
        </Link>
      </div>
    )
  const words: Record<Exclude<Place, object>, string> = {
    all: 'No worksheets here.',
    recent: 'You have not opened a worksheet yet.',
    pinned: 'Nothing is pinned: pin the originals that you use again and again.',
    shared: 'No colleague has shared a worksheet with you yet.',
    archive: 'Nothing is archived. What you archive leaves the library and can be brought back from here.',
  }
  return (
    <p className="soft">{typeof place === 'object' ? 'This folder is empty: drag worksheets here.' : words[place]}</p>
  )
}
