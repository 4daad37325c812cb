import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { token } from '../naming/pattern.js'
import { type SlipText, mergeSlips, putBlank } from './mergeSlips.js'
import { type Statement, plainItem, plainStatement } from './statement.js'

const base: SlipText = {
  title: 'Tides',
  statement: plainStatement(
    [plainItem('i1', 'w1', 1), plainItem('i2', 'w2', 1)],
    [
      { classId: 'c1', opensAt: null, dueAt: 9 },
      { classId: 'c2', opensAt: null, dueAt: 9 },
    ],
  ),
}
const edited = (alteration: Partial<Statement>, title = base.title): SlipText => ({
  title,
  statement: { ...base.statement, ...alteration },
})
const items = base.statement.items

describe('two slips that came of one', () => {
  test('what one of the two changed is taken; what both changed is told, mine stands', () => {
    const mine = edited({ items: [{ ...items[0]!, holdersMay: 'view' }, items[1]!] }, 'Tides at the quay')
    const theirs = edited(
      {
        items: [{ ...items[0]!, holdersMay: 'comment', pattern: [token('first')] }, items[1]!],
        joiners: 'wait',
        classes: [{ classId: 'c1', opensAt: null, dueAt: 12 }, base.statement.classes[1]!],
      },
      'Tides',
    )
    const { slip, taken, conflicts } = mergeSlips(base, mine, theirs)
    expect(slip).toEqual({
      title: 'Tides at the quay',
      statement: {
        ...theirs.statement,
        items: [{ ...items[0]!, holdersMay: 'view', pattern: [token('first')] }, items[1]!],
      },
    })
    expect(taken.map(({ name, of }) => [name, of])).toEqual([
      ['joiners', null],
      ['times', 'c1'],
      ['name', 'i1'],
    ])
    expect(conflicts).toEqual([
      { name: 'they may', of: 'i1', mine: { holdersMay: 'view' }, theirs: { holdersMay: 'comment' } },
    ])
    const [conflict] = conflicts
    expect(putBlank(slip, { ...conflict!, value: conflict!.theirs }).statement.items[0]!.holdersMay).toBe('comment')
  })

  test('a sentence or class that was added is there, one that was taken out is gone, unless the other changed it', () => {
    const third = plainItem('i3', 'w3', 1)
    const mine = edited({
      items: [items[0]!, { ...items[1]!, mayInvite: true }],
      classes: [base.statement.classes[0]!],
    })
    const theirs = edited({ items: [third] })
    const { slip, taken, conflicts } = mergeSlips(base, mine, theirs)
    expect(slip.statement.items.map(({ id }) => id)).toEqual(['i2', 'i3'])
    expect(slip.statement.classes.map(({ classId }) => classId)).toEqual(['c1'])
    expect(taken.map(({ name, of }) => [name, of])).toEqual([
      ['slip', 'i3'],
      ['slip', 'i1'],
    ])
    expect(conflicts).toEqual([])
  })

  test('whoever changes what, it is the same as both did it one after the other, where they did not meet', () => {
    const anyEdit = fc.constantFrom<(slip: SlipText) => SlipText>(
      (slip) => putBlank(slip, { name: 'title', of: null, value: 'Other' }),
      (slip) => putBlank(slip, { name: 'joiners', of: null, value: { joiners: 'wait' } }),
      (slip) => putBlank(slip, { name: 'after due', of: null, value: { pensDownAtDue: true, lateWork: false } }),
      (slip) => putBlank(slip, { name: 'way', of: 'i2', value: { way: 'to read', groupSet: null } }),
      (slip) => putBlank(slip, { name: 'times', of: 'c2', value: { classId: 'c2', opensAt: 1, dueAt: 2 } }),
      (slip) => putBlank(slip, { name: 'letting in', of: 'i1', value: { mayInvite: true } }),
    )
    const all = (edits: readonly ((slip: SlipText) => SlipText)[], slip: SlipText) =>
      edits.reduce((now, edit) => edit(now), slip)
    fc.assert(
      fc.property(fc.uniqueArray(anyEdit), fc.uniqueArray(anyEdit), (mine, theirs) => {
        const merged = mergeSlips(base, all(mine, base), all(theirs, base))
        expect(merged.conflicts).toEqual([])
        expect(merged.slip).toEqual(all(theirs, all(mine, base)))
        expect(mergeSlips(base, base, base)).toEqual({ slip: base, taken: [], conflicts: [] })
      }),
    )
  })
})
