import { type AnswerKind, type AnswerSpace, answerSpaces } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { NodeSelection } from '@tiptap/pm/state'
import { type Editor, EditorContent, useEditor, useEditorState } from '@tiptap/react'
import StarterKit from '@tiptap/starter-kit'
import { useEffect, useRef, useState } from 'react'
import { Button } from 'react-bootstrap'
import { useParams } from 'react-router'
import '../copy/copy.css'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import '../ui/editable.css'
import { exactTime, timeInWords } from '../ui/time'
import { type WorksheetOpened, useWorksheet, worksheetKey } from '../worksheets/queries'
import { AnswerSpaceNode } from './AnswerSpaceNode'
import { SpaceSettings } from './SpaceSettings'
import { BlockIds } from './blockIds'
import { fromEditor, toEditor } from './document'
import './editor.css'
import { type DraftState, useDraft } from './useDraft'

/** A worksheet being written, as students will see it. */
export function EditorPage() {
  const { worksheetId = '' } = useParams()
  const query = useWorksheet(worksheetId)
  return <Loaded query={query}>{(worksheet) => <WorksheetEditor key={worksheet.id} worksheet={worksheet} />}</Loaded>
}

function WorksheetEditor({ worksheet }: { readonly worksheet: WorksheetOpened }) {
  const client = useQueryClient()
  const [title, setTitle] = useState(worksheet.title)
  const titleNow = useRef(worksheet.title)
  const [keptVersion, setKeptVersion] = useState(worksheet.keptVersion)
  const [edition, setEdition] = useState(worksheet.editions[0]?.number ?? 0)
  const draft = useDraft(worksheet.id, worksheet)
  const editor = useEditor({
    injectCSS: false,
    extensions: [
      StarterKit.configure({
        heading: { levels: [1, 2, 3] },
        blockquote: false,
        codeBlock: false,
        code: false,
        horizontalRule: false,
        link: false,
        strike: false,
      }),
      AnswerSpaceNode,
      BlockIds,
    ],
    content: toEditor(worksheet.draft),
    editorProps: {
      attributes: { class: 'sheet', role: 'textbox', 'aria-multiline': 'true', 'aria-label': 'Worksheet' },
    },
    onUpdate: ({ editor: changed, transaction }) => {
      if (transaction.getMeta('addToHistory') === false) return
      draft.change({ title: titleNow.current, content: fromEditor(changed.getJSON()) })
    },
  })
  const keep = useMutation({
    mutationFn: async () => {
      const version = await draft.flush()
      if (version === null) throw new Error('not kept')
      const kept = await api.post<{ number: number }>(`worksheets/${worksheet.id}/editions`, { version })
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
  const upToDate = keptVersion === draft.version && draft.state.is === 'kept'
  return (
    <div className="editor-page" data-ink="deep-blue">
      <div className="editor-head">
        <input
          className="title-field"
          aria-label="Title of the worksheet"
          maxLength={200}
          dir="auto"
          value={title}
          placeholder="Title of the worksheet"
          onChange={({ target }) => {
            setTitle(target.value)
            titleNow.current = target.value
            if (editor) draft.change({ title: target.value, content: fromEditor(editor.getJSON()) })
          }}
        />
        <span className="soft" role="status">
          {edition === 0 ? 'no edition kept yet' : upToDate ? `edition ${edition}` : `after edition ${edition}`} ·{' '}
          <DraftNote state={draft.state} />
        </span>
        <span className="page-acts">
          <Button onClick={() => keep.mutate()} disabled={keep.isPending || upToDate}>
            {upToDate ? `Edition ${edition} is kept` : `Keep edition ${edition + 1}`}
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
      {keep.error && draft.state.is !== 'not kept' && <Notice kind="bad">{sentenceOf(keep.error)}</Notice>}
      <div className="editor-body">
        {editor && <Palette editor={editor} />}
        <div className="editor-paper">
          <EditorContent editor={editor} />
        </div>
        <aside className="editor-side">{editor && <Selected editor={editor} worksheet={worksheet} />}</aside>
      </div>
    </div>
  )
}

function DraftNote({ state }: { state: DraftState }) {
  switch (state.is) {
    case 'kept':
      return <span title={exactTime(state.at)}>draft kept {timeInWords(state.at).replace('today ', '')}</span>
    case 'changed':
    case 'keeping':
      return <>keeping the draft …</>
    case 'not kept':
      return <span className="bad">draft not kept</span>
  }
}

interface PaletteItem {
  readonly words: string
  readonly keys?: string
  readonly on?: boolean
  readonly act: () => void
}

function Palette({ editor }: { editor: Editor }) {
  const at = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      heading1: now.isActive('heading', { level: 1 }),
      heading2: now.isActive('heading', { level: 2 }),
      bullets: now.isActive('bulletList'),
      numbers: now.isActive('orderedList'),
      bold: now.isActive('bold'),
      italic: now.isActive('italic'),
      undo: now.can().undo(),
      redo: now.can().redo(),
    }),
  })
  const run = () => editor.chain().focus()
  const print: PaletteItem[] = [
    { words: 'Heading', on: at.heading1, act: () => run().toggleHeading({ level: 1 }).run() },
    { words: 'Smaller heading', on: at.heading2, act: () => run().toggleHeading({ level: 2 }).run() },
    { words: 'Bulleted list', on: at.bullets, act: () => run().toggleBulletList().run() },
    { words: 'Numbered list', on: at.numbers, act: () => run().toggleOrderedList().run() },
    { words: 'Bold', keys: 'Ctrl B', on: at.bold, act: () => run().toggleBold().run() },
    { words: 'Italic', keys: 'Ctrl I', on: at.italic, act: () => run().toggleItalic().run() },
  ]
  const put = (kind: AnswerKind) => () => run().putSpace(kind).run()
  const spaces: PaletteItem[] = [
    { words: 'Line', keys: 'Alt 1', act: put('line') },
    { words: 'Passage', keys: 'Alt 2', act: put('passage') },
    { words: 'Choice', keys: 'Alt 3', act: put('choice') },
    { words: 'Number', keys: 'Alt 4', act: put('number') },
  ]
  const page: (PaletteItem & { off?: boolean })[] = [
    { words: 'Block up', keys: 'Alt ↑', act: () => run().moveBlock('up').run() },
    { words: 'Block down', keys: 'Alt ↓', act: () => run().moveBlock('down').run() },
    { words: 'Undo', keys: 'Ctrl Z', off: !at.undo, act: () => run().undo().run() },
    { words: 'Redo', keys: 'Ctrl Y', off: !at.redo, act: () => run().redo().run() },
  ]
  return (
    <nav className="palette" aria-label="What to put on the page">
      <PaletteList title="Print" items={print} />
      <PaletteList title="Answer spaces" items={spaces} className="palette-answers" />
      <PaletteList title="Page" items={page} />
    </nav>
  )
}

function PaletteList({
  title,
  items,
  className,
}: {
  title: string
  items: readonly (PaletteItem & { off?: boolean })[]
  className?: string
}) {
  return (
    <section className={className}>
      <h2>{title}</h2>
      <ul>
        {items.map(({ words, keys, on, off, act }) => (
          <li key={words}>
            <button
              type="button"
              // The caret stays where it is.
              onMouseDown={(event) => event.preventDefault()}
              onClick={act}
              disabled={off}
              {...(on !== undefined && { 'aria-pressed': on })}
            >
              <span>{words}</span>
              {keys && <kbd>{keys}</kbd>}
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

function Selected({ editor, worksheet }: { editor: Editor; worksheet: WorksheetOpened }) {
  const { space, number, count } = useEditorState({
    editor,
    selector: ({ editor: now }) => {
      const { selection } = now.state
      const node =
        selection instanceof NodeSelection && selection.node.type.name === 'answerSpace' ? selection.node : null
      const content = fromEditor(now.getJSON())
      const spaces = answerSpaces(content)
      const id = node?.attrs['blockId'] as string | undefined
      return {
        space: node ? ({ ...(node.attrs['space'] as AnswerSpace), id } as AnswerSpace) : null,
        number: spaces.findIndex((other) => other.id === id) + 1,
        count: spaces.length,
      }
    },
  })
  const copies = worksheet.editions.reduce((sum, edition) => sum + edition.copies, 0)
  return (
    <>
      {space ? (
        <>
          <SpaceSettings
            space={space}
            number={number}
            change={(changed) => {
              const { from } = editor.state.selection
              editor.chain().updateAttributes('answerSpace', { space: changed }).setNodeSelection(from).run()
            }}
          />
          <Button
            size="sm"
            variant="outline-dark"
            className="remove-space"
            onClick={() => editor.chain().focus().deleteSelection().run()}
          >
            Remove this space
          </Button>
        </>
      ) : (
        <section>
          <h2>The page</h2>
          <p className="soft">
            Type the print as it should stand. Put answer spaces between it; select one to set it up.
          </p>
        </section>
      )}
      <p className="editor-sum">
        {count} {count === 1 ? 'answer space' : 'answer spaces'}.
        {worksheet.editions.length > 0 && ' Kept editions never change; what you change here becomes the next one.'}
        {copies > 0 && ` ${copies} copies were made of earlier editions and stay as they are.`}
      </p>
      {worksheet.editions.length > 0 && (
        <ul className="editions">
          {worksheet.editions.map(({ number: edition, keptAt, copies: made }) => (
            <li key={edition}>
              Edition {edition}{' '}
              <span className="soft">
                {timeInWords(keptAt)} · {made} {made === 1 ? 'copy' : 'copies'}
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  )
}
