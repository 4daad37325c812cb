import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { includes } from '../access/permission.js'
import { nameKey, token } from '../naming/pattern.js'
import { applyChanges, changesByThemselves, countChanges, fingerprintChanges } from './changes.js'
import { NOTHING_YET } from './existing.js'
import { countDifferences, differencesInWords, differencesOf } from './differences.js'
import { plainNote } from './note.js'
import { NOTHING, type Statement, WAYS } from './statement.js'
import {
  member,
  MEMBERS,
  FACTS,
  statement,
  given,
  planned,
  inGroups,
  personId,
  anyFacts,
  anyStatement,
  changesFor,
  sorted,
} from './testing/plans.js'
import type { PlanFacts } from './facts.js'

describe('the changes', () => {
  test('planning twice gives no changes', () => {
    fc.assert(
      fc.property(anyStatement, anyFacts, (made, facts) => {
        const done = applyChanges(NOTHING_YET, changesFor(made, facts, NOTHING_YET))
        expect(changesFor(made, facts, done)).toEqual([])
      }),
    )
  })

  test('applying any first part and planning again gives exactly the rest', () => {
    fc.assert(
      fc.property(
        anyStatement,
        anyFacts,
        anyStatement,
        anyFacts,
        fc.nat(),
        (before, factsBefore, after, factsAfter, cut) => {
          const existing = applyChanges(NOTHING_YET, changesFor(before, factsBefore, NOTHING_YET))
          const changes = changesFor(after, factsAfter, existing)
          const part = cut % (changes.length + 1)
          const interrupted = applyChanges(existing, changes.slice(0, part))
          const rest = changesFor(after, factsAfter, interrupted)
          expect(rest).toEqual(changes.slice(part))
          expect(sorted(applyChanges(interrupted, rest))).toEqual(sorted(applyChanges(existing, changes)))
        },
      ),
      { numRuns: 300 },
    )
  })

  // A whole life: statements and rosters change, hand-outs are cut off anywhere, people write in between.
  test('any sequence of edits with hand-outs interrupted anywhere ends in the planned state, loses no answer, and sends each notice once', () => {
    const step = fc.record({
      made: anyStatement,
      facts: anyFacts,
      cut: fc.nat(60),
      writes: fc.array(personId, { maxLength: 3 }),
    })
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 6 }), (steps) => {
        let existing = NOTHING_YET
        const sent: string[] = []
        const answers = new Map<string, Set<string>>()
        for (const { made, facts, cut, writes } of steps) {
          const changes = changesFor(made, facts, existing)
          const part = changes.slice(0, cut)
          sent.push(...part.filter(({ kind }) => kind === 'notify').map(({ slotKey }) => slotKey))
          existing = applyChanges(existing, part)
          // Whoever holds a copy writes in it.
          existing = {
            ...existing,
            copies: existing.copies.map((copy) => {
              const writers = writes.filter(
                (id) => !copy.setAside && copy.holders.some((holder) => holder.personId === id),
              )
              if (writers.length === 0) return copy
              answers.set(copy.slotKey, new Set([...(answers.get(copy.slotKey) ?? []), ...writers]))
              return {
                ...copy,
                opened: true,
                written: { tide: [...new Set([...writers, ...(copy.written['tide'] ?? [])])] },
              }
            }),
          }
        }
        const { made, facts } = steps.at(-1)!
        const rest = changesFor(made, facts, existing)
        sent.push(...rest.filter(({ kind }) => kind === 'notify').map(({ slotKey }) => slotKey))
        existing = applyChanges(existing, rest)
        const plan = planned(made, facts)
        const there = existing.copies.filter(({ setAside }) => !setAside)
        expect(there.map(({ slotKey }) => slotKey).toSorted()).toEqual(
          plan.copies.map(({ slotKey }) => slotKey).toSorted(),
        )
        for (const copy of plan.copies) {
          const {
            setAside: _,
            opened: __,
            submitted: ____,
            written: ___,
            ...now
          } = there.find(({ slotKey }) => slotKey === copy.slotKey)!
          expect({ ...now, holders: now.holders.map(({ personId: id }) => id).toSorted() }).toEqual({
            ...copy,
            readers: now.readers,
            holders: copy.holders.map(({ personId: id }) => id).toSorted(),
          })
        }
        expect(changesFor(made, facts, existing)).toEqual([])
        for (const [slotKey, writers] of answers)
          for (const id of writers)
            expect(existing.copies.find((copy) => copy.slotKey === slotKey)!.written['tide']).toContain(id)
        expect(new Set(sent).size).toBe(sent.length)
        for (const { noticeKey } of plan.notices) expect(sent).toContain(noticeKey)
      }),
      { numRuns: 150 },
    )
  })

  test('nothing is ever removed, and going back brings everything back', () => {
    fc.assert(
      fc.property(anyStatement, anyFacts, anyStatement, (before, facts, after) => {
        const first = applyChanges(NOTHING_YET, changesFor(before, facts, NOTHING_YET))
        const second = applyChanges(first, changesFor(after, facts, first))
        const slots = new Set(second.copies.map(({ slotKey }) => slotKey))
        for (const { slotKey } of first.copies) expect(slots.has(slotKey)).toBe(true)
        const third = applyChanges(second, changesFor(before, facts, second))
        const there = third.copies.filter(({ setAside }) => !setAside)
        expect(there.map(({ slotKey }) => slotKey).toSorted()).toEqual(
          first.copies.map(({ slotKey }) => slotKey).toSorted(),
        )
      }),
    )
  })

  test('names of copies always differ, and are safe as file names', () => {
    fc.assert(
      fc.property(anyStatement, anyFacts, (made, facts) => {
        const titles = planned(made, facts).copies.map(({ title }) => title)
        expect(new Set(titles.map(nameKey)).size).toBe(titles.length)
        for (const title of titles) {
          expect(title).toMatch(/^[^\\/:*?"<>|]+$/)
          expect(title).not.toMatch(/^con$/i)
          expect(new TextEncoder().encode(title).length).toBeLessThanOrEqual(255)
        }
      }),
    )
  })

  test('nobody gets more than the slip says', () => {
    fc.assert(
      fc.property(anyStatement, anyFacts, (made, facts) => {
        const bySlip = new Map(made.items.map((item) => [item.id, item]))
        for (const copy of planned(made, facts).copies) {
          const item = bySlip.get(copy.itemId)!
          for (const { permission } of copy.holders) expect(includes(item.holdersMay, permission)).toBe(true)
          expect(includes(item.classmatesMay, copy.classmatesMay)).toBe(true)
          for (const { personId: id } of copy.readers)
            expect(copy.holders.some((holder) => holder.personId === id)).toBe(false)
        }
      }),
    )
  })

  test('each part of the statement changes only what it says', () => {
    const existing = applyChanges(NOTHING_YET, changesFor(statement(), FACTS, NOTHING_YET))
    const kinds = (made: Statement) => {
      const counts = countChanges(changesFor(made, FACTS, existing))
      return Object.fromEntries(Object.entries(counts).filter(([, count]) => count > 0))
    }
    expect(kinds(statement({ holdersMay: 'view' }))).toEqual({ permit: 4 })
    expect(kinds(statement({ mayInvite: true }))).toEqual({ permit: 4 })
    expect(kinds(statement({ pattern: [token('first')] }))).toEqual({ rename: 4 })
    expect(kinds(statement({ edition: 2 }))).toEqual({ move: 4 })
    expect(kinds(statement({ edition: 2, earlier: { 'i1:each:p1': 1 } }))).toEqual({ move: 3 })
    expect(kinds(statement({}, { pensDownAtDue: true }))).toEqual({ date: 4 })
    expect(kinds(statement({ without: ['i1:each:p1'] }))).toEqual({ 'set aside': 1 })
    expect(kinds(statement({ without: ['i1:each:p1@c1', 'i1:each:p2@c2'] }))).toEqual({ 'set aside': 1 })
    expect(kinds(statement({}, { cover: { text: plainNote('x'), by: 'here', staffCopied: false } }))).toEqual({
      notify: 4,
    })
    expect(kinds(given('one together'))).toEqual({ create: 1, 'set aside': 4 })
    expect(kinds(NOTHING)).toEqual({ 'set aside': 4 })
  })

  test('a late joiner is one copy; somebody who left is set aside', () => {
    const existing = applyChanges(NOTHING_YET, changesFor(statement(), FACTS, NOTHING_YET))
    const facts = { ...FACTS, members: [...MEMBERS.slice(1), member('p9', 'Tupou', 'Vaiana')] }
    const changes = changesFor(statement(), facts, existing)
    expect(changes.map(({ kind, slotKey }) => [kind, slotKey])).toEqual([
      ['create', 'i1:each:p9'],
      ['set aside', 'i1:each:p1'],
    ])
    expect(changesByThemselves(changes, existing).map(({ slotKey }) => slotKey)).toEqual(['i1:each:p9'])
  })

  test('by itself a group’s copy takes somebody in, and lets nobody go', () => {
    const existing = applyChanges(NOTHING_YET, changesFor(given('one per group'), FACTS, NOTHING_YET))
    const by = (facts: PlanFacts) =>
      changesByThemselves(changesFor(given('one per group'), facts, existing), existing).map(({ kind, slotKey }) => [
        kind,
        slotKey,
      ])
    expect(by(inGroups(['p1', 'p2', 'p4'], ['p3']))).toEqual([['permit', 'i1:group:g1']])
    expect(by(inGroups(['p2'], ['p1', 'p3']))).toEqual([['permit', 'i1:group:g2']])
  })

  test('two who change groups one after the other both get the copy of their group, and keep the former until somebody looks', () => {
    const perGroup = given('one per group')
    let existing = applyChanges(NOTHING_YET, changesFor(perGroup, inGroups(['p1', 'p2'], ['p3', 'p4']), NOTHING_YET))
    const differences = (facts: PlanFacts) =>
      differencesOf(planned(perGroup, facts), existing, changesFor(perGroup, facts, existing))
    expect(differences(inGroups(['p1', 'p2'], ['p3', 'p4']))).toBeNull()
    for (const facts of [inGroups(['p2'], ['p3', 'p4', 'p1']), inGroups(['p2', 'p3'], ['p4', 'p1'])])
      existing = applyChanges(existing, changesByThemselves(changesFor(perGroup, facts, existing), existing))
    expect(existing.copies.map(({ holders }) => holders.map(({ personId }) => personId))).toEqual([
      ['p1', 'p2', 'p3'],
      ['p3', 'p4', 'p1'],
    ])
    expect(existing.copies.map(({ places }) => places[0]!.personIds)).toEqual([
      ['p1', 'p2', 'p3'],
      ['p3', 'p4', 'p1'],
    ])
    const now = differences(inGroups(['p2', 'p3'], ['p4', 'p1']))
    expect(now).toEqual({ waiting: [], regrouped: ['p3', 'p1'], moved: [], over: [], readers: 0, copies: 0 })
    expect(differencesInWords(now!, (id) => id)).toBe('2 students belong to other copies now (p3, p1)')
    expect(countDifferences(now!)).toBe(2)
  })

  test('what differs is told person by person: who waits, who has what is not theirs, and copies that differ otherwise', () => {
    const made = statement({}, { joiners: 'wait' })
    const existing = applyChanges(NOTHING_YET, changesFor(made, FACTS, NOTHING_YET))
    const facts = {
      ...FACTS,
      members: [...MEMBERS.slice(1), member('p9', 'Novak', 'Petr')].map((one) =>
        one.personId === 'p4' ? { ...one, first: 'Suriani' } : one,
      ),
    }
    const told = differencesOf(planned(made, facts), existing, changesFor(made, facts, existing))!
    expect(told).toEqual({ waiting: ['p9'], regrouped: [], moved: [], over: ['p1'], readers: 0, copies: 1 })
    expect(differencesInWords(told, (id) => id)).toBe(
      'p9 has no copy yet; p1 has a copy that is not for them any more; 1 copy differs in name, worksheet, times or access',
    )
  })

  test('who is in another place of a shared copy is named', () => {
    const together = given('one together', { groupSet: { id: 's1', name: 'Survey crews' } })
    const withPlaces = (facts: PlanFacts): PlanFacts => ({
      ...facts,
      worksheets: facts.worksheets.map((worksheet) => ({
        ...worksheet,
        editions: worksheet.editions.map((edition) => ({ ...edition, groupSpaces: 1 })),
      })),
    })
    const before = withPlaces(inGroups(['p1', 'p2'], ['p3', 'p4']))
    const existing = applyChanges(NOTHING_YET, changesFor(together, before, NOTHING_YET))
    const facts = withPlaces(inGroups(['p2', 'p3'], ['p4', 'p1']))
    const told = differencesOf(planned(together, facts), existing, changesFor(together, facts, existing))!
    expect(told).toEqual({ waiting: [], regrouped: [], moved: ['p1', 'p3'], over: [], readers: 0, copies: 0 })
    expect(differencesInWords(told, (id) => id)).toBe('2 students have another place in it now (p1, p3)')
  })

  test('copies that would only have other peer readers are told as that', () => {
    const made = given('one each')
    const existing = applyChanges(NOTHING_YET, changesFor(made, FACTS, NOTHING_YET))
    const reader = { personId: 'p2', permission: 'comment' as const }
    const [first] = existing.copies
    const read = { ...existing, copies: [{ ...first!, readers: [reader] }, ...existing.copies.slice(1)] }
    const told = differencesOf(planned(made), read, changesFor(made, FACTS, read))!
    expect(told).toMatchObject({ readers: 1, copies: 0 })
    expect(differencesInWords(told, (id) => id)).toBe('1 copy would have other peer readers')
    expect(countDifferences(told)).toBe(1)
  })

  test('by itself nobody loses anything, and whoever is planned has their copy, however people and groups change', () => {
    const people = MEMBERS.map(({ personId }) => personId)
    const grouping = fc.array(fc.integer({ min: -1, max: 2 }), { minLength: 4, maxLength: 4 })
    fc.assert(
      fc.property(fc.constantFrom(...WAYS), fc.array(grouping, { minLength: 2, maxLength: 6 }), (way, steps) => {
        const made = given(way, way === 'one together' ? { worksheetId: 'w5', groupSet: { id: 's1', name: '' } } : {})
        let existing = NOTHING_YET
        for (const [at, step] of steps.entries()) {
          // -1: not in the class.
          const facts: PlanFacts = {
            ...FACTS,
            members: MEMBERS.filter((_, index) => step[index] !== -1),
            groupSets: [
              {
                ...FACTS.groupSets[0]!,
                groups: FACTS.groupSets[0]!.groups.map((group, number) => ({
                  ...group,
                  personIds: people.filter((_, index) => step[index] === number),
                })),
              },
            ],
          }
          const before = existing
          const changes = changesFor(made, facts, existing)
          existing = applyChanges(existing, at === 0 ? changes : changesByThemselves(changes, existing))
          const { copies } = planned(made, facts)
          for (const { slotKey, holders } of copies)
            expect(existing.copies.find((copy) => copy.slotKey === slotKey)).toMatchObject({
              setAside: false,
              holders: expect.arrayContaining(holders.map((holder) => ({ ...holder }))) as unknown,
            })
          for (const was of before.copies.filter(({ setAside }) => !setAside)) {
            const is = existing.copies.find(({ slotKey }) => slotKey === was.slotKey)!
            expect(is).toMatchObject({ setAside: false, title: was.title, worksheetId: was.worksheetId })
            expect(is.holders).toEqual(expect.arrayContaining([...was.holders]))
          }
          // A second look finds nothing more to do by itself.
          const again = changesByThemselves(changesFor(made, facts, existing), existing)
          expect(again).toEqual([])
        }
      }),
    )
  })

  test('the fingerprint is the same for the same changes and another for any others', () => {
    const changes = changesFor(statement(), FACTS, NOTHING_YET)
    const reordered = changes.map((change) => Object.fromEntries(Object.entries(change).toReversed()) as typeof change)
    expect(fingerprintChanges(reordered)).toBe(fingerprintChanges(changes))
    expect(fingerprintChanges(changes.slice(1))).not.toBe(fingerprintChanges(changes))
    expect(fingerprintChanges(changesFor(statement({ holdersMay: 'view' }), FACTS, NOTHING_YET))).not.toBe(
      fingerprintChanges(changes),
    )
  })
})
