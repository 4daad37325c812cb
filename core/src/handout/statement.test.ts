import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { checkStatement } from './readStatement.js'
import { plainStatement } from './statement.js'
import { ITEM, anyStatement } from './testing/plans.js'

describe('a statement from outside', () => {
  test('is read back as it was', () => {
    fc.assert(
      fc.property(anyStatement, (made) => {
        const sound = {
          ...made,
          items: made.items.map((item) =>
            item.way === 'to read' && item.holdersMay === 'edit' ? { ...item, holdersMay: 'view' as const } : item,
          ),
        }
        expect(checkStatement(JSON.parse(JSON.stringify(sound)))).toEqual({ ok: true, value: sound })
      }),
    )
  })

  test('what an older one did not have yet is as most want it', () => {
    const { id, worksheetId, edition: number, audience, way, holdersMay, classmatesMay, pattern } = ITEM
    const older = { items: [{ id, worksheetId, edition: number, audience, way, holdersMay, classmatesMay, pattern }] }
    expect(checkStatement(older)).toEqual({ ok: true, value: plainStatement([ITEM], []) })
  })

  test.each<[string, unknown]>([
    ['items', { items: null }],
    ['items.0.id', { items: [{ ...ITEM, id: '' }] }],
    ['items.1.id', { items: [ITEM, ITEM] }],
    ['items.0.way', { items: [{ ...ITEM, way: 'all at once' }] }],
    ['items.0.holdersMay', { items: [{ ...ITEM, holdersMay: 'own' }] }],
    ['items.0.holdersMay', { items: [{ ...ITEM, way: 'to read', holdersMay: 'edit' }] }],
    ['items.0.audience', { items: [{ ...ITEM, audience: { kind: 'some', personIds: [1] } }] }],
    ['items.0.audience', { items: [{ ...ITEM, audience: { kind: 'column', values: [] } }] }],
    ['items.0.pattern', { items: [{ ...ITEM, pattern: 'x' }] }],
    ['items.0.edition', { items: [{ ...ITEM, edition: -1 }] }],
    ['items.0.link', { items: [{ ...ITEM, link: { address: 'javascript:alert(1)', title: '' } }] }],
    ['items.0.match', { items: [{ ...ITEM, match: { by: 'mood', of: { id: null, name: 'x' }, rules: [] } }] }],
    ['items.0.match.0', { items: [{ ...ITEM, match: { by: 'column', of: { id: null, name: 'x' }, rules: [{}] } }] }],
    ['items.0.peers', { items: [{ ...ITEM, peers: { each: 0 } }] }],
    ['items.0.peers', { items: [{ ...ITEM, peers: { each: 1, until: 'Friday' } }] }],
    ['items.0.peers', { items: [{ ...ITEM, peers: { each: 1, lookFor: ['x'.repeat(301)] } }] }],
    ['items.0.peers', { items: [{ ...ITEM, peers: { each: 1, lookFor: Array.from({ length: 9 }, () => 'x') } }] }],
    ['items.0.without', { items: [{ ...ITEM, without: ['a b'] }] }],
    ['classes.0.dueAt', { items: [], classes: [{ classId: 'c1', dueAt: 'soon' }] }],
    ['marking', { items: [], marking: { kind: 'points', points: -1 } }],
    ['rubric.0', { items: [], rubric: [{ id: 'r', name: 'x', points: 'y' }] }],
    ['cover', { items: [], cover: { text: { type: 'doc', content: [{ type: 'script' }] } } }],
  ])('has its problem said at %s', (field, input) => {
    const checked = checkStatement(input)
    expect(checked.ok).toBe(false)
    if (!checked.ok) expect(checked.problems[0]!.field).toBe(field)
  })

  test('peer readers of before are asked for nothing, and named', () => {
    const read = checkStatement({ items: [{ ...ITEM, peers: { each: 2, may: 'comment', seed: 1, chosen: {} } }] })
    expect(read).toMatchObject({ ok: true, value: { items: [{ peers: { lookFor: [], until: null, named: true } }] } })
    const lookFor = [' Is it  clear? ', '', 7, 'What would you ask?']
    expect(checkStatement({ items: [{ ...ITEM, peers: { each: 2, lookFor, named: false } }] })).toMatchObject({
      value: { items: [{ peers: { lookFor: ['Is it clear?', 'What would you ask?'], named: false } }] },
    })
  })

  test('any JSON is a value or problems', () => {
    fc.assert(fc.property(fc.jsonValue(), (input) => expect(typeof checkStatement(input).ok).toBe('boolean')))
  })
})
