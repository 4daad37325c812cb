import { afterEach, expect, test } from '@jest/globals'
import { type AnswerSpace, type WorksheetContent, newAnswerDoc, readAnswer } from '@gavrin/core'
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import type * as Y from 'yjs'
import { content, table, text } from '../../core/src/worksheet/testing/samples'
import SubmitAsk from '../src/copy/SubmitAsk'
import { AnswerField } from '../src/sheet/AnswerField'
import { Sheet } from '../src/sheet/Sheet'
import { SpaceAbout } from '../src/sheet/SpaceAbout'
import { SheetContext } from '../src/sheet/surroundings'
import { EmptySpace } from '../src/sheet/place'
import { Changes } from '../src/worksheets/ComparePage'

afterEach(cleanup)

/** A sheet that is filled in, and what stands in its answers. */
function filledIn(some: WorksheetContent) {
  const docs = new Map<string, Y.Doc>()
  const spaces = new Map<string, AnswerSpace>()
  const docOf = (id: string) => {
    const doc = docs.get(id) ?? newAnswerDoc(spaces.get(id)?.kind ?? 'cell')
    docs.set(id, doc)
    return doc
  }
  render(
    <SheetContext
      value={{
        mediaUrl: (id) => `/m/${id}`,
        docOf,
        seed: 'copy',
        files: null,
        hintOf: null,
        language: '',
        spelling: true,
      }}
    >
      <Sheet
        content={some}
        ink="deep blue"
        answer={(space, label) => {
          spaces.set(space.id, space)
          return <AnswerField space={space} doc={docOf(space.id)} label={label} />
        }}
      />
    </SheetContext>,
  )
  return (id: string) => readAnswer(spaces.get(id)!, docOf(id))
}

test('a gap in its sentence and a cell in its row are written in, and formulas follow', () => {
  const answer = filledIn(
    content(
      text('q', 'The tide goes ', { type: 'gap', attrs: { space: { id: 'g', kind: 'gap', width: 6 } } }),
      table(
        't',
        ['Rope', 'kg'],
        ['hemp', { space: { id: 'a', kind: 'cell', numeric: true } }],
        ['nylon', { space: { id: 'b', kind: 'cell', numeric: true } }],
        ['sum', { formula: 'sum(B2:B3)' }],
      ),
    ),
  )
  fireEvent.change(screen.getByLabelText('Answer 1: The tide goes ____'), { target: { value: 'out' } })
  expect(answer('g')).toEqual({ text: 'out' })
  fireEvent.change(screen.getByLabelText('Answer 2: hemp, kg'), { target: { value: '12,5' } })
  fireEvent.change(screen.getByLabelText('Answer 3: nylon, kg'), { target: { value: '30' } })
  expect(screen.getByText('42.5')).toBeTruthy()
})

test('labels, points, hints and what must be filled in are said; the hint only when asked for', () => {
  filledIn(content({ id: 'l', kind: 'line', width: 'full', label: 'Name', points: 2, required: true, hint: 'Yours.' }))
  expect(screen.getByText('2 points')).toBeTruthy()
  expect(screen.getByText('must be filled in')).toBeTruthy()
  expect(screen.queryByText('Yours.')).toBeNull()
  fireEvent.click(screen.getByRole('button', { name: 'Hint' }))
  expect(screen.getByText('Yours.')).toBeTruthy()
})

test('a click on the chosen option leaves it; no answer is an act or a key of its own', () => {
  const options = ['in', 'out'].map((id) => ({ id, text: `the tide goes ${id}` }))
  const answer = filledIn(content({ id: 'c', kind: 'choice', many: false, options }))
  const option = () => screen.getByLabelText('the tide goes out')
  fireEvent.click(option())
  fireEvent.click(option())
  expect(answer('c')).toEqual({ chosen: ['out'] })
  fireEvent.click(screen.getByRole('button', { name: 'No answer' }))
  expect(answer('c')).toEqual({ chosen: [] })
  expect(screen.queryByRole('button', { name: 'No answer' })).toBeNull()
  fireEvent.click(screen.getByLabelText('the tide goes in'))
  fireEvent.keyDown(screen.getByLabelText('the tide goes in'), { key: 'Delete' })
  expect(answer('c')).toEqual({ chosen: [] })
})

test('given to read, a sheet has its text and options, and no places to write', () => {
  const { container } = render(
    <Sheet
      toRead
      content={content(
        text('q', 'The tide goes ', { type: 'gap', attrs: { space: { id: 'g', kind: 'gap', width: 6 } } }),
        { id: 'l', kind: 'line', width: 'full', label: 'Name', required: true },
        { id: 'c', kind: 'choice', many: false, options: [{ id: 'a', text: 'in' }] },
        { id: 'p', kind: 'passage', lines: 3 },
      )}
      ink="deep blue"
      answer={() => 'nothing written yet'}
    />,
  )
  expect(container.textContent).toBe('The tide goes in')
  expect(screen.getByRole('img', { name: 'gap' })).toBeTruthy()
  expect(screen.getByRole('listitem').textContent).toBe('in')
})

test('what is empty is asked about before it is submitted, with the way to it', async () => {
  const acts: string[] = []
  render(
    <>
      <div id="space-b_1">
        <input aria-label="Second" />
      </div>
      <SubmitAsk
        missing={[
          { id: 'a', label: 'Answer 1: Name', required: true },
          { id: 'b_1', label: 'Answer 2', required: false },
        ]}
        submit={() => acts.push('submit')}
        close={() => acts.push('close')}
      />
    </>,
  )
  const dialog = within(screen.getByRole('dialog', { name: '2 answers are empty' }))
  expect(dialog.getByText(/^One of them must be filled in\./)).toBeTruthy()
  Element.prototype.scrollIntoView = () => acts.push('seen')
  fireEvent.click(dialog.getByRole('button', { name: 'Answer 2' }))
  await waitFor(() => expect(acts).toEqual(['close', 'seen']))
  fireEvent.click(dialog.getByRole('button', { name: 'Submit as it is' }))
  expect(acts.at(-1)).toBe('submit')
})

test('shuffled options stand in the order of the copy, the same each time', () => {
  const options = ['a', 'b', 'c', 'd', 'e', 'f'].map((id) => ({ id, text: `option ${id}` }))
  const sheet = content({ id: 'c', kind: 'choice', many: false, shuffled: true, options })
  const order = () => screen.getAllByRole('radio').map((radio) => radio.closest('label')!.textContent)
  filledIn(sheet)
  const first = order()
  expect(first).not.toEqual(options.map(({ text: words }) => words))
  cleanup()
  filledIn(sheet)
  expect(order()).toEqual(first)
})

test('a link leads out without telling where from; the source line stands at the foot; pictures have their text', () => {
  filledIn({
    ...content(
      { id: 'k', kind: 'link', url: 'https://fennickquay.example/tides', title: 'Tides', note: '' },
      {
        id: 'p',
        kind: 'picture',
        media: 'm1',
        alt: 'A rope',
        pixelWidth: 4,
        pixelHeight: 3,
        width: 50,
        turn: 90,
        crop: null,
        place: 'middle',
      },
    ),
    source: 'Harbour office',
  })
  expect(screen.getByRole('link', { name: 'Tides' }).getAttribute('rel')).toBe('noopener noreferrer')
  expect(screen.getByText('Harbour office')).toBeTruthy()
  expect(screen.getByRole('img', { name: 'A rope' }).getAttribute('src')).toBe('/m/m1')
})

test('every kind of answer space has a look before anybody has written in it', () => {
  const spaces: AnswerSpace[] = [
    { id: 'l', kind: 'line', width: 'full' },
    { id: 'p', kind: 'passage', lines: 3 },
    { id: 'c', kind: 'choice', many: true, options: [{ id: '1', text: 'one' }] },
    { id: 'n', kind: 'number', unit: 'kg' },
    { id: 'g', kind: 'gap', width: 9 },
    { id: 'd', kind: 'drawing', height: 40, ground: null },
    { id: 'f', kind: 'file', most: 3 },
  ]
  const { container } = render(
    <>
      {spaces.map((space) => (
        <EmptySpace key={space.id} space={space} />
      ))}
    </>,
  )
  expect(container.children).toHaveLength(7)
  expect(container.textContent).toContain('up to 3 files')
})

test('the list of what changed names what came, went, and what is lost with it', () => {
  const before = content(text('a', 'The tide falls.'), { id: 'x', kind: 'line', width: 'full' })
  render(<Changes before={before} after={content(text('a', 'The tide rises.'), text('n', 'New.'))} />)
  expect(screen.getByText('falls').tagName).toBe('DEL')
  expect(screen.getByText('rises').tagName).toBe('INS')
  expect(screen.getByText(/One answer space is gone/)).toBeTruthy()
  cleanup()
  render(<Changes before={before} after={before} />)
  expect(screen.getByText('Nothing changed between these two.')).toBeTruthy()
})

test('in a copy a hint is fetched when it is asked for', async () => {
  const asked: string[] = []
  const surroundings = {
    language: '',
    spelling: true,
    mediaUrl: () => '',
    docOf: null,
    seed: '',
    files: null,
    hintOf: (space: string) => {
      asked.push(space)
      return Promise.resolve('Take the low from the high.')
    },
  }
  render(
    <SheetContext value={surroundings}>
      <SpaceAbout space={{ id: 'l', kind: 'line', width: 'full', hasHint: true }} />
    </SheetContext>,
  )
  expect(asked).toEqual([])
  fireEvent.click(screen.getByRole('button', { name: 'Hint' }))
  expect(await screen.findByText('Take the low from the high.')).toBeTruthy()
  expect(asked).toEqual(['l'])
})

test('in a copy with places one’s own is told, and those of others stand back', () => {
  const [ana, ben] = ['00000000000040008000000000000001', '00000000000040008000000000000002']
  const some: WorksheetContent = {
    ...content(text('all', 'Of all')),
    blocks: [
      { id: 'all', kind: 'line', width: 'full' },
      { id: `seen_${ben}`, kind: 'line', width: 'full' },
      { id: `seen_${ana}`, kind: 'line', width: 'full' },
      { id: `heard_${ana}`, kind: 'line', width: 'full' },
    ],
  }
  const theirs = new Set([`seen_${ben}`])
  const { container } = render(<Sheet content={some} ink="deep blue" theirs={theirs} answer={() => null} />)
  expect(screen.getAllByText('Your place')).toHaveLength(1)
  const placeOf = (id: string) => container.querySelector(`#space-${id}`)!.closest('.sheet-place')?.className
  expect(placeOf(`seen_${ana}`)).toBe('sheet-place mine')
  expect(placeOf(`heard_${ana}`)).toBe('sheet-place mine')
  expect(placeOf(`seen_${ben}`)).toBe('sheet-place theirs')
  expect(placeOf('all')).toBeUndefined()
})
