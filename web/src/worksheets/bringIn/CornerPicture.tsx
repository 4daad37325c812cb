import type { Corners, Point } from '@gavrin/core'
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react'

interface Props {
  readonly url: string
  /** Of the picture, in pixels. */
  readonly width: number
  readonly height: number
  readonly corners: Corners
  readonly change: (corners: Corners) => void
}

const NAMES = ['Upper left corner', 'Upper right corner', 'Lower right corner', 'Lower left corner'] as const
/** One press of an arrow key moves a corner by this share of the picture. */
const STEP = 0.005

/** A photograph with the corners of the page on it, to be dragged or moved with the arrow keys. */
export function CornerPicture({ url, width, height, corners, change }: Props) {
  const place = useRef<HTMLDivElement>(null)
  const [dragged, setDragged] = useState<number | null>(null)
  const put = (index: number, { x, y }: Point) =>
    change(
      corners.map((corner, at) =>
        at === index ? { x: Math.min(width, Math.max(0, x)), y: Math.min(height, Math.max(0, y)) } : corner,
      ) as unknown as Corners,
    )
  const move = (event: PointerEvent) => {
    if (dragged === null) return
    const box = place.current!.getBoundingClientRect()
    put(dragged, {
      x: ((event.clientX - box.left) / box.width) * width,
      y: ((event.clientY - box.top) / box.height) * height,
    })
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
    const { x, y } = corners[index]!
    put(index, { x: x + step[0] * STEP * width, y: y + step[1] * STEP * height })
  }
  return (
    <div
      ref={place}
      className="corner-picture"
      onPointerMove={move}
      onPointerUp={() => setDragged(null)}
      onPointerCancel={() => setDragged(null)}
    >
      <img src={url} alt="The photograph" draggable={false} />
      <svg viewBox={`0 0 ${width} ${height}`} preserveAspectRatio="none" aria-hidden="true">
        <polygon points={corners.map(({ x, y }) => `${x},${y}`).join(' ')} />
      </svg>
      {corners.map(({ x, y }, index) => (
        <button
          key={index}
          type="button"
          className="corner"
          aria-label={NAMES[index]}
          style={{ left: `${(100 * x) / width}%`, top: `${(100 * y) / height}%` }}
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
