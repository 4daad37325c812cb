import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { GATHER_LIMIT, carryOver, carryWishes, meetingKey } from './carry.js'
import { applyChanges } from './changes.js'
import { type Existing, NOTHING_YET } from './existing.js'
import { proofOf } from './proof.js'
import { type HandoutItem, type Statement, type Way, CARRIES } from './statement.js'
import { NOW, member, FACTS, statement, given, planned, changesFor } from './testing/plans.js'
import type { PlanFacts } from './facts.js'

describe('writing goes along', () => {
  const ids = ['0', '1', '2', '3'].map((digit) => `${digit.repeat(8)}-1111-4111-8111-111111111111`)
  const facts: PlanFacts = { ...FACTS, members: ids.map((id, at) => member(id, `Name ${at}`, 'X')), groupSets: [] }
  const part = (id: string) => `words_${id.replaceAll('-', '')}`
  const together = (written: Record<string, string[]>) => {
    const done = applyChanges(NOTHING_YET, changesFor(given('one together'), facts, NOTHING_YET))
    return { ...done, copies: done.copies.map((copy) => ({ ...copy, written })) }
  }
  const carried = (made: Statement, existing: Existing) =>
    changesFor(made, facts, existing).flatMap((change) =>
      change.kind === 'carry'
        ? change.sources.map(({ from, space }) => [from, space, change.slotKey, change.toSpace])
        : [],
    )
  const each = statement({ carry: 'give to writer' })

  test('from one together to one each: to the one who wrote it, to all who wrote it together', () => {
    const existing = together({ tide: [ids[0]!], moon: [ids[1]!, ids[2]!] })
    expect(carried(each, existing)).toEqual([
      ['i1:together', 'tide', `i1:each:${ids[0]}`, 'tide'],
      ['i1:together', 'moon', `i1:each:${ids[1]}`, 'moon'],
      ['i1:together', 'moon', `i1:each:${ids[2]}`, 'moon'],
    ])
    expect(carried(statement({ carry: 'keep aside' }), existing)).toEqual([])
  })

  test('somebody’s own part goes along, and nothing that is there already is written over', () => {
    const existing = together({ [part(ids[0]!)]: [ids[0]!] })
    const own = carried(each, existing)
    expect(own).toEqual([['i1:together', part(ids[0]!), `i1:each:${ids[0]}`, part(ids[0]!)]])
    const done = applyChanges(existing, changesFor(each, facts, existing))
    expect(carried(each, done)).toEqual([])
  })

  test('from one each to one together: only where nobody else’s answer would meet it', () => {
    const done = applyChanges(NOTHING_YET, changesFor(statement(), facts, NOTHING_YET))
    const existing = {
      ...done,
      copies: done.copies.map((copy, at) => ({
        ...copy,
        written: { ...(at < 2 && { tide: [ids[at]!] }), ...(at === 3 && { moon: [ids[3]!] }) },
      })),
    }
    expect(carried(given('one together', { carry: 'give to writer' }), existing)).toEqual([
      [`i1:each:${ids[3]}`, 'moon', 'i1:together', 'moon'],
    ])
  })
})

describe('writing that meets, and writing that stays behind', () => {
  const ids = ['0', '1', '2', '3'].map((digit) => `${digit.repeat(8)}-1111-4111-8111-111111111111`)
  const facts: PlanFacts = {
    ...FACTS,
    members: ids.map((id, at) => member(id, `Name ${at}`, 'X')),
    groupSets: [
      {
        id: 's1',
        name: 'Survey crews',
        groups: [
          { id: 'g1', name: 'Lock gate', personIds: ids.slice(0, 3) },
          { id: 'g2', name: 'Crane', personIds: ids.slice(3) },
        ],
      },
    ],
  }
  const each = (at: number) => `i1:each:${ids[at]}`
  /** One each, in which the first three answered a passage, the first two a line, and the last one something of their own. */
  const answered: Existing = (() => {
    const done = applyChanges(NOTHING_YET, changesFor(statement(), facts, NOTHING_YET))
    return {
      ...done,
      asked: {
        why: { label: 'Question 1', kind: 'passage' },
        tide: { label: 'Question 2', kind: 'line' },
        moon: { label: 'Question 3', kind: 'line' },
      },
      sizes: {},
      copies: done.copies.map((copy, at) => ({
        ...copy,
        submitted: at === 1,
        written: {
          ...(at < 3 && { why: [ids[at]!] }),
          ...(at < 2 && { tide: [ids[at]!] }),
          ...(at === 3 && { moon: [ids[3]!] }),
        },
      })),
    }
  })()
  const perGroup = (item: Partial<HandoutItem>) => given('one per group', item)
  const over = (made: Statement, existing = answered) =>
    carryOver(planned(made, facts).copies, existing, carryWishes(made))
  const looked = (made: Statement) =>
    proofOf(made, FACTS.worksheets, [{ classId: 'c1', facts, existing: answered }], NOW).parts[0]!.plan.findings.filter(
      ({ code }) => code === 'left-behind' || code === 'was-submitted',
    )

  test('every answer goes along or is named as left behind, with the reason', () => {
    const { carried, left, meetings } = over(perGroup({ carry: 'give to writer' }))
    expect(carried.map(({ slotKey, toSpace }) => [slotKey, toSpace])).toEqual([['i1:group:g2', 'moon']])
    expect(left.map(({ from, space, by, why }) => [from, space, by, why])).toEqual([
      [each(0), 'why', [ids[0]], 'met'],
      [each(0), 'tide', [ids[0]], 'met'],
      [each(1), 'why', [ids[1]], 'met'],
      [each(1), 'tide', [ids[1]], 'met'],
      [each(2), 'why', [ids[2]], 'met'],
    ])
    expect(meetings.map(({ toSpace, canAll, goes }) => [toSpace, canAll, goes])).toEqual([
      ['why', true, 'none'],
      ['tide', false, 'none'],
    ])
    expect(over(perGroup({})).left.map(({ why }) => why)).toEqual(Array(6).fill('kept aside'))
  })

  test('passages go under each other where that is wished; of others one is chosen', () => {
    const tide = meetingKey({ slotKey: 'i1:group:g1', toSpace: 'tide' })
    const why = meetingKey({ slotKey: 'i1:group:g1', toSpace: 'why' })
    const of = (item: Partial<HandoutItem>) =>
      over(perGroup(item)).carried.map(({ toSpace, sources }) => [toSpace, sources.map(({ from }) => from)])
    expect(of({ carry: 'give all' })).toEqual([
      ['why', [each(0), each(1), each(2)]],
      ['moon', [each(3)]],
    ])
    expect(of({ carry: 'give all', carryChosen: { [tide]: each(1), [why]: 'none' } })).toEqual([
      ['tide', [each(1)]],
      ['moon', [each(3)]],
    ])
    expect(of({ carry: 'give to writer', carryChosen: { [why]: 'all', [tide]: each(3) } })).toEqual([
      ['why', [each(0), each(1), each(2)]],
      ['moon', [each(3)]],
    ])
    const long = { ...answered, sizes: { [`${each(0)} why`]: GATHER_LIMIT } }
    expect(
      over(perGroup({ carry: 'give all' }), { ...long, sizes: { ...long.sizes, [`${each(1)} why`]: 1 } }).left,
    ).toEqual(expect.arrayContaining([{ from: each(0), space: 'why', by: [ids[0]], why: 'too long' }]))
  })

  test('the proof counts and names what stays behind, and says what was submitted', () => {
    const all = looked(perGroup({ carry: 'give to writer' }))
    expect(all.filter(({ slotKey }) => !slotKey).map(({ sentence }) => sentence)).toEqual([
      '5 answers stay in copies that are set aside, of X Name 0, X Name 1, X Name 2 (several wrote to the same question).',
      '1 submitted copy is set aside, of X Name 1: what takes their place is not submitted.',
    ])
    expect(all.filter(({ slotKey }) => slotKey === each(1)).map(({ sentence }) => sentence)).toEqual([
      '2 of 2 answers stay here (Question 1, Question 2)',
      'submitted; it stays so, and what takes its place is not',
    ])
    expect(
      looked(perGroup({ carry: 'give all' }))
        .filter(({ slotKey }) => slotKey === each(1))
        .map(({ sentence }) => sentence),
    ).toEqual(['1 of 2 answers stays here (Question 2)', 'submitted; its answers go into a copy that is not'])
    expect(looked(statement())).toEqual([])
  })

  test('whatever is wished, an answer is in one of the two, and what is there already is never written over', () => {
    const anyWish = fc.record({
      carry: fc.constantFrom(...CARRIES),
      carryChosen: fc.dictionary(
        fc.constantFrom(
          ...['why', 'tide', 'moon'].flatMap((toSpace) =>
            ['i1:group:g1', 'i1:group:g2', 'i1:together'].map((slotKey) => meetingKey({ slotKey, toSpace })),
          ),
        ),
        fc.constantFrom('all', 'none', each(0), each(1), each(2), each(3)),
      ),
    })
    fc.assert(
      fc.property(anyWish, fc.constantFrom<Way>('one per group', 'one together'), (wish, way) => {
        const made = given(way, wish)
        const { carried, left } = over(made)
        const went = carried.flatMap(({ sources }) => sources.map(({ from, space }) => `${from} ${space}`))
        const stayed = left.map(({ from, space }) => `${from} ${space}`)
        const there = answered.copies.flatMap(({ slotKey, written }) =>
          Object.keys(written).map((space) => `${slotKey} ${space}`),
        )
        expect([...new Set(went), ...stayed].toSorted()).toEqual(there.toSorted())
        const done = applyChanges(answered, changesFor(made, facts, answered))
        expect(over(made, done).carried).toEqual([])
        expect(changesFor(made, facts, done)).toEqual([])
      }),
    )
  })
})
