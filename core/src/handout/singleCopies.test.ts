import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { planHandout } from './plan.js'
import { checkStatement } from './readStatement.js'
import { renamed, withNewest, withSingle } from './singleCopies.js'
import { FACTS, NOW, planned as plan, statement } from './testing/plans.js'

const planned = (of: ReturnType<typeof statement>) => plan(of).copies
const SLOTS = planned(statement()).map(({ slotKey }) => slotKey)

describe('names', () => {
  test('get something before or after, are others, or are as the slip says', () => {
    expect(renamed('Tides', { how: 'before', text: ' Draft: ' })).toBe('Draft: Tides')
    expect(renamed('Tides', { how: 'after', text: '(2)' })).toBe('Tides (2)')
    expect(renamed('Tides', { how: 'another title', text: 'Ebb\nand flow' })).toBe('Ebb and flow')
    expect(renamed('Tides', { how: 'as the slip says', text: 'x' })).toBeNull()
    expect(renamed('Tides', { how: 'after', text: 'x'.repeat(500) })).toHaveLength(200)
  })

  test('of their own are in the plan, others are as before', () => {
    const own = withSingle(statement(), new Map([[SLOTS[0]!, { called: 'Mine' }]]), FACTS.classId)
    const before = planned(statement())
    expect(planned(own).map(({ title }) => title)).toEqual(before.map(({ title }, at) => (at === 0 ? 'Mine' : title)))
    // In another class nothing is other.
    const elsewhere = withSingle(statement(), new Map([[SLOTS[0]!, { called: 'Mine' }]]), 'other')
    expect(planned(elsewhere)).toEqual(before)
  })
})

test('a permission of their own is that of all who hold the copy', () => {
  const own = withSingle(statement(), new Map([[SLOTS[0]!, { may: 'view' as const }]]), FACTS.classId)
  expect(planned(own)[0]!.holders.map(({ permission }) => permission)).toEqual(['view'])
  expect(planned(own)[1]!.holders[0]!.permission).toBe('edit')
})

test('what is as the slip says again leaves nothing behind, and what is kept is read as it was written', () => {
  const change = fc.record(
    {
      called: fc.option(fc.constantFrom('Mine', 'Ours')),
      may: fc.option(fc.constantFrom('view' as const, 'edit' as const)),
    },
    { requiredKeys: [] },
  )
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.constantFrom(...SLOTS), change)), (changes) => {
      const own = changes.reduce(
        (all, [slot, what]) => withSingle(all, new Map([[slot, what]]), FACTS.classId),
        statement(),
      )
      expect(checkStatement(JSON.parse(JSON.stringify(own)))).toEqual({ ok: true, value: own })
      const back = withSingle(own, new Map(SLOTS.map((slot) => [slot, { called: null, may: null }])), FACTS.classId)
      expect(back).toEqual(statement())
    }),
  )
})

test('the newest edition is for those that are chosen: nothing else of what exists is moved', () => {
  const facts = {
    ...FACTS,
    worksheets: FACTS.worksheets.map((sheet) => ({
      ...sheet,
      editions: [...sheet.editions, { ...sheet.editions.at(-1)!, number: 9 }],
    })),
  }
  const before = planHandout(statement(), facts, NOW)
  const all = before.copies.map(({ slotKey, edition }) => ({ slotKey, edition }))
  const moved = withNewest(statement(), new Set([SLOTS[0]!]), all, () => 9)
  const editions = planHandout(moved, facts, NOW).copies.map(({ edition }) => edition)
  expect(editions).toEqual(all.map(({ edition }, at) => (at === 0 ? 9 : edition)))
})
