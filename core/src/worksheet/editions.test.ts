import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { alignBoxes, insidePage, readingOrder, snapBox } from './backdrop.js'
import { proposeSpaces, proposedCount } from './blanks.js'
import { checkContent } from './check.js'
import { compareContents } from './compare.js'
import type { Block, WorksheetContent } from './content.js'
import { mergeDrafts } from './merge.js'
import { anyContent, content, counting, table, text } from './testing/samples.js'
import { answerSpaces, mapSpaces } from './walk.js'
import { compareWords } from './wordDiff.js'

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
  test('what both changed stands as mine, and is named', () => {
    expect(mergeDrafts(draft(a), draft(text('a', 'mine')), draft(text('a', 'theirs')))).toEqual({
      ...draft(text('a', 'mine')),
      both: ['a'],
    })
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
