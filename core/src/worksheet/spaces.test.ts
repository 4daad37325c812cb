import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { AnswerValue } from '../progress/answers.js'
import { checkAnswer, checkCopy, hasKey, isSameAnswer } from './autoCheck.js'
import { checkContent, checkDraft } from './check.js'
import type { AnswerSpace, ChoiceSpace, CellSpace, TableBlock } from './content.js'
import { filledIn } from './filled.js'
import { keyWords } from './key.js'
import { drawnSpace } from './kinds/index.js'
import { isNumberText, numberWords, readNumberText } from './numbers.js'
import { expandSections, partAddress, reservedSpaces } from './sections.js'
import { forStudents, shuffledOptions } from './student.js'
import { formulaProblem, formulaProblems, workOutTable } from './tableFormulas.js'
import { placeCells, readCellName, cellName } from './tableGrid.js'
import { anyContent, cell, content, table, text } from './testing/samples.js'
import { keptContent, upgradeContent } from './upgrade.js'
import { answerSpaces, mapMedia, mediaOf } from './walk.js'
import { contentWords, spaceLabels } from './words.js'

test('whatever the model allows is read back as it was', () => {
  fc.assert(
    fc.property(
      anyContent,
      (some) => void expect(checkContent(JSON.parse(JSON.stringify(some)))).toEqual({ ok: true, value: some }),
    ),
  )
})

test('content of the first version is read as the newest', () => {
  const old = { version: 1, blocks: [{ id: 'a', kind: 'line', width: 'full' }] }
  expect(keptContent(old)).toEqual(content({ id: 'a', kind: 'line', width: 'full' }))
  expect(checkContent(old)).toEqual({ ok: true, value: keptContent(old) })
  expect(upgradeContent('nonsense')).toBe('nonsense')
})

describe('problems of each kind of block are said at their place', () => {
  const space = (more: object) => content({ id: 'a', ...more } as never)
  test.each<[string, unknown]>([
    ['blocks.0.url', space({ kind: 'link', url: 'javascript:alert(1)', title: '' })],
    ['blocks.0.media', space({ kind: 'picture', media: '../x', pixelWidth: 1, pixelHeight: 1, width: 50 })],
    [
      'blocks.0.crop',
      space({
        kind: 'picture',
        media: 'm',
        pixelWidth: 1,
        pixelHeight: 1,
        width: 50,
        crop: { x: 0.9, y: 0, width: 0.5, height: 1 },
      }),
    ],
    [
      'blocks.0.spaces.0',
      space({
        kind: 'backdrop',
        media: 'm',
        width: 210,
        height: 297,
        spaces: [{ box: {}, space: { id: 'x', kind: 'gap' } }],
      }),
    ],
    [
      'blocks.0.spaces.0.box',
      space({
        kind: 'backdrop',
        media: 'm',
        width: 210,
        height: 297,
        spaces: [{ box: { x: -1, y: 0, width: 1, height: 1 }, space: { id: 'x', kind: 'line' } }],
      }),
    ],
    ['blocks.0.rows.0.0.formula', content({ ...table('t', [{ formula: 'sum(B1' }]) })],
    ['blocks.0.rows', space({ kind: 'table', rows: [] })],
    [
      'blocks.0.blocks.0',
      space({ kind: 'section', whose: { is: 'everyone' }, blocks: [{ id: 'b', kind: 'section' }] }),
    ],
    ['blocks.0.whose', space({ kind: 'section', whose: { is: 'nobody' }, blocks: [] })],
    ['blocks.0', space({ kind: 'gap', width: 10 })],
    ['blocks.0.value', space({ kind: 'number', unit: '', value: 'four' })],
    ['blocks.0.points', space({ kind: 'line', points: -1 })],
    ['blocks.0.wanted.most', space({ kind: 'passage', lines: 3, wanted: { least: 80, most: 20 } })],
    [
      'blocks.0.right',
      space({
        kind: 'choice',
        many: false,
        options: [
          { id: 'a', text: 'a' },
          { id: 'b', text: 'b' },
        ],
        right: ['a', 'b'],
      }),
    ],
    ['blocks.0.height', space({ kind: 'drawing', height: 1 })],
    ['blocks.0.most', space({ kind: 'file', most: 0 })],
    ['page', { ...content(), page: { width: 3, height: 3 } }],
    ['source', { ...content(), source: 'x'.repeat(301) }],
  ])('%s', (field, input) => {
    const checked = checkContent(input)
    expect(checked.ok ? [] : checked.problems.map((problem) => problem.field?.startsWith(field))).toContain(true)
  })
})

describe('a draft', () => {
  const link = (url: string) => content({ id: 'k', kind: 'link', url, title: '', note: '' })
  const options = [
    { id: 'x', text: 'Out' },
    { id: 'y', text: '' },
  ]
  test.each<[string, unknown]>([
    ['blocks.0.rows.0.0.formula', content({ ...table('t', [{ formula: 'sum(B1' }]) })],
    ['blocks.0.rows.0.0.formula', content({ ...table('t', [{ formula: 'A1 + 1' }]) })],
    ['blocks.0.options.1.text', content({ id: 'c', kind: 'choice', many: false, options })],
    ['blocks.0.value', content({ id: 'n', kind: 'number', unit: '', value: 'four' })],
    ['blocks.0.wanted.most', content({ id: 'p', kind: 'passage', lines: 3, wanted: { least: 80, most: 20 } })],
    ['blocks.0.url', link('https://')],
    ['blocks.0.url', link('fennickquay.example/tides')],
    ['blocks.0.url', link('')],
  ])('is kept with what is not finished in it: %s', (field, input) => {
    expect(checkDraft(input)).toEqual({
      ok: true,
      value: {
        content: input,
        unfinished: [expect.objectContaining({ field, sentence: expect.stringMatching(/\.$/) })],
      },
    })
    expect(checkContent(input)).toMatchObject({ ok: false, problems: [{ field }] })
  })

  test('is not kept with what would run, or is no worksheet', () => {
    for (const input of [
      link('javascript:alert(1)'),
      link(' data:text/html,x'),
      { version: 2 },
      content({ id: '?' } as never),
    ])
      expect(checkDraft(input).ok).toBe(false)
  })
})

describe('sections', () => {
  const ana = { id: '0f8fad5b-d9cb-469f-a165-70867728950e', name: 'Ana Pires' }
  const bo = { id: '7c9e6679-7425-40de-944b-e07fc1f90ae7', name: 'Bo' }
  const own = {
    id: 's',
    kind: 'section',
    title: 'Your part',
    whose: { is: 'each member' },
    blocks: [text('q', 'Write.'), { id: 'a', kind: 'line', width: 'full' }],
  } as const

  test('for each member: once under each name, with an address of its own', () => {
    const laid = expandSections(content(own), { members: [ana, bo], groups: [] })
    expect(answerSpaces(laid).map(({ id }) => id)).toEqual([
      partAddress('a', { of: ana, kind: 'member' }),
      partAddress('a', { of: bo, kind: 'member' }),
    ])
    expect(contentWords(laid)).toContain('Your part · Ana Pires')
    expect(checkContent(laid).ok).toBe(true)
  })
  test('one member needs no name', () => {
    expect(contentWords(expandSections(content(own), { members: [ana], groups: [] }))).not.toContain('Ana')
  })
  test('with nobody to repeat it for it stands once', () => {
    const groups = { ...own, whose: { is: 'each group' } } as const
    expect(answerSpaces(expandSections(content(groups), { members: [ana], groups: [] })).map(({ id }) => id)).toEqual([
      'a',
    ])
  })
  test('reserved for named people, it is not there for others', () => {
    const named = { ...own, whose: { is: 'named', people: [bo] } } as const
    expect(answerSpaces(expandSections(content(named), { members: [ana], groups: [] }))).toEqual([])
    const both = expandSections(content(named), { members: [ana, bo], groups: [] })
    expect(answerSpaces(both)).toHaveLength(1)
    expect(contentWords(both)).toContain('Your part · Bo')
    expect(contentWords(expandSections(content(named), { members: [bo], groups: [] }))).not.toContain('Bo')
    expect(reservedSpaces(content(named, { id: 'free', kind: 'line', width: 'full' }))).toEqual(
      new Map([['a', [bo.id]]]),
    )
  })
  test('any worksheet laid open for two has no id twice', () => {
    fc.assert(
      fc.property(
        anyContent,
        (some) => void expect(checkContent(expandSections(some, { members: [ana, bo], groups: [bo] })).ok).toBe(true),
      ),
    )
  })
})

test('nothing that students get tells an answer', () => {
  fc.assert(
    fc.property(anyContent, (some) => {
      for (const space of answerSpaces(forStudents(some))) {
        expect(hasKey(space)).toBe(false)
        expect(keyWords(space)).toBe('')
        expect(space).not.toHaveProperty('model')
      }
      expect(answerSpaces(forStudents(some)).map(({ id }) => id)).toEqual(answerSpaces(some).map(({ id }) => id))
    }),
  )
})

test('options are shuffled the same for the same seed, and every order comes about', () => {
  const options = ['a', 'b', 'c'].map((id) => ({ id, text: id }))
  expect(shuffledOptions(options, 'x')).toEqual(shuffledOptions(options, 'x'))
  const orders = new Set(
    Array.from({ length: 200 }, (_, seed) =>
      shuffledOptions(options, `copy-${seed}`)
        .map(({ id }) => id)
        .join(''),
    ),
  )
  expect(orders.size).toBe(6)
})

describe('checking answers', () => {
  const line = (accepted: string[], lenient?: { case: boolean; accents: boolean }): AnswerSpace => ({
    id: 'a',
    kind: 'line',
    width: 'full',
    accepted,
    ...(lenient && { lenient }),
  })
  const number: AnswerSpace = { id: 'n', kind: 'number', unit: 'm', value: '3.7', tolerance: 0.1 }
  const choice: ChoiceSpace = {
    id: 'c',
    kind: 'choice',
    many: true,
    options: ['a', 'b', 'c'].map((id) => ({ id, text: id })),
    right: ['a', 'b'],
  }
  const said = (words: string): AnswerValue => ({ text: words })

  test.each<[string, AnswerSpace, AnswerValue, string]>([
    ['case and spaces do not matter by themselves', line(['Slack water']), said('  slack   WATER '), 'right'],
    ['accents do', line(['rêve']), said('reve'), 'wrong'],
    ['but where told', line(['rêve'], { case: true, accents: true }), said('Reve'), 'right'],
    ['case where told', line(['NaCl'], { case: false, accents: false }), said('nacl'), 'wrong'],
    ['one of several', line(['ebb', 'ebb tide']), said('ebb tide'), 'right'],
    ['any apostrophe', line(["crow's nest"]), said('crow’s nest'), 'right'],
    ['nothing written', line(['x']), said('  '), 'empty'],
    ['no key', line([]), said('x'), 'unchecked'],
    ['within the tolerance, with a comma', number, said('3,8'), 'right'],
    ['the unit written again', number, said('3.7 m'), 'right'],
    ['beyond it', number, said('3.81'), 'wrong'],
    ['no number', number, said('about four'), 'wrong'],
    ['all right options and no other', choice, { chosen: ['b', 'a'] }, 'right'],
    ['one too many', choice, { chosen: ['a', 'b', 'c'] }, 'wrong'],
    ['nothing chosen', choice, { chosen: [] }, 'empty'],
  ])('%s', (_, space, value, is) => expect(checkAnswer(space, value).is).toBe(is))

  test('a part of the right options says so, without telling which are missing', () => {
    expect(checkAnswer(choice, { chosen: ['a'] })).toEqual({ is: 'wrong', why: 'Right so far, but not complete.' })
  })

  test('a copy adds up its points', () => {
    const sheet = content(
      { ...line(['ebb']), points: 2 } as never,
      { ...number, points: 3 },
      {
        id: 'p',
        kind: 'passage',
        lines: 3,
        points: 5,
      },
    )
    const checked = checkCopy(sheet, ({ id }) => said(id === 'a' ? 'ebb' : '9'))
    expect(checked).toMatchObject({ right: 1, checkable: 2, points: 2, possible: 5 })
  })

  test('being the same answer is the same both ways', () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), fc.boolean(), fc.boolean(), (one, other, anyCase, accents) => {
        const lenient = { case: anyCase, accents }
        expect(isSameAnswer(one, one, lenient)).toBe(true)
        expect(isSameAnswer(one, other, lenient)).toBe(isSameAnswer(other, one, lenient))
      }),
    )
  })
})

describe('numbers as people write them', () => {
  test.each<[string, number | null]>([
    ['3,7', 3.7],
    ['1 250,5', 1250.5],
    ["12'000", 12000],
    ['1.250,5', 1250.5],
    ['1,250.5', 1250.5],
    ['−3', -3],
    ['.5', 0.5],
    ['1e3', 1000],
    ['four', null],
    ['12 hours 27', null],
    ['', null],
    ['1.2.3', null],
  ])('%s', (words, value) => {
    expect(readNumberText(words)).toBe(value)
    expect(isNumberText(words)).toBe(value !== null)
  })
  test('what is shown reads back as the number', () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e9, max: 1e9 }), (value) => {
        const back = readNumberText(numberWords(value))
        expect(Math.abs(back! - value)).toBeLessThanOrEqual(1e-9 * Math.max(1, Math.abs(value)))
      }),
    )
  })
})

describe('tables that work things out', () => {
  const place = (id: string): { space: CellSpace } => ({ space: { id, kind: 'cell', numeric: true } })
  const rope: TableBlock = table(
    't',
    ['Rope', 'First', 'Second', 'Mean'],
    ['Hemp', place('h1'), place('h2'), { formula: 'mean(B2:C2)' }],
    ['Nylon', place('n1'), '30', { formula: 'MEAN(B3:C3)' }],
    ['Best', { formula: 'max(B2:B3)' }, { formula: 'B4 * 2 - 1' }, { formula: 'round(D2 / 3, 2)' }],
  )
  const results = (answers: Record<string, string>, of: TableBlock = rope) =>
    Object.fromEntries(
      [...workOutTable(of, (id) => answers[id] ?? '')].map(([name, result]) => [
        name,
        result.is === 'number' ? result.words : result.is,
      ]),
    )

  test('sums, means and simple formulas over what is written and printed', () => {
    expect(results({ h1: '14', h2: '12,5', n1: '31' })).toEqual({
      D2: '13.25',
      D3: '30.5',
      B4: '31',
      C4: '61',
      D4: '4.42',
    })
  })
  test('what is not filled in keeps waiting; in a range it is passed over', () => {
    expect(results({ n1: '31' })).toEqual({ D2: 'waiting', D3: '30.5', B4: '31', C4: '61', D4: 'waiting' })
  })
  test('circles, unknown cells and divisions by nought say so', () => {
    const odd = table('t', [{ formula: 'B1 + 1' }, { formula: 'A1' }, { formula: 'Z9' }, { formula: '1/0' }])
    const found = workOutTable(odd, () => '')
    expect(found.get('A1')).toEqual({ is: 'wrong', sentence: expect.stringContaining('circle') })
    expect(found.get('B1')).toMatchObject({ is: 'wrong' })
    expect(found.get('C1')).toEqual({ is: 'wrong', sentence: 'This table has no cell Z9.' })
    expect(found.get('D1')).toMatchObject({ is: 'wrong' })
  })
  test.each([
    ['sum(A1:B2) * 2', null],
    ['constructor', 'no cell'],
    ['this.x', 'made of'],
    ['sum', 'no cell'],
    ['alert(1)', 'functions are'],
    ['A1:B2', 'range'],
    ['sum(A1:3)', 'range goes'],
    ['"a" + 1', 'made of'],
    ['a1 b2', 'made of'],
    ['[1]', 'made of'],
    ['2 +', 'read'],
    ['toString()', 'functions are'],
    [`${'('.repeat(80)}1${')'.repeat(80)}`, null],
    [`${'-'.repeat(80)}1`, 'nested'],
  ])('%s', (formula, problem) => {
    const found = formulaProblem(formula)
    if (problem === null) expect(found).toBeNull()
    else expect(found).toContain(problem)
  })
  test('what is wrong whatever is answered is told of each cell; what waits for answers is not', () => {
    const odd = table(
      't',
      [{ formula: 'B1 + 1' }, { formula: 'A1' }, { formula: 'Z9' }, place('p')],
      [{ formula: 'sum(' }, { formula: '1 / (D1 - 1)' }, { formula: 'mean(D1:D2)' }, 'words'],
    )
    expect(formulaProblems(odd)).toEqual([
      { cell: 'A1', down: 0, at: 0, sentence: expect.stringContaining('circle') },
      { cell: 'B1', down: 0, at: 1, sentence: expect.stringContaining('circle') },
      { cell: 'C1', down: 0, at: 2, sentence: 'This table has no cell Z9.' },
      { cell: 'A2', down: 1, at: 0, sentence: 'This formula cannot be read.' },
    ])
    expect(formulaProblems(table('t', ['1', place('p')]))).toEqual([])
  })

  test('a table made to take long is told to be too large, not worked out', () => {
    const formula = `${'sum(A1:T100)+'.repeat(14)}1`
    const rows = Array.from({ length: 100 }, () => Array.from({ length: 20 }, () => '1'))
    const heavy = table(
      't',
      ...rows,
      Array.from({ length: 20 }, () => ({ formula })),
    )
    expect(formulaProblems(heavy)[0]!.sentence).toBe('The formulas of this table are too many to be worked out.')
  })

  test('any text is a formula or a sentence, never more', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (formula) => {
        const problem = formulaProblem(formula)
        expect(problem === null || problem.endsWith('.')).toBe(true)
        expect(workOutTable(table('t', [{ formula }]), () => '1').get('A1')).toBeDefined()
      }),
    )
  })
  test('cells that cover others keep everybody in their place', () => {
    const spanned = {
      rows: [
        [cell({ across: 2 }), cell('x')],
        [cell({ down: 2 }), cell('y'), cell('z')],
        [cell('v'), cell('w')],
      ],
    }
    expect(placeCells(spanned).map(({ row, column }) => cellName(row, column))).toEqual([
      'A1',
      'C1',
      'A2',
      'B2',
      'C2',
      'B3',
      'C3',
    ])
    expect(readCellName('AA10')).toEqual({ row: 9, column: 26 })
    expect(cellName(9, 26)).toBe('AA10')
    expect(readCellName('A0')).toBeNull()
  })
  test('places in a table are called by their row and column', () => {
    expect([...spaceLabels(content(rope)).values()]).toEqual([
      'Answer 1: Hemp, First',
      'Answer 2: Hemp, Second',
      'Answer 3: Nylon, First',
    ])
  })
})

test('media are found wherever they are, and can be given other ids', () => {
  const sheet = content(
    { id: 'd', kind: 'drawing', height: 50, ground: 'one' },
    {
      id: 's',
      kind: 'section',
      title: '',
      whose: { is: 'everyone' },
      blocks: [{ id: 'b', kind: 'backdrop', media: 'two', alt: '', width: 210, height: 297, spaces: [] }],
    },
  )
  expect(mediaOf(sheet)).toEqual(['one', 'two'])
  expect(mediaOf(mapMedia(sheet, (id) => (id === 'one' ? 'new' : undefined)))).toEqual(['new', 'two'])
})

test('a worksheet filled in has answers in the place of its key, and nothing else that tells an answer', () => {
  fc.assert(
    fc.property(anyContent, (sheet) => {
      const spaces = answerSpaces(sheet)
      const answers = new Map(
        spaces.map((space, at): [string, AnswerValue] => {
          const drawn = drawnSpace(space)
          return [
            space.id,
            drawn.is === 'options'
              ? { chosen: drawn.options.slice(0, 1).map(({ id }) => id) }
              : { text: `words ${at}` },
          ]
        }),
      )
      for (const [at, space] of answerSpaces(filledIn(sheet, answers)).entries()) {
        const drawn = drawnSpace(space)
        expect(keyWords(space)).toBe(drawn.is === 'options' ? drawn.options[0]!.text : `words ${at}`)
      }
      for (const space of answerSpaces(filledIn(sheet, new Map()))) expect(keyWords(space)).toBe('')
    }),
  )
})
