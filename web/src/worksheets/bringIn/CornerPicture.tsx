import type { Corners, Point } from '@gavrin/core'
import { type CSSProperties, type KeyboardEvent, type PointerEvent, useRef, useState } from 'react'

interface Props {
  readonly url: string
  /** Of the picture, in pixels. */
  readonly width: number
  readonly height: number
  readonly corners: Corners
  /** How it is shown, in degrees clockwise: 0, 90, 180 or 270. */
  readonly turn: number
  readonly change: (corners: Corners) => void
}

const NAMES = ['Upper left corner', 'Upper right corner', 'Lower right corner', 'Lower left corner'] as const
/** One press of an arrow key moves a corner by this share of the picture. */
const STEP = 0.005

/** Where a point of a picture is seen when it is turned, both in fractions. */
const seenAt = ({ x, y }: Point, turn: number): Point =>
  turn === 90
    ? { x: 1 - y, y: x }
    : turn === 180
      ? { x: 1 - x, y: 1 - y }
      : turn === 270
        ? { x: y, y: 1 - x }
        : { x, y }

/** A photograph, turned as its page will be, with the corners of the page on it, to be dragged or moved with the arrow keys. */
export function CornerPicture({ url, width, height, corners, turn, change }: Props) {
  const place = useRef<HTMLDivElement>(null)
  const [dragged, setDragged] = useState<number | null>(null)
  const isAside = turn % 180 !== 0
  const seen = corners.map(({ x, y }) => seenAt({ x: x / width, y: y / height }, turn))
  /** @param at where it is seen, in fractions of what is shown */
  const put = (index: number, at: Point) => {
    const within = (value: number) => Math.min(1, Math.max(0, value))
    const { x, y } = seenAt({ x: within(at.x), y: within(at.y) }, (360 - turn) % 360)
    change(
      corners.map((corner, other) =>
        other === index ? { x: x * width, y: y * height } : corner,
      ) as unknown as Corners,
    )
  }
  const move = (event: PointerEvent) => {
    if (dragged === null) return
    const box = place.current!.getBoundingClientRect()
    put(dragged, { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height })
  }
  const keys = (event: KeyboardEvent, index: number) => {
    const steps: Record<string, readonly [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
    }
    const step = steps[event.key]
    if (!step) return
    event.preventDefault()
    const { x, y } = seen[index]!
    put(index, { x: x + step[0] * STEP, y: y + step[1] * STEP })
  }
  return (
    <div
      ref={place}
      className={isAside ? 'corner-picture aside' : 'corner-picture'}
      style={
        isAside ? ({ aspectRatio: `${height} / ${width}`, '--across': height / width } as CSSProperties) : undefined
      }
      onPointerMove={move}
      onPointerUp={() => setDragged(null)}
      onPointerCancel={() => setDragged(null)}
    >
      <img
        src={url}
        alt="The photograph"
        draggable={false}
        style={{
          transform: `${isAside ? 'translate(-50%, -50%) ' : ''}rotate(${turn}deg)`,
          ...(isAside && { width: `${(100 * width) / height}%` }),
        }}
      />
      <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
        <polygon points={seen.map(({ x, y }) => `${x},${y}`).join(' ')} />
      </svg>
      {seen.map(({ x, y }, index) => (
        <button
          key={index}
          type="button"
          className="corner"
          aria-label={NAMES[(index + turn / 90) % 4]}
          style={{ left: `${100 * x}%`, top: `${100 * y}%` }}
          onPointerDown={(event) => {
            place.current?.setPointerCapture(event.pointerId)
            setDragged(index)
          }}
          onKeyDown={(event) => keys(event, index)}
        />
      ))}
    </div>
  )
}
