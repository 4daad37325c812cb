import type { AnswerSpace, BackdropBlock } from '@gavrin/core'
import { type FocusEvent, type ReactNode, useLayoutEffect, useRef, useState } from 'react'
import { Button } from 'react-bootstrap'
import { useSheet } from './surroundings'

interface Props {
  readonly block: BackdropBlock
  readonly filled: (space: AnswerSpace) => ReactNode
  readonly under: ((space: AnswerSpace) => ReactNode) | undefined
}

/** A page that is shown wider than this, in pixels, is written on as it is. */
const WIDE = 600
/** A box is made this tall at least, in pixels, and the page no more than so many times as wide as the screen. */
const TALL = 34
const MOST = 4
/** The share of the screen's width that a box takes when it is gone to. */
const SHARE = 0.94

/** A page as it looks, with what is written laid on it. On a small screen a box is gone to when it is touched. */
export function BackdropPage({ block, filled, under }: Props) {
  const { mediaUrl } = useSheet()
  const frame = useRef<HTMLDivElement>(null)
  const [near, setNear] = useState<{ readonly times: number; readonly id: string } | null>(null)
  useLayoutEffect(() => {
    const box = near && block.spaces.find(({ space }) => space.id === near.id)?.box
    const element = frame.current
    if (!box || !element) return
    const middle = (box.x + box.width / 2) * element.scrollWidth - element.clientWidth / 2
    // Wider than the screen, it begins at its side: that is where one writes first.
    element.scrollLeft = Math.min(middle, box.x * element.scrollWidth - 8)
    element.querySelector(`[data-space="${near.id}"]`)?.scrollIntoView({ block: 'center' })
  }, [near, block.spaces])
  const goTo = ({ target }: FocusEvent) => {
    const element = frame.current
    const id = target instanceof Element ? target.closest('[data-space]')?.getAttribute('data-space') : null
    const box = block.spaces.find(({ space }) => space.id === id)?.box
    const width = element?.clientWidth ?? 0
    if (!id || !box || width === 0 || width >= WIDE) return
    const height = (width * block.height) / block.width
    // As wide as the screen at most, unless it would be too low to write in.
    const times = Math.max(TALL / (box.height * height), Math.min(SHARE / box.width, 2.5))
    setNear({ id, times: Math.min(MOST, Math.max(1, times)) })
  }
  return (
    <>
      {near && near.times > 1 && (
        <Button size="sm" variant="outline-dark" className="backdrop-whole" onClick={() => setNear(null)}>
          Whole page
        </Button>
      )}
      <div className="backdrop-frame" ref={frame} onFocus={goTo}>
        <div
          className="backdrop"
          style={{ aspectRatio: `${block.width} / ${block.height}`, ...(near && { width: `${100 * near.times}%` }) }}
        >
          <img src={mediaUrl(block.media)} alt={block.alt || 'The page'} />
          {block.spaces.map(({ box, space }) => (
            <div
              key={space.id}
              id={`space-${space.id}`}
              data-space={space.id}
              className="backdrop-space"
              style={{
                left: `${100 * box.x}%`,
                top: `${100 * box.y}%`,
                width: `${100 * box.width}%`,
                height: `${100 * box.height}%`,
              }}
            >
              {filled(space)}
              {under?.(space)}
            </div>
          ))}
        </div>
      </div>
    </>
  )
}
