import type { PersonHere } from '@gavrin/core'
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { act, render, screen } from '@testing-library/react'
import { type Here, People, Whereabouts } from '../src/live/whereabouts'
import { PeopleLine } from '../src/presence/PeopleHere'

describe('where one is', () => {
  beforeEach(() => void jest.useFakeTimers())
  afterEach(() => void jest.useRealTimers())
  const at = (space: string | null, away = false): Here => ({ space, at: null, away })

  test('is said only while somebody is there to see it, then at once', () => {
    const said: Here[] = []
    const where = new Whereabouts((here) => said.push(here))
    where.stand(() => at('q1'))
    expect(said).toEqual([])
    where.heardBySomebody(true)
    expect(said).toEqual([at('q1')])
    where.heardBySomebody(true)
    jest.runAllTimers()
    expect(said).toHaveLength(1)
  })

  test('is said at a pace, the last of it always', () => {
    const said: Here[] = []
    const where = new Whereabouts((here) => said.push(here))
    where.heardBySomebody(true)
    for (let count = 0; count < 100; count++) where.stand(() => at(`q${count}`))
    expect(said).toEqual([at('q0')])
    jest.runAllTimers()
    expect(said).toEqual([at('q0'), at('q99')])
  })

  test('is said again when the copy is opened anew, and not after it is closed', () => {
    const said: Here[] = []
    const where = new Whereabouts((here) => said.push(here))
    where.heardBySomebody(true)
    where.stand(() => at('q1'))
    jest.runAllTimers()
    where.again()
    where.heardBySomebody(true)
    expect(said).toEqual([at('q1'), at('q1')])
    where.stand(() => at('q2'))
    where.stop()
    jest.runAllTimers()
    expect(said).toHaveLength(2)
  })
})

describe('who is here', () => {
  const person = (key: number, first: string, more: Partial<PersonHere> = {}): PersonHere => ({
    key,
    first,
    name: `${first} Tester`,
    isStaff: false,
    isSelf: key === 0,
    isAway: false,
    space: null,
    at: null,
    ...more,
  })
  const show = (list: readonly PersonHere[]) => {
    const people = new People()
    people.show(list)
    render(<PeopleLine people={people} />)
    return people
  }
  const names = () => screen.queryAllByRole('listitem').map(({ textContent }) => textContent)

  test('is not said where one is alone', () => {
    const people = show([person(0, 'Zofia')])
    expect(names()).toEqual([])
    act(() => people.show([person(0, 'Zofia'), person(1, 'Rania')]))
    expect(names()).toEqual(['Zofia (you)', 'Rania'])
    act(() => people.show([]))
    expect(names()).toEqual([])
  })

  test('are first names, whole ones where two are called the same, and who is away', () => {
    show([
      person(0, 'Zofia'),
      person(1, 'Elif', { isAway: true }),
      person(2, 'Noa', { name: 'Noa Kamakau' }),
      person(3, 'Noa', { name: 'Noa Levi' }),
    ])
    expect(names()).toEqual(['Zofia (you)', 'Elif · away', 'Noa Kamakau', 'Noa Levi'])
  })

  test('of many some are named, the others counted', () => {
    show(Array.from({ length: 30 }, (_, key) => person(key, `First${key}`)))
    expect(names()).toHaveLength(7)
    expect(names().at(-1)).toBe('and 24 more')
    expect(screen.getByTitle(/First29 Tester/)).toBeTruthy()
  })
})
