import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { recipeOf, repeatStatement, withRecipe } from './again.js'
import type { PlanFacts } from './facts.js'
import {
  type NoteText,
  columnsNamed,
  emptyTokens,
  fillNote,
  noteAsHtml,
  noteAsText,
  noteProblems,
  noteStart,
  plainNote,
  readNote,
  tokenWithWords,
} from './note.js'
import { noticeValues } from './noticeValues.js'
import { planHandout } from './plan.js'
import { checkStatement } from './readStatement.js'
import { proofOf } from './proof.js'
import { type Statement, findRef, plainItem, plainPeers, plainStatement, withWay } from './statement.js'

const text = (words: string, ...marks: { type: string; attrs?: Record<string, unknown> }[]) => ({
  type: 'text',
  text: words,
  ...(marks.length && { marks }),
})
const token = (name: string) => ({ type: 'nameToken', attrs: { token: name } })
const NOTE = {
  type: 'doc',
  content: [
    { type: 'paragraph', content: [text('Dear '), token('first'), text(',', { type: 'bold' })] },
    {
      type: 'bulletList',
      content: [
        { type: 'listItem', content: [{ type: 'paragraph', content: [text('a chart')] }] },
        {
          type: 'listItem',
          content: [
            {
              type: 'paragraph',
              content: [text('the tides', { type: 'link', attrs: { href: 'https://fennickquay.example/tides' } })],
            },
          ],
        },
      ],
    },
    { type: 'paragraph', content: [{ type: 'nameToken', attrs: { column: 'Reading band' } }] },
  ],
} as unknown as NoteText

const read = (input: unknown) => {
  const problems: string[] = []
  return { note: readNote(input, 'cover', (_, sentence) => problems.push(sentence)), problems }
}

describe('a note', () => {
  test('is filled in for one person, as text and as HTML', () => {
    const filled = fillNote(NOTE, { first: 'Chidi', columns: new Map([['reading band', 'Gulls']]) })
    expect(noteAsText(filled)).toBe(
      ['Dear Chidi,', '- a chart', '- the tides (https://fennickquay.example/tides)', 'Gulls'].join('\n'),
    )
    expect(noteAsHtml(filled)).toBe(
      '<p>Dear Chidi<strong>,</strong></p><ul><li><p>a chart</p></li><li><p><a href="https://fennickquay.example/tides">the tides</a></p></li></ul><p>Gulls</p>',
    )
    expect(noteStart(NOTE)).toBe('Dear First name, - a chart - the tides…')
    expect(columnsNamed(NOTE)).toEqual(['Reading band'])
  })

  test('is read from outside: what cannot be sent is said, what has nothing in it is nothing', () => {
    expect(read(NOTE)).toEqual({ note: NOTE, problems: [] })
    expect(read(plainNote('')).note).toBeNull()
    expect(read({ type: 'doc', content: [{ type: 'image' }] }).problems).toHaveLength(1)
    expect(read(plainNote('x'.repeat(9_000))).problems).toHaveLength(1)
    const tricky = {
      type: 'doc',
      content: [{ type: 'paragraph', content: [text('x', { type: 'link', attrs: { href: 'javascript:1' } })] }],
    }
    expect(JSON.stringify(read(tricky).note)).not.toContain('javascript')
  })

  test('nothing in it runs: whatever is typed and filled in comes out as text', () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), (words, first) => {
        const html = noteAsHtml(
          fillNote(
            { type: 'doc', content: [{ type: 'paragraph', content: [text(words), token('first')] }] },
            { first },
          ),
        )
        expect(html.replace(/^<p>|<\/p>$/g, '')).not.toMatch(/[<>]/)
      }),
    )
    fc.assert(fc.property(fc.jsonValue(), (input) => expect(typeof read(input).problems.length).toBe('number')))
  })
})

describe('tokens of a note', () => {
  const paragraph = (...content: object[]) => ({ type: 'doc', content: [{ type: 'paragraph', content }] }) as NoteText
  const due = { type: 'nameToken', attrs: { token: 'date', before: ', due ', after: ' sharp' } }

  test('bring words along, left out where they say nothing; typed in brackets they are read', () => {
    const note = paragraph(text('Hand it in'), due, text('!'))
    expect(read(note)).toEqual({ note, problems: [] })
    expect(noteAsText(fillNote(note, { date: '3 Dec' }))).toBe('Hand it in, due 3 Dec sharp!')
    expect(noteAsText(fillNote(note, { date: '' }))).toBe('Hand it in!')
    expect(noteAsText(note)).toBe('Hand it in, due Date sharp!')
    expect(tokenWithWords(', due Date', [])).toEqual({
      part: { kind: 'token', token: 'date' },
      before: ', due ',
      after: '',
    })
    expect(tokenWithWords('in band reading  BAND.', ['Reading band'])).toEqual({
      part: { kind: 'column', column: 'Reading band' },
      before: 'in band ',
      after: '.',
    })
    expect(tokenWithWords('First name', [])).toMatchObject({ part: { token: 'first' }, before: '' })
    expect(tokenWithWords('update', [])).toBeNull()
    expect(tokenWithWords('see page 3', [])).toBeNull()
    expect(tokenWithWords(`Date${'x '.repeat(50)}`, [])).toBeNull()
  })

  test('that say nothing leave no gap, and are told; so are words in brackets that are no token', () => {
    expect(noteAsText(fillNote(paragraph(text('due '), token('date'), text(', please !')), {}))).toBe('due, please !')
    expect(noteAsText(fillNote(paragraph(token('group'), text(' writes together')), {}))).toBe('writes together')
    expect(noteAsText(fillNote(paragraph(text('a '), token('group'), text(' b')), {}))).toBe('a b')
    expect(emptyTokens(paragraph(token('group'), due, token('first')), { first: 'Ana' })).toEqual(['Group'])
    expect(noteProblems(paragraph(text('Dear [Frist name], see [1 and (2]')), []).map(({ meant }) => meant)).toEqual([
      'First name',
      null,
    ])
    const cover = (note: NoteText) => ({
      ...made(),
      classes: [{ classId: 'c1', opensAt: null, dueAt: null }],
      cover: { text: note, by: 'here' as const, staffCopied: false },
    })
    const told = (note: NoteText) =>
      planHandout(cover(note), FACTS, 0).findings.flatMap(({ sentence, slotKey }) => (slotKey ? [] : [sentence]))
    expect(
      told(
        paragraph(text('Dear [Frist name], due '), token('date'), {
          type: 'nameToken',
          attrs: { column: 'Reading band' },
        }),
      ),
    ).toEqual([
      'In the cover note: There is no token [Frist name]. Did you mean [First name]?',
      'In the cover note, Date says nothing.',
      'In the cover note, Reading band says nothing for Suryani.',
    ])
    expect(told(paragraph(text('Dear '), token('first'), due))).toEqual([])
  })
})

const FACTS: PlanFacts = {
  classId: 'c1',
  className: '8 Heron',
  number: 12,
  members: [
    { personId: 'p1', last: 'Abara', first: 'Chidi', email: null, cells: { k1: 'Gulls' } },
    { personId: 'p2', last: 'Suryani', first: '', email: null },
  ],
  guests: [],
  ownCopies: [],
  columns: [{ id: 'k1', name: 'Reading band' }],
  groupSets: [{ id: 's1', name: 'Crews', groups: [{ id: 'g1', name: 'Crane', personIds: ['p1', 'p2'] }] }],
  units: [],
  staff: [],
  worksheets: [
    {
      id: 'w1',
      title: 'Tides',
      editions: [1, 2].map((number) => ({ number, answerSpaces: 1, points: 0, memberSpaces: 0, groupSpaces: 0 })),
    },
  ],
  begunAt: Date.UTC(2026, 11, 1),
  timeZone: 'UTC',
  locale: 'en-GB',
}
const made = (item: Partial<Statement['items'][number]> = {}): Statement => ({
  ...plainStatement(
    [{ ...plainItem('i1', 'w1', 1), ...item }],
    [{ classId: 'c1', opensAt: null, dueAt: Date.UTC(2026, 11, 3) }],
  ),
})

test('a notice says a person’s name, group, titles and due day; one name is a first name', () => {
  const statement = {
    ...made({ groupSet: { id: 's1', name: 'Crews' } }),
    exceptions: [{ personId: 'p2', opensAt: null, dueAt: Date.UTC(2026, 11, 9) }],
  }
  expect(noticeValues(statement, FACTS)('p1')).toMatchObject({
    first: 'Chidi',
    group: 'Crane',
    members: 'Chidi Abara, Suryani',
    title: 'Tides',
    number: '12',
    date: '3 Dec',
  })
  expect(noticeValues(statement, FACTS)('p2')).toMatchObject({ first: 'Suryani', date: '9 Dec' })
})

describe('again', () => {
  const whole = {
    ...made({
      audience: { kind: 'some', personIds: ['p1'] },
      earlier: { 'i1:each:p1': 1 },
      without: ['i1:each:p2'],
      peers: { ...plainPeers(1, 'view'), chosen: { 'i1:each:p1': ['p2'] }, until: 4_000, lookFor: ['Is it clear?'] },
    }),
    exceptions: [{ personId: 'p1', opensAt: null, dueAt: 1 }],
  }

  const from = { id: 'c1', name: '8 Heron' }

  test('for another class: the newest editions, no times of old, and whom it was for by name is asked, never widened', () => {
    const repeated = repeatStatement(whole, from, 'c2', FACTS.worksheets)
    expect(repeated).toMatchObject({
      items: [
        {
          worksheetId: 'w1',
          edition: 2,
          audience: { kind: 'not said', was: '1 of 8 Heron' },
          earlier: {},
          without: [],
          peers: { chosen: {}, until: null, lookFor: ['Is it clear?'] },
        },
      ],
      classes: [{ classId: 'c2', opensAt: null, dueAt: null }],
      exceptions: [],
    })
    const elsewhere = { ...FACTS, classId: 'c2', className: '8 Tern' }
    const plan = planHandout(repeated, elsewhere, 0)
    expect(plan.copies).toEqual([])
    expect(plan.findings).toMatchObject([
      { code: 'nobody', stops: true, sentence: 'It was for 1 of 8 Heron before: say who it is for in 8 Tern.' },
    ])
    const but = (personIds: string[]) =>
      repeatStatement(made({ audience: { kind: 'all but', personIds } }), from, 'c2', []).items[0]!.audience
    expect(but(['p1'])).toEqual({ kind: 'not said', was: 'all but 1 of 8 Heron' })
    expect(but([])).toEqual({ kind: 'all' })
    expect(checkStatement(JSON.parse(JSON.stringify(repeated)))).toEqual({ ok: true, value: repeated })
  })

  test('for the same class it is for the same people, and who was left out stays out', () => {
    const repeated = repeatStatement(whole, from, 'c1', FACTS.worksheets)
    expect(repeated.items[0]).toMatchObject({
      edition: 2,
      audience: { kind: 'some', personIds: ['p1'] },
      without: ['i1:each:p2'],
      earlier: {},
      peers: { chosen: { 'i1:each:p1': ['p2'] }, until: null },
    })
    expect(planHandout(repeated, FACTS, 0).copies.map(({ slotKey }) => slotKey)).toEqual(['i1:each:p1'])
  })

  test('a recipe says nothing of people: the slip it is used in keeps whom it is for', () => {
    const used = withRecipe(made({ audience: { kind: 'some', personIds: ['p2'] } }), recipeOf(whole), 'c1')
    expect(used.items[0]!.audience).toEqual({ kind: 'some', personIds: ['p2'] })
  })

  test('a recipe has the shape without the worksheets, and gives it to others', () => {
    const recipe = recipeOf({
      ...made(withWay(plainItem('i1', 'w1', 1), 'one per group', [{ id: 's1', name: 'Crews' }])),
    })
    expect(recipe).toMatchObject({ items: [{ worksheetId: null, way: 'one per group' }], classes: [] })
    const used = withRecipe(made(), recipe, 'c1')
    expect(used).toMatchObject({
      items: [{ worksheetId: 'w1', edition: 1, way: 'one per group' }],
      classes: made().classes,
    })
    // In another class the group set is found by its name.
    const elsewhere = { ...FACTS, groupSets: [{ ...FACTS.groupSets[0]!, id: 's9', name: ' CREWS ' }] }
    expect(planHandout(used, elsewhere, 0).copies.map(({ title }) => title)).toEqual(['Crane – Tides'])
    expect(findRef(elsewhere.groupSets, { id: 's1', name: 'crews' })?.id).toBe('s9')
  })
})

test('a proof of two classes has the changes of both, one after the other', () => {
  const { worksheets, ...facts } = FACTS
  const nothing = { copies: [], notices: [] }
  const proof = proofOf(
    { ...made(), classes: [...made().classes, { classId: 'c2', opensAt: null, dueAt: null }] },
    worksheets,
    [
      { classId: 'c1', facts, existing: nothing },
      {
        classId: 'c2',
        facts: { ...facts, classId: 'c2', className: '8 Tern', members: facts.members.slice(1) },
        existing: nothing,
      },
    ],
    0,
  )
  expect(proof.parts.map(({ changes }) => changes.length)).toEqual([2, 1])
  // Who is in both classes is pointed out.
  expect(proof.parts[1]!.plan.findings).toContainEqual(
    expect.objectContaining({ code: 'twice', sentence: 'Suryani is in 8 Heron too, and gets it in both' }),
  )
  expect(proof.changes.map((change) => (change.kind === 'create' ? change.copy.dueAt : 0))).toEqual([
    Date.UTC(2026, 11, 3),
    Date.UTC(2026, 11, 3),
    null,
  ])
})
