import { type PenMark, farFrom, thinned } from '@gavrin/core'
import { type PointerEvent, type ReactNode, useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react'
import { createPortal } from 'react-dom'
import './pen.css'

/** What the pen does: nothing, leave a sign or a line, or take one out. */
export type PenMode = 'tick' | 'cross' | 'stroke' | 'rubber' | null

type Seen = PenMark & { readonly id: string; readonly isOwn: boolean }

interface Props {
  /** The page it lies over. */
  readonly page: HTMLElement
  readonly marks: readonly Seen[]
  readonly mode: PenMode
  readonly draw: (mark: PenMark) => void
  readonly remove: (mark: Seen) => void
}

interface Place {
  readonly left: number
  readonly top: number
  readonly width: number
}

const keyOf = ({ is, id }: PenMark['over']) => `${is} ${id}`
const elementOf = (page: HTMLElement, { is, id }: PenMark['over']): Element | null =>
  page.querySelector(is === 'space' ? `#space-${CSS.escape(id)}` : `[data-block="${CSS.escape(id)}"]`)

/** How near the rubber must come, in pixels. */
const NEAR = 12
/** The half of a tick or a cross, in pixels. */
const SIGN = { tick: 'M-9 1 L-3 8 L10 -9', cross: 'M-7 -7 L7 7 M7 -7 L-7 7' } as const

/** The pen of whoever marks, over a page: each mark stays with what it is over, however wide the page is. */
export function PenLayer({ page, marks, mode, draw, remove }: Props) {
  const layer = useRef<SVGSVGElement>(null)
  const places = usePlaces(page, marks)
  const [drawing, setDrawing] = useState<{ over: PenMark['over']; place: Place; points: PenMark['points'] } | null>(
    null,
  )

  const within = ({ clientX, clientY }: { clientX: number; clientY: number }) => {
    const box = layer.current!.getBoundingClientRect()
    return { x: clientX - box.left, y: clientY - box.top }
  }
  const pointIn = (event: { clientX: number; clientY: number }, { left, top, width }: Place) => {
    const { x, y } = within(event)
    const limited = (value: number) => Math.max(-20_000, Math.min(20_000, Math.round(value)))
    return [limited(((x - left) / width) * 1_000), limited(((y - top) / width) * 1_000)] as const
  }
  const rub = (event: PointerEvent) => {
    const near = marks.filter((mark) => {
      const place = places.get(keyOf(mark.over))
      return mark.isOwn && place && (farFrom(mark, pointIn(event, place)) / 1_000) * place.width <= NEAR
    })
    near.forEach(remove)
  }
  const begin = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0 || mode === null) return
    event.preventDefault()
    if (mode === 'rubber') {
      event.currentTarget.setPointerCapture(event.pointerId)
      return rub(event)
    }
    const found = underneath(page, layer.current!, event.clientY)
    if (!found) return
    const place = placeOf(layer.current!, found.element)
    const point = pointIn(event, place)
    if (mode !== 'stroke') return draw({ kind: mode, over: found.over, points: [point] })
    event.currentTarget.setPointerCapture(event.pointerId)
    setDrawing({ over: found.over, place, points: [point] })
  }
  const move = (event: PointerEvent<SVGSVGElement>) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return
    if (mode === 'rubber') return rub(event)
    if (!drawing) return
    const events = event.nativeEvent.getCoalescedEvents?.() ?? []
    const more = (events.length > 0 ? events : [event.nativeEvent]).map((one) => pointIn(one, drawing.place))
    setDrawing({ ...drawing, points: [...drawing.points, ...more] })
  }
  const end = () => {
    if (drawing) draw({ kind: 'stroke', over: drawing.over, points: thinned(drawing.points) })
    setDrawing(null)
  }
  return createPortal(
    <svg
      ref={layer}
      className={mode === null ? 'pen-layer' : `pen-layer pen-${mode}`}
      {...(marks.length > 0 ? { role: 'img', 'aria-label': inWords(marks) } : { 'aria-hidden': true })}
      onPointerDown={begin}
      onPointerMove={move}
      onPointerUp={end}
      onPointerCancel={() => setDrawing(null)}
    >
      {marks.map((mark) => {
        const place = places.get(keyOf(mark.over))
        return place ? <Mark key={mark.id} mark={mark} place={place} /> : null
      })}
      {drawing && <Mark mark={{ kind: 'stroke', ...drawing }} place={drawing.place} />}
    </svg>,
    page,
  )
}

function Mark({ mark: { kind, points }, place: { left, top, width } }: { mark: PenMark; place: Place }): ReactNode {
  const at = ([x, y]: readonly [number, number]) => [left + (x / 1_000) * width, top + (y / 1_000) * width] as const
  if (kind !== 'stroke') {
    const [x, y] = at(points[0]!)
    return <path d={SIGN[kind]} transform={`translate(${x} ${y})`} />
  }
  const [first, ...rest] = points.map((point) =>
    at(point)
      .map((value) => value.toFixed(1))
      .join(' '),
  )
  // A dot is a line of no length.
  return <path d={`M${first} ${(rest.length > 0 ? rest : [first]).map((to) => `L${to}`).join(' ')}`} />
}

function inWords(marks: readonly PenMark[]): string {
  const count = (kind: PenMark['kind'], one: string, more: string) => {
    const found = marks.filter((mark) => mark.kind === kind).length
    return found === 0 ? [] : [`${found} ${found === 1 ? one : more}`]
  }
  const said = [
    ...count('tick', 'tick', 'ticks'),
    ...count('cross', 'cross', 'crosses'),
    ...count('stroke', 'stroke', 'strokes'),
  ]
  return `Of the marking pen: ${said.join(', ')}`
}

/** Where something stands on the page: of an answer space the answer itself, which is the same with the print and without. */
function placeOf(layer: SVGSVGElement, element: Element): Place {
  const from = layer.getBoundingClientRect()
  const box = (element.querySelector('.answer, .options, .drawing, .handed-in') ?? element).getBoundingClientRect()
  return { left: box.left - from.left, top: box.top - from.top, width: Math.max(1, box.width) }
}

/** What is drawn over: of what stands on the page the nearest to this height, an answer before the print around it. */
function underneath(
  page: HTMLElement,
  layer: Element,
  y: number,
): { readonly over: PenMark['over']; readonly element: Element } | null {
  let nearest: { over: PenMark['over']; element: Element; far: number } | null = null
  for (const element of page.querySelectorAll('[id^="space-"], [data-block]')) {
    if (layer.contains(element) || element.closest('.gap-space, .cell-space')) continue
    const { top, bottom, width } = element.getBoundingClientRect()
    if (width === 0) continue
    const far = Math.max(0, top - y, y - bottom)
    const block = element.getAttribute('data-block')
    const over =
      block === null ? { is: 'space' as const, id: element.id.slice(6) } : { is: 'print' as const, id: block }
    if (!nearest || far < nearest.far || (far === nearest.far && over.is === 'space')) nearest = { over, element, far }
  }
  return nearest
}

/** Where what the marks are over stands on the page, as it is laid out now. */
function usePlaces(page: HTMLElement, marks: readonly PenMark[]): ReadonlyMap<string, Place> {
  const [places, setPlaces] = useState<ReadonlyMap<string, Place>>(new Map())
  const latest = useRef(marks)
  latest.current = marks
  const measure = useCallback(() => {
    const layer = page.querySelector<SVGSVGElement>('.pen-layer')
    if (!layer) return
    const found = new Map<string, Place>()
    for (const { over } of latest.current) {
      const key = keyOf(over)
      const element = found.has(key) ? null : elementOf(page, over)
      if (element) found.set(key, placeOf(layer, element))
    }
    setPlaces(found)
  }, [page])
  useLayoutEffect(() => measure(), [marks, measure])
  useEffect(() => {
    const sizes = new ResizeObserver(measure)
    sizes.observe(page)
    return () => sizes.disconnect()
  }, [page, measure])
  return places
}
