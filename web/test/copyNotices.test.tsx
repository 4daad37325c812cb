import { afterEach, expect, jest, test } from '@jest/globals'
import { type WorksheetContent, answerSpaces, spaceLabel } from '@gavrin/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { content, text } from '../../core/src/worksheet/testing/samples'
import { BringToLastGood } from '../src/copy/BringToLastGood'
import { WritingNotices } from '../src/copy/WritingNotices'
import type { CopyView } from '../src/live/openCopy'

afterEach(() => {
  cleanup()
  jest.restoreAllMocks()
})

const SHEET: WorksheetContent = content(
  text('t1', 'When is the tide high?'),
  { kind: 'line', id: 'high', width: 'full' },
  text('t2', 'And why?'),
  { kind: 'passage', id: 'why', lines: 4 },
)
const VIEW: CopyView = {
  ready: true,
  page: 'p',
  permission: 'edit',
  reason: '',
  state: 'working',
  pensDownAt: null,
  save: { is: 'saved', at: 0 },
  refusals: [],
  late: [],
  resting: new Set(),
  keepsNothing: false,
  filling: new Set(),
  checks: null,
  closed: null,
  generation: 0,
  lateNews: 0,
  openings: 1,
}
const labelOf = (space: string) => `“${spaceLabel(SHEET, space)}”`

function notices(more: Partial<CopyView>, hasUnsaved = false) {
  const copy = { forgetRefusal: jest.fn<(refusal: unknown) => void>(), forgetLate: jest.fn(), hasUnsaved }
  render(<WritingNotices content={SHEET} copy={copy} view={{ ...VIEW, ...more }} />)
  return copy
}

test('the sheet has the answers that the notices speak of', () => {
  expect(answerSpaces(SHEET).map(({ id }) => id)).toEqual(['high', 'why'])
})

test('nothing is said while all goes as expected', () => {
  notices({})
  expect(document.body.textContent).toBe('')
})

test('words that were not taken are shown until they are read, and can be copied', () => {
  const writeText = jest.fn<(text: string) => Promise<void>>(() => Promise.resolve())
  Object.assign(navigator, { clipboard: { writeText } })
  const refusal = { space: 'why', sentence: 'This answer is full.', text: 'because of the moon' }
  const { forgetRefusal } = notices({ refusals: [refusal] })
  const notice = screen.getByText(/This answer is full\./)
  expect(notice.textContent).toContain(`What you wrote in ${labelOf('why')} was not taken.`)
  expect(screen.getByText('because of the moon').tagName).toBe('Q')
  fireEvent.click(screen.getByRole('button', { name: 'Copy them' }))
  expect(writeText).toHaveBeenCalledWith('because of the moon')
  fireEvent.click(screen.getByRole('button', { name: 'I have them' }))
  expect(forgetRefusal).toHaveBeenCalledWith(refusal)
})

test('where there are no words to show, none are promised', () => {
  notices({ refusals: [{ space: 'high', sentence: 'This is not allowed here.', text: '' }] })
  expect(screen.queryByRole('button', { name: 'Copy them' })).toBeNull()
  expect(document.body.textContent).not.toContain('These were your words')
})

test('what came too late says where it is now', () => {
  const sentence = 'This copy was submitted.'
  const { forgetLate } = notices({
    late: [
      { space: 'high', sentence },
      { space: 'why', sentence },
    ],
  })
  expect(document.body.textContent).toContain(
    `This copy was submitted. What you wrote after that in ${labelOf('high')}, ${labelOf('why')} came too late`,
  )
  fireEvent.click(screen.getByRole('button', { name: 'Close' }))
  expect(forgetLate).toHaveBeenCalled()
})

test('an answer that is nearly full is named to who writes in it, and to nobody else', () => {
  notices({ filling: new Set(['why']) })
  expect(document.body.textContent).toContain(`Nearly full: ${labelOf('why')}.`)
  cleanup()
  notices({ filling: new Set(['why']), permission: 'comment' })
  expect(document.body.textContent).toBe('')
})

test('a copy that cannot be opened says so of words that are not saved, and only then', () => {
  notices({ closed: 'It cannot be opened.' }, true)
  expect(document.body.textContent).toContain('What you wrote last is not saved.')
  cleanup()
  notices({ closed: 'It cannot be opened.' })
  expect(document.body.textContent).toBe('')
})

function bringing(answer: () => Response) {
  const asked = jest.fn<(input: string, init?: RequestInit) => Promise<Response>>(async () => {
    await new Promise((resolve) => setTimeout(resolve))
    return answer()
  })
  Object.assign(globalThis, { fetch: asked })
  const onDone = jest.fn()
  render(
    <QueryClientProvider client={new QueryClient()}>
      <BringToLastGood copyId="c1" onDone={onDone} />
    </QueryClientProvider>,
  )
  fireEvent.click(screen.getByRole('button', { name: 'Bring it to its last good state' }))
  return { asked, onDone }
}

test('a teacher brings a copy to its last good state, once, and it is opened again', async () => {
  const { asked, onDone } = bringing(() => new Response('{"setAside":2}', { status: 200 }))
  const button = await screen.findByRole<HTMLButtonElement>('button', { name: /Looking for the last good state/ })
  expect(button.disabled).toBe(true)
  await waitFor(() => expect(onDone).toHaveBeenCalledTimes(1))
  expect(asked).toHaveBeenCalledTimes(1)
  expect(String(asked.mock.calls[0]![0])).toMatch(/copies\/c1\/last-good$/)
})

test('why it could not be brought there is said beside the button, which can be pressed again', async () => {
  const { onDone } = bringing(
    () =>
      new Response(JSON.stringify({ status: 409, code: 'no-state', detail: 'No good state was found.' }), {
        status: 409,
        headers: { 'content-type': 'application/problem+json' },
      }),
  )
  await screen.findByText(/No good state was found\./)
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Bring it to its last good state' }).disabled).toBe(
    false,
  )
  expect(onDone).not.toHaveBeenCalled()
})
