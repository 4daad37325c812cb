import { describe, expect, test } from '@jest/globals'
import { act, renderHook } from '@testing-library/react'
import { type Student, rosterKey } from '../src/class/queries'
import { cellKey, cellOf, useRosterEdits } from '../src/class/roster/useRosterEdits'
import { type Asked, serveWith, surroundings } from './support/server'

const STUDENT: Student = {
  personId: 'a',
  first: 'Chidi',
  last: 'Abara',
  email: 'chidi@fennickquay.example',
  number: null,
  cells: { band: 'A' },
  joinedAt: 0,
  leftAt: null,
  canSignIn: true,
  invitedAt: null,
}

type Edits = { edits: { personId: string; field: string; value: string }[] }

/** A roster of two with a server that keeps what it is sent. */
function opened(
  answer?: (asked: Asked) => { status?: number; body?: unknown } | Promise<{ status?: number; body?: unknown }>,
) {
  const students = [STUDENT, { ...STUDENT, personId: 'b', first: 'Giulia', last: 'Rossi' }]
  const { client, Around } = surroundings([[rosterKey('c'), students]])
  const asked = serveWith(answer ?? (() => ({ body: [] })))
  const { result } = renderHook(() => useRosterEdits('c'), { wrapper: Around })
  const shown = (field: string, at = 0) => cellOf(client.getQueryData<Student[]>(rosterKey('c'))![at]!, field)
  const change = (field: string, value: string) => act(() => result.current.apply([{ personId: 'a', field, value }]))
  return { result, asked, shown, change }
}

describe('changing cells', () => {
  test('is shown, sent, and taken back step by step', async () => {
    const { result, asked, shown, change } = opened()
    await change('last', 'Abara-Cole')
    await change('band', 'B')
    await change('number', ' K-1 ')
    expect([shown('last'), shown('band'), shown('number')]).toEqual(['Abara-Cole', 'B', 'K-1'])
    expect(result.current.steps).toEqual({ undo: 3, redo: 0 })
    await act(() => result.current.undo())
    await act(() => result.current.undo())
    expect([shown('last'), shown('band'), shown('number')]).toEqual(['Abara-Cole', 'A', ''])
    await act(() => result.current.redo())
    expect(shown('band')).toBe('B')
    // A new change ends what could be done again.
    await change('first', 'Chi')
    expect(result.current.steps).toEqual({ undo: 3, redo: 0 })
    expect(asked.map(({ method, body }) => [method, (body as Edits).edits[0]!.value])).toEqual([
      ['PATCH', 'Abara-Cole'],
      ['PATCH', 'B'],
      ['PATCH', ' K-1 '],
      ['PATCH', ''],
      ['PATCH', 'A'],
      ['PATCH', 'B'],
      ['PATCH', 'Chi'],
    ])
  })

  test('an undo that comes while a change is on its way takes back that change', async () => {
    let answerFirst: (answer: { body: unknown }) => void = () => undefined
    let first = true
    const { result, shown } = opened(() => {
      if (!first) return { body: [] }
      first = false
      return new Promise((resolve) => (answerFirst = resolve))
    })
    await act(async () => {
      const change = result.current.apply([{ personId: 'a', field: 'last', value: 'Late' }])
      const undo = result.current.undo()
      // Until the first request is on its way.
      while (first) await Promise.resolve()
      answerFirst({ body: [] })
      await Promise.all([change, undo])
    })
    expect(shown('last')).toBe('Abara')
    expect(result.current.steps).toEqual({ undo: 0, redo: 1 })
  })

  test('what cannot be kept goes back, and stays at its cell as it was typed, with the reason', async () => {
    const { result, shown, change } = opened(() => ({
      status: 422,
      body: { detail: 'x', errors: [{ personId: 'a', field: 'email', sentence: 'This is not an e-mail address.' }] },
    }))
    await change('email', 'nonsense')
    expect(shown('email')).toBe(STUDENT.email)
    expect(result.current.troubles.get(cellKey('a', 'email'))).toEqual({
      typed: 'nonsense',
      sentence: 'This is not an e-mail address.',
    })
    expect([result.current.steps.undo, result.current.problem]).toEqual([0, null])
    serveWith(() => ({ body: [] }))
    await change('email', 'new@fennickquay.example')
    expect(result.current.troubles.size).toBe(0)
    expect(shown('email')).toBe('new@fennickquay.example')
  })

  test('a pasted block of which one cell is wrong is not kept at all, and that is said', async () => {
    const { result, shown } = opened(() => ({
      status: 422,
      body: { detail: 'x', errors: [{ personId: 'b', field: 'email', sentence: 'No.' }] },
    }))
    await act(() =>
      result.current.apply([
        { personId: 'a', field: 'first', value: 'X' },
        { personId: 'b', field: 'email', value: 'y' },
      ]),
    )
    expect([shown('first'), shown('first', 1)]).toEqual(['Chidi', 'Giulia'])
    expect(result.current.problem).toBe('Nothing of this change was kept: one cell is not right yet.')
  })

  test('without a connection everything is as before, and what was typed is not lost', async () => {
    const { result, shown } = opened(() => Promise.reject(new Error('away')))
    await act(() => result.current.apply([{ personId: 'a', field: 'first', value: 'X' }]))
    expect(shown('first')).toBe('Chidi')
    expect(result.current.problem).toMatch(/There is no connection/)
  })

  test('what the server made of it is what is shown', async () => {
    const { shown, change } = opened(() => ({ body: [{ ...STUDENT, last: 'Abara Cole' }] }))
    await change('last', 'Abara   Cole')
    expect(shown('last')).toBe('Abara Cole')
  })
})
