import { type PlacedSpace, type StandingSpace, alignBoxes } from '@gavrin/core'
import type { Editor } from '@tiptap/react'
import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { sentenceOf } from '../ui/api'
import { newSpace } from './document'
import { ChoiceSetting, TextSetting } from './fields'
import { findPlacesOn } from './findPlacesOn'
import { type Part, numberAt } from './parts'
import { selectBox, useSelectedBoxes } from './selectedBoxes'
import { SpaceSettings } from './SpaceSettings'
import { KIND_NAMES } from './spaceWords'

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
  const [finding, setFinding] = useState<{ readonly now: boolean; readonly said: string | null }>({
    now: false,
    said: null,
  })
  const one = chosen.length === 1 ? spaces.find(({ space }) => space.id === chosen[0]) : undefined
  const put = (next: readonly PlacedSpace[]) => change({ spaces: next })
  const replace = (space: StandingSpace) =>
    put(spaces.map((placed) => (placed.space.id === space.id ? { ...placed, space } : placed)))
  const proposed = spaces.filter(({ space }) => space.proposed)
  const find = async () => {
    setFinding({ now: true, said: null })
    try {
      const places = await findPlacesOn(mediaUrl(page.media))
      const isNew = (box: PlacedSpace['box']) =>
        !spaces.some(
          ({ box: old }) =>
            Math.min(old.x + old.width, box.x + box.width) > Math.max(old.x, box.x) &&
            Math.min(old.y + old.height, box.y + box.height) > Math.max(old.y, box.y),
        )
      const found = places.filter(({ box }) => isNew(box))
      put([
        ...spaces,
        ...found.map(({ box, tall }): PlacedSpace => ({
          box,
          space: { ...(tall ? newSpace('passage') : newSpace('line')), proposed: { was: '' } },
        })),
      ])
      setFinding({
        now: false,
        said: found.length ? null : 'No ruled line or empty frame was found that has no box yet.',
      })
    } catch (error) {
      setFinding({ now: false, said: sentenceOf(error) })
    }
  }
  return (
    <section aria-label="Backdrop page">
      <h2>Backdrop page</h2>
      <p className="soft">
        Draw a box where students are to write. Drag it, or move it with the arrow keys; Shift sizes it.
      </p>
      <div className="setting-acts">
        <Button size="sm" variant="outline-dark" disabled={finding.now} onClick={() => void find()}>
          {finding.now ? 'looking …' : 'Find the blanks'}
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
              Take the {proposed.length} proposed
            </Button>
            <Button size="sm" variant="outline-dark" onClick={() => put(spaces.filter(({ space }) => !space.proposed))}>
              Leave them
            </Button>
          </>
        )}
      </div>
      {finding.said && <p className="soft">{finding.said}</p>}
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
            change={(kind: StandingSpace['kind']) => {
              const { id, label, points, hint, required, model } = one.space
              const kept = Object.fromEntries(
                Object.entries({ label, points, hint, required, model }).filter(([, value]) => value !== undefined),
              )
              replace({ ...newSpace(kind), ...kept, id })
            }}
            choices={(['line', 'passage', 'choice', 'number', 'drawing', 'file'] as const).map(
              (kind) => [kind, KIND_NAMES[kind].toLowerCase()] as const,
            )}
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
                  Take it
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
