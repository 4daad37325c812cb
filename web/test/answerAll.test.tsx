import { afterEach, describe, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { AnswerAll, type Question } from '../src/desk/AnswerAll'
import { serveWith, surroundings } from './support/server'

afterEach(cleanup)

const question = (at: number, by: string): Question => ({
  by,
  asked: 'q',
  label: 'Answer 3',
  threadId: `t${at}`,
  copyId: `c${at}`,
  copyTitle: 'Reading a tide table',
  handoutId: 'h',
  handoutTitle: 'Tides at the quay',
  number: 2,
  classId: 'k',
  class: '8 Heron',
  text: 'Is one sentence enough?',
  at: 0,
  worksheetId: 'w',
})
const QUESTIONS = [question(1, 'Zofia Dąbrowska'), question(2, 'Chidi Abara'), question(3, 'Noa Kamakau')]
const STILL = 'This copy is set aside.'

function shown(failing: readonly string[]) {
  const asked = serveWith(() => ({
    body: { failed: failing.map((threadId) => ({ threadId, sentence: STILL })) },
  }))
  let closed = 0
  const { Around } = surroundings()
  render(<AnswerAll questions={QUESTIONS} close={() => closed++} />, { wrapper: Around })
  return { asked, closed: () => closed }
}
const field = () => screen.getByLabelText(/each sees it by their own question/)
const answer = () => fireEvent.click(screen.getByRole('button', { name: 'Answer' }))

describe('questions about the same are answered once', () => {
  test('for all who are chosen; sent a second time it is the same answers', async () => {
    const { asked, closed } = shown(['t1'])
    fireEvent.click(screen.getByLabelText(/Chidi Abara/))
    fireEvent.change(field(), { target: { value: 'Yes.' } })
    answer()
    await screen.findByText(/not answered/)
    answer()
    await waitFor(() => expect(asked).toHaveLength(2))
    expect(asked[0]!.body).toMatchObject({ text: 'Yes.', to: [{ threadId: 't1' }, { threadId: 't3' }] })
    expect(asked[1]!.body).toEqual(asked[0]!.body)
    expect(closed()).toBe(0)
  })

  test.each([
    [['t1', 't2', 't3'], `None of these was answered: ${STILL}`],
    [['t1', 't2'], `2 of these were not answered: ${STILL}`],
    [['t2'], `1 of these was not answered: ${STILL}`],
  ])('and it is said which part of it did not happen: %j', async (failing, sentence) => {
    const { closed } = shown(failing)
    fireEvent.change(field(), { target: { value: 'Yes.' } })
    answer()
    expect((await screen.findByText(/answered:/)).textContent).toContain(sentence)
    expect((field() as HTMLTextAreaElement).value).toBe('Yes.')
    expect(closed()).toBe(0)
  })

  test('not without words, nor for nobody; once all have it, it closes', async () => {
    const { asked, closed } = shown([])
    answer()
    expect(asked).toEqual([])
    fireEvent.change(field(), { target: { value: 'Yes.' } })
    for (const box of screen.getAllByRole('checkbox')) fireEvent.click(box)
    answer()
    expect(screen.getByText('Choose whom you answer.')).toBeTruthy()
    expect(asked).toEqual([])
    fireEvent.click(screen.getByLabelText(/Zofia/))
    answer()
    await waitFor(() => expect(closed()).toBe(1))
  })
})
