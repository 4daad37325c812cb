import { afterEach, beforeEach, expect, jest, test } from '@jest/globals'
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react'
import { useState } from 'react'
import { WholeRemark } from '../src/marking/WholeRemark'
import { ApiError } from '../src/ui/api'
import { untilReached } from '../src/ui/untilReached'

afterEach(cleanup)

let keep: jest.Mock<(to: string) => Promise<boolean>>
/** What somebody else writes, from elsewhere. */
let write: (to: string) => void
beforeEach(() => {
  keep = jest.fn(() => Promise.resolve(true))
})

function Slip() {
  const [value, setValue] = useState('Sure.')
  write = setValue
  return (
    <WholeRemark
      value={value}
      disabled={false}
      keep={async (to) => {
        setValue(to)
        return keep(to)
      }}
    />
  )
}
const field = () => screen.getByLabelText<HTMLTextAreaElement>('Remark on the whole')
const type = (text: string) => fireEvent.change(field(), { target: { value: text } })
/** Does something, with what follows from it at once. */
const settled = (work: () => unknown) =>
  act(() => {
    work()
    return Promise.resolve()
  })
const leave = () => settled(() => fireEvent.blur(field()))

test('is kept when it is left, and not where nothing was changed', async () => {
  render(<Slip />)
  await leave()
  expect(keep).not.toHaveBeenCalled()
  type('Sure, and neat.')
  await leave()
  expect(keep.mock.calls).toEqual([['Sure, and neat.']])
  expect(field().value).toBe('Sure, and neat.')
})

test('what somebody else wrote stands there where nothing is being written', () => {
  render(<Slip />)
  act(() => write('Theirs'))
  expect(field().value).toBe('Theirs')
  expect(screen.queryByRole('alert')).toBeNull()
})

test.each([
  ['Both', 'Theirs\nMine'],
  ['Mine instead', 'Mine'],
] as const)('while one writes neither is lost: %s', async (press, kept) => {
  render(<Slip />)
  type('Mine')
  act(() => write('Theirs'))
  expect(field().value).toBe('Mine')
  expect(screen.getByRole('alert').textContent).toContain('Somebody else wrote meanwhile: Theirs')
  // It is not kept over theirs by leaving it.
  await leave()
  expect(keep).not.toHaveBeenCalled()
  await settled(() => fireEvent.click(screen.getByRole('button', { name: press })))
  expect(keep.mock.calls).toEqual([[kept]])
  expect(screen.queryByRole('alert')).toBeNull()
})

test('where it was not kept, for somebody was quicker, both are there', async () => {
  render(<Slip />)
  keep.mockImplementation(async () => {
    write('Theirs')
    return Promise.resolve(false)
  })
  type('Mine')
  await leave()
  expect(field().value).toBe('Mine')
  await settled(() => fireEvent.click(screen.getByRole('button', { name: 'Leave theirs' })))
  expect(field().value).toBe('Theirs')
})

test('what Gavrin cannot be asked is asked again; what it refuses is not', async () => {
  const away: boolean[] = []
  const answers = [new ApiError(0, 'no-connection', 'x'), new ApiError(0, 'no-connection', 'x'), 'kept']
  const work = () => {
    const next = answers.shift()!
    return typeof next === 'string' ? Promise.resolve(next) : Promise.reject(next)
  }
  const once = () => Promise.resolve()
  expect(await untilReached(work, (is) => away.push(is), once)).toBe('kept')
  expect(away).toEqual([true, true, false])
  answers.push(new ApiError(409, 'changed', 'Look again.'))
  await expect(untilReached(work, (is) => away.push(is), once)).rejects.toThrow('Look again.')
  expect(answers).toEqual([])
})
