import { KINDS, PRINT_COLOURS, type PrintColour } from '@gavrin/core'
import { type Editor, useEditorState } from '@tiptap/react'
import { useRef } from 'react'
import { newSpace } from './document'
import { IN_EDITOR, PALETTE_KINDS } from './kinds'

interface Item {
  readonly words: string
  readonly keys?: string
  readonly on?: boolean
  readonly off?: boolean
  readonly act: () => void
}

interface Props {
  readonly editor: Editor
  /** Puts picture files on the page. */
  readonly putPictures: (files: readonly File[]) => void
  /** Goes to what can be set about what stands before the caret. */
  readonly toSettings: () => void
  /** Puts pictures of pages on the page as backdrops. */
  readonly putBackdrops: (files: readonly File[]) => void
}

const COLOUR_WORDS: Readonly<Record<PrintColour, string>> = {
  kelp: 'green',
  brass: 'brown',
  signal: 'red',
  tide: 'blue',
  soft: 'grey',
}

/** What can be put on the page, and done with what stands there. */
export function Palette({ editor, toSettings, putPictures, putBackdrops }: Props) {
  const pictures = useRef<HTMLInputElement>(null)
  const backdrops = useRef<HTMLInputElement>(null)
  const at = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      heading1: now.isActive('heading', { level: 1 }),
      heading2: now.isActive('heading', { level: 2 }),
      bullets: now.isActive('bulletList'),
      numbers: now.isActive('orderedList'),
      bold: now.isActive('bold'),
      italic: now.isActive('italic'),
      underline: now.isActive('underline'),
      sub: now.isActive('sub'),
      sup: now.isActive('sup'),
      colour: (now.getAttributes('colour')['name'] as PrintColour | undefined) ?? null,
      inTable: now.isActive('table'),
      inSection: now.isActive('section'),
      undo: now.can().undo(),
      redo: now.can().redo(),
    }),
  })
  const run = () => editor.chain().focus()
  const link = () => {
    const before = editor.getAttributes('link')['href'] as string | undefined
    if (before) return void run().unsetMark('link').run()
    // Where the words lead is typed beside the page.
    if (!editor.state.selection.empty) return void run().setLink({ href: 'https://' }).run()
    run()
      .putBlock('linkCard', { card: { url: 'https://', title: '', note: '' } })
      .run()
  }
  const text: Item[] = [
    { words: 'Heading', on: at.heading1, act: () => run().toggleHeading({ level: 1 }).run() },
    { words: 'Smaller heading', on: at.heading2, act: () => run().toggleHeading({ level: 2 }).run() },
    { words: 'Bulleted list', on: at.bullets, act: () => run().toggleBulletList().run() },
    { words: 'Numbered list', on: at.numbers, act: () => run().toggleOrderedList().run() },
  ]
  const signs: (Item & { sign: string })[] = [
    { words: 'Bold', sign: 'B', on: at.bold, act: () => run().toggleBold().run() },
    { words: 'Italic', sign: 'I', on: at.italic, act: () => run().toggleItalic().run() },
    { words: 'Underlined', sign: 'U', on: at.underline, act: () => run().toggleUnderline().run() },
    { words: 'Set low', sign: 'x₂', on: at.sub, act: () => run().toggleMark('sub').run() },
    { words: 'Set high', sign: 'x²', on: at.sup, act: () => run().toggleMark('sup').run() },
  ]
  const print: Item[] = [
    { words: 'Picture', act: () => pictures.current?.click() },
    { words: 'Table', act: () => run().putTable().run() },
    { words: 'Formula', act: () => run().putFormula('a^2 + b^2', false).run() },
    { words: 'Link', act: link },
    { words: 'Page as backdrop', act: () => backdrops.current?.click() },
    { words: 'Page break', keys: 'Ctrl Enter', act: () => run().putBlock('pageBreak', {}).run() },
  ]
  const cell = () =>
    run()
      .setCells((id) => ({ ...newSpace('cell'), id }))
      .run()
  const spaces: Item[] = [
    ...PALETTE_KINDS.map((kind): Item => {
      const { name: words } = KINDS[kind]
      if (kind === 'cell') return { words, off: !at.inTable, act: cell }
      return { words, keys: `Alt ${IN_EDITOR[kind].key}`, act: () => run().putSpace(kind).run() }
    }),
    { words: 'To its settings', keys: 'Alt Enter', act: toSettings },
  ]
  const parts: Item[] = [
    { words: 'Section for everyone', act: () => run().putSection({ is: 'everyone' }).run() },
    { words: 'Each member', act: () => run().putSection({ is: 'each member' }).run() },
    { words: 'Each group', act: () => run().putSection({ is: 'each group' }).run() },
    { words: 'Named people', act: () => run().putSection({ is: 'named', people: [] }).run() },
    { words: 'No section', off: !at.inSection, act: () => run().openSection().run() },
  ]
  const page: Item[] = [
    { words: 'Block up', keys: 'Alt ↑', act: () => run().moveBlock('up').run() },
    { words: 'Block down', keys: 'Alt ↓', act: () => run().moveBlock('down').run() },
    { words: 'Block again', keys: 'Ctrl D', act: () => run().copyBlock().run() },
    { words: 'Remove block', act: () => run().removeBlock().run() },
    { words: 'Undo', keys: 'Ctrl Z', off: !at.undo, act: () => run().undo().run() },
    { words: 'Redo', keys: 'Ctrl Y', off: !at.redo, act: () => run().redo().run() },
  ]
  const files = (take: (files: readonly File[]) => void) => ({
    type: 'file',
    accept: 'image/png,image/jpeg,image/webp,image/gif',
    multiple: true,
    hidden: true,
    onChange: ({ target }: React.ChangeEvent<HTMLInputElement>) => {
      if (target.files?.length) take([...target.files])
      target.value = ''
    },
  })
  return (
    <nav className="palette" aria-label="What to put on the page">
      <input ref={pictures} data-role="pictures" {...files(putPictures)} />
      <input ref={backdrops} data-role="backdrops" {...files(putBackdrops)} />
      <section>
        <h2>Print</h2>
        <div className="palette-signs" role="group" aria-label="Letters">
          {signs.map(({ words, sign, on, act }) => (
            <button
              key={words}
              type="button"
              title={words}
              aria-label={words === sign ? words : `${words} ${sign}`}
              aria-pressed={on}
              onMouseDown={(event) => event.preventDefault()}
              onClick={act}
            >
              {sign}
            </button>
          ))}
        </div>
        <div className="palette-signs" role="group" aria-label="Colour">
          {PRINT_COLOURS.map((name) => (
            <button
              key={name}
              type="button"
              title={`Print in ${COLOUR_WORDS[name]}`}
              aria-label={`Print in ${COLOUR_WORDS[name]}`}
              aria-pressed={at.colour === name}
              onMouseDown={(event) => event.preventDefault()}
              onClick={() =>
                run()
                  .setPrintColour(at.colour === name ? null : name)
                  .run()
              }
            >
              <span className={`colour-dot colour-${name}`} aria-hidden="true" />
            </button>
          ))}
        </div>
        <Items items={text} />
        <Items items={print} />
      </section>
      <section className="palette-answers">
        <h2>Answer spaces</h2>
        <Items items={spaces} />
      </section>
      <section>
        <h2>Whose part</h2>
        <Items items={parts} />
      </section>
      <section>
        <h2>Page</h2>
        <Items items={page} />
      </section>
    </nav>
  )
}

function Items({ items }: { readonly items: readonly Item[] }) {
  return (
    <ul>
      {items.map(({ words, keys, on, off, act }) => (
        <li key={words}>
          <button
            type="button"
            // The caret stays where it is.
            onMouseDown={(event) => event.preventDefault()}
            onClick={act}
            disabled={off ?? false}
            {...(on !== undefined && { 'aria-pressed': on })}
          >
            <span>{words}</span>
            {keys && <kbd>{keys}</kbd>}
          </button>
        </li>
      ))}
    </ul>
  )
}
