import { describe, expect, test } from '@jest/globals'
import * as Y from 'yjs'
import { lettersOf, offsetAt, positionAt } from '../live/letters.js'
import { newAnswerDoc } from '../live/space.js'
import { type OpenWindow, peopleHere } from './here.js'

const window = (personId: string, more: Partial<OpenWindow> = {}): OpenWindow => ({
  personId,
  first: personId,
  name: `${personId} Tester`,
  isStaff: false,
  isUnnamed: false,
  space: null,
  at: null,
  isAway: false,
  saidAt: 0,
  ...more,
})
const KEYS = new Map([
  ['zofia', 0],
  ['rania', 1],
  ['okonjo', 2],
])
const viewer = (personId: string, role: 'student' | 'guest' = 'student') => ({ personId, schoolId: 's', role })
const see = (windows: readonly OpenWindow[], who = viewer('zofia')) => peopleHere(windows, KEYS, who)

describe('who is here', () => {
  test('is there once, in the order in which they came, where they were last', () => {
    const people = see([
      window('rania', { space: 'q1', saidAt: 5 }),
      window('zofia', { space: 'q2', saidAt: 1 }),
      window('rania', { space: 'q3', at: 'AAAA', saidAt: 9 }),
      window('rania', { space: 'q1', saidAt: 7 }),
    ])
    expect(people).toEqual([
      expect.objectContaining({ key: 0, first: 'zofia', isSelf: true, space: 'q2' }),
      expect.objectContaining({ key: 1, first: 'rania', isSelf: false, space: 'q3', at: 'AAAA' }),
    ])
  })

  test('a reader who is not named is told by name to the staff alone', () => {
    const windows = [window('zofia'), window('rania', { isUnnamed: true }), window('okonjo', { isStaff: true })]
    const toThem = (who: ReturnType<typeof viewer>) => see(windows, who).map(({ name, first }) => [name, first])
    expect(toThem(viewer('zofia'))[1]).toEqual(['A peer reader', 'A peer reader'])
    expect(toThem(viewer('rania'))[1]).toEqual(['rania Tester', 'rania'])
    expect(toThem(viewer('okonjo'))[1]).toEqual(['rania Tester', 'rania'])
  })

  test('of the staff is told of to students where the class shows them, and to the staff in any case', () => {
    const windows = [window('zofia'), window('okonjo', { isStaff: true })]
    const names = (who: string, shown: boolean) => peopleHere(windows, KEYS, viewer(who), shown).map(({ name }) => name)
    expect(names('zofia', true)).toHaveLength(2)
    expect(names('zofia', false)).toEqual(['zofia Tester'])
    expect(names('okonjo', false)).toHaveLength(2)
  })

  test('is away only when no window is in sight, and then nowhere on the page', () => {
    const inSight = window('rania', { space: 'q1', saidAt: 1 })
    const away = window('rania', { space: 'q2', at: 'AAAA', isAway: true, saidAt: 9 })
    for (const windows of [
      [inSight, away],
      [away, inSight],
    ])
      expect(see(windows)).toMatchObject([{ isAway: false, space: 'q1' }])
    expect(see([away])).toMatchObject([{ isAway: true, space: null, at: null }])
  })

  test('guests are not told who of the class it is', () => {
    const people = see(
      [window('zofia'), window('rania'), window('okonjo', { isStaff: true })],
      viewer('zofia', 'guest'),
    )
    expect(people.map(({ name }) => name)).toEqual(['zofia Tester', 'Somebody', 'okonjo Tester'])
    // Staff are not called by their first names.
    expect(people.map(({ first }) => first)).toEqual(['zofia', 'Somebody', 'okonjo Tester'])
  })
})

describe('a place in an answer', () => {
  test('stays where it is while letters come and go around it', () => {
    const doc = newAnswerDoc('line')
    const text = doc.getText('line')
    text.insert(0, 'The tide rises')
    const at = (offset: number) => positionAt(lettersOf('line', doc), offset, 'before')!
    const [after, end] = [at(8), at(14)]
    text.insert(0, 'Now: ')
    text.insert(text.length, '.')
    const now = lettersOf('line', doc)
    expect([offsetAt(now, after), offsetAt(now, end)]).toEqual([13, 19])
    text.delete(5, 8)
    expect(offsetAt(lettersOf('line', doc), after)).toBe(5)
  })

  test('is none before the first letter, in an empty answer, or of another one', () => {
    const doc = newAnswerDoc('line')
    expect(positionAt(lettersOf('line', doc), 0, 'before')).toBeNull()
    doc.getText('line').insert(0, 'a')
    expect(positionAt(lettersOf('line', doc), 0, 'before')).toBeNull()
    expect(positionAt(lettersOf('line', doc), 0, 'after')).not.toBeNull()
    const other = new Y.Doc()
    other.getText('x').insert(0, 'b')
    const position = positionAt(lettersOf('line', doc), 1, 'before')!
    expect(offsetAt(lettersOf('line', newAnswerDoc('line')), position)).toBeNull()
  })
})
