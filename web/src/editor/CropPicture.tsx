import type { Crop } from '@gavrin/core'
import { type PointerEvent, useRef, useState } from 'react'
import { NumberSetting } from './fields'

interface Props {
  readonly url: string
  /** Width by height of the whole picture. */
  readonly aspect: number
  readonly crop: Crop | null
  readonly change: (crop: Crop | null) => void
}

const WHOLE: Crop = { x: 0, y: 0, width: 1, height: 1 }

/** The part of a picture that is shown: drawn with the pointer, or typed. */
export function CropPicture({ url, aspect, crop, change }: Props) {
  const place = useRef<HTMLDivElement>(null)
  const [from, setFrom] = useState<{ x: number; y: number } | null>(null)
  const [drawn, setDrawn] = useState<Crop | null>(null)
  const shown = drawn ?? crop ?? WHOLE
  const at = (event: PointerEvent) => {
    const box = place.current!.getBoundingClientRect()
    const within = (value: number) => Math.min(1, Math.max(0, value))
    return { x: within((event.clientX - box.left) / box.width), y: within((event.clientY - box.top) / box.height) }
  }
  const edge = (part: Partial<Record<'left' | 'top' | 'right' | 'bottom', number>>) => {
    const now = {
      left: shown.x,
      top: shown.y,
      right: 1 - shown.x - shown.width,
      bottom: 1 - shown.y - shown.height,
      ...part,
    }
    const width = 1 - now.left - now.right
    const height = 1 - now.top - now.bottom
    if (width >= 0.02 && height >= 0.02) change({ x: now.left, y: now.top, width, height })
  }
  const percent = (share: number) => Math.round(share * 100)
  return (
    <div className="crop">
      <div
        ref={place}
        className="crop-picture"
        style={{ aspectRatio: String(aspect) }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId)
          setFrom(at(event))
        }}
        onPointerMove={(event) => {
          if (!from) return
          const now = at(event)
          setDrawn({
            x: Math.min(from.x, now.x),
            y: Math.min(from.y, now.y),
            width: Math.abs(now.x - from.x),
            height: Math.abs(now.y - from.y),
          })
        }}
        onPointerUp={() => {
          if (drawn && drawn.width >= 0.02 && drawn.height >= 0.02) change(drawn)
          setFrom(null)
          setDrawn(null)
        }}
      >
        <img src={url} alt="" draggable={false} />
        <div
          className="crop-part"
          style={{
            left: `${100 * shown.x}%`,
            top: `${100 * shown.y}%`,
            width: `${100 * shown.width}%`,
            height: `${100 * shown.height}%`,
          }}
        />
      </div>
      <p className="soft">
        Draw a frame around what is to be seen, or say how much of each side is cut off, in percent.
      </p>
      <div className="four-settings">
        <NumberSetting
          label="Left"
          least={0}
          most={98}
          value={percent(shown.x)}
          change={(n) => edge({ left: (n ?? 0) / 100 })}
        />
        <NumberSetting
          label="Top"
          least={0}
          most={98}
          value={percent(shown.y)}
          change={(n) => edge({ top: (n ?? 0) / 100 })}
        />
        <NumberSetting
          label="Right"
          least={0}
          most={98}
          value={percent(1 - shown.x - shown.width)}
          change={(n) => edge({ right: (n ?? 0) / 100 })}
        />
        <NumberSetting
          label="Bottom"
          least={0}
          most={98}
          value={percent(1 - shown.y - shown.height)}
          change={(n) => edge({ bottom: (n ?? 0) / 100 })}
        />
      </div>
    </div>
  )
}
