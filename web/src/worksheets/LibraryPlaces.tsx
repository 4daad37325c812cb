import { Button } from 'react-bootstrap'
import { useSearchParams } from 'react-router'
import type { FolderEdit } from './FolderDialog'
import { PlaceItem } from './PlaceItem'
import type { Folder, WorksheetListed } from './queries'
import type { Place, PlacedFolder } from './useLibrary'

const PLACES = [
  ['all', 'All worksheets'],
  ['recent', 'Opened last'],
  ['pinned', 'Pinned'],
  ['shared', 'From colleagues'],
  ['archive', 'Archive'],
] as const

/** The place of the library that an address speaks of. */
export function placeFrom(search: URLSearchParams, folders: readonly Folder[]): Place {
  const folder = search.get('folder')
  if (folder && folders.some(({ id }) => id === folder)) return { folder }
  return PLACES.find(([name]) => name === search.get('place'))?.[0] ?? 'all'
}

/** Where one can be in the library: its places and one's own folders, each with how much lies there. */
export function LibraryPlaces({
  place,
  tree,
  worksheets,
  edit,
}: {
  readonly place: Place
  readonly tree: readonly PlacedFolder[]
  readonly worksheets: readonly WorksheetListed[]
  readonly edit: (folder: FolderEdit) => void
}) {
  const [, setSearch] = useSearchParams()
  return (
    <nav className="library-places" aria-label="Places of the library">
      <ul>
        {PLACES.map(([name, words]) => (
          <PlaceItem
            key={name}
            dropId={name === 'all' ? 'no folder' : null}
            isHere={place === name}
            go={() => setSearch(name === 'all' ? {} : { place: name })}
            count={worksheets.filter((one) => countsIn(one, name)).length}
            name={words}
          />
        ))}
      </ul>
      <h2>Folders</h2>
      <ul>
        {tree.map(({ folder, depth }) => (
          <PlaceItem
            key={folder.id}
            dropId={folder.id}
            depth={depth}
            isHere={typeof place === 'object' && place.folder === folder.id}
            go={() => setSearch({ folder: folder.id })}
            count={worksheets.filter(({ folderId, archived }) => folderId === folder.id && !archived).length}
            edit={() => edit({ folder })}
            name={folder.name}
          />
        ))}
      </ul>
      {tree.length === 0 && <p className="soft">One for each unit, say. Drag worksheets into it.</p>}
      <Button
        size="sm"
        variant="link"
        onClick={() => edit({ parentId: typeof place === 'object' ? place.folder : null })}
      >
        New folder
      </Button>
    </nav>
  )
}

function countsIn(worksheet: WorksheetListed, place: (typeof PLACES)[number][0]): boolean {
  if (place === 'archive') return worksheet.archived
  if (worksheet.archived) return false
  if (place === 'pinned') return worksheet.pinned
  if (place === 'shared') return !worksheet.isOwner
  return place === 'all'
}
