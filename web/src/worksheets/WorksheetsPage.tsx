import { DndContext, type DragEndEvent, PointerSensor, pointerWithin, useSensor, useSensors } from '@dnd-kit/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { type ReactNode, useEffect, useState } from 'react'
import { Button, Dropdown, Form } from 'react-bootstrap'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { FindField } from '../ui/FindField'
import { Loaded } from '../ui/Loaded'
import { Menu } from '../ui/Menu'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { exactTime, timeInWords } from '../ui/time'
import { useGrowing } from '../ui/useGrowing'
import { useStored } from '../ui/useStored'
import { EmptyPlace } from './EmptyPlace'
import { FolderDialog, type FolderEdit } from './FolderDialog'
import { PageCard } from './PageCard'
import { PinMark } from './PinMark'
import { PlaceItem } from './PlaceItem'
import { RenameDialog } from './RenameDialog'
import './library.css'
import { type Folder, type WorksheetListed, useFolders, useWorksheets } from './queries'
import { LIBRARY_SORTS, type LibrarySort, type Place, folderTree, useLibrary } from './useLibrary'
import type { Answers } from '../contract'

const PLACES = [
  ['all', 'All worksheets'],
  ['recent', 'Opened last'],
  ['pinned', 'Pinned'],
  ['shared', 'From colleagues'],
  ['archive', 'Archive'],
] as const

/** The library: originals in their folders, found, pinned, moved, shared and put away. */
export function WorksheetsPage() {
  const worksheets = useWorksheets()
  const folders = useFolders()
  useEffect(() => {
    document.title = 'Worksheets – Gavrin'
  }, [])
  return (
    <Loaded query={worksheets}>
      {(list) => <Loaded query={folders}>{(tree) => <Library worksheets={list} folders={tree} />}</Loaded>}
    </Loaded>
  )
}

function placeFrom(search: URLSearchParams, folders: readonly Folder[]): Place {
  const folder = search.get('folder')
  if (folder && folders.some(({ id }) => id === folder)) return { folder }
  return PLACES.find(([name]) => name === search.get('place'))?.[0] ?? 'all'
}

function Library({ worksheets, folders }: { worksheets: readonly WorksheetListed[]; folders: readonly Folder[] }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [search, setSearch] = useSearchParams()
  const place = placeFrom(search, folders)
  const [typed, setTyped] = useState('')
  const [sort, setSort] = useStored<LibrarySort>('library sort', 'changed')
  const [look, setLook] = useStored<'pages' | 'list'>('library look', 'pages')
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const [folderEdit, setFolderEdit] = useState<FolderEdit | null>(null)
  const [renaming, setRenaming] = useState<readonly WorksheetListed[] | null>(null)
  const { shown, searching } = useLibrary(worksheets, place, typed, sort)
  // Of hundreds only those near the view are drawn.
  const { count, end } = useGrowing(`${JSON.stringify(place)} ${sort} ${typed}`, 36)
  const drawn = shown.slice(0, count)
  const unfinished = useQuery({
    queryKey: ['bring-in'],
    queryFn: () => api.get<Answers['GET bring-in']>('bring-in'),
  })
  const renew = () =>
    Promise.all([
      client.invalidateQueries({ queryKey: ['worksheets'] }),
      client.invalidateQueries({ queryKey: ['folders'] }),
    ])
  const begin = useMutation({
    mutationFn: () =>
      api.post<Answers['POST worksheets']>('worksheets', {
        title: 'Untitled worksheet',
        folderId: typeof place === 'object' ? place.folder : null,
      }),
    onSuccess: ({ id }) => navigate(`/worksheets/${id}`),
  })
  const act = useMutation({
    mutationFn: ({ path, body }: { path: string; body: object }) => api.post<unknown>(`worksheets/${path}`, body),
    onSettled: renew,
  })
  const copy = useMutation({
    mutationFn: (id: string) =>
      api.post<Answers['POST worksheets/{worksheetId}/duplicate']>(`worksheets/${id}/duplicate`),
    onSuccess: ({ id }) => navigate(`/worksheets/${id}`),
  })
  const move = (ids: readonly string[], folderId: string | null) =>
    act.mutate({ path: 'move', body: { ids, folderId } })
  const archive = (ids: readonly string[], archived: boolean) => {
    act.mutate({ path: 'archive', body: { ids, archived } })
    setChosen(new Set())
  }
  const pin = (ids: readonly string[], pinned: boolean) => act.mutate({ path: 'pin', body: { ids, pinned } })
  const choose = (id: string, on: boolean) => {
    const next = new Set(chosen)
    if (on) next.add(id)
    else next.delete(id)
    setChosen(next)
  }
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }))
  const dropped = ({ active, over }: DragEndEvent) => {
    if (!over) return
    const id = String(active.id)
    const ids = chosen.has(id) ? [...chosen] : [id]
    move(ids, over.id === 'no folder' ? null : String(over.id))
  }
  const tree = folderTree(folders)
  const selected = shown.filter(({ id }) => chosen.has(id))
  const own = selected.filter(({ isOwner }) => isOwner)
  const trouble = begin.error ?? act.error ?? copy.error
  const folderItems = (ids: readonly string[]) => (
    <>
      <Dropdown.Header>Move to</Dropdown.Header>
      <Dropdown.Item as="button" type="button" onClick={() => move(ids, null)}>
        no folder
      </Dropdown.Item>
      {tree.map(({ folder, depth }) => (
        <Dropdown.Item key={folder.id} as="button" type="button" onClick={() => move(ids, folder.id)}>
          {' '.repeat(depth)}
          {folder.name}
        </Dropdown.Item>
      ))}
    </>
  )
  const menuOf = (worksheet: WorksheetListed) => (
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
      <Dropdown.Item as="button" type="button" onClick={() => copy.mutate(worksheet.id)}>
        Begin another one from it
      </Dropdown.Item>
      <Dropdown.Item as="button" type="button" onClick={() => pin([worksheet.id], !worksheet.pinned)}>
        {worksheet.pinned ? 'Take the pin off' : 'Pin'}
      </Dropdown.Item>
      {worksheet.may === 'edit' && !worksheet.archived && (
        <Dropdown.Item as="button" type="button" onClick={() => setRenaming([worksheet])}>
          Rename
        </Dropdown.Item>
      )}
      {worksheet.isOwner && (
        <>
          <Dropdown.Item as="button" type="button" onClick={() => archive([worksheet.id], !worksheet.archived)}>
            {worksheet.archived ? 'Bring back' : 'Archive'}
          </Dropdown.Item>
          {!worksheet.archived && folderItems([worksheet.id])}
        </>
      )}
    </Menu>
  )
  return (
    <DndContext sensors={sensors} collisionDetection={pointerWithin} onDragEnd={dropped}>
      <main className="page library">
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
                edit={() => setFolderEdit({ folder })}
                name={folder.name}
              />
            ))}
          </ul>
          {tree.length === 0 && <p className="soft">One for each unit, say. Drag worksheets into it.</p>}
          <Button
            size="sm"
            variant="link"
            onClick={() => setFolderEdit({ parentId: typeof place === 'object' ? place.folder : null })}
          >
            New folder
          </Button>
        </nav>
        <div className="library-main">
          <div className="page-head">
            <h1>Worksheets</h1>
            <span className="soft">originals; students only ever write in copies</span>
            <span className="page-acts">
              <Link className="btn btn-outline-dark" to="/worksheets/bring-in">
                Bring in
              </Link>
              <Button onClick={() => begin.mutate()} disabled={begin.isPending}>
                New worksheet
              </Button>
            </span>
          </div>
          {trouble && <Notice kind="bad">{sentenceOf(trouble)}</Notice>}
          {unfinished.data && unfinished.data.length > 0 && (
            <Notice kind="look">
              {unfinished.data.length === 1
                ? `“${unfinished.data[0]!.name}” was brought in but not finished.`
                : `${unfinished.data.length} files were brought in but not finished.`}{' '}
              <Link to="/worksheets/bring-in">Go on with {unfinished.data.length === 1 ? 'it' : 'them'}</Link>
            </Notice>
          )}
          <div className="table-tools">
            <FindField label="Find in titles and text" value={typed} change={setTyped} />
            <Form.Select
              size="sm"
              className="sort-field"
              aria-label="Order"
              value={sort}
              onChange={({ target }) => setSort(target.value as LibrarySort)}
            >
              {Object.entries(LIBRARY_SORTS).map(([name, words]) => (
                <option key={name} value={name}>
                  {words}
                </option>
              ))}
            </Form.Select>
            <Button size="sm" variant="link" onClick={() => setLook(look === 'pages' ? 'list' : 'pages')}>
              {look === 'pages' ? 'Show as a list' : 'Show pages'}
            </Button>
            <span className="soft" role="status">
              {typed && `${shown.length} found${searching ? ' so far …' : ''}`}
            </span>
          </div>
          {selected.length > 0 && (
            <div className="selection-line" role="toolbar" aria-label="Selected worksheets">
              <b>
                {selected.length} {selected.length === 1 ? 'worksheet' : 'worksheets'}
              </b>
              {own.length > 0 && (
                <>
                  <Menu label="Move" small>
                    {folderItems(own.map(({ id }) => id))}
                  </Menu>
                  <Button size="sm" variant="outline-dark" onClick={() => setRenaming(own)}>
                    Rename
                  </Button>
                  <Button
                    size="sm"
                    variant="outline-dark"
                    onClick={() =>
                      archive(
                        own.map(({ id }) => id),
                        place !== 'archive',
                      )
                    }
                  >
                    {place === 'archive' ? 'Bring back' : 'Archive'} {own.length}
                  </Button>
                </>
              )}
              <Button
                size="sm"
                variant="outline-dark"
                onClick={() =>
                  pin(
                    selected.map(({ id }) => id),
                    !selected.every(({ pinned }) => pinned),
                  )
                }
              >
                {selected.every(({ pinned }) => pinned) ? 'Take the pin off' : 'Pin'}
              </Button>
              <Button size="sm" variant="link" onClick={() => setChosen(new Set(shown.map(({ id }) => id)))}>
                Select all {shown.length}
              </Button>
              <Button size="sm" variant="link" onClick={() => setChosen(new Set())}>
                Select none
              </Button>
            </div>
          )}
          {shown.length === 0 ? (
            <EmptyPlace place={place} typed={typed} isNew={worksheets.length === 0} />
          ) : look === 'pages' ? (
            <ul className="pages">
              {drawn.map((worksheet) => (
                <PageCard
                  key={worksheet.id}
                  worksheet={worksheet}
                  isChosen={chosen.has(worksheet.id)}
                  choose={(on) => choose(worksheet.id, on)}
                  menu={menuOf(worksheet)}
                />
              ))}
            </ul>
          ) : (
            <table className="grid worksheets">
              <thead>
                <tr>
                  <th scope="col" className="tick-column">
                    <span className="visually-hidden">Selected</span>
                  </th>
                  <th scope="col">Worksheet</th>
                  <th scope="col">Edition</th>
                  <th scope="col" className="n">
                    Answer spaces
                  </th>
                  <th scope="col" className="n">
                    Copies
                  </th>
                  <th scope="col">Changed</th>
                  <th scope="col">
                    <span className="visually-hidden">What to do</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {drawn.map((worksheet) => (
                  <tr key={worksheet.id}>
                    <td>
                      <Form.Check
                        aria-label={`Select ${worksheet.title}`}
                        checked={chosen.has(worksheet.id)}
                        onChange={({ target }) => choose(worksheet.id, target.checked)}
                      />
                    </td>
                    <td>
                      <Link className="row-link" to={`/worksheets/${worksheet.id}`}>
                        <bdi>{worksheet.title}</bdi>
                      </Link>
                      {worksheet.pinned && <PinMark />}
                      {!worksheet.isOwner && <span className="soft"> by {worksheet.owner}</span>}
                    </td>
                    <td>
                      <EditionWords worksheet={worksheet} />
                    </td>
                    <td className="n">{worksheet.edition === null ? '–' : worksheet.answerSpaces}</td>
                    <td className="n">{worksheet.copies}</td>
                    <td>
                      <span title={exactTime(worksheet.updatedAt)}>{timeInWords(worksheet.updatedAt)}</span>
                    </td>
                    <td className="n">{menuOf(worksheet)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {drawn.length < shown.length && <div ref={end} className="more-below" aria-hidden="true" />}
        </div>
      </main>
      {folderEdit && (
        <FolderDialog edit={folderEdit} folders={folders} close={() => setFolderEdit(null)} renew={renew} />
      )}
      {renaming && (
        <RenameDialog
          worksheets={renaming}
          close={() => {
            setRenaming(null)
            void renew()
          }}
        />
      )}
    </DndContext>
  )
}

function countsIn(worksheet: WorksheetListed, place: (typeof PLACES)[number][0]): boolean {
  if (place === 'archive') return worksheet.archived
  if (worksheet.archived) return false
  if (place === 'pinned') return worksheet.pinned
  if (place === 'shared') return !worksheet.isOwner
  return place === 'all'
}

function EditionWords({ worksheet }: { worksheet: WorksheetListed }): ReactNode {
  if (worksheet.edition === null) return <span className="warn">no edition kept yet</span>
  return (
    <>
      {worksheet.edition}
      {worksheet.version !== worksheet.keptVersion && <span className="tag">draft is newer</span>}
    </>
  )
}
