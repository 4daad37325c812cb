import { DndContext, type DragEndEvent, PointerSensor, pointerWithin, useSensor, useSensors } from '@dnd-kit/core'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link, useSearchParams } from 'react-router'
import type { Answers } from '../contract'
import { FindField } from '../ui/FindField'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { useGrowing } from '../ui/useGrowing'
import { useStored } from '../ui/useStored'
import { EmptyPlace } from './EmptyPlace'
import { FolderDialog, type FolderEdit } from './FolderDialog'
import { LibraryPlaces, placeFrom } from './LibraryPlaces'
import { LibrarySelection } from './LibrarySelection'
import { PageCard } from './PageCard'
import { RenameDialog } from './RenameDialog'
import { WorksheetMenu } from './WorksheetMenu'
import { WorksheetTable } from './WorksheetTable'
import './library.css'
import { type Folder, type WorksheetListed, useFolders, useWorksheets } from './queries'
import { LIBRARY_SORTS, type LibrarySort, folderTree, useLibrary } from './useLibrary'
import { useLibraryActs } from './useLibraryActs'

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

function Library({ worksheets, folders }: { worksheets: readonly WorksheetListed[]; folders: readonly Folder[] }) {
  const [search] = useSearchParams()
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
  const acts = useLibraryActs(place)
  const put = {
    ...acts,
    archive: (ids: readonly string[], archived: boolean) => {
      acts.archive(ids, archived)
      setChosen(new Set())
    },
  }
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
    acts.move(chosen.has(id) ? [...chosen] : [id], over.id === 'no folder' ? null : String(over.id))
  }
  const tree = folderTree(folders)
  const selected = shown.filter(({ id }) => chosen.has(id))
  const menuOf = (worksheet: WorksheetListed) => (
    <WorksheetMenu worksheet={worksheet} tree={tree} acts={put} rename={() => setRenaming([worksheet])} />
  )
  return (
    <DndContext sensors={sensors} collisionDetection={pointerWithin} onDragEnd={dropped}>
      <main className="page library">
        <LibraryPlaces place={place} tree={tree} worksheets={worksheets} edit={setFolderEdit} />
        <div className="library-main">
          <div className="page-head">
            <h1>Worksheets</h1>
            <span className="soft">originals; students only ever write in copies</span>
            <span className="page-acts">
              <Link className="btn btn-outline-dark" to="/worksheets/bring-in">
                Bring in
              </Link>
              <Button onClick={acts.begin} disabled={acts.isBeginning}>
                New worksheet
              </Button>
            </span>
          </div>
          {acts.trouble && <Notice kind="bad">{sentenceOf(acts.trouble)}</Notice>}
          <Unfinished />
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
            <LibrarySelection
              selected={selected}
              shown={shown.length}
              place={place}
              tree={tree}
              acts={put}
              rename={setRenaming}
              select={(which) => setChosen(new Set(which === 'all' ? shown.map(({ id }) => id) : []))}
            />
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
            <WorksheetTable worksheets={drawn} chosen={chosen} choose={choose} menuOf={menuOf} />
          )}
          {drawn.length < shown.length && <div ref={end} className="more-below" aria-hidden="true" />}
        </div>
      </main>
      {folderEdit && (
        <FolderDialog edit={folderEdit} folders={folders} close={() => setFolderEdit(null)} renew={acts.renew} />
      )}
      {renaming && (
        <RenameDialog
          worksheets={renaming}
          close={() => {
            setRenaming(null)
            void acts.renew()
          }}
        />
      )}
    </DndContext>
  )
}

/** What was brought in and is no worksheet yet. */
function Unfinished() {
  const { data = [] } = useQuery({
    queryKey: ['bring-in'],
    queryFn: () => api.get<Answers['GET bring-in']>('bring-in'),
  })
  const [first, another] = data
  if (!first) return null
  return (
    <Notice kind="look">
      {another
        ? `${data.length} files were brought in but not finished.`
        : `“${first.name}” was brought in but not finished.`}{' '}
      <Link to="/worksheets/bring-in">Go on with {another ? 'them' : 'it'}</Link>
    </Notice>
  )
}
