import type { Box, PlacedSpace } from './content.js'

/**
 * Boxes in the order in which they are read: rows from the top, in a row from the start of the line. Two boxes are in
 * one row if they overlap by half of the lower one's height.
 * @param direction `rtl`: a row begins at the right
 */
export function readingOrder<T extends { readonly box: Box }>(
  placed: readonly T[],
  direction: 'ltr' | 'rtl' = 'ltr',
): T[] {
  const left = [...placed].sort((one, other) => one.box.y - other.box.y)
  const rows: { top: number; bottom: number; boxes: T[] }[] = []
  for (const one of left) {
    const { y, height } = one.box
    const row = rows.find(({ top, bottom }) => {
      const overlap = Math.min(bottom, y + height) - Math.max(top, y)
      return overlap > 0.5 * Math.min(height, bottom - top)
    })
    if (row) row.boxes.push(one)
    else rows.push({ top: y, bottom: y + height, boxes: [one] })
  }
  const sign = direction === 'ltr' ? 1 : -1
  return rows
    .sort((one, other) => one.top - other.top)
    .flatMap(({ boxes }) => boxes.sort((one, other) => sign * (one.box.x - other.box.x)))
}

/** A box kept within the page, no smaller than one percent of it. */
export function insidePage(box: Box): Box {
  const width = Math.min(1, Math.max(0.01, box.width))
  const height = Math.min(1, Math.max(0.01, box.height))
  return {
    x: Math.min(1 - width, Math.max(0, box.x)),
    y: Math.min(1 - height, Math.max(0, box.y)),
    width,
    height,
  }
}

export type Side = 'left' | 'right' | 'top' | 'bottom'

/** A line along which boxes agree: at this fraction of the page's width or height. */
export interface Guide {
  readonly axis: 'x' | 'y'
  readonly at: number
}

/**
 * A box with its moving sides drawn to the sides of other boxes where they come close, and the lines along which they
 * then agree.
 * @param sides which sides move; all four: the box is moved as a whole
 * @param reach how close is close, in fractions of the page
 */
export function snapBox(
  box: Box,
  others: readonly Box[],
  sides: ReadonlySet<Side>,
  reach = 0.008,
): { readonly box: Box; readonly guides: readonly Guide[] } {
  const guides: Guide[] = []
  const isMove = sides.size === 4
  const along = (start: number, length: number, axis: 'x' | 'y', first: Side, last: Side): [number, number] => {
    const marks = others.flatMap((other) =>
      axis === 'x' ? [other.x, other.x + other.width] : [other.y, other.y + other.height],
    )
    const near = (at: number) =>
      marks
        .map((mark) => ({ mark, away: Math.abs(mark - at) }))
        .filter(({ away }) => away <= reach)
        .sort((one, other) => one.away - other.away)[0]
    const begin = sides.has(first) ? near(start) : undefined
    const end = sides.has(last) ? near(start + length) : undefined
    if (isMove) {
      const best = [begin, end].filter((found) => found !== undefined).sort((one, other) => one.away - other.away)[0]
      if (!best) return [start, length]
      guides.push({ axis, at: best.mark })
      return [best === begin ? best.mark : best.mark - length, length]
    }
    let from = start
    let to = start + length
    if (begin) from = begin.mark
    if (end) to = end.mark
    if (to - from < 0.01) return [start, length]
    for (const found of [begin, end]) if (found) guides.push({ axis, at: found.mark })
    return [from, to - from]
  }
  const [x, width] = along(box.x, box.width, 'x', 'left', 'right')
  const [y, height] = along(box.y, box.height, 'y', 'top', 'bottom')
  return { box: insidePage({ x, y, width, height }), guides }
}

/** Several boxes made to agree on one side, or on their width or height, with the first. */
export function alignBoxes(boxes: readonly Box[], by: Side | 'width' | 'height'): Box[] {
  const first = boxes[0]
  if (!first) return []
  return boxes.map((box) => {
    switch (by) {
      case 'left':
        return insidePage({ ...box, x: first.x })
      case 'right':
        return insidePage({ ...box, x: first.x + first.width - box.width })
      case 'top':
        return insidePage({ ...box, y: first.y })
      case 'bottom':
        return insidePage({ ...box, y: first.y + first.height - box.height })
      case 'width':
        return insidePage({ ...box, width: first.width })
      case 'height':
        return insidePage({ ...box, height: first.height })
    }
  })
}

/** Placed spaces in reading order; the order of the list is the order of tabbing. */
export const inReadingOrder = (spaces: readonly PlacedSpace[]): PlacedSpace[] => readingOrder(spaces)
