import type { LogEntry, WorksheetContent } from '@gavrin/core'
import { momentsOf, newAnswerDoc, sittingsOf, writeLog } from '@gavrin/core'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { act, cleanup, fireEvent, render, renderHook, screen, waitFor, within } from '@testing-library/react'
import { Component, type ReactElement, type ReactNode } from 'react'
import { LateWritings } from '../src/copy/LateWritings'
import type { LateWriting } from '../src/copy/queries'
import { BringBack, type BroughtBack } from '../src/history/BringBack'
import { ComparedAnswer } from '../src/history/ComparedAnswer'
import { HistoryLines } from '../src/history/HistoryLines'
import { Pages, logsOf } from '../src/history/pages'
import type { HistoryRead } from '../src/history/queries'
import { useReplay } from '../src/history/useReplay'
import { bytesOf } from '../src/ui/api'
import { part } from '../src/ui/part'
import { spanInWords } from '../src/ui/time'
import { type Asked, refusal, serveWith, surroundings } from './support/server'

afterEach(cleanup)

const LINE = { id: 'line', kind: 'line', width: 'full' } as const
const PASSAGE = { id: 'passage', kind: 'passage', lines: 4 } as const
const CONTENT = { blocks: [LINE, PASSAGE] } as unknown as WorksheetContent
const shown = (element: ReactElement) => {
  const { Around } = surroundings()
  return render(<Around>{element}</Around>)
}

describe('late writing', () => {
  const late = (more: Partial<LateWriting> = {}): LateWriting => ({
    id: 'passage mira',
    space: 'passage',
    began: 0,
    at: 0,
    reason: 'This copy is submitted and stands still.',
    by: 'Mira Holm',
    parts: [
      { key: 'a', is: 'changed', before: 'Low.', after: 'Low tide.' },
      { key: 'b', is: 'new', before: '', after: 'At noon.' },
    ],
    seen: { answer: 3, late: 2 },
    decided: null,
    ...more,
  })
  const open = (
    writing: LateWriting,
    mayDecide: boolean,
    decide: (asked: Asked) => { status?: number; body?: unknown },
  ) => {
    const asked = serveWith((one) => (one.method === 'GET' ? { body: [writing] } : decide(one)))
    shown(<LateWritings copyId="c" content={CONTENT} mayDecide={mayDecide} />)
    return asked
  }

  test('shows what it would change; a teacher takes in what is ticked, as it was seen', async () => {
    const asked = open(late(), true, () => ({
      body: [late({ decided: { decision: 'taken in part', at: 0, by: 'Ada Okonjo', parts: [] } })],
    }))
    await screen.findByText('tide', { selector: 'ins' })
    fireEvent.click(screen.getByLabelText('Take in: At noon.'))
    fireEvent.click(screen.getByRole('button', { name: 'Take 1 of 2 into the answer' }))
    await screen.findByText(/Taken into the answer in part/)
    expect(asked.at(-1)!.body).toEqual({ id: 'passage mira', seen: { answer: 3, late: 2 }, parts: ['a'] })
  })

  test('all of it is taken in by one click; with nothing ticked there is nothing to take in', async () => {
    const asked = open(late(), true, () => ({ body: [] }))
    await screen.findByText('Mira Holm')
    for (const box of screen.getAllByRole('checkbox')) fireEvent.click(box)
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Take 0 of 2 into the answer' }).disabled).toBe(true)
    for (const box of screen.getAllByRole('checkbox')) fireEvent.click(box)
    fireEvent.click(screen.getByRole('button', { name: 'Take it into the answer' }))
    await waitFor(() => expect(asked.some(({ method }) => method === 'POST')).toBe(true))
    expect(asked.find(({ method }) => method === 'POST')!.body).toMatchObject({ parts: null })
  })

  test('what has changed meanwhile is said, and read again', async () => {
    const asked = open(late(), true, () => refusal(409, 'It has changed meanwhile: look at it again.'))
    fireEvent.click(await screen.findByRole('button', { name: 'Leave it out' }))
    expect((await screen.findByRole('alert')).textContent).toBe('It has changed meanwhile: look at it again.')
    await waitFor(() => expect(asked.filter(({ method }) => method === 'GET')).toHaveLength(2))
  })

  test('a student sees what became of it and decides nothing', async () => {
    const decided = {
      decision: 'left out',
      at: 0,
      by: 'Ada Okonjo',
      parts: [{ ...late().parts[1]!, taken: false }],
    } as const
    open(late({ decided: { ...decided, parts: [...decided.parts] } }), false, () => ({}))
    expect((await screen.findByText(/Left out of the answer/)).textContent).toContain('Ada Okonjo')
    expect(screen.queryByRole('button')).toBeNull()
    expect(screen.getByText('At noon.')).toBeTruthy()
  })

  test('left out, a teacher can decide again', async () => {
    open(late({ decided: { decision: 'left out', at: 0, by: 'Ada Okonjo', parts: [] } }), true, () => ({}))
    fireEvent.click(await screen.findByRole('button', { name: 'Decide again' }))
    expect(screen.getByRole('button', { name: 'Take it into the answer' })).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Leave it as it is' }))
    expect(screen.queryByRole('button', { name: 'Take it into the answer' })).toBeNull()
  })
})

/** The log of a line that is typed letter by letter, each in a moment of its own. */
function typed(text: string): LogEntry[] {
  const doc = newAnswerDoc('line')
  const log: LogEntry[] = []
  doc.on('update', (bytes: Uint8Array) =>
    log.push({ space: 'line', seq: log.length + 1, personId: 'mira', at: log.length * 60_000, bytes }),
  )
  for (const letter of text) doc.getText('line').insert(doc.getText('line').length, letter)
  return log
}
const historyOf = (text: string): HistoryRead => {
  const log = typed(text)
  const moments = momentsOf(log, [])
  return {
    people: [{ id: 'mira', name: 'Mira Holm' }],
    steps: [],
    mayBringBack: true,
    moments,
    spaces: [LINE, PASSAGE],
    pages: new Pages([LINE, PASSAGE], moments, logsOf(log)),
    newPages: () => new Pages([LINE, PASSAGE], moments, logsOf(log)),
  }
}

describe('going through a history', () => {
  const history = historyOf('tide')
  const lineOf = (page: ReadonlyMap<string, ReturnType<typeof newAnswerDoc>>) =>
    page.get('line')!.getText('line').toJSON()

  test('begins at its end and goes from moment to moment, not beyond its ends', () => {
    const { result } = renderHook(() => useReplay(history))
    expect([result.current.at, lineOf(result.current.page)]).toEqual([4, 'tide'])
    act(() => result.current.goTo(2))
    expect(lineOf(result.current.page)).toBe('ti')
    act(() => result.current.goTo(-3))
    expect([result.current.at, lineOf(result.current.page)]).toEqual([0, ''])
    act(() => result.current.goTo(99))
    expect([result.current.at, lineOf(result.current.page)]).toEqual([4, 'tide'])
  })

  test('what is compared with stays what it was while one goes on', () => {
    const { result } = renderHook(() => useReplay(history))
    act(() => result.current.compareWith(1))
    act(() => result.current.goTo(3))
    expect([lineOf(result.current.other!.page), lineOf(result.current.page)]).toEqual(['t', 'tid'])
    act(() => result.current.compareWith(null))
    expect(result.current.other).toBeNull()
  })

  test('is played from its beginning to its end, and stops there', () => {
    jest.useFakeTimers()
    const { result } = renderHook(() => useReplay(history))
    act(() => result.current.play(true))
    expect([result.current.at, result.current.isPlaying]).toEqual([0, true])
    act(() => jest.advanceTimersByTime(5_000))
    expect([result.current.at, result.current.isPlaying]).toEqual([4, false])
    jest.useRealTimers()
  })

  test('two moments of an answer are one text with what came and what went', () => {
    const [before, after] = ['low tide', 'high tide'].map((text) => {
      const doc = newAnswerDoc('line')
      doc.getText('line').insert(0, text)
      return doc
    })
    shown(<ComparedAnswer space={LINE} label="Answer 1" before={before!} after={after!} />)
    const group = within(screen.getByRole('group', { name: 'Answer 1' }))
    expect([group.getByText('low').tagName, group.getByText('high').tagName]).toEqual(['DEL', 'INS'])
  })

  test('of a choice both states are shown', () => {
    const choice = { id: 'c', kind: 'choice', many: false, options: [{ id: 'a', text: 'ebb' }] } as const
    const after = newAnswerDoc('choice')
    after.getMap('choice').set(':one', 'a')
    shown(<ComparedAnswer space={choice} label="Answer 1" before={newAnswerDoc('choice')} after={after} />)
    expect(screen.getAllByText('ebb')).toHaveLength(2)
  })

  test('its lines say who wrote where, and lead there', () => {
    Element.prototype.scrollIntoView = () => undefined
    const went: number[] = []
    const steps = [{ kind: 'given', at: -60_000, personId: null, space: null }] as const
    shown(
      <HistoryLines
        lines={sittingsOf(history.moments, steps)}
        labels={new Map([['line', 'Answer 1: When is high water?']])}
        nameOf={() => 'Mira Holm'}
        at={0}
        goTo={(at) => went.push(at)}
      />,
    )
    const [given, written] = screen.getAllByRole('button')
    expect(given!.getAttribute('aria-current')).toBe('true')
    expect(written!.textContent).toContain('Mira Holm wrote in Answer 1')
    fireEvent.click(written!)
    expect(went).toEqual([4])
  })
})

describe('bringing answers back', () => {
  const ANSWER: BroughtBack = { space: 'line', label: 'Answer 1', becomesEmpty: true, isEmpty: false, count: 0 }

  test('says which, and what becomes empty; what the server refuses stands there', async () => {
    const asked = serveWith(() => refusal(409, 'Somebody wrote in this answer at this moment: bring it back again.'))
    shown(
      <BringBack
        copyId="c"
        answers={[ANSWER]}
        when="today 14:02"
        isBack={false}
        close={() => undefined}
        done={() => Promise.resolve()}
      />,
    )
    expect(screen.getByRole('dialog').textContent).toContain('This answer becomes what it was then (today 14:02).')
    expect(screen.getByRole('listitem').textContent).toBe('Answer 1 becomes empty')
    fireEvent.click(screen.getByRole('button', { name: 'Bring back' }))
    expect((await screen.findByRole('alert')).textContent).toContain('Somebody wrote in this answer')
    expect(asked).toEqual([
      { method: 'POST', path: 'copies/c/history/bring-back', body: { answers: [{ space: 'line', count: 0 }] } },
    ])
  })
})

describe('taking back what was brought back', () => {
  test('goes by what the server found, and says what becomes empty then', async () => {
    const taken: unknown[] = []
    const answers = [
      { space: 'line', label: 'Answer 1', becomesEmpty: true, isEmpty: false, count: 0 },
      { space: 'passage', label: 'Answer 2', becomesEmpty: false, isEmpty: true, count: 2 },
      { space: 'other', label: 'Answer 3', becomesEmpty: false, isEmpty: false, count: 1 },
    ]
    // Somebody wrote in the first meanwhile; the third reads as it did then anyway.
    serveWith(() => ({
      body: {
        changed: [
          { space: 'line', count: 7 },
          { space: 'passage', count: 5 },
        ],
      },
    }))
    const keep = (changed: unknown) => Promise.resolve(void taken.push(changed))
    shown(<BringBack copyId="c" answers={answers} when="then" isBack={false} close={() => undefined} done={keep} />)
    fireEvent.click(screen.getByRole('button', { name: 'Bring back' }))
    await waitFor(() => expect(taken).toHaveLength(1))
    expect(taken[0]).toMatchObject([
      { space: 'line', count: 7, becomesEmpty: false, isEmpty: true },
      { space: 'passage', count: 5, becomesEmpty: true, isEmpty: false },
    ])
  })
})

describe('a log that comes in pieces', () => {
  test('says where it goes on', async () => {
    const log = writeLog(typed('hi'))
    globalThis.fetch = (input) => {
      const headers = { ...((input as string).includes('seq=0') && { link: '<log?space=line&seq=2>; rel="next"' }) }
      return Promise.resolve(new Response(Buffer.from(log), { headers }))
    }
    const { bytes, next } = await bytesOf('copies/c/history/log?space=&seq=0')
    expect([bytes.length, next]).toEqual([log.length, 'space=line&seq=2'])
    expect((await bytesOf(`copies/c/history/log?${next}`)).next).toBeNull()
  })
})

describe('a part of the application', () => {
  test('is said to be coming until it is there, and is there at once the next time', async () => {
    let come!: () => void
    const loads = new Promise<{ default: () => ReactElement }>((resolve) => {
      come = () => resolve({ default: () => <p>there</p> })
    })
    const Slow = part(() => loads)
    render(<Slow />)
    expect(screen.getByText('One moment …')).toBeTruthy()
    act(() => come())
    expect(await screen.findByText('there')).toBeTruthy()
    cleanup()
    render(<Slow />)
    expect(screen.getByText('there')).toBeTruthy()
  })

  test('that cannot be loaded is told to what is around it', async () => {
    const quiet = jest.spyOn(console, 'error').mockImplementation(() => undefined)
    class Around extends Component<{ children: ReactNode }, { sentence: string }> {
      override state = { sentence: '' }
      static getDerivedStateFromError = (error: Error) => ({ sentence: error.message })
      override render() {
        return this.state.sentence || this.props.children
      }
    }
    const Gone = part(() => Promise.reject<{ default: () => ReactElement }>(new Error('no such file')))
    render(
      <Around>
        <Gone />
      </Around>,
    )
    expect(await screen.findByText('no such file')).toBeTruthy()
    quiet.mockRestore()
  })
})

test('a span of time is said once where it is short, by its day where that is the same, else by both', () => {
  const at = (time: string) => Date.parse(`2026-12-03T${time}Z`)
  const now = at('18:00')
  expect(spanInWords(at('14:02'), at('14:02:40'), now)).toBe('today 14:02')
  expect(spanInWords(at('14:02'), at('14:20'), now)).toBe('today 14:02 to 14:20')
  expect(spanInWords(at('14:02') - 86_400_000, at('14:20'), now)).toBe('yesterday 14:02 to today 14:20')
})
