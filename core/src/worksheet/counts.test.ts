import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { countEdition, spacesOfCopy } from './counts.js'
import { expandSections } from './sections.js'
import { anyContent, content } from './testing/samples.js'
import { answerSpaces } from './walk.js'

const people = ['ana', 'bo', 'cy'].map((name) => ({
  id: `${name}0000000-0000-4000-8000-000000000000`.slice(-36),
  name,
}))

test('what is counted of a copy is what its sections laid open hold, whoever holds it', () => {
  fc.assert(
    fc.property(anyContent, fc.subarray(people), fc.subarray(people), (worksheet, members, groups) => {
      const laid = answerSpaces(expandSections(worksheet, { members, groups }))
      const counts = countEdition(worksheet)
      expect(
        spacesOfCopy(
          counts,
          members.map(({ id }) => id),
          groups.length,
        ),
      ).toBe(laid.length)
      expect(counts.answerSpaces).toBe(answerSpaces(worksheet).length)
    }),
  )
})

test('points of all answer spaces are added up, those without any count nothing', () => {
  const counts = countEdition(
    content(
      { id: 'a', kind: 'line', width: 'full', points: 2 },
      { id: 'b', kind: 'line', width: 'full' },
      {
        id: 's',
        kind: 'section',
        title: '',
        whose: { is: 'each member' },
        blocks: [{ id: 'c', kind: 'passage', lines: 3, points: 1.5 }],
      },
    ),
  )
  expect(counts).toEqual({ answerSpaces: 3, points: 3.5, memberSpaces: 1, groupSpaces: 0, reservedParts: [] })
})

test('a section for named people is counted for them alone', () => {
  const counts = countEdition(
    content({
      id: 's',
      kind: 'section',
      title: '',
      whose: { is: 'named', people: [people[0]!] },
      blocks: [{ id: 'a', kind: 'line', width: 'full' }],
    }),
  )
  expect(spacesOfCopy(counts, [people[0]!.id, people[1]!.id], 0)).toBe(1)
  expect(spacesOfCopy(counts, [people[1]!.id], 0)).toBe(0)
})
