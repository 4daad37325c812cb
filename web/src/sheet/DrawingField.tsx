import { type DrawingSpace, STROKE } from '@gavrin/core'
import { type PointerEvent, useRef, useState } from 'react'
import * as Y from 'yjs'
import { DRAWING_UNITS, DrawingView, Stroke } from './DrawingView'
import { useAnswer } from './useAnswer'

interface Props {
  readonly space: DrawingSpace
  readonly doc: Y.Doc
  readonly label: string
}

const PENS = [
  { width: 2, words: 'Fine pen' },
  { width: 5, words: 'Broad pen' },
] as const
/** Points of one stroke; a longer one goes on as the next. */
const POINTS = 500
/** How near the rubber must come, in units of the drawing. */
const NEAR = 14

const newKey = () => crypto.randomUUID().replaceAll('-', '').slice(0, 16)

/** A place to draw: pen, rubber, undo. */
export default function DrawingField({ space, doc, label }: Props) {
  const svg = useRef<SVGSVGElement>(null)
  const value = useAnswer(space, doc)
  const strokes = 'strokes' in value ? value.strokes : []
  const [pen, setPen] = useState<number | 'rubber'>(PENS[0].width)
  const [points, setPoints] = useState<readonly string[]>([])
  const map = doc.getMap<string>('drawing')
  // One's own strokes only: nobody undoes what somebody else drew.
  const [history] = useState(() => new Y.UndoManager(map, { captureTimeout: 0 }))
  const lower = (DRAWING_UNITS * space.height) / 100

  const place = (event: { clientX: number; clientY: number }): readonly [number, number] => {
    const box = svg.current!.getBoundingClientRect()
    const within = (value: number, most: number) => Math.round(Math.min(most, Math.max(0, value)))
    return [
      within(((event.clientX - box.left) / box.width) * DRAWING_UNITS, DRAWING_UNITS),
      within(((event.clientY - box.top) / box.height) * lower, lower),
    ]
  }
  const keep = (drawn: readonly string[]) => {
    const stroke = `${pen} ${drawn.join(' ')}`
    if (pen !== 'rubber' && STROKE.test(stroke)) map.set(newKey(), stroke)
  }
  const rub = (event: PointerEvent) => {
    const [x, y] = place(event)
    doc.transact(() => {
      for (const [key, stroke] of map.entries()) if (comesNear(stroke, x, y)) map.delete(key)
    })
  }
  const begin = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0) return
    event.currentTarget.setPointerCapture(event.pointerId)
    event.preventDefault()
    if (pen === 'rubber') rub(event)
    else setPoints([place(event).join(',')])
  }
  const move = (event: PointerEvent<SVGSVGElement>) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return
    if (pen === 'rubber') return rub(event)
    const events = event.nativeEvent.getCoalescedEvents?.() ?? []
    const more = (events.length ? events : [event.nativeEvent]).map((one) => place(one).join(','))
    const drawn = [...points, ...more.filter((point, at) => point !== (more[at - 1] ?? points.at(-1)))]
    if (drawn.length < POINTS) return setPoints(drawn)
    keep(drawn.slice(0, POINTS))
    setPoints(drawn.slice(POINTS - 1))
  }
  const end = () => {
    if (points.length > 0) keep(points)
    setPoints([])
  }
  return (
    <div>
      <div className="drawing-tools" role="toolbar" aria-label="Drawing">
        {PENS.map(({ width, words }) => (
          <button key={width} type="button" aria-pressed={pen === width} onClick={() => setPen(width)}>
            {words}
          </button>
        ))}
        <button type="button" aria-pressed={pen === 'rubber'} onClick={() => setPen('rubber')}>
          Rubber
        </button>
        <button type="button" disabled={!history.canUndo()} onClick={() => history.undo()}>
          Undo
        </button>
        <button type="button" disabled={!history.canRedo()} onClick={() => history.redo()}>
          Redo
        </button>
        <button
          type="button"
          disabled={strokes.length === 0}
          onClick={() => doc.transact(() => [...map.keys()].forEach((key) => map.delete(key)))}
        >
          Clear
        </button>
      </div>
      <DrawingView
        space={space}
        strokes={strokes}
        label={label}
        svg={svg}
        className="pen"
        on={{ onPointerDown: begin, onPointerMove: move, onPointerUp: end, onPointerCancel: end }}
      >
        {points.length > 0 && pen !== 'rubber' && <Stroke stroke={`${pen} ${points.join(' ')}`} />}
      </DrawingView>
    </div>
  )
}

function comesNear(stroke: string, x: number, y: number): boolean {
  const points = stroke
    .split(' ')
    .slice(1)
    .map((point) => point.split(',').map(Number) as [number, number])
  return points.some(([px, py], at) => {
    const [qx, qy] = points[at + 1] ?? [px, py]
    const length = (qx - px) ** 2 + (qy - py) ** 2
    const along = length === 0 ? 0 : Math.min(1, Math.max(0, ((x - px) * (qx - px) + (y - py) * (qy - py)) / length))
    return Math.hypot(px + along * (qx - px) - x, py + along * (qy - py) - y) < NEAR
  })
}
