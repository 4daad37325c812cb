import { type ThreadSeen, type WorksheetContent, newAnswerDoc } from '@gavrin/core'
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { act, fireEvent, render, renderHook, screen, waitFor } from '@testing-library/react'
import { CommentForm } from '../src/comment/CommentForm'
import { ThreadNote } from '../src/comment/ThreadNote'
import { lettersIn, rangeOf, stretchOf } from '../src/comment/letters'
import { Outbox, type UnsentComment } from '../src/comment/outbox'
import type { ThreadShown } from '../src/comment/queries'
import { stackNotes } from '../src/comment/stack'
import { useTarget } from '../src/comment/targets'
import { type CommentActs, shownThreads, useComments } from '../src/comment/useComments'

describe('notes of the margin', () => {
  test('stand beside what they are about, and beneath each other where there is no room', () => {
    const { tops, end } = stackNotes([
      { id: 'c', wanted: 110, height: 50 },
      { id: 'a', wanted: 100, height: 60 },
      { id: 'far', wanted: 500, height: 10 },
      { id: 'above', wanted: -30, height: 20 },
    ])
    expect([...tops]).toEqual([
      ['above', 0],
      ['a', 100],
      ['c', 174],
      ['far', 500],
    ])
    expect(end).toBe(510)
    expect(stackNotes([]).end).toBe(0)
  })
})

test('words that were marked before the margin was there are what a comment is about', async () => {
  const sheet = document.createElement('div')
  sheet.innerHTML = '<p data-block="t">The harbour master waited.</p>'
  document.body.replaceChildren(sheet)
  const letters = sheet.querySelector('p')!.firstChild!
  const told = new Promise((resolve) => document.addEventListener('selectionchange', resolve, { once: true }))
  getSelection()!.setBaseAndExtent(letters, 4, letters, 18)
  await told
  const content = { blocks: [] } as unknown as WorksheetContent
  const noDoc = () => newAnswerDoc('line')
  const { result } = renderHook(() => useTarget(sheet, content, noDoc))
  await waitFor(() => expect(result.current.words).toBe('“harbour master”'))
})

describe('the letters of a page', () => {
  const page = (html: string) => {
    const element = document.createElement('div')
    element.innerHTML = html
    document.body.replaceChildren(element)
    return element
  }

  test('are those that are read, without what stands between them', () => {
    const element = page('<p>The <strong>tide</strong> <span class="gap-space">mine</span>rises</p><p>twice</p>')
    expect(lettersIn(element)).toBe('The tide risestwice')
  })

  test('are found again where they were marked, over all that parts them', () => {
    const element = page('<p>The <strong>tide</strong> <span class="gap-space">mine</span>rises</p><p>twice</p>')
    const letters = lettersIn(element)
    for (let from = 0; from < letters.length; from++)
      for (let to = from + 1; to <= letters.length; to++) {
        const range = rangeOf(element, { from, to })!
        expect(stretchOf(element, range)).toEqual({ from, to })
      }
    expect(rangeOf(element, { from: 3, to: letters.length + 1 })).toBeNull()
  })

  test('a mark that begins or ends outside covers what is inside', () => {
    const element = page('<p>low</p><p id="in">high</p><p>low</p>')
    const range = document.createRange()
    range.selectNodeContents(element)
    expect(stretchOf(element.querySelector('#in')!, range)).toEqual({ from: 0, to: 4 })
  })
})

const unsent = (more: Partial<UnsentComment> = {}): UnsentComment => ({
  commentId: 'c1',
  copyId: 'k1',
  personId: 'zofia',
  threadId: 't1',
  text: 'Who is that?',
  begins: { kind: 'comment', staffOnly: false, anchor: { is: 'copy' } },
  at: 5,
  problem: null,
  ...more,
})
const seen = (more: Partial<ThreadSeen> = {}): ThreadSeen => ({
  id: 't1',
  version: 1,
  kind: 'comment',
  staffOnly: false,
  releasedAt: null,
  anchor: { is: 'copy' },
  isMine: true,
  isWaiting: false,
  done: null,
  comments: [
    {
      id: 'c1',
      name: 'Zofia Dąbrowska',
      isMine: true,
      byStaff: false,
      at: 5,
      editedAt: null,
      text: 'Who is that?',
      isDeleted: false,
      mayEdit: true,
      mayDelete: true,
      backUntil: null,
    },
  ],
  mayReply: true,
  mayDo: true,
  ...more,
})

describe('comments on their way', () => {
  let answers: (() => Promise<Response>)[]
  const sent: { path: string; body: unknown }[] = []
  const realFetch = globalThis.fetch
  beforeEach(() => {
    jest.useFakeTimers()
    answers = []
    sent.length = 0
    globalThis.fetch = jest.fn<typeof fetch>((path, init) => {
      sent.push({ path: path as string, body: JSON.parse(init!.body as string) as unknown })
      return (answers.shift() ?? (() => Promise.reject(new TypeError('away'))))()
    })
  })
  afterEach(() => {
    jest.useRealTimers()
    globalThis.fetch = realFetch
  })
  const kept = (thread: ThreadSeen) => () => Promise.resolve(new Response(JSON.stringify({ thread })))
  const refused = (status: number, detail: string) => () =>
    Promise.resolve(new Response(JSON.stringify({ detail, code: 'x' }), { status }))
  const settle = async (milliseconds = 0) => {
    await jest.advanceTimersByTimeAsync(milliseconds)
  }

  test('are sent again until they have arrived, one after the other, and are told then', async () => {
    const outbox = new Outbox('zofia')
    const heard: string[] = []
    outbox.hear(({ commentId }, thread) => heard.push(`${commentId} ${thread?.id}`))
    outbox.add(unsent())
    outbox.add(unsent({ commentId: 'c2', begins: null, text: 'And why?' }))
    await settle()
    // Away: the second does not go before the first.
    expect(sent).toHaveLength(1)
    expect(outbox.list()).toHaveLength(2)
    answers = [refused(503, 'away'), kept(seen()), kept(seen())]
    await settle(1_000)
    expect(outbox.list()).toHaveLength(2)
    await settle(2_000)
    expect(heard).toEqual(['c1 t1', 'c2 t1'])
    expect(outbox.list()).toEqual([])
    expect(sent.at(-1)).toEqual({
      path: '/api/copies/k1/comments/c2',
      body: { text: 'And why?', threadId: 't1', begins: null },
    })
    outbox.close()
  })

  test('that are not taken stay, with the reason, until they are forgotten; others go on', async () => {
    const outbox = new Outbox('zofia')
    answers = [refused(403, 'This copy was set aside.'), kept(seen())]
    outbox.add(unsent())
    outbox.add(unsent({ commentId: 'c2' }))
    await settle()
    expect(outbox.list()).toMatchObject([{ commentId: 'c1', problem: 'This copy was set aside.' }])
    outbox.drop('c1')
    expect(outbox.list()).toEqual([])
    outbox.close()
  })

  test('in other words while the first are under way: the last words go too', async () => {
    const outbox = new Outbox('zofia')
    let arrive!: (answer: Response) => void
    answers = [() => new Promise((resolve) => (arrive = resolve)), kept(seen())]
    outbox.add(unsent())
    await settle()
    outbox.add(unsent({ text: 'Who is he?' }))
    arrive(new Response(JSON.stringify({ thread: seen() })))
    await settle()
    expect(sent.map(({ body }) => (body as { text: string }).text)).toEqual(['Who is that?', 'Who is he?'])
    expect(outbox.list()).toEqual([])
    outbox.close()
  })
})

describe('what is shown', () => {
  const shown = (threads: ThreadSeen[], mine: UnsentComment[], seenAt: number | null = 0) =>
    shownThreads(new Map(threads.map((thread) => [thread.id, thread])), mine, 'Zofia Dąbrowska', seenAt)

  test('has what is on its way where it will stand, and once', () => {
    expect(shown([], [unsent()])).toMatchObject([
      { id: 't1', mayReply: false, comments: [{ text: 'Who is that?', unsent: { problem: null } }] },
    ])
    const reply = unsent({ commentId: 'c2', begins: null, text: 'And why?' })
    expect(shown([seen()], [reply])[0]!.comments.map(({ text }) => text)).toEqual(['Who is that?', 'And why?'])
    // It has arrived, and is not known to have: other words in place of the first.
    expect(shown([seen()], [unsent({ text: 'Who is he?' })])[0]!.comments).toMatchObject([{ text: 'Who is he?' }])
    // A reply to what is not there any more.
    expect(shown([], [reply])).toEqual([])
  })

  test('is new where others wrote it since one looked', () => {
    const [mine] = seen().comments
    const thread = seen({ comments: [mine!, { ...mine!, id: 'c2', isMine: false, at: 9 }] })
    const news = (seenAt: number | null) => shown([thread], [], seenAt)[0]!.comments.map(({ isNew }) => isNew)
    expect(news(5)).toEqual([false, true])
    expect(news(9)).toEqual([false, false])
    expect(news(null)).toEqual([false, true])
  })
})

const ACTS = (): { [K in keyof CommentActs]: jest.Mock<CommentActs[K]> } => ({
  begin: jest.fn<CommentActs['begin']>(),
  reply: jest.fn<CommentActs['reply']>(),
  change: jest.fn<CommentActs['change']>(),
  remove: jest.fn<CommentActs['remove']>(() => Promise.resolve()),
  bringBack: jest.fn<CommentActs['bringBack']>(() => Promise.resolve()),
  done: jest.fn<CommentActs['done']>(() => Promise.resolve()),
  forget: jest.fn<CommentActs['forget']>(),
})

const PEOPLE = [
  { id: 'o', name: 'Adaeze Okonjo', seenAt: 5_000 },
  { id: 'r', name: 'Rania', seenAt: null },
  { id: 'c', name: 'Chidi Abara', seenAt: 9_000 },
]

describe('a note', () => {
  const show = (thread: ThreadShown, isGone = false) => {
    const acts = ACTS()
    render(
      <ThreadNote
        thread={thread}
        about="“harbour master”"
        isGone={isGone}
        isChosen={false}
        choose={() => undefined}
        lookAt={() => undefined}
        acts={acts}
        people={PEOPLE}
        self={{ id: 'z', name: 'Zofia', seenAt: null }}
      />,
    )
    return acts
  }
  const asShown = (more: Partial<ThreadSeen> = {}) => shownThreads(new Map([['t1', seen(more)]]), [], 'Z', 0)[0]!

  test('says what it is about, and that its words are gone', () => {
    show(asShown(), true)
    expect(screen.getByText(/on words that are gone:/).textContent).toBe('on words that are gone: “harbour master”')
  })

  test('has what one may do, and nothing else', () => {
    show(
      asShown({
        mayReply: false,
        mayDo: false,
        comments: [{ ...seen().comments[0]!, mayEdit: false, mayDelete: false }],
      }),
    )
    expect(screen.queryByRole('button', { name: /Reply|Done|Change|Delete/ })).toBeNull()
  })

  test('a reply goes out as it was written; with Escape nothing is lost that was typed', () => {
    const acts = show(asShown())
    fireEvent.click(screen.getByRole('button', { name: 'Reply' }))
    const field = screen.getByLabelText('Say more')
    fireEvent.change(field, { target: { value: '  In pencil. ' } })
    fireEvent.keyDown(field, { key: 'Escape' })
    expect(screen.getByLabelText<HTMLTextAreaElement>('Say more').value).toBe('  In pencil. ')
    fireEvent.keyDown(field, { key: 'Enter', ctrlKey: true })
    expect(acts.reply).toHaveBeenCalledWith('t1', 'In pencil.')
    expect(screen.queryByLabelText('Say more')).toBeNull()
  })

  test('that cannot be done with says why, at its place', async () => {
    const acts = show(asShown())
    acts.done.mockRejectedValueOnce(new Error('x'))
    await act(async () => {
      fireEvent.click(screen.getByRole('button', { name: 'Done with this' }))
      await Promise.resolve()
    })
    expect(screen.getByRole('alert').textContent).toContain('Something broke')
  })

  test('done with is folded to a line, and opened again', () => {
    show(asShown({ done: { at: 5, by: 'Rania Farouk' } }))
    expect(screen.queryByText('Who is that?', { exact: false })).toBeNull()
    fireEvent.click(screen.getByRole('button', { expanded: false }))
    expect(screen.getByRole('button', { name: 'Take it up again' })).toBeTruthy()
  })

  test('not taken says why, and can be forgotten', () => {
    const mine = unsent({ problem: 'This copy was set aside.' })
    const acts = show(shownThreads(new Map(), [mine], 'Z', 0)[0]!)
    expect(screen.getByRole('alert').textContent).toContain('Not taken: This copy was set aside.')
    fireEvent.click(screen.getByRole('button', { name: 'Forget it' }))
    expect(acts.forget).toHaveBeenCalledWith('c1')
  })
})

test('more than a comment takes is said while it is typed, and kept', () => {
  const done = jest.fn()
  render(<CommentForm label="Comment on all" send="Comment" people={PEOPLE} done={done} leave={() => undefined} />)
  const field = screen.getByLabelText<HTMLTextAreaElement>('Comment on all')
  fireEvent.change(field, { target: { value: 'a'.repeat(5_001) } })
  expect(screen.getByRole('alert').textContent).toBe('A comment takes up to 5000 letters; this has 5001.')
  fireEvent.click(screen.getByRole('button', { name: 'Comment' }))
  expect(done).not.toHaveBeenCalled()
  expect(field.value).toHaveLength(5_001)
  fireEvent.change(field, { target: { value: 'short' } })
  fireEvent.click(screen.getByRole('button', { name: 'Comment' }))
  expect(done).toHaveBeenCalledWith('short', false)
})

describe('the comments of an open copy', () => {
  const theirs = (version: number, text: string): ThreadSeen =>
    seen({ version, comments: [{ ...seen().comments[0]!, isMine: false, text }] })
  type Hear = (threads: readonly ThreadSeen[], gone: readonly string[]) => void
  const realFetch = globalThis.fetch
  beforeEach(() => void jest.useFakeTimers())
  afterEach(() => {
    jest.useRealTimers()
    globalThis.fetch = realFetch
  })

  async function opened(isShown: boolean) {
    const asked: string[] = []
    globalThis.fetch = jest.fn<typeof fetch>((path, init) => {
      asked.push(`${init?.method} ${path as string}`)
      const body = { threads: [theirs(3, 'Who is that?')], seenAt: null, mayAsk: true }
      return Promise.resolve(
        init?.method === 'GET' ? new Response(JSON.stringify(body)) : new Response(null, { status: 204 }),
      )
    })
    let hear: Hear = () => undefined
    const copy = { hearComments: (listener: Hear) => ((hear = listener), () => undefined) }
    const of = { copy, view: { openings: 1, permission: 'edit', state: 'working' } } as never
    const person = { id: 'zofia', first: 'Zofia', last: 'Dąbrowska' } as never
    const { result, rerender } = renderHook(({ shown }) => useComments('k1', person, of, shown), {
      initialProps: { shown: isShown },
    })
    await act(() => jest.advanceTimersByTimeAsync(0))
    const texts = () => result.current.threads.map(({ comments }) => comments[0]!.text)
    return {
      asked,
      texts,
      rerender,
      told: (threads: ThreadSeen[], gone: string[] = []) => act(() => hear(threads, gone)),
    }
  }

  test('are as the newest news of them says, whatever comes late', async () => {
    const { texts, told } = await opened(true)
    expect(texts()).toEqual(['Who is that?'])
    told([theirs(5, 'In other words')])
    told([theirs(4, 'Words between')])
    expect(texts()).toEqual(['In other words'])
    told([], ['t1'])
    expect(texts()).toEqual([])
  })

  test('count as seen once they are shown, and not before', async () => {
    const { asked, rerender } = await opened(false)
    const SEEN = 'POST /api/copies/k1/comments/seen'
    await act(() => jest.advanceTimersByTimeAsync(60_000))
    expect(asked).not.toContain(SEEN)
    rerender({ shown: true })
    await act(() => jest.advanceTimersByTimeAsync(2_000))
    expect(asked.filter((one) => one === SEEN)).toHaveLength(1)
  })
})

test('“@” offers who can be named, by what is typed after it; keys and the pointer choose', () => {
  const done = jest.fn()
  render(<CommentForm label="Comment on all" send="Comment" people={PEOPLE} done={done} leave={() => undefined} />)
  const field = screen.getByLabelText<HTMLTextAreaElement>('Comment on all')
  const typed = (value: string) => {
    fireEvent.change(field, { target: { value, selectionStart: value.length, selectionEnd: value.length } })
  }
  const offered = () => screen.queryAllByRole('option').map((option) => option.textContent)
  typed('Look, @')
  expect(offered()).toEqual(['Adaeze Okonjo', 'Rania', 'Chidi Abara'])
  typed('Look, @oko')
  expect(offered()).toEqual(['Adaeze Okonjo'])
  fireEvent.keyDown(field, { key: 'Enter' })
  expect(field.value).toBe('Look, @Adaeze Okonjo ')
  expect(offered()).toEqual([])
  typed('Look, @Adaeze Okonjo and @')
  fireEvent.keyDown(field, { key: 'ArrowDown' })
  fireEvent.keyDown(field, { key: 'ArrowDown' })
  expect(screen.getByRole('option', { selected: true }).textContent).toBe('Chidi Abara')
  fireEvent.pointerDown(screen.getByRole('option', { name: 'Rania' }))
  expect(field.value).toBe('Look, @Adaeze Okonjo and @Rania ')
  // A list that is not wanted goes, and the text stays.
  typed('at @')
  fireEvent.keyDown(field, { key: 'Escape' })
  expect(offered()).toEqual([])
  expect(field.value).toBe('at @')
})
