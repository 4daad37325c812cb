import { Button } from 'react-bootstrap'
import { Menu } from '../ui/Menu'
import { FolderItems } from './WorksheetMenu'
import type { WorksheetListed } from './queries'
import type { Place, PlacedFolder } from './useLibrary'
import type { LibraryActs } from './useLibraryActs'

/** What can be done with the selected worksheets together; what is not one's own only pinned. */
export function LibrarySelection({
  selected,
  shown,
  place,
  tree,
  acts,
  rename,
  select,
}: {
  readonly selected: readonly WorksheetListed[]
  /** How many could be selected. */
  readonly shown: number
  readonly place: Place
  readonly tree: readonly PlacedFolder[]
  readonly acts: LibraryActs
  readonly rename: (worksheets: readonly WorksheetListed[]) => void
  readonly select: (which: 'all' | 'none') => void
}) {
  const own = selected.filter(({ isOwner }) => isOwner)
  const ids = own.map(({ id }) => id)
  const arePinned = selected.every(({ pinned }) => pinned)
  return (
    <div className="selection-line" role="toolbar" aria-label="Selected worksheets">
      <b>
        {selected.length} {selected.length === 1 ? 'worksheet' : 'worksheets'}
      </b>
      {own.length > 0 && (
        <>
          <Menu label="Move" small>
            <FolderItems tree={tree} move={(folderId) => acts.move(ids, folderId)} />
          </Menu>
          <Button size="sm" variant="outline-dark" onClick={() => rename(own)}>
            Rename
          </Button>
          <Button size="sm" variant="outline-dark" onClick={() => acts.archive(ids, place !== 'archive')}>
            {place === 'archive' ? 'Bring back' : 'Archive'} {own.length}
          </Button>
        </>
      )}
      <Button
        size="sm"
        variant="outline-dark"
        onClick={() =>
          acts.pin(
            selected.map(({ id }) => id),
            !arePinned,
          )
        }
      >
        {arePinned ? 'Take the pin off' : 'Pin'}
      </Button>
      <Button size="sm" variant="link" onClick={() => select('all')}>
        Select all {shown}
      </Button>
      <Button size="sm" variant="link" onClick={() => select('none')}>
        Select none
      </Button>
    </div>
  )
}
