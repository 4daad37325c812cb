import { Dropdown } from 'react-bootstrap'
import { Link } from 'react-router'
import { Menu } from '../ui/Menu'
import type { WorksheetListed } from './queries'
import type { PlacedFolder } from './useLibrary'
import type { LibraryActs } from './useLibraryActs'

/** The folders that worksheets can be put in. */
export const FolderItems = ({
  tree,
  move,
}: {
  readonly tree: readonly PlacedFolder[]
  readonly move: (folderId: string | null) => void
}) => (
  <>
    <Dropdown.Header>Move to</Dropdown.Header>
    <Dropdown.Item as="button" type="button" onClick={() => move(null)}>
      no folder
    </Dropdown.Item>
    {tree.map(({ folder, depth }) => (
      <Dropdown.Item key={folder.id} as="button" type="button" onClick={() => move(folder.id)}>
        {' '.repeat(depth)}
        {folder.name}
      </Dropdown.Item>
    ))}
  </>
)

/** What can be done with one worksheet. */
export function WorksheetMenu({
  worksheet,
  tree,
  acts,
  rename,
}: {
  readonly worksheet: WorksheetListed
  readonly tree: readonly PlacedFolder[]
  readonly acts: LibraryActs
  readonly rename: () => void
}) {
  return (
    <Menu label="…" name={`… what to do with ${worksheet.title}`} small variant="link" align="end">
      <Dropdown.Item as={Link} to={`/worksheets/${worksheet.id}`}>
        {worksheet.may === 'edit' ? 'Write in it' : 'Read'}
      </Dropdown.Item>
      <Dropdown.Item as={Link} to={`/worksheets/${worksheet.id}/about`}>
        Editions, handouts, sharing
      </Dropdown.Item>
      <Dropdown.Item as={Link} to={`/worksheets/${worksheet.id}/try`}>
        Try as student
      </Dropdown.Item>
      <Dropdown.Item as="button" type="button" onClick={() => acts.duplicate(worksheet.id)}>
        Begin another one from it
      </Dropdown.Item>
      <Dropdown.Item as="button" type="button" onClick={() => acts.pin([worksheet.id], !worksheet.pinned)}>
        {worksheet.pinned ? 'Take the pin off' : 'Pin'}
      </Dropdown.Item>
      {worksheet.may === 'edit' && !worksheet.archived && (
        <Dropdown.Item as="button" type="button" onClick={rename}>
          Rename
        </Dropdown.Item>
      )}
      {worksheet.isOwner && (
        <>
          <Dropdown.Item as="button" type="button" onClick={() => acts.archive([worksheet.id], !worksheet.archived)}>
            {worksheet.archived ? 'Bring back' : 'Archive'}
          </Dropdown.Item>
          {!worksheet.archived && <FolderItems tree={tree} move={(folderId) => acts.move([worksheet.id], folderId)} />}
        </>
      )}
    </Menu>
  )
}
