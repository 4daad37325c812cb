import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { COPY_STATES } from '../progress/journal.js'
import { type CopyToKeep, keepFingerprint, planKeep } from './toKeep.js'

const student = (personId: string, hasIt = false) => ({ personId, isStudent: true, hasIt })
const guest = { personId: 'guest', isStudent: false, hasIt: false }
const copy = (state: CopyToKeep['state'], ...holders: CopyToKeep['holders']): CopyToKeep => ({
  copyId: 'c',
  state,
  isWritten: state !== 'not opened' && state !== 'opened',
  holders,
})
const plan = (one: CopyToKeep, unfinished = false) => {
  const [line] = planKeep([one], unfinished)
  return [line!.is, line!.personIds]
}

test('what is in becomes the own of each student who holds it and has none yet', () => {
  expect(plan(copy('submitted', student('ren'), student('noa'), guest))).toEqual(['given', ['ren', 'noa']])
  expect(plan(copy('handed back', student('ren', true), student('noa')))).toEqual(['given', ['noa']])
  expect(plan(copy('handed back', student('ren', true)))).toEqual(['given before', []])
  expect(plan(copy('submitted', guest))).toEqual(['no student', []])
})

test('what is worked in only where that is wished, and what nobody began never', () => {
  expect(plan(copy('working', student('ren')))).toEqual(['not submitted', []])
  expect(plan(copy('taken back', student('ren')))).toEqual(['not submitted', []])
  expect(plan(copy('working', student('ren')), true)).toEqual(['given', ['ren']])
  expect(plan(copy('not opened', student('ren')), true)).toEqual(['not begun', []])
  expect(plan(copy('opened', student('ren')), true)).toEqual(['not begun', []])
})

const anyCopies = fc.array(
  fc.record({
    copyId: fc.uuid(),
    state: fc.constantFrom(...COPY_STATES),
    isWritten: fc.boolean(),
    holders: fc.uniqueArray(fc.record({ personId: fc.uuid(), isStudent: fc.boolean(), hasIt: fc.boolean() }), {
      selector: ({ personId }) => personId,
      maxLength: 4,
    }),
  }),
  { maxLength: 12 },
)

test('given twice, nothing is given twice; every copy has a line; nobody gets what they do not hold', () => {
  fc.assert(
    fc.property(anyCopies, fc.boolean(), (copies, unfinished) => {
      const lines = planKeep(copies, unfinished)
      expect(lines.map(({ copyId }) => copyId)).toEqual(copies.map(({ copyId }) => copyId))
      for (const { is, personIds, holders } of lines) {
        expect(personIds.length > 0).toBe(is === 'given')
        for (const id of personIds)
          expect(holders.find(({ personId }) => personId === id)).toMatchObject({ isStudent: true, hasIt: false })
      }
      const after = lines.map((line) => ({
        ...line,
        holders: line.holders.map((one) => ({ ...one, hasIt: one.hasIt || line.personIds.includes(one.personId) })),
      }))
      expect(planKeep(after, unfinished).some(({ is }) => is === 'given')).toBe(false)
    }),
  )
})

test('a plan is told from another by what it gives to whom', () => {
  const of = (...copies: CopyToKeep[]) => keepFingerprint(planKeep(copies, false))
  const one = copy('submitted', student('ren'))
  expect(of(one)).toBe(of(one, { ...copy('working', student('noa')), copyId: 'd' }))
  expect(of(one)).not.toBe(of(copy('submitted', student('ren'), student('noa'))))
  expect(of(one)).not.toBe(of())
})
