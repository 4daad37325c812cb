import { afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import { type DrawingSpace, type PhotoPage, STROKE, cornersOf, newAnswerDoc } from '@gavrin/core'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { useState } from 'react'
import { CropPicture } from '../src/editor/CropPicture'
import DrawingField from '../src/sheet/DrawingField'
import { CornerPicture } from '../src/worksheets/bringIn/CornerPicture'
import { ReadText } from '../src/worksheets/bringIn/ReadText'
import { newPage } from '../src/worksheets/bringIn/usePhotoWork'

// A page has no layout here: everything is 200 by 100 pixels, from the upper left corner.
beforeEach(() => {
  Element.prototype.getBoundingClientRect = () => new DOMRect(0, 0, 200, 100)
  const held = new Set<Element>()
  Element.prototype.setPointerCapture = function (this: Element) {
    held.add(this)
  }
  Element.prototype.hasPointerCapture = function (this: Element) {
    return held.has(this)
  }
  globalThis.DOMRect ??= class {
    constructor(
      readonly x: number,
      readonly y: number,
      readonly width: number,
      readonly height: number,
    ) {}
    get left() {
      return this.x
    }
    get top() {
      return this.y
    }
  } as unknown as typeof DOMRect
})
afterEach(cleanup)

/** The pointer goes from place to place and is let go. */
function drag(element: Element, ...places: readonly (readonly [number, number])[]) {
  const at = ([clientX, clientY]: readonly [number, number]) => ({
    clientX,
    clientY,
    button: 0,
    pointerId: 1,
    bubbles: true,
  })
  const tell = (type: string, place: readonly [number, number]) =>
    fireEvent(element, Object.assign(new MouseEvent(type, at(place)), { pointerId: 1 }))
  tell('pointerdown', places[0]!)
  for (const place of places.slice(1)) tell('pointermove', place)
  tell('pointerup', places.at(-1)!)
}

describe('drawing', () => {
  const space: DrawingSpace = { id: 'd', kind: 'drawing', height: 50, ground: null }
  const drawn = () => {
    const doc = newAnswerDoc('drawing')
    render(<DrawingField space={space} doc={doc} label="Answer 1" />)
    return {
      strokes: () => [...doc.getMap<string>('drawing').values()],
      paper: () => document.querySelector('svg.pen')!,
    }
  }
  test('a stroke is kept in units of the drawing, within it, as the server takes it', () => {
    const { strokes, paper } = drawn()
    drag(paper(), [20, 10], [100, 50], [900, 900])
    expect(strokes()).toEqual(['2 100,50 500,250 1000,500'])
    expect(strokes().every((stroke) => STROKE.test(stroke))).toBe(true)
    expect(screen.getByRole('application', { name: 'Answer 1: a drawing of one stroke' })).toBeTruthy()
  })
  test('the broad pen, a dot, undo and redo', () => {
    const { strokes, paper } = drawn()
    fireEvent.click(screen.getByRole('button', { name: 'Broad pen' }))
    drag(paper(), [10, 10])
    expect(strokes()).toEqual(['5 50,50'])
    fireEvent.click(screen.getByRole('button', { name: 'Undo' }))
    expect(strokes()).toEqual([])
    fireEvent.click(screen.getByRole('button', { name: 'Redo' }))
    expect(strokes()).toEqual(['5 50,50'])
  })
  test('the rubber takes what it touches; all goes at once, and comes back by undo', () => {
    const { strokes, paper } = drawn()
    drag(paper(), [20, 10], [60, 10])
    drag(paper(), [20, 60], [60, 60])
    fireEvent.click(screen.getByRole('button', { name: 'Rubber' }))
    drag(paper(), [40, 10])
    expect(strokes()).toEqual(['2 100,300 300,300'])
    fireEvent.click(screen.getByRole('button', { name: 'Clear' }))
    expect(strokes()).toEqual([])
    fireEvent.click(screen.getByRole('button', { name: 'Undo' }))
    expect(strokes()).toHaveLength(1)
  })
})

test('the corners of a page are dragged, or moved with the arrow keys, and stay in the picture', () => {
  let now = cornersOf(2_000, 1_000)
  function Picture() {
    const [corners, setCorners] = useState(now)
    return (
      <CornerPicture
        url="x"
        width={2_000}
        height={1_000}
        corners={corners}
        turn={turn}
        change={(next) => setCorners((now = next))}
      />
    )
  }
  let turn = 0
  const { unmount } = render(<Picture />)
  const corner = screen.getByRole('button', { name: 'Lower right corner' })
  fireEvent.keyDown(corner, { key: 'ArrowRight' })
  expect(now[2]).toEqual({ x: 2_000, y: 1_000 })
  fireEvent.keyDown(corner, { key: 'ArrowLeft' })
  fireEvent.keyDown(corner, { key: 'ArrowUp' })
  expect(now[2]).toEqual({ x: 1_990, y: 995 })
  drag(corner, [200, 100], [150, 80])
  expect(now[2]).toEqual({ x: 1_500, y: 800 })
  expect(now[0]).toEqual({ x: 0, y: 0 })
  unmount()

  // Shown as it will be: what is seen at the upper right is the upper left of the picture.
  turn = 90
  render(<Picture />)
  const upperRight = screen.getByRole('button', { name: 'Upper right corner' })
  expect(upperRight.style).toMatchObject({ left: '100%', top: '0%' })
  fireEvent.keyDown(upperRight, { key: 'ArrowDown' })
  expect(now[0]).toEqual({ x: 10, y: 0 })
  drag(upperRight, [200, 0], [160, 20])
  expect(now[0].x).toBeCloseTo(400)
  expect(now[0].y).toBeCloseTo(200)
})

test('a picture is cut by a frame that is drawn, or by percent of its sides', () => {
  let cut: unknown = null
  render(<CropPicture url="x" aspect={2} crop={null} change={(crop) => (cut = crop)} />)
  drag(document.querySelector('.crop-picture')!, [20, 10], [120, 60])
  expect(cut).toEqual({ x: 0.1, y: 0.1, width: 0.5, height: 0.5 })
  fireEvent.change(screen.getByLabelText('Left'), { target: { value: '25' } })
  expect(cut).toEqual({ x: 0.25, y: 0, width: 0.75, height: 1 })
})

test('what was read is put right beside the picture: doubtful words marked, paragraphs changed or left out', () => {
  const box = { x: 0, y: 0, width: 1, height: 0.1 }
  let page: PhotoPage = {
    ...newPage(null, { width: 9, height: 9 }),
    blocks: [
      {
        key: 'a',
        is: 'paragraph',
        text: 'Tie it aroun',
        words: [
          { text: 'Tie', doubtful: false },
          { text: 'it', doubtful: false },
          { text: 'aroun', doubtful: true },
        ],
        box,
      },
      { key: 'b', is: 'paragraph', text: 'specks', words: [], box },
    ],
    places: [{ is: 'line', box }],
  }
  function Reading() {
    const [now, setNow] = useState(page)
    return <ReadText page={now} change={(part) => setNow((page = { ...page, ...part }))} mediaUrl={(id) => id} />
  }
  render(<Reading />)
  expect(screen.getByText('aroun').tagName).toBe('MARK')
  expect(screen.getByText(/1 doubtful word is marked\. 1 place to write was found\./)).toBeTruthy()
  fireEvent.click(screen.getByRole('button', { name: 'Tie it aroun' }))
  fireEvent.change(screen.getByLabelText('Text of this paragraph'), { target: { value: 'Tie it around' } })
  fireEvent.blur(screen.getByLabelText('Text of this paragraph'))
  expect(page.blocks![0]).toMatchObject({ text: 'Tie it around', words: [] })
  expect(screen.getByText(/No word is doubtful/)).toBeTruthy()
  fireEvent.click(screen.getAllByRole('button', { name: 'Make it a heading' })[0]!)
  fireEvent.click(screen.getByRole('button', { name: 'Leave out: specks' }))
  expect(page.blocks!.map(({ key, is }) => [key, is])).toEqual([['a', 'heading']])
})
