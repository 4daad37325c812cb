import type { DrawingSpace } from '@gavrin/core'
import type { ReactNode, Ref } from 'react'
import { useSheet } from './surroundings'

/** A drawing's width in the units of its strokes: see `STROKE` in the core. */
export const DRAWING_UNITS = 1_000

interface Props {
  readonly space: DrawingSpace
  readonly strokes: readonly string[]
  readonly label: string
  readonly children?: ReactNode
  readonly svg?: Ref<SVGSVGElement>
  readonly className?: string
  readonly on?: Partial<React.SVGProps<SVGSVGElement>>
}

/** A drawing as it stands: what it is drawn on, and its strokes in the answer ink. */
export function DrawingView({ space, strokes, label, children, svg, className, on }: Props) {
  const { mediaUrl } = useSheet()
  return (
    <div className="drawing" style={{ aspectRatio: `100 / ${space.height}` }}>
      {space.ground && <img src={mediaUrl(space.ground)} alt="" />}
      <svg
        ref={svg}
        className={className}
        viewBox={`0 0 ${DRAWING_UNITS} ${DRAWING_UNITS * (space.height / 100)}`}
        role="img"
        aria-label={`${label}: ${strokes.length === 0 ? 'nothing drawn yet' : strokes.length === 1 ? 'a drawing of one stroke' : `a drawing of ${strokes.length} strokes`}`}
        {...on}
      >
        {strokes.map((stroke, at) => (
          <Stroke key={at} stroke={stroke} />
        ))}
        {children}
      </svg>
    </div>
  )
}

/** One stroke of the pen. */
export function Stroke({ stroke }: { readonly stroke: string }) {
  const [width = '3', ...points] = stroke.split(' ')
  // A single point is a dot: a line to itself with round ends.
  const line = points.length === 1 ? [points[0]!, points[0]!] : points
  return (
    <polyline
      points={line.join(' ')}
      fill="none"
      stroke="currentColor"
      strokeWidth={2 * Number(width)}
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  )
}
