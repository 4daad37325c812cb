import { type DrawingSpace, STROKE } from '@gavrin/core'
import { type KeyboardEvent, type PointerEvent, useId, useRef, useState } from 'react'
import { DRAWING_UNITS, DrawingView, Stroke } from './DrawingView'
import { ownHistory, redoIn, undoByKey, undoIn } from './ownUndo'
import type { SpaceProps } from './place'
import { useAnswer } from './useAnswer'

const PENS = [
  { width: 2, words: 'Fine pen' },
  { width: 5, words: 'Broad pen' },
] as const
/** Points of one stroke; a longer one goes on as the next. */
const POINTS = 500
/** How far a key moves the pen, and with Shift, in units of the drawing. */
const STEP = 10
const STRIDE = 50
const WAYS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}
/** How near the rubber must come, in units of the drawing. */
const NEAR = 14

const newKey = () => crypto.randomUUID().replaceAll('-', '').slice(0, 16)

/** A place to draw: pen, rubber, undo; with the pointer or by keys. */
export default function DrawingField({ space, doc, label }: SpaceProps<DrawingSpace>) {
  const svg = useRef<SVGSVGElement>(null)
  const value = useAnswer(space, doc)
  const strokes = 'strokes' in value ? value.strokes : []
  const [pen, setPen] = useState<number | 'rubber'>(PENS[0].width)
  const [points, setPoints] = useState<readonly string[]>([])
  const about = useId()
  /** Where the pen is that is led by keys; null while the drawing has no focus. */
  const [tip, setTip] = useState<readonly [number, number] | null>(null)
  const [isDown, setDown] = useState(false)
  const map = doc.getMap<string>('drawing')
  // One's own strokes only: nobody undoes what somebody else drew.
  const history = ownHistory(doc, space, 0)
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
  const rubAt = (x: number, y: number) =>
    doc.transact(() => {
      for (const [key, stroke] of map.entries()) if (comesNear(stroke, x, y)) map.delete(key)
    })
  const rub = (event: PointerEvent) => rubAt(...place(event))
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
  const lift = (keeps: boolean) => {
    if (keeps) end()
    else setPoints([])
    setDown(false)
  }
  const byKey = (event: KeyboardEvent) => {
    if (undoByKey(event)) return event.stopPropagation()
    const [x, y] = tip ?? [DRAWING_UNITS / 2, Math.round(lower / 2)]
    const way = WAYS[event.key]
    if (way) {
      const far = event.shiftKey ? STRIDE : STEP
      const within = (value: number, most: number) => Math.round(Math.min(most, Math.max(0, value)))
      const next = [within(x + way[0] * far, DRAWING_UNITS), within(y + way[1] * far, lower)] as const
      setTip(next)
      if (isDown && points.length < POINTS) setPoints([...points, next.join(',')])
    } else if (event.key === ' ' || event.key === 'Enter') {
      if (pen === 'rubber') rubAt(x, y)
      else if (isDown) lift(true)
      else {
        setDown(true)
        setPoints([`${x},${y}`])
      }
    } else if (event.key === 'Delete' || event.key === 'Backspace') rubAt(x, y)
    else if (event.key === 'Escape' && isDown) lift(false)
    else return
    event.preventDefault()
    event.stopPropagation()
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
        <button type="button" disabled={!history.canUndo()} onClick={() => undoIn(history)}>
          Undo
        </button>
        <button type="button" disabled={!history.canRedo()} onClick={() => redoIn(history)}>
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
        on={{
          onPointerDown: begin,
          onPointerMove: move,
          onPointerUp: end,
          onPointerCancel: end,
          tabIndex: 0,
          role: 'application',
          'aria-describedby': about,
          onKeyDown: byKey,
          onFocus: ({ currentTarget }) =>
            currentTarget.matches(':focus-visible') && setTip([DRAWING_UNITS / 2, Math.round(lower / 2)]),
          onBlur: () => {
            if (isDown) lift(true)
            setTip(null)
          },
        }}
      >
        {points.length > 0 && pen !== 'rubber' && <Stroke stroke={`${pen} ${points.join(' ')}`} />}
        {tip && <PenTip at={tip} isDown={isDown} />}
      </DrawingView>
      <p id={about} className={tip ? 'drawing-keys soft' : 'visually-hidden'}>
        By keyboard: arrows move the pen, with Shift further; Space puts it down and lifts it; Delete rubs out what is
        under it; Esc drops the line.
      </p>
      <span className="visually-hidden" role="status">
        {tip &&
          `${isDown ? 'Pen down' : 'Pen up'}, ${percent(tip[0], DRAWING_UNITS)} across, ${percent(tip[1], lower)} down`}
      </span>
    </div>
  )
}

const percent = (value: number, of: number) => `${Math.round((value / of) * 100)} %`

/** Where the pen is that is led by keys. */
function PenTip({ at: [x, y], isDown }: { readonly at: readonly [number, number]; readonly isDown: boolean }) {
  return (
    <g className="pen-tip" aria-hidden="true">
      <circle cx={x} cy={y} r={isDown ? 8 : 16} fill={isDown ? 'currentColor' : 'none'} />
      <path
        d={`M${x - 30} ${y}H${x - 20}M${x + 20} ${y}H${x + 30}M${x} ${y - 30}V${y - 20}M${x} ${y + 20}V${y + 30}`}
      />
    </g>
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
