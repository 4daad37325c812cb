import { expect, test } from '@jest/globals'
import { accessChangeInWords } from './accessChange.js'

const copy = (holders: readonly string[], more: object = {}) => ({
  holders: holders.map((personId) => ({ personId, permission: 'edit' as const })),
  readers: [],
  classmatesMay: 'none' as const,
  mayInvite: false,
  places: [],
  ...more,
})
const words = (before: ReturnType<typeof copy>, after: ReturnType<typeof copy>) =>
  accessChangeInWords(before, after, (id) => id)

test('who comes in, who leaves, who may do what', () => {
  expect(words(copy(['Ana', 'Ben']), copy(['Ben', 'Cem']))).toBe('Cem comes in, Ana leaves')
  expect(words(copy(['Ana']), copy(['Ana', 'B', 'C', 'D', 'E']))).toBe('4 students come in')
  expect(words(copy(['Ana']), copy(['Ana'], { classmatesMay: 'view', mayInvite: true }))).toBe(
    'classmates may only read, students may let others in',
  )
  expect(words(copy(['Ana']), copy([], { holders: [{ personId: 'Ana', permission: 'comment' }] }))).toBe(
    'Ana may comment',
  )
  expect(words(copy(['Ana']), copy(['Ana'], { readers: [{ personId: 'Ben', permission: 'comment' }] }))).toBe(
    'Ben reads it too',
  )
})

test('who has another place in it', () => {
  const places = (...groups: readonly string[][]) => ({
    places: groups.map((personIds, at) => ({ id: `g${at}`, name: `G${at}`, personIds })),
  })
  expect(words(copy(['Ana', 'Ben'], places(['Ana'], ['Ben'])), copy(['Ana', 'Ben'], places(['Ben'], ['Ana'])))).toBe(
    'Ana, Ben have another place',
  )
})
