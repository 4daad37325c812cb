import { type AnswerSpace, type StandingSpace, type Whose, isLinkAddress } from '@gavrin/core'
import { NodeSelection } from '@tiptap/pm/state'
import { type Editor, useEditorState } from '@tiptap/react'
import { Button } from 'react-bootstrap'
import { Editions } from '../worksheets/Editions'
import type { WorksheetOpened } from '../worksheets/queries'
import { BackdropSettings } from './BackdropSettings'
import { CellSettings } from './CellSettings'
import { type PageAbout, changeKind, newSpace } from './document'
import { ChoiceSetting, TextSetting } from './fields'
import { FormulaSettings } from './FormulaSettings'
import { LinkSettings } from './LinkSettings'
import { ListSettings } from './ListSettings'
import { numberedListAt } from './listNumbers'
import { PageSettings } from './PageSettings'
import { numberAt, partsAt } from './parts'
import { PictureSettings } from './PictureSettings'
import type { LinkAttrs, PictureAttrs } from './printNodes'
import { Proposed } from './Proposed'
import { countSpaces } from './proposals'
import { SectionSettings } from './SectionSettings'
import { SpaceSettings } from './SpaceSettings'
import { IN_EDITOR } from './kinds'
import { KIND_CHOICES } from './spaceWords'

interface Props {
  readonly editor: Editor
  readonly worksheet: WorksheetOpened
  readonly about: PageAbout
  readonly setAbout: (about: PageAbout) => void
  readonly mediaUrl: (id: string) => string
}

/** What can be set about what is selected, and about the page. */
export function SidePanel({ editor, worksheet, about, setAbout, mediaUrl }: Props) {
  const { piece, cell, section, sums, link, list } = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      ...partsAt(now),
      list: numberedListAt(now),
      sums: countSpaces(now.state.doc),
      link: (now.getAttributes('link')['href'] as string | undefined) ?? null,
    }),
  })
  const change = (at: number, attrs: Record<string, unknown>) => {
    const node = editor.state.doc.nodeAt(at)!
    const tr = editor.state.tr.setNodeMarkup(at, undefined, { ...node.attrs, ...attrs })
    if (editor.state.selection instanceof NodeSelection && piece?.at === at)
      tr.setSelection(NodeSelection.create(tr.doc, at))
    editor.view.dispatch(tr)
  }
  const space = piece?.node.attrs['space'] as AnswerSpace | null | undefined
  const spaceId = piece?.node.type.name === 'answerSpace' ? (piece.node.attrs['blockId'] as string) : space?.id
  const copies = worksheet.editions.reduce((sum, edition) => sum + edition.copies, 0)
  const remove = (
    <Button
      size="sm"
      variant="outline-dark"
      className="remove-space"
      onClick={() =>
        piece &&
        editor
          .chain()
          .focus()
          .deleteRange({ from: piece.at, to: piece.at + piece.node.nodeSize })
          .run()
      }
    >
      Remove {space ? 'this space' : 'it'}
    </Button>
  )
  return (
    <>
      {piece && space && (
        <>
          <SpaceSettings
            key={`${spaceId} ${space.kind}`}
            space={{ ...space, id: spaceId! }}
            number={numberAt(editor.state.doc, spaceId)}
            change={(changed) => change(piece.at, { space: changed })}
          >
            <Proposed editor={editor} space={space} at={piece.at} />
            {piece.node.type.name === 'answerSpace' && (
              <ChoiceSetting
                label="What is answered there"
                value={space.kind as StandingSpace['kind']}
                change={(kind: StandingSpace['kind']) =>
                  change(piece.at, { space: changeKind(space as StandingSpace, kind) })
                }
                choices={KIND_CHOICES}
              />
            )}

            {IN_EDITOR[space.kind].advice && <p className="soft">{IN_EDITOR[space.kind].advice}</p>}
          </SpaceSettings>
          {remove}
        </>
      )}
      {piece?.node.type.name === 'picture' && (
        <>
          <PictureSettings
            key={piece.node.attrs['blockId'] as string}
            picture={piece.node.attrs['picture'] as PictureAttrs}
            mediaUrl={mediaUrl}
            change={(picture) => change(piece.at, { picture })}
            makeDrawing={() => {
              const { media, pixelWidth, pixelHeight } = piece.node.attrs['picture'] as PictureAttrs
              const drawing = {
                ...newSpace('drawing'),
                ground: media,
                height: Math.min(200, Math.max(10, Math.round((100 * pixelHeight) / pixelWidth))),
              }
              const { tr, schema } = editor.state
              tr.replaceWith(
                piece.at,
                piece.at + piece.node.nodeSize,
                schema.nodes['answerSpace']!.create({ blockId: drawing.id, space: drawing }),
              )
              tr.setSelection(NodeSelection.create(tr.doc, piece.at))
              editor.view.dispatch(tr)
            }}
          />
          {remove}
        </>
      )}
      {piece?.node.type.name === 'linkCard' && (
        <>
          <LinkSettings card={piece.node.attrs['card'] as LinkAttrs} change={(card) => change(piece.at, { card })} />
          {remove}
        </>
      )}
      {piece?.node.type.name === 'formula' && (
        <FormulaSettings
          tex={piece.node.attrs['tex'] as string}
          large={piece.node.attrs['large'] as boolean}
          change={(attrs) => change(piece.at, attrs)}
        />
      )}
      {piece?.node.type.name === 'backdrop' && (
        <BackdropSettings
          editor={editor}
          part={piece}
          change={(attrs) => change(piece.at, attrs)}
          mediaUrl={mediaUrl}
        />
      )}
      {cell && <CellSettings editor={editor} cell={cell} change={(attrs) => change(cell.at, attrs)} />}
      {!piece && link !== null && (
        <section aria-label="Link">
          <h2>Link</h2>
          <TextSetting
            label="Where the words lead"
            value={link}
            problem={isLinkAddress(link) ? null : 'Begin with https:// or http://.'}
            change={(href) => editor.chain().extendMarkRange('link').setMark('link', { href }).run()}
          />
        </section>
      )}
      {!piece && list && <ListSettings key={list.at} list={list} change={(start) => change(list.at, { start })} />}
      {section && (
        <SectionSettings
          key={section.node.attrs['blockId'] as string}
          title={section.node.attrs['title'] as string}
          whose={section.node.attrs['whose'] as Whose}
          change={(attrs) => change(section.at, attrs)}
        />
      )}
      {!piece && !cell && link === null && (
        <PageSettings editor={editor} mediaUrl={mediaUrl} about={about} setAbout={setAbout} />
      )}
      <p className="editor-sum">
        {sums.spaces} {sums.spaces === 1 ? 'answer space' : 'answer spaces'}
        {sums.points > 0 && `, ${sums.points} ${sums.points === 1 ? 'point' : 'points'}`}.
        {worksheet.editions.length > 0 && ' Kept editions never change; what you change here becomes the next one.'}
        {copies > 0 && ` ${copies} copies were made of earlier editions and stay as they are.`}
      </p>
      <Editions worksheet={worksheet} />
    </>
  )
}
