import { type MarkChange, type MarkingWay, NO_PARTS } from '@gavrin/core'
import { afterEach, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { SecondReadings } from '../src/marking/SecondReading'
import type { MarkedCopy } from '../src/marking/queries'
import { serveWith, surroundings } from './support/server'

afterEach(cleanup)

const WAY: MarkingWay = { kind: 'points', outOf: 2_000, rubric: [], scale: null, late: null }
const reading = (personId: string, total: number | null) => ({
  ...{ personId, by: 'Tomasz', total, step: null, remark: '', at: 0 },
  first: { total: 1_400, step: null, by: 'Adaeze' },
})
const copyWith = (...readings: ReturnType<typeof reading>[]) =>
  ({
    ...{ copyId: 'c1', parts: NO_PARTS, isDone: true, readings },
    changed: { personId: 'adaeze', by: 'Adaeze', at: 0 },
  }) as unknown as MarkedCopy

const show = (copy: MarkedCopy, me: string, take: (change: MarkChange) => void = () => undefined) => {
  const { Around } = surroundings()
  render(
    <Around>
      <SecondReadings handoutId="h1" way={WAY} copy={copy} most={2_000} me={me} mayMark take={take} />
    </Around>,
  )
}

test('what is said of a copy in quick succession is all kept: points, and a word on them', async () => {
  const kept: unknown[] = []
  let answer = () => {}
  const isSlow = new Promise<void>((resolve) => (answer = resolve))
  serveWith(async ({ method, body }) => {
    if (method !== 'PUT') return { body: {} }
    if (kept.length === 0) await isSlow
    kept.push(body)
    return { status: 204 }
  })
  show(copyWith(), 'tomasz')
  const points = screen.getByLabelText('My second reading')
  fireEvent.change(points, { target: { value: '12' } })
  fireEvent.blur(points)
  const word = screen.getByLabelText('A word on it, for the first marker')
  fireEvent.change(word, { target: { value: ' Thin. ' } })
  fireEvent.blur(word)
  answer()
  await waitFor(() => expect(kept).toHaveLength(2))
  expect(kept).toEqual([
    { total: 1_200, step: null, remark: '' },
    { total: 1_200, step: null, remark: 'Thin.' },
  ])
})

test('both values stand; the second, or what lies between, is taken by a press; who marked it reads it no second time', () => {
  const taken: MarkChange[] = []
  show(copyWith(reading('tomasz', 1_550)), 'adaeze', (change) => taken.push(change))
  expect(screen.getByRole('group', { name: 'Second reading' }).textContent).toMatch(
    /first 14 Adaeze · second 15½ Tomasz \+1½/,
  )
  fireEvent.click(screen.getByRole('button', { name: 'Take 15½' }))
  fireEvent.click(screen.getByRole('button', { name: 'Take 14¾ between' }))
  expect(taken).toEqual([
    { of: 'total', was: null, to: 1_550 },
    { of: 'total', was: null, to: 1_475 },
  ])
  expect(screen.queryByLabelText('My second reading')).toBeNull()
})
