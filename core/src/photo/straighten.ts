import type { Corners, Point, Rgba } from './raster.js'

/** Of a straightened page this share is cut from each side: the edge of the paper and what lies beyond it. */
const INSET = 0.012

/** The width and height of the page between four corners, in pixels: the longer of the opposite sides. */
export function pageSize([a, b, c, d]: Corners): { readonly width: number; readonly height: number } {
  const length = (from: Point, to: Point) => Math.hypot(to.x - from.x, to.y - from.y)
  return { width: Math.max(length(a, b), length(d, c)), height: Math.max(length(a, d), length(b, c)) }
}

/**
 * The page between four corners, seen straight from above (a projective map of the plane, each pixel taken between its
 * four neighbours).
 * @param side the longer side of the page that comes out, in pixels; never more than there is in the picture
 * @param isWhole the corners are those of the whole picture: nothing is cut off
 */
export function straighten(picture: Rgba, corners: Corners, side: number, isWhole = false): Rgba {
  const size = pageSize(corners)
  const scale = Math.min(1, side / Math.max(size.width, size.height))
  const width = Math.max(1, Math.round(size.width * scale))
  const height = Math.max(1, Math.round(size.height * scale))
  const map = squareTo(corners)
  const inset = isWhole ? 0 : INSET
  const out = new Uint8ClampedArray(width * height * 4)
  const { data } = picture
  const right = picture.width - 1
  const bottom = picture.height - 1
  for (let y = 0, to = 0; y < height; y++) {
    const v = inset + ((y + 0.5) / height) * (1 - 2 * inset)
    for (let x = 0; x < width; x++, to += 4) {
      const u = inset + ((x + 0.5) / width) * (1 - 2 * inset)
      const w = map[6]! * u + map[7]! * v + 1
      const fromX = Math.min(right, Math.max(0, (map[0]! * u + map[1]! * v + map[2]!) / w - 0.5))
      const fromY = Math.min(bottom, Math.max(0, (map[3]! * u + map[4]! * v + map[5]!) / w - 0.5))
      const left = fromX | 0
      const top = fromY | 0
      const acrossShare = fromX - left
      const downShare = fromY - top
      const at = (top * picture.width + left) * 4
      const across = left < right ? 4 : 0
      const down = top < bottom ? picture.width * 4 : 0
      for (let part = 0; part < 3; part++) {
        const upper = data[at + part]! * (1 - acrossShare) + data[at + across + part]! * acrossShare
        const lower = data[at + down + part]! * (1 - acrossShare) + data[at + down + across + part]! * acrossShare
        out[to + part] = upper * (1 - downShare) + lower * downShare
      }
      out[to + 3] = 255
    }
  }
  return { width, height, data: out }
}

/** The projective map of the unit square to four points (P. Heckbert, 1989, section 2.2.3): eight numbers, the ninth is 1. */
function squareTo([p0, p1, p2, p3]: Corners): readonly number[] {
  const dx1 = p1.x - p2.x
  const dx2 = p3.x - p2.x
  const dx3 = p0.x - p1.x + p2.x - p3.x
  const dy1 = p1.y - p2.y
  const dy2 = p3.y - p2.y
  const dy3 = p0.y - p1.y + p2.y - p3.y
  const by = dx1 * dy2 - dx2 * dy1 || 1
  const g = (dx3 * dy2 - dx2 * dy3) / by
  const h = (dx1 * dy3 - dx3 * dy1) / by
  return [
    p1.x - p0.x + g * p1.x,
    p3.x - p0.x + h * p3.x,
    p0.x,
    p1.y - p0.y + g * p1.y,
    p3.y - p0.y + h * p3.y,
    p0.y,
    g,
    h,
  ]
}
