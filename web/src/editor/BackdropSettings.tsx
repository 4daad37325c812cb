import { type PlacedSpace, type StandingSpace, alignBoxes } from '@gavrin/core'
import type { Editor } from '@tiptap/react'
import { Button } from 'react-bootstrap'
import { changeKind } from './document'
import { ChoiceSetting, TextSetting } from './fields'
import { type Part, numberAt } from './parts'
import { selectBox, useSelectedBoxes } from './selectedBoxes'
import { SpaceSettings } from './SpaceSettings'
import { KIND_CHOICES } from './spaceWords'
import { useFindBlanks } from './useFindBlanks'

interface Props {
  readonly editor: Editor
  readonly part: Part
  readonly change: (attrs: Record<string, unknown>) => void
  readonly mediaUrl: (id: string) => string
}

const ALIGN = [
  ['left', 'Left sides'],
  ['right', 'Right sides'],
  ['top', 'Top sides'],
  ['bottom', 'Bottom sides'],
  ['width', 'Same width'],
  ['height', 'Same height'],
] as const

/** What can be set about a backdrop page, and about the boxes on it that are selected. */
export function BackdropSettings({ editor, part, change, mediaUrl }: Props) {
  const page = part.node.attrs['page'] as { media: string; alt: string }
  const spaces = part.node.attrs['spaces'] as readonly PlacedSpace[]
  const blockId = part.node.attrs['blockId'] as string
  const chosen = useSelectedBoxes(blockId)
  const blanks = useFindBlanks(editor, mediaUrl)
  const one = chosen.length === 1 ? spaces.find(({ space }) => space.id === chosen[0]) : undefined
  const put = (next: readonly PlacedSpace[]) => change({ spaces: next })
  const replace = (space: StandingSpace) =>
    put(spaces.map((placed) => (placed.space.id === space.id ? { ...placed, space } : placed)))
  const proposed = spaces.filter(({ space }) => space.proposed)
  return (
    <section aria-label="Backdrop page">
      <h2>Backdrop page</h2>
      <p className="soft">
        Draw a box where students are to write. Drag it, or move it with the arrow keys; Shift sizes it.
      </p>
      <div className="setting-acts">
        <Button size="sm" variant="outline-dark" disabled={blanks.isLooking} onClick={() => void blanks.find(blockId)}>
          {blanks.isLooking ? 'looking …' : 'Find the blanks'}
        </Button>
        {proposed.length > 0 && (
          <>
            <Button
              size="sm"
              variant="outline-dark"
              onClick={() =>
                put(
                  spaces.map((placed) => {
                    const { proposed: _, ...space } = placed.space
                    return { ...placed, space: space }
                  }),
                )
              }
            >
              Use the {proposed.length} proposed
            </Button>
            <Button size="sm" variant="outline-dark" onClick={() => put(spaces.filter(({ space }) => !space.proposed))}>
              Remove them
            </Button>
          </>
        )}
      </div>
      {blanks.said && <p className="soft">{blanks.said}</p>}
      {chosen.length > 1 && (
        <>
          <h3>{chosen.length} boxes</h3>
          <div className="setting-acts">
            {ALIGN.map(([by, words]) => (
              <Button
                key={by}
                size="sm"
                variant="outline-dark"
                onClick={() => {
                  const boxes = alignBoxes(
                    chosen.map((id) => spaces.find(({ space }) => space.id === id)!.box),
                    by,
                  )
                  put(
                    spaces.map((placed) => {
                      const at = chosen.indexOf(placed.space.id)
                      return at < 0 ? placed : { ...placed, box: boxes[at]! }
                    }),
                  )
                }}
              >
                {words}
              </Button>
            ))}
          </div>
        </>
      )}
      {one ? (
        <>
          <ChoiceSetting
            label="What is answered there"
            value={one.space.kind}
            change={(kind: StandingSpace['kind']) => replace(changeKind(one.space, kind))}
            choices={KIND_CHOICES}
          />
          <SpaceSettings
            key={one.space.id + one.space.kind}
            space={one.space}
            number={numberAt(editor.state.doc, one.space.id)}
            change={(space) => replace(space as StandingSpace)}
          >
            {one.space.proposed && (
              <p className="proposed-note">
                Proposed by Gavrin.{' '}
                <Button
                  size="sm"
                  variant="outline-dark"
                  onClick={() => {
                    const { proposed: _, ...space } = one.space
                    replace(space)
                  }}
                >
                  Use it
                </Button>
              </p>
            )}
          </SpaceSettings>
          <Button
            size="sm"
            variant="outline-dark"
            className="remove-space"
            onClick={() => {
              put(spaces.filter(({ space }) => space.id !== one.space.id))
              selectBox(blockId, [])
            }}
          >
            Remove this space
          </Button>
        </>
      ) : (
        <TextSetting
          label="What the page says, for those who do not see it"
          rows={4}
          limit={5_000}
          value={page.alt}
          change={(alt) => change({ page: { ...page, alt } })}
        />
      )}
    </section>
  )
}
