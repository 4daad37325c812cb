import { type Corners, type Grey, type Point, lightest, shrunk } from './raster.js'

const SIDE = 320

/**
 * The corners of the sheet of paper in a photograph; the corners of the whole picture if no sheet is found.
 *
 * Two patches of a small copy are tried as the paper: the largest light one (Otsu's threshold), and that one grown over
 * whatever joins it without an edge, so that a shadow, which fades in, belongs to the paper and the table, which begins
 * at an edge, does not. Of each the corners are the points that lie farthest out along the diagonals, refined by fitting
 * straight lines to its sides; the first that fills its four corners well is the paper.
 */
export function findCorners(grey: Grey): Corners {
  const small = shrunk(grey, SIDE)
  const { width, height } = small
  const whole = cornersOf(grey.width, grey.height)
  const light = largestPatch(smoothed(small), otsu(smoothed(small)))
  if (!light) return whole
  let best: Corners | null = null
  // The grown patch first: of a sheet half in the shadow the light half is a good figure too.
  for (const patch of [grown(small, light.cells), light]) {
    if (patch.count < 0.15 * width * height) continue
    const rough = extremes(patch.cells, width)
    const corners = refine(patch.cells, width, height, rough) ?? rough
    if (!isSheet(corners, small)) continue
    if (fit(patch, corners, width) < GOOD_FIT) continue
    best = corners
    break
  }
  if (!best) return whole
  const scale = { x: grey.width / width, y: grey.height / height }
  const corners = best.map(({ x, y }) => ({
    x: Math.min(grey.width, Math.max(0, (x + 0.5) * scale.x)),
    y: Math.min(grey.height, Math.max(0, (y + 0.5) * scale.y)),
  })) as unknown as Corners
  // A picture that is nothing but the page has no edge to cut off.
  const isWhole = corners.every(
    ({ x, y }, at) =>
      Math.abs(x - whole[at]!.x) < 0.015 * grey.width && Math.abs(y - whole[at]!.y) < 0.015 * grey.height,
  )
  return isWhole ? whole : corners
}

/** How well a patch must fill its four corners to be a sheet. */
const GOOD_FIT = 0.8

interface Patch {
  readonly cells: Uint8Array
  readonly count: number
}

/** How well a patch and its four corners agree: the share of either that lies in the other, whichever is less. */
function fit({ cells, count }: Patch, corners: Corners, width: number): number {
  let inside = 0
  let area = 0
  for (let at = 0; at < cells.length; at++) {
    if (!isWithin(corners, at % width, (at / width) | 0)) continue
    area++
    if (cells[at]) inside++
  }
  return area === 0 ? 0 : Math.min(inside / area, inside / count)
}

function isWithin(corners: Corners, x: number, y: number): boolean {
  return corners.every((from, at) => {
    const to = corners[(at + 1) % 4]!
    return (to.x - from.x) * (y - from.y) - (to.y - from.y) * (x - from.x) >= 0
  })
}

/** How steep an edge must be, in the logarithm of brightness a pixel: a lamp and its shadows stay below. */
const EDGE = 0.075

/** A patch with all that joins it without an edge. Print is taken off first: each place is as light as the lightest near it. */
function grown(small: Grey, seeds: Uint8Array): Patch {
  const { width, height } = small
  const light = smoothed(lightest(small, 3))
  const log = Float32Array.from(light.data, (value) => Math.log(value + 8))
  const isFlat = (at: number): boolean => {
    const x = at % width
    const y = (at / width) | 0
    if (x === 0 || y === 0 || x === width - 1 || y === height - 1) return true
    return Math.hypot(log[at + 1]! - log[at - 1]!, log[at + width]! - log[at - width]!) / 2 < EDGE
  }
  const cells = new Uint8Array(small.data.length)
  const queue: number[] = []
  for (let at = 0; at < cells.length; at++)
    if (seeds[at] && isFlat(at)) {
      cells[at] = 1
      queue.push(at)
    }
  for (let next = 0; next < queue.length; next++) {
    const at = queue[next]!
    const x = at % width
    for (const other of [x > 0 ? at - 1 : -1, x < width - 1 ? at + 1 : -1, at - width, at + width])
      if (other >= 0 && other < cells.length && !cells[other] && isFlat(other)) {
        cells[other] = 1
        queue.push(other)
      }
  }
  return { cells, count: queue.length }
}

/** The corners of a whole picture. */
export const cornersOf = (width: number, height: number): Corners => [
  { x: 0, y: 0 },
  { x: width, y: 0 },
  { x: width, y: height },
  { x: 0, y: height },
]

/** Whether four points can be a sheet: a convex four-sided figure that covers a fair part of the picture. */
export function isSheet(corners: Corners, { width, height }: { width: number; height: number }): boolean {
  let area = 0
  for (let at = 0; at < 4; at++) {
    const a = corners[at]!
    const b = corners[(at + 1) % 4]!
    const c = corners[(at + 2) % 4]!
    if ((b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x) <= 0) return false
    area += a.x * b.y - b.x * a.y
  }
  return area / 2 > 0.12 * width * height
}

function smoothed({ width, height, data }: Grey): Grey {
  const out = new Uint8Array(data.length)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0
      let count = 0
      for (let dy = -2; dy <= 2; dy++)
        for (let dx = -2; dx <= 2; dx++) {
          const at = y + dy
          const across = x + dx
          if (at < 0 || at >= height || across < 0 || across >= width) continue
          sum += data[at * width + across]!
          count++
        }
      out[y * width + x] = sum / count
    }
  return { width, height, data: out }
}

/** The threshold that parts light from dark with the least spread on both sides (N. Otsu, 1979). */
export function otsu({ data }: Grey): number {
  const counts = new Float64Array(256)
  for (const value of data) counts[value]!++
  let total = 0
  for (let value = 0; value < 256; value++) total += value * counts[value]!
  let below = 0
  let sumBelow = 0
  let best = -1
  let threshold = 128
  for (let value = 0; value < 256; value++) {
    below += counts[value]!
    if (below === 0 || below === data.length) continue
    sumBelow += value * counts[value]!
    const above = data.length - below
    const difference = sumBelow / below - (total - sumBelow) / above
    const between = below * above * difference * difference
    if (between > best) {
      best = between
      threshold = value
    }
  }
  return threshold
}

function largestPatch({ width, height, data }: Grey, threshold: number): Patch | null {
  const seen = new Uint8Array(data.length)
  let best: number[] = []
  for (let start = 0; start < data.length; start++) {
    if (seen[start] || data[start]! <= threshold) continue
    const patch = [start]
    seen[start] = 1
    for (let next = 0; next < patch.length; next++) {
      const at = patch[next]!
      const x = at % width
      const y = (at / width) | 0
      const near = [
        x > 0 ? at - 1 : -1,
        x < width - 1 ? at + 1 : -1,
        y > 0 ? at - width : -1,
        y < height - 1 ? at + width : -1,
      ]
      for (const other of near)
        if (other >= 0 && !seen[other] && data[other]! > threshold) {
          seen[other] = 1
          patch.push(other)
        }
    }
    if (patch.length > best.length) best = patch
  }
  if (best.length === 0) return null
  const cells = new Uint8Array(data.length)
  for (const at of best) cells[at] = 1
  return { cells, count: best.length }
}

function extremes(cells: Uint8Array, width: number): Corners {
  const most = [-Infinity, -Infinity, -Infinity, -Infinity]
  const found: Point[] = [0, 1, 2, 3].map(() => ({ x: 0, y: 0 }))
  for (let at = 0; at < cells.length; at++) {
    if (!cells[at]) continue
    const x = at % width
    const y = (at / width) | 0
    const out = [-x - y, x - y, x + y, y - x]
    out.forEach((value, corner) => {
      if (value > most[corner]!) {
        most[corner] = value
        found[corner] = { x, y }
      }
    })
  }
  return found as unknown as Corners
}

/** Lines fitted to the edge of the patch between the rough corners; where they meet are the corners. */
function refine(cells: Uint8Array, width: number, height: number, rough: Corners): Corners | null {
  const inside = (x: number, y: number) => x >= 0 && y >= 0 && x < width && y < height && cells[y * width + x] === 1
  const lines = rough.map((from, at) => {
    const to = rough[(at + 1) % 4]!
    const length = Math.hypot(to.x - from.x, to.y - from.y)
    if (length < 20) return null
    // Outward, across the side: the corners go clockwise, y down.
    const outX = (to.y - from.y) / length
    const outY = -(to.x - from.x) / length
    const points: Point[] = []
    for (let step = 0.1; step <= 0.9; step += 0.02) {
      const x = from.x + (to.x - from.x) * step
      const y = from.y + (to.y - from.y) * step
      for (let away = 14; away >= -14; away -= 0.5)
        if (inside(Math.round(x + outX * away), Math.round(y + outY * away))) {
          if (away < 14) points.push({ x: x + outX * away, y: y + outY * away })
          break
        }
    }
    return points.length >= 12 ? fitLine(points) : null
  })
  if (lines.some((line) => line === null)) return null
  const corners = lines.map((line, at) => meet(lines[(at + 3) % 4]!, line!))
  if (
    corners.some((corner, at) => !corner || Math.hypot(corner.x - rough[at]!.x, corner.y - rough[at]!.y) > 0.12 * width)
  )
    return null
  return corners as unknown as Corners
}

interface LineFit {
  readonly at: Point
  readonly along: Point
}

/** The straight line that lies closest to the points (total least squares), those far off it left out once. */
function fitLine(points: readonly Point[]): LineFit {
  const fit = (some: readonly Point[]): LineFit => {
    const x = some.reduce((sum, point) => sum + point.x, 0) / some.length
    const y = some.reduce((sum, point) => sum + point.y, 0) / some.length
    let xx = 0
    let xy = 0
    let yy = 0
    for (const point of some) {
      xx += (point.x - x) ** 2
      xy += (point.x - x) * (point.y - y)
      yy += (point.y - y) ** 2
    }
    const angle = 0.5 * Math.atan2(2 * xy, xx - yy)
    return { at: { x, y }, along: { x: Math.cos(angle), y: Math.sin(angle) } }
  }
  const first = fit(points)
  const away = (point: Point) =>
    Math.abs((point.x - first.at.x) * first.along.y - (point.y - first.at.y) * first.along.x)
  const middle = [...points].map(away).sort((one, other) => one - other)[points.length >> 1]!
  const near = points.filter((point) => away(point) <= 2 * middle + 0.6)
  return near.length >= 8 ? fit(near) : first
}

function meet(one: LineFit, other: LineFit): Point | null {
  const cross = one.along.x * other.along.y - one.along.y * other.along.x
  if (Math.abs(cross) < 0.1) return null
  const t = ((other.at.x - one.at.x) * other.along.y - (other.at.y - one.at.y) * other.along.x) / cross
  return { x: one.at.x + t * one.along.x, y: one.at.y + t * one.along.y }
}
