import { LINE_LIMIT, PASSAGE_LIMITS, type AnswerSpace, newAnswerDoc, readAnswer, starterUpdate } from '@gavrin/core'
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react'
import * as Y from 'yjs'
import { AnswerField } from '../src/sheet/AnswerField'
import { AnswerView } from '../src/sheet/AnswerView'
import PassageField from '../src/sheet/PassageField'
import { surroundings } from './support/server'

afterEach(cleanup)

const PASSAGE = { id: 'p', kind: 'passage', lines: 3, starter: 'On Tuesday morning,' } as const
const LINE: AnswerSpace = { id: 'l', kind: 'line', width: 'full' }
const CHOICE: AnswerSpace = {
  id: 'c',
  kind: 'choice',
  many: false,
  shuffled: false,
  options: [
    { id: 'one', text: 'ebb' },
    { id: 'two', text: 'flood' },
  ],
}
const DRAWING: AnswerSpace = { id: 'd', kind: 'drawing', height: 50, ground: null }

/** The document of the same answer in somebody else's window, joined to it as by the server. */
function elsewhere(doc: Y.Doc, space: AnswerSpace): Y.Doc {
  const other = newAnswerDoc(space.kind)
  Y.applyUpdate(other, Y.encodeStateAsUpdate(doc), 'server')
  doc.on('update', (bytes: Uint8Array, origin) => origin !== 'server' && Y.applyUpdate(other, bytes, 'server'))
  other.on('update', (bytes: Uint8Array, origin) => origin !== 'server' && Y.applyUpdate(doc, bytes, 'server'))
  return other
}

const textOf = (space: AnswerSpace, doc: Y.Doc) => (readAnswer(space, doc) as { text: string }).text
const press = (element: Element, key: string, more: object = {}) => fireEvent.keyDown(element, { key, ...more })

describe('a passage with a given beginning', () => {
  let doc: Y.Doc
  beforeEach(() => {
    doc = newAnswerDoc('passage')
  })
  const shown = () => document.querySelectorAll('.starter')
  const typed = (data: string) =>
    fireEvent(
      screen.getByRole('textbox'),
      new InputEvent('beforeinput', { inputType: 'insertText', data, bubbles: true, cancelable: true }),
    )

  test('is shown, read out, and no answer yet when it is walked through', () => {
    render(<PassageField space={PASSAGE} doc={doc} label="Diary" />)
    expect(shown()).toHaveLength(1)
    const field = screen.getByRole('textbox')
    expect(document.getElementById(field.getAttribute('aria-describedby')!)!.textContent).toBe(
      'Begins with: On Tuesday morning,',
    )
    fireEvent.focus(field)
    fireEvent.keyDown(field, { key: 'Tab' })
    fireEvent.keyDown(field, { key: 'ArrowRight' })
    expect(textOf(PASSAGE, doc)).toBe('')
    expect(Y.encodeStateAsUpdate(doc)).toEqual(Y.encodeStateAsUpdate(newAnswerDoc('passage')))
  })

  test('becomes the answer with the first letter, which stands behind it', () => {
    render(<PassageField space={PASSAGE} doc={doc} label="Diary" />)
    typed('w')
    expect(textOf(PASSAGE, doc)).toBe('On Tuesday morning,w')
    expect(shown()).toHaveLength(0)
  })

  test('stands there once when somebody else has begun at the same time', () => {
    render(<PassageField space={PASSAGE} doc={doc} label="Diary" />)
    const other = newAnswerDoc('passage')
    Y.applyUpdate(other, starterUpdate(PASSAGE.starter))
    const line = (other.getXmlFragment('passage').get(0) as Y.XmlElement).get(0) as Y.XmlText
    line.insert(line.length, ' we')
    typed('I')
    act(() => Y.applyUpdate(doc, Y.encodeStateAsUpdate(other), 'server'))
    const text = textOf(PASSAGE, doc)
    expect(text.split('On Tuesday')).toHaveLength(2)
    expect(text).toContain('I')
    expect(text).toContain(' we')
  })

  test('is seen where it can only be read, too', () => {
    render(<AnswerView space={PASSAGE} doc={doc} label="Diary" />)
    expect(screen.getByText('On Tuesday morning,')).toBeTruthy()
  })

  test('pasting comes behind it, in paragraphs that are not too long', () => {
    render(<PassageField space={PASSAGE} doc={doc} label="Diary" />)
    const long = 'word '.repeat(2.5 * (PASSAGE_LIMITS.paragraph / 5))
    fireEvent.paste(screen.getByRole('textbox'), {
      clipboardData: {
        getData: (type: string) => (type === 'text/plain' ? long : ''),
        types: ['text/plain'],
        files: [],
      },
    })
    const lines = textOf(PASSAGE, doc).split('\n')
    expect(lines[0]!.startsWith('On Tuesday morning,word')).toBe(true)
    expect(Math.max(...lines.map(({ length }) => length))).toBeLessThanOrEqual(PASSAGE_LIMITS.paragraph)
    expect(textOf(PASSAGE, doc).match(/word/g)).toHaveLength(5_000)
  })
})

describe('what one did is undone, whatever others did in between', () => {
  test('in a line', () => {
    const doc = newAnswerDoc('line')
    const other = elsewhere(doc, LINE)
    render(<AnswerField space={LINE} doc={doc} label="Port" />)
    const field = screen.getByLabelText<HTMLInputElement>('Port')
    fireEvent.change(field, { target: { value: 'north' } })
    act(() => other.getText('line').insert(5, ' wall'))
    expect(field.value).toBe('north wall')
    press(field, 'z', { ctrlKey: true })
    expect(field.value).toBe(' wall')
    expect(textOf(LINE, other)).toBe(' wall')
    press(field, 'y', { ctrlKey: true })
    expect(field.value).toBe('north wall')
    press(field, 'Z', { ctrlKey: true, shiftKey: true })
    expect(field.value).toBe('north wall')
  })

  test('in several answers, in the order in which it was done, and done again in it; what is gone is passed over', () => {
    const [port, tide, gone] = [newAnswerDoc('line'), newAnswerDoc('choice'), newAnswerDoc('line')]
    render(
      <>
        <div id={`space-${LINE.id}`}>
          <AnswerField space={LINE} doc={port} label="Port" />
        </div>
        <div id={`space-${CHOICE.id}`}>
          <AnswerField space={CHOICE} doc={tide} label="Tide" />
        </div>
        <AnswerField space={{ ...LINE, id: 'gone' }} doc={gone} label="Gone" />
      </>,
    )
    const field = screen.getByLabelText<HTMLInputElement>('Port')
    const stands = () => [field.value, readAnswer(CHOICE, tide)]
    fireEvent.change(field, { target: { value: 'north' } })
    fireEvent.click(screen.getByLabelText('ebb'))
    // At once after it, and yet an act of its own: there was another in between.
    fireEvent.change(field, { target: { value: 'northw' } })
    fireEvent.change(screen.getByLabelText('Gone'), { target: { value: 'of another page' } })
    gone.destroy()
    const seen = [stands()]
    act(() => field.focus())
    for (let times = 0; times < 3; times++) {
      press(document.activeElement as HTMLElement, 'z', { ctrlKey: true })
      seen.push(stands())
    }
    expect(seen).toEqual([
      ['northw', { chosen: ['one'] }],
      ['north', { chosen: ['one'] }],
      ['north', { chosen: [] }],
      ['', { chosen: [] }],
    ])
    expect(document.activeElement).toBe(field)
    for (const expected of seen.slice(0, 3).toReversed()) {
      press(document.activeElement as HTMLElement, 'y', { ctrlKey: true })
      expect(stands()).toEqual(expected)
    }
    // What is done now stands in the place of what was undone.
    press(field, 'z', { ctrlKey: true })
    press(field, 'z', { ctrlKey: true })
    fireEvent.change(field, { target: { value: 'south' } })
    press(field, 'y', { ctrlKey: true })
    expect(stands()).toEqual(['south', { chosen: [] }])
  })

  test('in a choice', () => {
    const doc = newAnswerDoc('choice')
    render(<AnswerField space={CHOICE} doc={doc} label="Tide" />)
    fireEvent.click(screen.getByLabelText('ebb'))
    fireEvent.click(screen.getByLabelText('flood'))
    press(screen.getByLabelText('flood'), 'z', { ctrlKey: true })
    expect(readAnswer(CHOICE, doc)).toEqual({ chosen: ['one'] })
    press(screen.getByLabelText('flood'), 'z', { ctrlKey: true })
    expect(readAnswer(CHOICE, doc)).toEqual({ chosen: [] })
  })
})

test('a line says before that it is nearly full, and takes no more than fits', () => {
  const doc = newAnswerDoc('line')
  render(<AnswerField space={LINE} doc={doc} label="Port" />)
  const field = screen.getByLabelText<HTMLInputElement>('Port')
  const nearly = 'a'.repeat(LINE_LIMIT - 3)
  fireEvent.change(field, { target: { value: nearly } })
  expect(screen.getByText('3 more letters fit into this line.')).toBeTruthy()
  fireEvent.change(field, { target: { value: `${nearly} and much more` } })
  expect(screen.getByText(/takes up to 1,000 letters/)).toBeTruthy()
  expect(field.value).toBe(nearly)
  expect(textOf(LINE, doc)).toBe(nearly)
})

test('a drawing is made, rubbed out and undone by keys alone', async () => {
  const doc = newAnswerDoc('drawing')
  render(<AnswerField space={DRAWING} doc={doc} label="Chart" />)
  const place = await screen.findByRole('application')
  const strokes = () => (readAnswer(DRAWING, doc) as { strokes: readonly string[] }).strokes
  press(place, 'ArrowRight')
  press(place, ' ')
  press(place, 'ArrowDown', { shiftKey: true })
  press(place, 'ArrowLeft')
  expect(strokes()).toEqual([])
  press(place, ' ')
  expect(strokes()).toEqual(['2 510,250 510,300 500,300'])
  press(place, 'Delete')
  expect(strokes()).toEqual([])
  press(place, 'z', { ctrlKey: true })
  expect(strokes()).toHaveLength(1)
  press(place, ' ')
  press(place, 'ArrowUp')
  press(place, 'Escape')
  expect(strokes()).toHaveLength(1)
})

test('a file that was taken out by mistake is put back', () => {
  const FILE: AnswerSpace = { id: 'f', kind: 'file', most: 2 }
  const doc = newAnswerDoc('file')
  doc.getMap('file').set('7f0e1c52-0000-4000-8000-000000000001', 'knots.png')
  render(<AnswerField space={FILE} doc={doc} label="Picture" />, { wrapper: surroundings().Around })
  const files = () => (readAnswer(FILE, doc) as { files: readonly { name: string }[] }).files.map(({ name }) => name)
  fireEvent.click(screen.getByRole('button', { name: 'Take out knots.png' }))
  expect(files()).toEqual([])
  fireEvent.click(screen.getByRole('button', { name: 'Put it back' }))
  expect(files()).toEqual(['knots.png'])
})

test('in a line one word is undone at a time', () => {
  const doc = newAnswerDoc('line')
  render(<AnswerField space={LINE} doc={doc} label="Port" />)
  const field = screen.getByLabelText<HTMLInputElement>('Port')
  for (const end of Array.from('north wall').keys())
    fireEvent.change(field, { target: { value: 'north wall'.slice(0, end + 1) } })
  press(field, 'z', { ctrlKey: true })
  expect(field.value).toBe('north')
  press(field, 'z', { ctrlKey: true })
  expect(field.value).toBe('')
})
