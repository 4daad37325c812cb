import {
  type BackdropBlock,
  type Box,
  type Guide,
  type PlacedSpace,
  type Side,
  type StandingSpace,
  inReadingOrder,
  insidePage,
  snapBox,
} from '@gavrin/core'
import { Node, mergeAttributes } from '@tiptap/core'
import { NodeViewWrapper, ReactNodeViewRenderer, type ReactNodeViewProps } from '@tiptap/react'
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react'
import { useSheet } from '../sheet/surroundings'
import { blockId, jsonAttribute } from './attributes'
import { newSpace } from './document'
import { selectBox, useSelectedBoxes } from './selectedBoxes'
import { spaceWords } from './spaceWords'

export type BackdropPage = Pick<BackdropBlock, 'media' | 'alt' | 'width' | 'height'>

const ALL: readonly Side[] = ['left', 'right', 'top', 'bottom']
const HANDLES: readonly { readonly name: string; readonly sides: readonly Side[] }[] = [
  { name: 'nw', sides: ['top', 'left'] },
  { name: 'ne', sides: ['top', 'right'] },
  { name: 'sw', sides: ['bottom', 'left'] },
  { name: 'se', sides: ['bottom', 'right'] },
  { name: 'e', sides: ['right'] },
  { name: 's', sides: ['bottom'] },
]
/** A box smaller than this, in fractions of the page, was a click. */
const LEAST = 0.012
const STEP = 0.004

interface Drag {
  readonly ids: readonly string[]
  readonly sides: ReadonlySet<Side>
  readonly from: { readonly x: number; readonly y: number }
  readonly boxes: ReadonlyMap<string, Box>
}

function BackdropView({ node, updateAttributes, selected, editor, getPos }: ReactNodeViewProps) {
  const { mediaUrl } = useSheet()
  const place = useRef<HTMLDivElement>(null)
  const page = node.attrs['page'] as BackdropPage
  const spaces = node.attrs['spaces'] as readonly PlacedSpace[]
  const pageId = node.attrs['blockId'] as string
  const chosen = useSelectedBoxes(pageId)
  const [drawn, setDrawn] = useState<Box | null>(null)
  const [drag, setDrag] = useState<Drag | null>(null)
  const [moved, setMoved] = useState<ReadonlyMap<string, Box>>(new Map())
  const [guides, setGuides] = useState<readonly Guide[]>([])

  const at = (event: PointerEvent) => {
    const box = place.current!.getBoundingClientRect()
    return { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height }
  }
  const keep = (next: readonly PlacedSpace[]) => updateAttributes({ spaces: next })
  const select = () => {
    const pos = getPos()
    if (pos !== undefined) editor.commands.setNodeSelection(pos)
  }

  // A box is drawn on the empty page.
  const begin = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0) return
    select()
    selectBox(pageId, [])
    event.currentTarget.setPointerCapture(event.pointerId)
    setDrawn({ ...at(event), width: 0, height: 0 })
  }
  const grow = (event: PointerEvent<HTMLDivElement>) => {
    if (drag) return move(event)
    if (!drawn) return
    const { x, y } = at(event)
    setDrawn({ ...drawn, width: x - drawn.x, height: y - drawn.y })
  }
  const end = () => {
    if (drag) {
      if (moved.size) keep(spaces.map((one) => ({ ...one, box: moved.get(one.space.id) ?? one.box })))
      setDrag(null)
      setMoved(new Map())
      setGuides([])
      return
    }
    if (!drawn) return
    setDrawn(null)
    const upright = {
      x: Math.min(drawn.x, drawn.x + drawn.width),
      y: Math.min(drawn.y, drawn.y + drawn.height),
      width: Math.abs(drawn.width),
      height: Math.abs(drawn.height),
    }
    if (upright.width < LEAST || upright.height < LEAST / 2) return
    const { box } = snapBox(
      insidePage(upright),
      spaces.map((one) => one.box),
      new Set<Side>(['left', 'right', 'bottom']),
    )
    // A tall box is for sentences.
    const isTall = box.height * page.height > 16
    const space = newSpace(isTall ? 'passage' : 'line')
    keep(inReadingOrder([...spaces, { box, space: isTall ? ({ ...space, lines: 4 } as StandingSpace) : space }]))
    selectBox(pageId, [space.id])
  }
  const grab = (event: PointerEvent, id: string, sides: readonly Side[]) => {
    if (event.button !== 0) return
    event.stopPropagation()
    event.preventDefault()
    select()
    const isMore = event.shiftKey
    const ids = isMore ? [...new Set([...chosen, id])] : chosen.includes(id) ? chosen : [id]
    selectBox(pageId, ids)
    place.current!.setPointerCapture(event.pointerId)
    setDrag({
      ids: sides.length === 4 ? ids : [id],
      sides: new Set(sides),
      from: at(event),
      boxes: new Map(spaces.map(({ space, box }) => [space.id, box])),
    })
  }
  const move = (event: PointerEvent) => {
    if (!drag) return
    const now = at(event)
    const dx = now.x - drag.from.x
    const dy = now.y - drag.from.y
    const others = spaces.filter(({ space }) => !drag.ids.includes(space.id)).map(({ box }) => box)
    const next = new Map<string, Box>()
    let lines: readonly Guide[] = []
    for (const id of drag.ids) {
      const box = drag.boxes.get(id)!
      const { sides } = drag
      const isMove = sides.size === 4
      const shifted: Box = isMove
        ? { ...box, x: box.x + dx, y: box.y + dy }
        : {
            x: sides.has('left') ? box.x + dx : box.x,
            y: sides.has('top') ? box.y + dy : box.y,
            width: box.width + (sides.has('right') ? dx : sides.has('left') ? -dx : 0),
            height: box.height + (sides.has('bottom') ? dy : sides.has('top') ? -dy : 0),
          }
      const snapped = drag.ids.length === 1 ? snapBox(shifted, others, sides) : { box: insidePage(shifted), guides: [] }
      next.set(id, snapped.box)
      lines = snapped.guides
    }
    setMoved(next)
    setGuides(lines)
  }
  const keys = (event: KeyboardEvent, id: string) => {
    const ids = chosen.length ? chosen : [id]
    const arrows: Record<string, readonly [number, number]> = {
      ArrowLeft: [-STEP, 0],
      ArrowRight: [STEP, 0],
      ArrowUp: [0, -STEP],
      ArrowDown: [0, STEP],
    }
    const step = arrows[event.key]
    if (step) {
      event.preventDefault()
      event.stopPropagation()
      keep(
        spaces.map((one) => {
          if (!ids.includes(one.space.id)) return one
          const { box } = one
          return {
            ...one,
            box: insidePage(
              event.shiftKey
                ? { ...box, width: box.width + step[0], height: box.height + step[1] }
                : { ...box, x: box.x + step[0], y: box.y + step[1] },
            ),
          }
        }),
      )
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault()
      event.stopPropagation()
      keep(spaces.filter(({ space }) => !ids.includes(space.id)))
      selectBox(pageId, [])
    }
  }
  return (
    <NodeViewWrapper className={selected ? 'backdrop-node selected' : 'backdrop-node'}>
      <div
        ref={place}
        className="backdrop"
        contentEditable={false}
        style={{ aspectRatio: `${page.width} / ${page.height}` }}
        onPointerDown={begin}
        onPointerMove={grow}
        onPointerUp={end}
        onPointerCancel={end}
      >
        <img src={mediaUrl(page.media)} alt={page.alt || 'The page'} draggable={false} />
        {spaces.map(({ box: kept, space }, index) => {
          const box = moved.get(space.id) ?? kept
          const isChosen = chosen.includes(space.id)
          return (
            <div
              key={space.id}
              role="button"
              tabIndex={0}
              aria-pressed={isChosen}
              aria-label={`Answer space ${index + 1} · ${spaceWords(space)}`}
              className={`box${isChosen ? ' chosen' : ''}${space.proposed ? ' proposed' : ''}`}
              style={{
                left: `${100 * box.x}%`,
                top: `${100 * box.y}%`,
                width: `${100 * box.width}%`,
                height: `${100 * box.height}%`,
              }}
              onPointerDown={(event) => grab(event, space.id, ALL)}
              onFocus={() => !chosen.includes(space.id) && selectBox(pageId, [space.id])}
              onKeyDown={(event) => keys(event, space.id)}
            >
              <span className="box-words">
                {index + 1} · {spaceWords(space)}
              </span>
              {isChosen &&
                HANDLES.map(({ name, sides }) => (
                  <span
                    key={name}
                    className={`box-handle box-handle-${name}`}
                    onPointerDown={(event) => grab(event, space.id, sides)}
                  />
                ))}
            </div>
          )
        })}
        {drawn && (
          <div
            className="box drawn"
            style={{
              left: `${100 * Math.min(drawn.x, drawn.x + drawn.width)}%`,
              top: `${100 * Math.min(drawn.y, drawn.y + drawn.height)}%`,
              width: `${100 * Math.abs(drawn.width)}%`,
              height: `${100 * Math.abs(drawn.height)}%`,
            }}
          />
        )}
        {guides.map(({ axis, at: line }, index) => (
          <div
            key={index}
            className={`guide guide-${axis}`}
            style={axis === 'x' ? { left: `${100 * line}%` } : { top: `${100 * line}%` }}
          />
        ))}
      </div>
    </NodeViewWrapper>
  )
}

/** A page whose print is a picture; answer spaces are laid on it by drawing boxes. */
export const BackdropNode = Node.create({
  name: 'backdrop',
  group: 'block',
  atom: true,
  draggable: false,
  addAttributes: () => ({
    blockId,
    page: jsonAttribute('page', null),
    spaces: jsonAttribute('spaces', []),
  }),
  parseHTML: () => [{ tag: 'div[data-page]' }],
  renderHTML: ({ HTMLAttributes }) => ['div', mergeAttributes(HTMLAttributes)],
  addNodeView: () =>
    ReactNodeViewRenderer(BackdropView, {
      // The pointer draws and drags boxes; the editor's own dragging and selecting stay out of it.
      stopEvent: ({ event }) => /^(pointer|mouse|drag|key|touch)/.test(event.type),
    }),
})
