import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { counting } from '../worksheet/testing/samples.js'
import { answerSpaces } from '../worksheet/walk.js'
import { checkContent } from '../worksheet/check.js'
import { cornersOf, findCorners, isSheet } from './corners.js'
import { evenOut } from './evenOut.js'
import { findPlaces } from './places.js'
import { type Corners, type Grey, type Rgba, toGrey } from './raster.js'
import { type RecognisedLine, freePlaces, pageBlocks, readRecognised, recognisedText } from './recognised.js'
import { pageSize, straighten } from './straighten.js'
import { checkPhotoWork } from './work.js'

const W = 400
const H = 500

/** A grey picture, drawn by a function. */
function drawn(light: (x: number, y: number) => number, width = W, height = H): Grey {
  const data = new Uint8Array(width * height)
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data[y * width + x] = light(x, y)
  return { width, height, data }
}
const inColour = ({ width, height, data }: Grey): Rgba => ({
  width,
  height,
  data: Uint8ClampedArray.from({ length: width * height * 4 }, (_, at) => (at % 4 === 3 ? 255 : data[at >> 2]!)),
})
const within = (corners: Corners, x: number, y: number) =>
  corners.every((from, at) => {
    const to = corners[(at + 1) % 4]!
    return (to.x - from.x) * (y - from.y) - (to.y - from.y) * (x - from.x) >= 0
  })

describe('the corners of a sheet of paper', () => {
  const truth: Corners = [
    { x: 70, y: 50 },
    { x: 330, y: 80 },
    { x: 350, y: 440 },
    { x: 40, y: 420 },
  ]
  const near = (found: Corners, wanted: Corners) =>
    found.forEach(({ x, y }, at) => expect(Math.hypot(x - wanted[at]!.x, y - wanted[at]!.y)).toBeLessThan(6))

  test('light on a dark table, at an angle', () =>
    near(findCorners(drawn((x, y) => (within(truth, x, y) ? 230 : 60))), truth))
  test('half of it in a shadow as dark as the table', () => {
    const shade = (x: number, y: number) => 1 - 0.6 * Math.min(1, Math.max(0, (x + y - 420) / 90))
    near(findCorners(drawn((x, y) => (within(truth, x, y) ? 230 : 85) * shade(x, y))), truth)
  })
  test('with print on it', () =>
    near(findCorners(drawn((x, y) => (!within(truth, x, y) ? 60 : y % 24 < 3 && x % 9 < 6 ? 40 : 230))), truth))
  test('of a picture that is nothing but the page: the picture’s own', () => {
    expect(findCorners(drawn((x, y) => (y % 24 < 3 && x % 9 < 6 ? 40 : 240)))).toEqual(cornersOf(W, H))
    expect(findCorners(drawn(() => 128))).toEqual(cornersOf(W, H))
  })
  test('of any picture lie within it', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 600, maxLength: 600 }), (data) => {
        for (const { x, y } of findCorners({ width: 30, height: 20, data }))
          expect(x >= 0 && x <= 30 && y >= 0 && y <= 20).toBe(true)
      }),
    )
  })
  test('in another order, or in a line, are no sheet', () => {
    expect(isSheet(truth, { width: W, height: H })).toBe(true)
    expect(isSheet([truth[1], truth[0], truth[2], truth[3]], { width: W, height: H })).toBe(false)
    expect(isSheet([truth[0], truth[0], truth[2], truth[2]], { width: W, height: H })).toBe(false)
  })
})

test('a page seen at an angle is straight again: its parts are where they were', () => {
  // A page of four fields of grey, taken to a slanted figure by the same kind of map, and back.
  const corners: Corners = [
    { x: 60, y: 40 },
    { x: 340, y: 70 },
    { x: 370, y: 450 },
    { x: 30, y: 430 },
  ]
  const at = (u: number, v: number) => {
    // Straight lines stay straight: the centre of the figure is where its diagonals meet.
    const t =
      ((corners[1].x - corners[0].x) * (corners[3].y - corners[1].y) -
        (corners[1].y - corners[0].y) * (corners[3].x - corners[1].x)) /
      ((corners[2].x - corners[0].x) * (corners[3].y - corners[1].y) -
        (corners[2].y - corners[0].y) * (corners[3].x - corners[1].x))
    const centre = {
      x: corners[0].x + t * (corners[2].x - corners[0].x),
      y: corners[0].y + t * (corners[2].y - corners[0].y),
    }
    const corner = corners[v === 0 ? (u === 0 ? 0 : 1) : u === 0 ? 3 : 2]
    return { x: (corner.x + centre.x) / 2, y: (corner.y + centre.y) / 2 }
  }
  const dots = [0, 1].flatMap((v) => [0, 1].map((u) => ({ ...at(u, v), u, v })))
  const photo = drawn((x, y) =>
    !within(corners, x, y) ? 0 : dots.some((dot) => Math.hypot(dot.x - x, dot.y - y) < 12) ? 30 : 220,
  )
  const page = toGrey(straighten(inColour(photo), corners, 400))
  // Never larger than it is in the photograph.
  expect(page.height).toBe(Math.round(pageSize(corners).height))
  for (const { u, v } of dots) {
    let best = { light: 256, x: 0, y: 0 }
    const [x0, y0] = [(u * page.width) >> 1, (v * page.height) >> 1]
    for (let y = y0 + 4; y < y0 + (page.height >> 1) - 4; y++)
      for (let x = x0 + 4; x < x0 + (page.width >> 1) - 4; x++)
        if (page.data[y * page.width + x]! < best.light) best = { light: page.data[y * page.width + x]!, x, y }
    expect(best.light).toBeLessThan(60)
    expect(Math.abs(best.x / page.width - (0.25 + 0.5 * u))).toBeLessThan(0.09)
  }
})

test('shadows are taken out: paper is white and print dark everywhere', () => {
  const shadowed = drawn((x, y) => (0.35 + (0.6 * x) / W) * (y % 40 < 4 && x % 12 < 8 ? 50 : 235))
  const even = toGrey(evenOut(inColour(shadowed)))
  for (const x of [30, 200, 370]) {
    expect(even.data[220 * W + x]).toBeGreaterThan(235)
    expect(even.data[241 * W + (x - (x % 12) + 4)]).toBeLessThan(110)
  }
})

describe('places to write', () => {
  const paper = (ink: (x: number, y: number) => boolean) => drawn((x, y) => (ink(x, y) ? 20 : 245), 800, 1000)
  const rule =
    (y0: number, x0 = 100, x1 = 700) =>
    (x: number, y: number) =>
      y >= y0 && y < y0 + 2 && x >= x0 && x <= x1
  const frame = (x0: number, y0: number, x1: number, y1: number) => (x: number, y: number) =>
    ((y === y0 || y === y1) && x >= x0 && x <= x1) || ((x === x0 || x === x1) && y >= y0 && y <= y1)

  test('a ruled line, several as one, an empty frame, in reading order', () => {
    const places = findPlaces(
      paper((x, y) => [rule(200), rule(500), rule(530), rule(560), frame(100, 700, 400, 800)].some((is) => is(x, y))),
    )
    expect(places.map(({ is }) => is)).toEqual(['line', 'line', 'frame'])
    expect(places[1]!.box.height).toBeGreaterThan(0.07)
    expect(places[2]!.box.x).toBeCloseTo(0.13, 1)
  })
  test('a frame with print in it, a line that underlines print, and a black bar are none', () => {
    const print = (x: number, y: number) => x > 120 && x < 380 && y > 720 && y < 780 && x % 7 < 4 && y % 16 < 10
    const underlined = (x: number, y: number) => x > 100 && x < 500 && y > 170 && y < 197 && x % 9 < 5
    const bar = (x: number, y: number) => y > 400 && y < 440 && x > 100 && x < 700
    expect(
      findPlaces(
        paper(
          (x, y) =>
            [rule(200), frame(100, 700, 400, 800)].some((is) => is(x, y)) ||
            print(x, y) ||
            underlined(x, y) ||
            bar(x, y),
        ),
      ),
    ).toEqual([])
  })
  test('lines close under their questions end below them, also where the page is read: five of five', () => {
    // Questions of 22 pixels' height end 22 pixels above their lines, which stand 60 pixels apart.
    const tops = [200, 260, 320, 380, 440]
    const print = (x: number, y: number) =>
      tops.some((top) => y >= top - 44 && y < top - 22) && x >= 100 && x < 600 && x % 9 < 5
    const places = findPlaces(paper((x, y) => tops.some((top) => rule(top)(x, y)) || print(x, y)))
    expect(places).toHaveLength(5)
    places.forEach(({ box }, at) => {
      expect(box.y * 1_000).toBeGreaterThanOrEqual(tops[at]! - 22)
      expect((box.y + box.height) * 1_000).toBeCloseTo(tops[at]!, -1)
    })
    // What is read is measured too large by a few pixels: the boxes end there.
    const read = tops.map((top) => ({ x: 0.12, y: (top - 46) / 1_000, width: 0.7, height: 0.03 }))
    const free = freePlaces(places, read)
    expect(free).toHaveLength(5)
    free.forEach(({ box }, at) => expect(box.y).toBeGreaterThanOrEqual(read[at]!.y + read[at]!.height - 1e-9))
  })
  test('the empty cells of a table', () => {
    const cells = (x: number, y: number) =>
      ((y - 300) % 60 === 0 && y >= 300 && y <= 420 && x >= 100 && x <= 700) ||
      ((x - 100) % 200 === 0 && x >= 100 && x <= 700 && y >= 300 && y <= 420)
    expect(findPlaces(paper(cells)).map(({ is }) => is)).toEqual(Array(6).fill('frame'))
  })
})

describe('the work on photographs', () => {
  const box = { x: 0.1, y: 0.1, width: 0.8, height: 0.1 }
  const page = {
    key: 'a',
    picture: null,
    width: 2_000,
    height: 1_000,
    corners: cornersOf(2_000, 1_000),
    found: true,
    even: true,
    turn: 90,
    step: 'text',
    cut: { corners: null, even: true, turn: 90 },
    way: 'text',
    blocks: [{ key: 'b', is: 'heading', text: 'Knots', words: [{ text: 'Knots', doubtful: true }], box }],
    figures: [{ medium: { id: 'm', width: 10, height: 20 }, box }],
    places: [{ is: 'line', box }],
  }
  test('is read as it was kept, without what it does not know', () => {
    expect(checkPhotoWork({ pages: [{ ...page, more: 1 }], other: [] })).toEqual({ ok: true, value: { pages: [page] } })
    expect(checkPhotoWork({ pages: [{ ...page, blocks: null, corners: null, cut: null }] }).ok).toBe(true)
  })
  test('of another shape is refused, whatever it is', () => {
    for (const part of [
      { turn: 'x' },
      { width: 0 },
      { corners: [{ x: 1, y: 1 }] },
      { way: 'other' },
      { blocks: [{}] },
      { places: [{ is: 'line', box: { ...box, x: Number.NaN } }] },
      { figures: Array(101).fill(page.figures[0]) },
    ])
      expect(checkPhotoWork({ pages: [{ ...page, ...part }] }).ok).toBe(false)
    expect(checkPhotoWork({ pages: Array(21).fill(page) }).ok).toBe(false)
    fc.assert(fc.property(fc.anything(), (raw) => void checkPhotoWork(raw)))
    fc.assert(
      fc.property(fc.constantFrom(...Object.keys(page)), fc.anything(), (key, value) => {
        const read = checkPhotoWork({ pages: [{ ...page, [key]: value }] })
        if (read.ok) expect(checkPhotoWork(JSON.parse(JSON.stringify(read.value)))).toEqual(read)
      }),
    )
  })
})

describe('what was read on a page', () => {
  const page = { width: 1000, height: 1400 }
  const line = (words: string, y: number, height = 30, confidence = 95, x0 = 100, x1 = 900): RecognisedLine => {
    const parts = words.split(' ')
    const width = (x1 - x0) / parts.length
    return {
      height: height * 40,
      words: parts.map((text, at) => ({
        text,
        confidence,
        x0: x0 + at * width,
        x1: x0 + (at + 1) * width,
        y0: y,
        y1: y + height,
      })),
    }
  }
  test('lines are paragraphs and headings of two sizes, whatever was measured', () => {
    const blocks = readRecognised(
      [
        line('Knots of the harbour', 60, 52),
        line('The bowline makes a loop that nei-', 200),
        line('ther slips nor jams.', 240, 30, 95, 100, 400),
        line('1. Why?', 280, 30, 95, 100, 250),
      ],
      page,
    )
    expect(blocks.map(({ is }) => is)).toEqual(['heading', 'paragraph', 'paragraph'])
    expect(recognisedText(blocks[1]!)).toBe('The bowline makes a loop that neither slips nor jams.')
  })
  test('doubtful words are marked, specks are left out', () => {
    const blocks = readRecognised([line('Tie it', 100), line('aroun~ | —', 300, 30, 40)], page)
    expect(blocks.map(({ words }) => words)).toEqual([
      [
        { text: 'Tie', doubtful: false },
        { text: 'it', doubtful: false },
      ],
      [{ text: 'aroun~', doubtful: true }],
    ])
  })
  test('with places and figures it becomes blocks in the order of the page', () => {
    const box = (y: number, height = 0.02) => ({ x: 0.1, y, width: 0.8, height })
    const blocks = pageBlocks(
      [
        { is: 'place', place: { is: 'frame', box: box(0.5, 0.2) } },
        { is: 'paragraph', text: 'Why?', box: box(0.4) },
        { is: 'figure', media: 'm', width: 9, height: 9, box: box(0.1) },
        { is: 'paragraph', text: '  ', box: box(0.2) },
      ],
      counting(),
    )
    expect(blocks.map(({ kind }) => kind)).toEqual(['picture', 'text', 'passage'])
    expect(answerSpaces({ blocks })[0]!.proposed).toEqual({ was: '' })
    expect(checkContent({ version: 2, page: 'A4', source: '', blocks }).ok).toBe(true)
  })
  test('places that print stands in are not free', () => {
    const place = { is: 'line', box: { x: 0.1, y: 0.1, width: 0.8, height: 0.03 } } as const
    expect(freePlaces([place], [{ x: 0.2, y: 0.1, width: 0.1, height: 0.03 }])).toEqual([])
    expect(freePlaces([place], [{ x: 0.2, y: 0.125, width: 0.1, height: 0.03 }])).toEqual([place])
  })
})
