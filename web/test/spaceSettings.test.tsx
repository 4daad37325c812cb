import { afterEach, describe, expect, test } from '@jest/globals'
import { type AnswerSpace, type ChoiceSpace, checkContent } from '@gavrin/core'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { useState } from 'react'
import { newSpace } from '../src/editor/document'
import { SpaceSettings } from '../src/editor/SpaceSettings'

afterEach(cleanup)

/** Sets up a space; what it is now. */
function settingUp<S extends AnswerSpace>(space: S): () => S {
  let now: AnswerSpace = space
  function Setting() {
    const [shown, setShown] = useState<AnswerSpace>(space)
    return (
      <SpaceSettings
        space={shown}
        number={1}
        change={(next) => {
          now = next
          setShown(next)
        }}
      />
    )
  }
  render(<Setting />)
  return () => now as S
}
const type = (label: string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } })
const isSound = (space: AnswerSpace) => checkContent({ version: 2, page: 'A4', source: '', blocks: [space] }).ok

describe('what is set about an answer space', () => {
  test('points, hint, model answer, label: said, and left away again when emptied', () => {
    const now = settingUp(newSpace('line'))
    const bare = now()
    type('Points', '2,5')
    type('Hint, shown when asked for', 'Look up.')
    type('Model answer, for the answer key', 'ebb')
    type('Label', 'Tide')
    fireEvent.click(screen.getByLabelText('Must be filled in'))
    expect(now()).toMatchObject({ points: 2.5, hint: 'Look up.', model: 'ebb', label: 'Tide', required: true })
    for (const label of ['Points', 'Hint, shown when asked for', 'Model answer, for the answer key', 'Label'])
      type(label, '')
    fireEvent.click(screen.getByLabelText('Must be filled in'))
    expect(now()).toEqual(bare)
  })
  test('no points is not the same as nought points', () => {
    const now = settingUp(newSpace('line'))
    type('Points', '0')
    expect(now().points).toBe(0)
  })
  test('what is no number, or out of bounds, is said and stays as typed; the space keeps what it had', () => {
    const now = settingUp(newSpace('passage'))
    type('Height in lines', '900')
    expect(screen.getByText('A whole number from 2 to 40.')).toBeTruthy()
    expect(screen.getByLabelText<HTMLInputElement>('Height in lines').value).toBe('900')
    expect(now().lines).toBe(4)
    type('Height in lines', '9')
    expect(now().lines).toBe(9)
  })
  test('accepted answers, one a line, each once; how strictly they are taken', () => {
    const now = settingUp(newSpace('gap'))
    type('Accepted answers, one a line', 'ebb\n\n out \nebb')
    expect(now().accepted).toEqual(['ebb', 'out'])
    fireEvent.click(screen.getByLabelText('Capital or small does not matter'))
    expect(now().lenient).toEqual({ case: false, accents: false })
  })
  test('a number: its value as typed, how far off it may be, its unit', () => {
    const now = settingUp(newSpace('number'))
    type('Accepted answer', 'four')
    expect(screen.getByText('This does not read as a number.')).toBeTruthy()
    expect(now().value).toBeUndefined()
    type('Accepted answer', '3,7')
    type('May be off by', '0.1')
    type('Unit, printed after it', 'm')
    expect(now()).toMatchObject({ value: '3,7', tolerance: 0.1, unit: 'm' })
    expect(isSound(now())).toBe(true)
  })
  test('a wanted length whose ends are the wrong way round is said', () => {
    const now = settingUp(newSpace('passage'))
    type('Words, at least', '80')
    type('at most', '20')
    expect(screen.getByText('The longest wanted length is less than the shortest.')).toBeTruthy()
    type('at most', '150')
    expect(now().wanted).toEqual({ least: 80, most: 150 })
  })
  test('a cell that becomes one for numbers forgets its accepted words', () => {
    const now = settingUp({ ...newSpace('cell'), accepted: ['hemp'] })
    fireEvent.change(screen.getByLabelText('What is written there'), { target: { value: 'number' } })
    expect(now()).toMatchObject({ numeric: true })
    expect(now().accepted).toBeUndefined()
  })
})

describe('a choice', () => {
  const options = () => screen.getAllByLabelText(/^Option \d+$/).map((field) => (field as HTMLInputElement).value)
  test('one right option, or several where any number may be chosen; an option that goes is right no more', () => {
    const now = settingUp<ChoiceSpace>(newSpace('choice'))
    fireEvent.click(screen.getByLabelText('Option 1 is right'))
    fireEvent.click(screen.getByLabelText('Option 2 is right'))
    expect(now().right).toEqual([now().options[1]!.id])
    fireEvent.click(screen.getByLabelText('Any number may be chosen'))
    fireEvent.click(screen.getByLabelText('Option 1 is right'))
    expect(now().right).toHaveLength(2)
    fireEvent.click(screen.getByRole('button', { name: 'Add an option' }))
    type('Option 3', 'none of them')
    expect(options()).toEqual(['First option', 'Second option', 'none of them'])
    fireEvent.click(screen.getByRole('button', { name: 'Remove option 1' }))
    expect(now().right).toHaveLength(1)
    fireEvent.click(screen.getByLabelText('Any number may be chosen'))
    expect(isSound(now())).toBe(true)
  })
  test('two options are the fewest', () => {
    settingUp(newSpace('choice'))
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Remove option 1' }).disabled).toBe(true)
  })
  test('in another order on each copy', () => {
    const now = settingUp<ChoiceSpace>(newSpace('choice'))
    fireEvent.click(screen.getByLabelText('In another order on each copy'))
    expect(now().shuffled).toBe(true)
  })
})
