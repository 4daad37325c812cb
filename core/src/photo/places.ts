import type { Box } from '../worksheet/content.js'
import { readingOrder } from '../worksheet/backdrop.js'
import { type Grey, shrunk } from './raster.js'
import { otsu } from './corners.js'

/** A place on a page that is meant to be written in. */
export interface Place {
  readonly box: Box
  readonly is: 'line' | 'frame'
}

const SIDE = 1_600
const DARK_SHARE = 0.004

interface Run {
  x0: number
  x1: number
  y0: number
  y1: number
}

/**
 * Finds the ruled lines and empty frames of a page, in reading order: where a backdrop asks for an answer. Ruled lines
 * that stand under each other at even distances are one place as tall as all of them.
 * @param page clean: paper light, print dark
 */
export function findPlaces(page: Grey): Place[] {
  const small = shrunk(page, SIDE)
  const { width, height } = small
  const threshold = Math.min(190, otsu(small) + 20)
  const dark = (x: number, y: number) => small.data[y * width + x]! <= threshold
  const across = runs(width, height, dark, Math.round(width * 0.055), true)
  const down = runs(width, height, dark, Math.round(height * 0.015), false)
  const frames = findFrames(across, down, width, height).filter((box) => isEmpty(box, dark, 4))
  const used = (run: Run) =>
    frames.some(({ x0, x1, y0, y1 }) => run.x0 >= x0 - 5 && run.x1 <= x1 + 5 && run.y0 >= y0 - 5 && run.y1 <= y1 + 5)
  const crossed = (run: Run) =>
    down.some((one) => one.x0 >= run.x0 - 2 && one.x0 <= run.x1 + 2 && one.y0 <= run.y0 + 3 && one.y1 >= run.y1 - 3)
  const lines = across.filter((run) => !used(run) && !crossed(run))
  const gap = typicalGap(lines, height)
  const places: Place[] = frames.map((run) => ({ box: toBox(run, width, height), is: 'frame' }))
  // From the line up to the print above it, as high as writing needs; a line close under print only underlines it.
  const writing = lines
    .map((run) => ({ ...run, y0: clearAbove(run, gap, dark) }))
    .filter(({ y0, y1 }) => y1 - y0 >= LEAST_ROOM * gap)
  for (const run of joinedLines(writing, gap)) places.push({ box: toBox(run, width, height), is: 'line' })
  return readingOrder(places)
}

/** The share of the usual distance of lines that must be free above a line for it to be written on. */
const LEAST_ROOM = 0.45

/** The uppermost row above a line, up to `gap` away from it, with nothing printed between it and the line. */
function clearAbove({ x0, x1, y0 }: Run, gap: number, dark: (x: number, y: number) => boolean): number {
  const speck = Math.max(1, Math.round(0.01 * (x1 - x0)))
  let clear = y0
  let specks = 0
  // The edge of the line itself is not sharp.
  for (let y = y0 - 3; y >= Math.max(0, y0 - gap); y--) {
    let count = 0
    for (let x = x0; x <= x1; x++) if (dark(x, y)) count++
    // One row may hold dust; print goes on over several.
    specks = count > speck ? specks + 1 : 0
    if (specks > 1) return Math.min(y0, y + specks + 1)
    if (count <= speck) clear = y
  }
  return clear
}

const toBox = ({ x0, x1, y0, y1 }: Run, width: number, height: number): Box => ({
  x: x0 / width,
  y: y0 / height,
  width: Math.min(1 - x0 / width, (x1 - x0 + 1) / width),
  height: Math.min(1 - y0 / height, (y1 - y0 + 1) / height),
})

/** Straight dark runs of at least so many pixels; runs side by side are one thick one. Small breaks do not part a run. */
function runs(
  width: number,
  height: number,
  dark: (x: number, y: number) => boolean,
  least: number,
  isAcross: boolean,
): Run[] {
  const found: Run[] = []
  const [outer, inner] = isAcross ? [height, width] : [width, height]
  const is = (along: number, at: number) => (isAcross ? dark(along, at) : dark(at, along))
  let before: Run[] = []
  for (let at = 0; at < outer; at++) {
    const now: Run[] = []
    let start = -1
    let last = -1
    const end = () => {
      if (start >= 0 && last - start + 1 >= least)
        now.push(isAcross ? { x0: start, x1: last, y0: at, y1: at } : { x0: at, x1: at, y0: start, y1: last })
      start = -1
    }
    for (let along = 0; along < inner; along++) {
      if (is(along, at)) {
        if (start < 0) start = along
        last = along
      } else if (start >= 0 && along - last > 3) end()
    }
    end()
    for (const run of now) {
      const same = before.find((one) =>
        isAcross
          ? one.y1 >= at - 2 && overlap(one.x0, one.x1, run.x0, run.x1)
          : one.x1 >= at - 2 && overlap(one.y0, one.y1, run.y0, run.y1),
      )
      if (!same) {
        found.push(run)
        before.push(run)
        continue
      }
      same.x0 = Math.min(same.x0, run.x0)
      same.x1 = Math.max(same.x1, run.x1)
      same.y0 = Math.min(same.y0, run.y0)
      same.y1 = Math.max(same.y1, run.y1)
    }
    before = before.filter((one) => (isAcross ? one.y1 : one.x1) >= at - 2)
  }
  // A thick bar is a picture or the edge of one, not a line to write on.
  const thick = 0.006 * Math.max(width, height)
  return found.filter((run) => (isAcross ? run.y1 - run.y0 : run.x1 - run.x0) <= thick)
}

const overlap = (a0: number, a1: number, b0: number, b1: number) =>
  Math.min(a1, b1) - Math.max(a0, b0) > 0.5 * Math.min(a1 - a0, b1 - b0)

/** Frames: a line above and one below of about the same ends, with a line down at both ends. */
function findFrames(across: readonly Run[], down: readonly Run[], width: number, height: number): Run[] {
  const near = 0.008 * width
  const frames: Run[] = []
  const sides = (x: number, y0: number, y1: number) =>
    down.some((one) => Math.abs((one.x0 + one.x1) / 2 - x) <= near && one.y0 <= y0 + near && one.y1 >= y1 - near)
  const sorted = [...across].sort((one, other) => one.y0 - other.y0)
  sorted.forEach((top, at) => {
    // The verticals that stand on this line part it into cells.
    const posts = [
      ...new Set(
        down
          .filter(
            (one) =>
              one.y0 <= top.y1 + near && one.y1 > top.y1 + near && one.x1 >= top.x0 - near && one.x0 <= top.x1 + near,
          )
          .map((one) => Math.round((one.x0 + one.x1) / 2)),
      ),
    ].sort((one, other) => one - other)
    for (let post = 0; post + 1 < posts.length; post++) {
      const [x0, x1] = [posts[post]!, posts[post + 1]!]
      if (x1 - x0 < 0.03 * width) continue
      const bottom = sorted
        .slice(at + 1)
        .find((one) => one.y0 - top.y1 > 0.008 * height && one.x0 <= x0 + near && one.x1 >= x1 - near)
      if (!bottom || !sides(x0, top.y1, bottom.y0) || !sides(x1, top.y1, bottom.y0)) continue
      frames.push({ x0: x0 + 2, x1: x1 - 2, y0: top.y1 + 2, y1: bottom.y0 - 2 })
    }
  })
  return frames
}

/** Whether there is next to nothing dark inside, away from the sides. */
function isEmpty({ x0, x1, y0, y1 }: Run, dark: (x: number, y: number) => boolean, margin: number): boolean {
  let count = 0
  let all = 0
  const bottom = y1 - margin - 2
  for (let y = Math.max(0, y0 + margin); y <= bottom; y++)
    for (let x = x0 + margin; x <= x1 - margin; x++) {
      all++
      if (dark(x, y)) count++
    }
  return all > 0 && count / all <= DARK_SHARE
}

/** The usual distance of lines under each other, in pixels; what a line of handwriting needs if there are none. */
function typicalGap(lines: readonly Run[], height: number): number {
  const usual = Math.round(0.024 * height)
  const gaps = lines
    .flatMap((one) =>
      lines
        .filter((other) => other.y0 > one.y1 && overlap(one.x0, one.x1, other.x0, other.x1))
        .map((other) => other.y0 - one.y0)
        .sort((a, b) => a - b)
        .slice(0, 1),
    )
    .filter((gap) => gap > 0.012 * height && gap < 0.06 * height)
    .sort((one, other) => one - other)
  return gaps.length ? Math.min(usual * 2, gaps[gaps.length >> 1]!) : usual
}

function joinedLines(lines: readonly Run[], gap: number): Run[] {
  const joined: Run[] = []
  for (const line of [...lines].sort((one, other) => one.y0 - other.y0)) {
    const above = joined.find(
      (one) =>
        Math.abs(line.y0 - one.y1) < 0.4 * gap && Math.abs(line.x0 - one.x0) < gap && Math.abs(line.x1 - one.x1) < gap,
    )
    if (above) above.y1 = line.y1
    else joined.push({ ...line })
  }
  return joined
}
