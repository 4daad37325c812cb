import type { DraftState as Draft } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type Editor, EditorContent, useEditor, useEditorState } from '@tiptap/react'
import { type MouseEvent, useEffect, useMemo, useRef, useState } from 'react'
import { Button, Dropdown } from 'react-bootstrap'
import { Link, useNavigate, useParams } from 'react-router'
import { paperShape } from '../sheet/Sheet'
import '../sheet/sheet.css'
import { SheetContext, inLibrary } from '../sheet/surroundings'
import { Loaded } from '../ui/Loaded'
import { Menu } from '../ui/Menu'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import '../ui/editable.css'
import type { SignedIn } from '../frame/session'
import { exactTime, shortTime } from '../ui/time'
import { ReadSheet } from '../worksheets/ReadSheet'
import { WriteOutMenu } from '../worksheets/WriteOutMenu'
import { type WorksheetOpened, useWorksheet, worksheetKey } from '../worksheets/queries'
import { Palette } from './Palette'
import { SidePanel } from './SidePanel'
import { type PageAbout, aboutOf, fromEditor, toEditor } from './document'
import './editor.css'
import { WORKSHEET } from './extensions'
import { countSpaces, takeAllSpaces } from './proposals'
import { showDraft } from './showDraft'
import { readSelection } from './readSelection'
import { useAuthors } from './useAuthors'
import { type DraftState, type TakenUp, useDraft } from './useDraft'
import { usePictures } from './usePictures'
import type { Answers, Bodies } from '../contract'

/** A worksheet being written, as students will see it. */
export function EditorPage({ person }: { readonly person: SignedIn }) {
  const { worksheetId = '' } = useParams()
  const query = useWorksheet(worksheetId)
  return (
    <Loaded query={query}>
      {(worksheet) =>
        worksheet.mayChange ? (
          <WorksheetEditor key={worksheet.id} worksheet={worksheet} person={person} />
        ) : (
          <ReadSheet worksheet={worksheet} />
        )
      }
    </Loaded>
  )
}

function WorksheetEditor({ worksheet, person }: { readonly worksheet: WorksheetOpened; readonly person: SignedIn }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [title, setTitle] = useState(worksheet.title)
  const [about, setAbout] = useState(() => aboutOf(worksheet.draft))
  const [both, setBoth] = useState(0)
  const now = useRef({ title, about })
  const [keptVersion, setKeptVersion] = useState(worksheet.keptVersion)
  const [edition, setEdition] = useState(worksheet.editions[0]?.number ?? 0)
  const editorNow = useRef<Editor | null>(null)
  const side = useRef<HTMLElement>(null)
  const surroundings = useMemo(() => inLibrary(worksheet.id), [worksheet.id])
  const draft = useDraft(worksheet, person.id, {
    read: () => read(editorNow.current, now.current),
    show: (other: Draft, changedByBoth) => {
      const mine = read(editorNow.current, now.current)
      now.current = { title: other.title, about: aboutOf(other.content) }
      setTitle(other.title)
      setAbout(now.current.about)
      if (editorNow.current) showDraft(editorNow.current, mine.content, other.content)
      if (changedByBoth.length > 0) setBoth(changedByBoth.length)
    },
  })
  /** To the first thing that can be set about what is selected, or stands right before the caret. */
  const toSettings = () => side.current?.querySelector<HTMLElement>('input, textarea, select')?.focus()
  const pictures = usePictures(worksheet.id, () => editorNow.current)
  const editor = useEditor({
    injectCSS: false,
    extensions: WORKSHEET,
    content: toEditor(worksheet.draft),
    // What stands around the page asks for what it needs by itself.
    shouldRerenderOnTransaction: false,
    editorProps: {
      attributes: { class: 'sheet', role: 'textbox', 'aria-multiline': 'true', 'aria-label': 'Worksheet' },
      handleDOMEvents: { click: readSelection },
      handleKeyDown: (_, event) => {
        if (event.key !== 'Enter' || !event.altKey) return false
        toSettings()
        return true
      },
      handlePaste: (_, event) => pictures.take(event.clipboardData?.files),
      handleDrop: (_, event, __, isMoved) => !isMoved && pictures.take(event.dataTransfer?.files),
    },
    onUpdate: ({ transaction }) => {
      if (transaction.getMeta('shown') || transaction.getMeta('addToHistory') === false) return
      draft.change()
    },
  })
  useEffect(() => {
    editorNow.current = editor
  }, [editor])
  const authors = useAuthors(worksheet.id, editor, person.id, draft.changedElsewhere)
  const keep = useMutation({
    mutationFn: async () => {
      const version = await draft.flush()
      if (version === null) throw new Error('not kept')
      const kept = await api.post<Answers['POST worksheets/{worksheetId}/editions']>(
        `worksheets/${worksheet.id}/editions`,
        { version } satisfies Bodies['POST worksheets/{worksheetId}/editions'],
      )
      return { ...kept, version }
    },
    onSuccess: ({ number, version }) => {
      setEdition(number)
      setKeptVersion(version)
      void client.invalidateQueries({ queryKey: ['worksheets'] })
    },
  })
  useEffect(() => {
    document.title = `${title || 'Worksheet'} – Gavrin`
  }, [title])
  const change = (next: Partial<typeof now.current>) => {
    now.current = { ...now.current, ...next }
    if (next.title !== undefined) setTitle(next.title)
    if (next.about) setAbout(next.about)
    draft.change()
  }
  /** A way to another view of this worksheet, which shows what is typed here: it is kept first. */
  const leaveFor = (path: string) => ({
    to: path,
    onClick: (event: MouseEvent) => {
      if (event.ctrlKey || event.metaKey || event.shiftKey) return void draft.flush()
      event.preventDefault()
      void draft.flush().then(() => navigate(path))
    },
  })
  const upToDate = keptVersion === draft.version && draft.state.is === 'kept'
  return (
    <SheetContext value={surroundings}>
      <main className="editor-page" data-ink="deep-blue">
        <h1 className="visually-hidden">Worksheet: {title}</h1>
        <div className="editor-head">
          <Link to="/worksheets" className="back" aria-label="Back to the worksheets">
            ←
          </Link>
          <input
            className="title-field"
            aria-label="Title of the worksheet"
            maxLength={200}
            dir="auto"
            value={title}
            placeholder="Title of the worksheet"
            onChange={({ target }) => change({ title: target.value })}
          />
          <span className="soft" role="status">
            {edition === 0 ? 'no edition yet' : upToDate ? `edition ${edition}` : `after edition ${edition}`} ·{' '}
            <DraftNote state={draft.state} />
          </span>
          {authors.length > 0 && (
            <span className="authors">
              <bdi>{authors.map(({ name }) => name).join(', ')}</bdi> {authors.length === 1 ? 'has' : 'have'} it open
              too
            </span>
          )}
          <span className="page-acts">
            {editor && <ProposedCount editor={editor} />}
            <Link className="btn btn-outline-dark" {...leaveFor(`/worksheets/${worksheet.id}/try`)}>
              Try as student
            </Link>
            <Menu label="More" align="end">
              <Dropdown.Item as={Link} {...leaveFor(`/worksheets/${worksheet.id}/key`)}>
                Answer key
              </Dropdown.Item>
              <Dropdown.Item as={Link} {...leaveFor(`/worksheets/${worksheet.id}/read`)}>
                Print
              </Dropdown.Item>
              <Dropdown.Item as={Link} {...leaveFor(`/worksheets/${worksheet.id}/about`)}>
                Editions, handouts, sharing
              </Dropdown.Item>
              <Dropdown.Divider />
              <WriteOutMenu worksheetId={worksheet.id} edition={null} before={async () => void (await draft.flush())} />
            </Menu>
            <Button
              onClick={() => keep.mutate()}
              disabled={keep.isPending || upToDate}
              title="What you type is saved by itself. Copies are made of an edition, which never changes."
            >
              {upToDate ? `Edition ${edition} is made` : `Make edition ${edition + 1}`}
            </Button>
          </span>
        </div>
        {draft.state.is === 'not kept' && (
          <Notice kind="bad">
            {draft.state.sentence}{' '}
            {draft.state.stale && (
              <Button variant="link" onClick={() => void client.resetQueries({ queryKey: worksheetKey(worksheet.id) })}>
                Open the newer one
              </Button>
            )}
          </Notice>
        )}
        {keep.error && draft.state.is !== 'not kept' && (
          <Notice kind="bad">
            What you typed is saved, but edition {edition + 1} could not be made: {sentenceOf(keep.error)}
          </Notice>
        )}
        {pictures.problem && <Notice kind="bad">{pictures.problem}</Notice>}
        {draft.takenUp && (
          <Notice kind="look">
            What you wrote here last had not reached the server{takenUpWords(draft.takenUp)}
            {draft.takenUp.words.map((words, at) => (
              <q key={at}>{words}</q>
            ))}{' '}
            <Button variant="link" onClick={draft.readTakenUp}>
              Close
            </Button>
          </Notice>
        )}
        {both > 0 && (
          <Notice kind="look">
            {both === 1 ? 'One block was' : `${both} blocks were`} changed by both of you in ways that cannot be put
            together: yours {both === 1 ? 'stands' : 'stand'}.{' '}
            <Button variant="link" onClick={() => setBoth(0)}>
              Close
            </Button>
          </Notice>
        )}
        <div className="editor-body">
          {editor && (
            <Palette
              editor={editor}
              toSettings={toSettings}
              putPictures={pictures.put}
              putBackdrops={pictures.putBackdrops}
            />
          )}
          <div className="editor-paper">
            <div className="paper" lang={about.language} style={{ minHeight: paperHeight(about) }}>
              <EditorContent editor={editor} className="paper-content" />
              <p className="sheet-source">{about.source}</p>
            </div>
          </div>
          <aside
            className="editor-side"
            ref={side}
            onKeyDown={(event) => {
              // Back to the page, behind what was set up.
              if (event.key !== 'Escape' || event.defaultPrevented) return
              event.preventDefault()
              editor?.chain().focus().goBehind().run()
              editor?.commands.focus()
            }}
          >
            {editor && (
              <SidePanel
                editor={editor}
                worksheet={worksheet}
                about={about}
                setAbout={(next) => change({ about: next })}
                mediaUrl={surroundings.mediaUrl}
              />
            )}
          </aside>
        </div>
      </main>
    </SheetContext>
  )
}

function read(editor: Editor | null, { title, about }: { title: string; about: PageAbout }): Draft {
  return { title, content: fromEditor(editor?.getJSON() ?? { type: 'doc' }, about) }
}

/** The paper is 800 px wide. */
function paperHeight(about: Pick<Draft['content'], 'page'>): string {
  const [width, height] = paperShape(about).aspectRatio.split(' / ').map(Number) as [number, number]
  return `${Math.round((800 * height) / width)}px`
}

function ProposedCount({ editor }: { editor: Editor }) {
  const proposed = useEditorState({ editor, selector: ({ editor: now }) => countSpaces(now.state.doc).proposed })
  if (proposed === 0) return null
  return (
    <>
      <span className="proposed-count">
        {proposed} answer {proposed === 1 ? 'space' : 'spaces'} proposed
      </span>
      <Button variant="outline-dark" onClick={() => takeAllSpaces(editor)}>
        Use all
      </Button>
    </>
  )
}

function takenUpWords({ isNew, words }: TakenUp): string {
  if (words.length === 0) return ': it is in again.'
  return isNew
    ? '. It is in again, but for what was changed otherwise since: '
    : ', and was changed otherwise since, so that it is not in the worksheet: '
}

function DraftNote({ state }: { state: DraftState }) {
  switch (state.is) {
    case 'kept':
      return <span title={exactTime(state.at)}>saved {shortTime(state.at)}</span>
    case 'changed':
    case 'keeping':
      return <>saving …</>
    case 'not kept':
      return <span className="bad">not saved</span>
  }
}
