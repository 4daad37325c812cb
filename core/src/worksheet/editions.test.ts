import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { alignBoxes, insidePage, readingOrder, snapBox } from './backdrop.js'
import { proposeSpaces, proposedCount } from './blanks.js'
import { checkContent } from './check.js'
import { compareContents } from './compare.js'
import type { Block, PlainBlock, RichNode, WorksheetContent } from './content.js'
import { mergeDrafts } from './merge.js'
import { mergeTokens, mergeWords } from './mergeText.js'
import { anyContent, content, counting, table, text } from './testing/samples.js'
import { answerSpaces, mapSpaces } from './walk.js'
import { compareTyped, compareWords } from './wordDiff.js'
import { blockWords } from './words.js'

describe('what changed between two editions', () => {
  const a = text('a', 'The tide falls twice a day.')
  const b: Block = { id: 'b', kind: 'line', width: 'full', points: 1 }
  const c = text('c', 'Why?')

  test('nothing, if nothing did', () => {
    fc.assert(
      fc.property(
        anyContent,
        (some) =>
          void expect(compareContents(some, some)).toEqual({
            blocks: [],
            page: [],
            newSpaces: [],
            goneSpaces: [],
            changedKinds: [],
          }),
      ),
    )
  })
  test('words that came and went, points, blocks added, removed and moved', () => {
    const changes = compareContents(content(a, b, c), {
      ...content(
        c,
        { ...text('a', 'The tide rises twice a day.') },
        { ...b, points: 2 },
        { id: 'n', kind: 'number', unit: 'm' },
      ),
      source: 'Harbour office',
    })
    expect(changes.blocks.map(({ id, is }) => [id, is])).toEqual([
      ['c', 'moved'],
      ['a', 'changed'],
      ['b', 'changed'],
      ['n', 'added'],
    ])
    expect(changes.blocks[1]!.words).toContainEqual({ is: 'gone', text: 'falls' })
    expect(changes.blocks[1]!.words).toContainEqual({ is: 'new', text: 'rises' })
    expect(changes.blocks[2]!.details).toEqual(['points 1 → 2'])
    expect(changes.newSpaces).toEqual([{ id: 'n', label: 'Answer 2: The tide rises twice a day.' }])
    expect(changes.page).toEqual(['source line “” → “Harbour office”'])
  })
  test('answer spaces that are gone, or of another kind', () => {
    const changes = compareContents(
      content(a, b, { id: 'x', kind: 'passage', lines: 3 }),
      content(a, { id: 'b', kind: 'number', unit: '' }),
    )
    expect(changes.goneSpaces.map(({ id }) => id)).toEqual(['x'])
    expect(changes.changedKinds.map(({ id }) => id)).toEqual(['b'])
    expect(changes.blocks.map(({ is }) => is)).toEqual(['changed', 'removed'])
  })
  test('of blocks put in another order, as few as can be are said to have moved', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 30 }), { maxLength: 12 }), fc.nat(), (ids, at) => {
        const blocks = ids.map((id) => text(`t${id}`, String(id)))
        const [taken, ...rest] = blocks
        if (!taken) return
        rest.splice(at % (rest.length + 1), 0, taken)
        expect(compareContents(content(...blocks), content(...rest)).blocks.length).toBeLessThanOrEqual(1)
      }),
    )
  })
  test('the pieces of a comparison give both texts back', () => {
    const some = fc
      .array(fc.constantFrom('tide', 'sea', ' ', 'ebb', '\n'), { maxLength: 20 })
      .map((parts) => parts.join(''))
    fc.assert(
      fc.property(some, some, (one, other) => {
        const pieces = compareWords(one, other)
        const without = (is: string) =>
          pieces
            .filter((piece) => piece.is !== is)
            .map((piece) => piece.text)
            .join('')
        expect(without('new')).toBe(one)
        expect(without('gone')).toBe(other)
      }),
    )
  })

  test('of a word that was typed on, or lost an end, just that is told', () => {
    expect(compareTyped('in ti', 'in time')).toEqual([
      { is: 'same', text: 'in ' },
      { is: 'same', text: 'ti' },
      { is: 'new', text: 'me' },
    ])
    expect(compareTyped('low tide', 'low ide')).toEqual([
      { is: 'same', text: 'low ' },
      { is: 'gone', text: 't' },
      { is: 'same', text: 'ide' },
    ])
    expect(compareTyped('low tide', 'low water').map(({ is }) => is)).toEqual(['same', 'gone', 'new'])
    const some = fc.array(fc.constantFrom('ti', 'de', ' ', 's', '\n'), { maxLength: 12 }).map((parts) => parts.join(''))
    fc.assert(
      fc.property(some, some, (one, other) => {
        const pieces = compareTyped(one, other)
        const without = (is: string) => pieces.map((piece) => (piece.is === is ? '' : piece.text)).join('')
        expect([without('new'), without('gone')]).toEqual([one, other])
      }),
    )
  })
})

describe('two authors at once', () => {
  const draft = (...blocks: Block[]) => ({ title: 'T', content: content(...blocks) })
  const [a, b, c] = [text('a', '1'), text('b', '2'), text('c', '3')]

  test('what only one changed, added or removed is taken', () => {
    const merged = mergeDrafts(
      draft(a, b, c),
      { ...draft(text('a', 'mine'), b, text('m', 'm'), c), title: 'Mine' },
      draft(a, text('t', 't'), b),
    )
    expect(merged).toEqual({
      title: 'Mine',
      content: content(text('a', 'mine'), text('t', 't'), b, text('m', 'm')),
      both: [],
    })
  })
  test('a paragraph that both wrote in has the words of both, wherever in it they wrote', () => {
    const long = text('a', 'The tide turns at noon.')
    const [mine, theirs] = [
      text('a', 'Today the tide turns at noon.'),
      text('a', 'The tide turns at noon, or a little later.'),
    ]
    const { content: merged, both } = mergeDrafts(draft(long), draft(mine), draft(theirs))
    expect(blockWords(merged.blocks[0]!)).toBe('Today the tide turns at noon, or a little later.')
    expect(both).toEqual([])
    // At the same place, one after the other; what one of them wrote whole stands once.
    const at = (words: string) => draft(text('a', `Tides${words}`))
    const words = (one: string, other: string) => blockWords(mergeDrafts(at(''), at(one), at(other)).content.blocks[0]!)
    expect(words(' of the quay', ' in spring')).toBe('Tides in spring of the quay')
    expect(words(' at noon', ' at noon and later')).toBe('Tides at noon and later')
  })
  test('letters typed by one stay where the other makes words bold, a heading, or takes others away', () => {
    const rich = (id: string, type: string, ...content: RichNode[]): Block => ({
      id,
      kind: 'text',
      rich: { type, ...(type === 'heading' && { attrs: { level: 2 } }), content },
    })
    const word = (letters: string, bold = false): RichNode => ({
      type: 'text',
      text: letters,
      ...(bold && { marks: [{ type: 'bold' }] }),
    })
    const base = rich('a', 'paragraph', word('High water'))
    const bold = rich('a', 'heading', word('High', true), word(' water'))
    const longer = rich('a', 'paragraph', word('High water today'))
    const whole = rich('a', 'heading', word('High', true), word(' water today'))
    expect(mergeDrafts(draft(base), draft(bold), draft(longer))).toEqual({ ...draft(whole), both: [] })
    expect(mergeDrafts(draft(base), draft(longer), draft(bold))).toEqual({ ...draft(whole), both: [] })
    expect(
      mergeDrafts(draft(base), draft(rich('a', 'paragraph', word('water'))), draft(longer)).content.blocks,
    ).toEqual([rich('a', 'paragraph', word('water today'))])
  })
  test('items of a list, cells of a table, and what is set of a space come from whoever changed them', () => {
    const item = (words: string): RichNode => ({
      type: 'listItem',
      content: [{ type: 'paragraph', content: [{ type: 'text', text: words }] }],
    })
    const list = (...items: string[]): Block => ({
      id: 'l',
      kind: 'text',
      rich: { type: 'orderedList', attrs: { start: 1 }, content: items.map(item) },
    })
    const merged = (base: Block, mine: Block, theirs: Block) => mergeDrafts(draft(base), draft(mine), draft(theirs))
    expect(merged(list('a', 'b'), list('a', 'new', 'b'), list('a', 'b and c'))).toEqual({
      ...draft(list('a', 'new', 'b and c')),
      both: [],
    })
    expect(merged(list('a', 'b'), list('a'), list('a', 'b and c')).content.blocks).toEqual([list('a and c')])
    const cells = (one: string, other: string) => table('t', [one, other])
    expect(merged(cells('a', 'b'), cells('A', 'b'), cells('a', 'B'))).toEqual({ ...draft(cells('A', 'B')), both: [] })
    const line: Block = { id: 's', kind: 'line', width: 'full', label: 'Rope' }
    expect(
      merged(line, { ...line, points: 2, label: 'Our rope' }, { ...line, hint: 'Look.', label: 'Rope, wet' }).content
        .blocks,
    ).toEqual([{ ...line, points: 2, hint: 'Look.', label: 'Our rope, wet' }])
    const choice = (...texts: string[]): Block => ({
      id: 'c',
      kind: 'choice',
      many: false,
      options: texts.map((words, at) => ({ id: `o${at}`, text: words })),
    })
    expect(
      merged(choice('ebb', 'flood'), choice('ebb tide', 'flood'), choice('ebb', 'flood', 'slack')).content.blocks,
    ).toEqual([choice('ebb tide', 'flood', 'slack')])
  })
  test('what both set otherwise stands as mine, and is named', () => {
    const line: Block = { id: 's', kind: 'line', width: 'full' }
    expect(mergeDrafts(draft(line), draft({ ...line, points: 2 }), draft({ ...line, points: 3 }))).toEqual({
      ...draft({ ...line, points: 2 }),
      both: ['s'],
    })
    // Two states of one author: the newer stands, nothing is put together twice.
    expect(mergeDrafts(draft(a), draft(text('a', '1 and more')), draft(text('a', '1 and')), { whole: true })).toEqual({
      ...draft(text('a', '1 and more')),
      both: ['a'],
    })
  })
  test('a block that one moves into a section while the other writes in it is there, with all words', () => {
    const section = (...blocks: PlainBlock[]): Block => ({
      id: 's',
      kind: 'section',
      title: '',
      whose: { is: 'everyone' },
      blocks,
    })
    const merged = mergeDrafts(draft(a, b), draft(section(a), b), draft(text('a', '1 more'), b))
    expect(merged.content).toEqual(content(section(text('a', '1 more')), b))
    const back = mergeDrafts(draft(a, b), draft(text('a', '1 more'), b), draft(section(a), b))
    expect(back.content).toEqual(content(section(text('a', '1 more')), b))
  })
  test('whatever two type and take out, each letter that one put in is there, and each that one took out is not', () => {
    const letters = fc.array(fc.constantFrom('a', 'b', ' ', 'é', '🌊'), { maxLength: 14 })
    const edits = fc.array(
      fc.record({ at: fc.nat(14), gone: fc.nat(3), put: fc.array(fc.constantFrom('X', 'Y'), { maxLength: 3 }) }),
      { maxLength: 3 },
    )
    const signs = { isLetter: (token: string) => !token.startsWith(' '), space: ' ' }
    const merged = (...states: [string[], string[], string[]]) => mergeTokens(...states, signs)
    fc.assert(
      fc.property(letters, edits, edits, (base, one, other) => {
        const edited = (deeds: typeof one, sign: string) => {
          const now: string[] = [...base]
          for (const { at, gone, put } of deeds) now.splice(at, gone, ...put.map((letter) => letter + sign))
          return now
        }
        const [mine, theirs] = [edited(one, '1'), edited(other, '2')]
        const inThere = merged(base, mine, theirs)
        for (const letter of [...mine, ...theirs].filter((token) => /[12]$/.test(token)))
          expect(inThere).toContain(letter)
        expect(merged(base, mine, base)).toEqual(mine)
        expect(merged(base, base, theirs)).toEqual(theirs)
        expect(merged(base, mine, mine)).toEqual(mine)
      }),
      { numRuns: 500 },
    )
  })
  test('a word that both wrote anew stands in both ways; letters that other words share are not taken for the same', () => {
    expect(mergeWords('One', 'Mine', 'Theirs')).toBe('Theirs Mine')
    expect(mergeWords('The tide turns.', 'The ebb turns.', 'The flood turns early.')).toBe('The flood ebb turns early.')
    expect(mergeWords('The tide turns.', 'The tides turns.', 'The Tide turns.')).toBe('The Tides turns.')
    expect(mergeWords('a b c d', 'a c d', 'a b c x d')).toBe('a c x d')
    expect(mergeWords('a b c d', 'a d', 'a b X c d')).toBe('a b X c d')
  })
  test('what one changed and the other removed stays', () => {
    expect(mergeDrafts(draft(a, b), draft(b), draft(text('a', 'theirs'), b)).content).toEqual(
      content(text('a', 'theirs'), b),
    )
    expect(mergeDrafts(draft(a, b), draft(text('a', 'mine'), b), draft(b)).content).toEqual(
      content(text('a', 'mine'), b),
    )
  })
  test('the order of keys is no change: a database may give them back in another', () => {
    const turned = {
      rich: { content: [{ text: '1', type: 'text' }], type: 'paragraph' },
      kind: 'text',
      id: 'a',
    } as Block
    expect(mergeDrafts(draft(turned, b), draft(text('a', '1'), b), draft(text('a', 'theirs'), b))).toEqual({
      ...draft(text('a', 'theirs'), b),
      both: [],
    })
    expect(compareContents(content(turned), content(text('a', '1'))).blocks).toEqual([])
  })
  test('an order that one changed is taken', () => {
    expect(mergeDrafts(draft(a, b, c), draft(a, b, c), draft(c, a, b)).content).toEqual(content(c, a, b))
    expect(mergeDrafts(draft(a, b, c), draft(c, a, b), draft(a, b, c)).content).toEqual(content(c, a, b))
  })
  test('if only one side changed, that side comes out; and the result is sound', () => {
    fc.assert(
      fc.property(anyContent, anyContent, anyContent, (base, mine, theirs) => {
        const of = (some: WorksheetContent) => ({ title: 'T', content: some })
        expect(mergeDrafts(of(base), of(mine), of(base)).content).toEqual(mine)
        expect(mergeDrafts(of(base), of(base), of(theirs)).content).toEqual(theirs)
        const { blocks } = mergeDrafts(of(base), of(mine), of(theirs)).content
        expect(new Set(blocks.map(({ id }) => id)).size).toBe(blocks.length)
      }),
    )
  })
})

/** Every proposed answer space taken. */
const allTaken = (some: WorksheetContent) =>
  mapSpaces(some, (space) => {
    const { proposed: _, ...taken } = space
    return taken as typeof space
  })

describe('finding blanks', () => {
  const found = (...blocks: Block[]) => proposeSpaces(content(...blocks), counting()).blocks

  test('underlines and leaders in a sentence are gaps', () => {
    const [block] = found(text('a', 'The tide after a full moon is a ______ tide ........ than usual.'))
    expect(answerSpaces({ blocks: [block!] })).toMatchObject([
      { kind: 'gap', width: 7, proposed: { was: '______' } },
      { kind: 'gap' },
    ])
    expect(block).toMatchObject({ id: 'a', kind: 'text' })
  })
  test('an ellipsis, a dash and an address are none', () => {
    for (const said of ['Wait … and see.', 'Ropes - old and new - lie here.', 'Go on...', 'a_b_c and snake__case'])
      expect(found(text('a', said))).toEqual([text('a', said)])
  })
  test('a line of blanks is a line; several are one passage', () => {
    expect(found(text('a', '_'.repeat(60)))).toMatchObject([{ kind: 'line', width: 'full' }])
    expect(found(text('a', '_'.repeat(60)), text('b', '_'.repeat(60)), text('c', '_'.repeat(60)))).toMatchObject([
      { kind: 'passage', lines: 3 },
    ])
    expect(found(text('a', '__________'))).toMatchObject([{ kind: 'line', width: 'short' }])
  })
  test('a line that ends with a colon asks for one, unless a place follows', () => {
    expect(found(text('a', 'Name:'), text('b', 'Then read this.')).map(({ kind }) => kind)).toEqual([
      'text',
      'line',
      'text',
    ])
    expect(found(text('a', 'Name:'), text('b', '_'.repeat(30))).map(({ kind }) => kind)).toEqual(['text', 'line'])
  })
  test('empty cells of a table with heads are places; numeric where numbers are asked for', () => {
    const [block] = found(table('t', ['Rope', 'Load (kg)', 'Why'], ['hemp', '', ''], ['nylon', '', '']))
    expect(answerSpaces({ blocks: [block!] }).map((space) => space.kind === 'cell' && space.numeric)).toEqual([
      true,
      false,
      true,
      false,
    ])
  })
  test('a table of nothing is left alone', () => {
    expect(found(table('t', ['', ''], ['', '']))).toEqual([table('t', ['', ''], ['', ''])])
  })
  test('what is proposed is sound, counted, and all taken at once; a second look finds nothing new', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('Name:', 'The ____ is', '____________', 'words', '. . . . . .'), { maxLength: 10 }),
        (lines) => {
          const once = proposeSpaces(content(...lines.map((line, at) => text(`t${at}`, line))), counting())
          expect(checkContent(once).ok).toBe(true)
          expect(proposedCount(once)).toBe(answerSpaces(once).length)
          expect(proposedCount(allTaken(once))).toBe(0)
          expect(answerSpaces(proposeSpaces(allTaken(once), counting('m')))).toHaveLength(answerSpaces(once).length)
        },
      ),
    )
  })
})

describe('boxes on a backdrop', () => {
  const at = (x: number, y: number, width = 0.2, height = 0.05) => ({ box: { x, y, width, height } })
  test('are read row by row, though a row is not quite straight', () => {
    const [second, first, third] = [at(0.5, 0.1), at(0.1, 0.11), at(0.1, 0.3)]
    expect(readingOrder([third, second, first])).toEqual([first, second, third])
    expect(readingOrder([third, second, first], 'rtl')).toEqual([second, first, third])
  })
  test('keep their number in any order they were drawn', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            x: fc.double({ min: 0, max: 0.8, noNaN: true }),
            y: fc.double({ min: 0, max: 0.9, noNaN: true }),
          }),
        ),
        (places) => {
          const boxes = places.map(({ x, y }) => at(x, y))
          expect(new Set(readingOrder(boxes))).toEqual(new Set(boxes))
        },
      ),
    )
  })
  test('are drawn to the sides of others that are near, and say along which line', () => {
    const other = at(0.1, 0.1).box
    expect(
      snapBox({ x: 0.104, y: 0.5, width: 0.1, height: 0.05 }, [other], new Set(['left', 'right', 'top', 'bottom'])),
    ).toEqual({ box: { x: 0.1, y: 0.5, width: 0.1, height: 0.05 }, guides: [{ axis: 'x', at: 0.1 }] })
    const resized = snapBox({ x: 0.05, y: 0.5, width: 0.247, height: 0.05 }, [other], new Set(['right']))
    expect(resized.box.x).toBe(0.05)
    expect(resized.box.x + resized.box.width).toBeCloseTo(0.3)
  })
  test('never leave the page', () => {
    fc.assert(
      fc.property(
        fc.double({ noNaN: true, min: -5, max: 5 }),
        fc.double({ noNaN: true, min: -5, max: 5 }),
        (x, width) => {
          const box = insidePage({ x, y: x, width, height: width })
          expect(box.x >= 0 && box.y >= 0 && box.x + box.width <= 1 + 1e-9 && box.y + box.height <= 1 + 1e-9).toBe(true)
        },
      ),
    )
  })
  test('agree with the first one', () => {
    const [one, other] = [at(0.1, 0.1).box, at(0.3, 0.4, 0.1).box]
    expect(alignBoxes([one, other], 'left')[1]!.x).toBe(0.1)
    expect(alignBoxes([one, other], 'width')[1]!.width).toBe(0.2)
    expect(alignBoxes([one, other], 'bottom')[1]!.y).toBeCloseTo(0.1)
  })
})
