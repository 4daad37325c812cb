import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { act, cleanup, fireEvent, render, renderHook, screen } from '@testing-library/react'
import { ReadingAids } from '../src/reading/ReadingAids'
import ReadingMenu from '../src/reading/ReadingMenu'
import { pieceAt, piecesOf } from '../src/reading/pieces'
import { useReading, worn } from '../src/reading/useReading'
import { type Speech, canSpeak, useSpeech } from '../src/reading/useSpeech'

const sheetOf = (html: string) => {
  const sheet = document.createElement('article')
  sheet.innerHTML = html
  document.body.replaceChildren(sheet)
  return sheet
}
const textsOf = (html: string) => piecesOf(sheetOf(html), 'en').map(({ text }) => text)

afterEach(cleanup)

describe('what is read aloud of a page', () => {
  test('is its sentences and what stands in its fields, in their order', () => {
    expect(
      textsOf(
        '<h1>Tides</h1><p>Low water is at <b>noon</b>. High water is at six!</p><input type="text" value="at nine"><ul><li>a full moon</li></ul>',
      ),
    ).toEqual(['Tides', 'Low water is at noon.', 'High water is at six!', 'at nine', 'a full moon'])
  })

  test('is nothing that is not read, and no signs alone', () => {
    expect(
      textsOf(
        '<p>Go.</p><button>Hint</button><p aria-hidden="true">no</p><p><span class="visually-hidden">no</span>–</p><input type="checkbox">',
      ),
    ).toEqual(['Go.'])
  })

  test('has each sentence where it stands, though it is parted by marks', () => {
    const sheet = sheetOf('<p>Low <i>wa</i>ter. High tide.</p>')
    expect(piecesOf(sheet, 'en').map(({ range }) => range!.toString())).toEqual(['Low water.', 'High tide.'])
  })

  test('begins at words that are marked, else at the beginning', () => {
    const sheet = sheetOf('<p>One. Two.</p><p>Three.</p>')
    const pieces = piecesOf(sheet, 'en')
    getSelection()!.removeAllRanges()
    expect(pieceAt(pieces, sheet)).toBe(0)
    const words = sheet.querySelectorAll('p')[1]!.firstChild!
    getSelection()!.setBaseAndExtent(words, 0, words, 3)
    expect(pieces[pieceAt(pieces, sheet)]!.text).toBe('Three.')
    getSelection()!.removeAllRanges()
  })
})

describe('reading aloud', () => {
  interface Said {
    text: string
    lang?: string
    rate?: number
    onend?: () => void
    onerror?: () => void
  }
  const said: Said[] = []
  const speech = { speak: (words: Said) => said.push(words), cancel: jest.fn(), pause: jest.fn(), resume: jest.fn() }
  beforeEach(() => {
    said.length = 0
    Element.prototype.scrollIntoView = () => undefined
    Object.assign(globalThis, {
      speechSynthesis: speech,
      SpeechSynthesisUtterance: class {
        constructor(readonly text: string) {}
      },
    })
  })
  afterEach(() => {
    cleanup()
    Reflect.deleteProperty(globalThis, 'speechSynthesis')
  })

  test('goes from sentence to sentence in the language of the page, and ends with the last', () => {
    const sheet = sheetOf('<p>Ebb. Flow.</p><input type="text" value="nine">')
    const { result } = renderHook(() => useSpeech(sheet, 'en-GB', 0.75))
    act(() => result.current.read())
    expect(said.at(-1)).toMatchObject({ text: 'Ebb.', lang: 'en-GB', rate: 0.75 })
    act(() => said.at(-1)!.onend!())
    act(() => said.at(-1)!.onend!())
    expect(said.at(-1)!.text).toBe('nine')
    expect(sheet.querySelector('input')!.className).toBe('read-aloud')
    expect(result.current.state).toBe('reading')
    act(() => said.at(-1)!.onend!())
    expect(result.current.state).toBe('silent')
    expect(sheet.querySelector('.read-aloud')).toBeNull()
  })

  test('is paused, goes on, and is stopped; what ends after that begins nothing', () => {
    const sheet = sheetOf('<p>Ebb. Flow.</p>')
    const { result } = renderHook(() => useSpeech(sheet, 'en', 1))
    act(() => result.current.read())
    act(() => result.current.pause())
    expect(result.current.state).toBe('paused')
    act(() => result.current.goOn())
    act(() => result.current.stop())
    act(() => said.at(-1)!.onend!())
    expect([result.current.state, said.length]).toEqual(['silent', 1])
  })

  test('a voice that fails ends it', () => {
    const sheet = sheetOf('<p>Ebb.</p>')
    const { result } = renderHook(() => useSpeech(sheet, '', 1))
    act(() => result.current.read())
    act(() => said.at(-1)!.onerror!())
    expect(result.current.state).toBe('silent')
  })
})

describe('how somebody reads', () => {
  const SILENT: Speech = {
    state: 'silent',
    read: () => undefined,
    stop: () => undefined,
    pause: () => undefined,
    goOn: () => undefined,
  }

  test('is remembered for them alone', () => {
    localStorage.clear()
    const { result } = renderHook(() => useReading('mira'))
    act(() => result.current[1]({ letters: 1.45, tint: 'cream' }))
    act(() => result.current[1]({ isSpaced: true }))
    expect(worn(result.current[0])).toEqual({ 'data-spaced': true, 'data-tint': 'cream', style: { '--letters': 1.45 } })
    expect(worn(renderHook(() => useReading('mira')).result.current[0])).toMatchObject({ 'data-tint': 'cream' })
    expect(worn(renderHook(() => useReading('tom')).result.current[0])).toEqual({ style: {} })
  })

  test('is chosen in one place; without a voice nothing is offered to be read aloud', () => {
    expect(canSpeak()).toBe(false)
    const wished: object[] = []
    const wishes = renderHook(() => useReading('nobody')).result.current[0]
    render(<ReadingMenu wishes={wishes} wish={(wish) => wished.push(wish)} speech={SILENT} />)
    fireEvent.click(screen.getByRole('button', { name: 'Reading' }))
    expect(screen.queryByRole('button', { name: 'Read aloud' })).toBeNull()
    fireEvent.click(screen.getByLabelText('largest'))
    fireEvent.click(screen.getByLabelText('sky'))
    fireEvent.click(screen.getByLabelText(/^A ruler/))
    expect(wished).toEqual([{ letters: 1.45 }, { tint: 'sky' }, { hasRuler: true }])
  })

  test('the ruler follows the pointer', () => {
    const { container } = render(<ReadingAids hasRuler speech={SILENT} />)
    fireEvent.pointerMove(document.body, { clientY: 120 })
    expect(container.querySelector<HTMLElement>('.reading-ruler')!.style.getPropertyValue('--at')).toMatch(/px$/)
  })
})
