import { describe, expect, test } from '@jest/globals'
import { type Block, type WorksheetContent, answerSpaces, checkContent, isSame } from '@gavrin/core'
import { Editor, getSchema } from '@tiptap/core'
import { Node } from '@tiptap/pm/model'
import { Selection } from '@tiptap/pm/state'
import fc from 'fast-check'
import { anyContent, content, table, text } from '../../core/src/worksheet/testing/samples'
import { AUTHORS } from '../src/editor/authorMarks'
import { fromEditor, toEditor } from '../src/editor/document'
import { WORKSHEET } from '../src/editor/extensions'
import { formulaProblemAt } from '../src/editor/formulaMarks'
import { numberedListAt } from '../src/editor/listNumbers'
import { partsAt } from '../src/editor/parts'
import { countSpaces, leaveSpace, takeAllSpaces, takeSpace } from '../src/editor/proposals'
import { showDraft } from '../src/editor/showDraft'

const schema = getSchema(WORKSHEET)
const opened = (some: WorksheetContent) =>
  new Editor({ extensions: WORKSHEET, content: toEditor(some), injectCSS: false })
const read = (editor: Editor, about: WorksheetContent) => fromEditor(editor.getJSON(), about)

describe('a worksheet in the editor', () => {
  test('whatever the model allows is opened and taken out again the same', () => {
    fc.assert(
      fc.property(anyContent, (some) => {
        const document = Node.fromJSON(schema, toEditor(some))
        document.check()
        const out = fromEditor(document.toJSON() as object, some)
        expect(checkContent(out)).toEqual({ ok: true, value: some })
      }),
    )
  })

  test('what another author made of it is shown by changing only what differs', () => {
    fc.assert(
      fc.property(anyContent, anyContent, fc.nat(), (mine, other, at) => {
        // Partly the same blocks, partly others, in another order.
        const kept = mine.blocks.filter((_, index) => (index + at) % 3 > 0)
        const known = new Set(kept.map(({ id }) => id))
        const after = { ...mine, blocks: [...other.blocks.filter(({ id }) => !known.has(id)), ...kept] }
        const editor = opened(mine)
        showDraft(editor, read(editor, mine), after)
        expect(isSame(read(editor, mine).blocks, after.blocks)).toBe(true)
        editor.destroy()
      }),
      { numRuns: 40 },
    )
  })

  test('the caret stays in the block that only I am in', () => {
    const mine = content(text('a', 'One'), text('b', 'Two'), text('c', 'Three'))
    const editor = opened(mine)
    editor.commands.setTextSelection(8)
    const before = editor.state.selection.$from.parent.textContent
    showDraft(editor, mine, content(text('a', 'One, longer now'), text('n', 'New'), text('b', 'Two'), text('c', '3')))
    expect(editor.state.selection.$from.parent.textContent).toBe(before)
    expect(editor.can().undo()).toBe(false)
    editor.destroy()
  })
})

test('my caret stays among my words while another author writes in the same paragraph', () => {
  const mine = content(text('a', 'The tide turns at noon.'))
  const editor = opened(mine)
  const caret = 1 + 'The tide turns'.length
  editor.commands.setTextSelection(caret)
  const around = () => {
    const { $head } = editor.state.selection
    return $head.parent.textContent.slice(0, $head.parentOffset)
  }
  showDraft(editor, mine, content(text('a', 'The tide turns at noon, or later.')))
  expect(around()).toBe('The tide turns')
  showDraft(editor, read(editor, mine), content(text('a', 'Today the tide turns at noon, or later.')))
  expect(around()).toBe('Today the tide turns')
  // Where the other one is stands in the words, and moves along with what is typed before it.
  const told = [{ personId: 'p', name: 'Zofia', block: 'a', at: 1 + 'Today the tide'.length }]
  editor.view.dispatch(editor.state.tr.setMeta(AUTHORS, told))
  const before = () => editor.view.dom.querySelector('.author-caret')!.previousSibling!.textContent
  expect(before()).toBe('Today the tide')
  editor.commands.insertContentAt(1, 'And ')
  expect(before()).toBe('And Today the tide')
  expect(editor.view.dom.querySelector('[data-author]')!.getAttribute('data-author')).toBe('Zofia')
  editor.destroy()
})

describe('acts on blocks', () => {
  const sheet = content(text('a', 'One'), { id: 'l', kind: 'line', width: 'full' }, text('b', 'Two'))
  const ids = (editor: Editor) => read(editor, sheet).blocks.map(({ id }) => id)

  test('moved, put twice with an id of its own, removed, and each undone by itself', () => {
    const editor = opened(sheet)
    editor.commands.setNodeSelection(5)
    editor.commands.moveBlock('up')
    expect(ids(editor)).toEqual(['l', 'a', 'b'])
    editor.commands.copyBlock()
    const twice = ids(editor)
    expect(new Set(twice).size).toBe(4)
    editor.commands.undo()
    expect(ids(editor)).toEqual(['l', 'a', 'b'])
    editor.commands.undo()
    expect(ids(editor)).toEqual(['a', 'l', 'b'])
    editor.destroy()
  })
  test('blocks become a section, and blocks again', () => {
    const editor = opened(sheet)
    editor.commands.setTextSelection({ from: 1, to: 7 })
    editor.commands.putSection({ is: 'each member' })
    const [section] = read(editor, sheet).blocks
    expect(section).toMatchObject({ kind: 'section', whose: { is: 'each member' } })
    expect(checkContent(read(editor, sheet)).ok).toBe(true)
    editor.commands.openSection()
    expect(ids(editor)).toContain('l')
    expect(read(editor, sheet).blocks.every(({ kind }) => kind !== 'section')).toBe(true)
    editor.destroy()
  })
  test('the cells of a table become places, each with an id of its own when a table is put twice', () => {
    const places = content(table('t', ['Rope', 'kg'], ['hemp', { space: { id: 'c', kind: 'cell', numeric: true } }]))
    const editor = opened(places)
    editor.commands.setTextSelection(4)
    editor.commands.copyBlock()
    const spaces = answerSpaces(read(editor, places))
    expect(spaces.map(({ kind }) => kind)).toEqual(['cell', 'cell'])
    expect(new Set(spaces.map(({ id }) => id)).size).toBe(2)
    editor.destroy()
  })
})

/** As the editor takes what is typed: whoever handles it, else it is put in place of what is selected. */
const type = (editor: Editor, letters: string) => {
  for (const letter of letters) {
    const { view } = editor
    const { from, to } = view.state.selection
    const put = () => view.state.tr.insertText(letter, from, to)
    if (!view.someProp('handleTextInput', (handle) => handle(view, from, to, letter, put))) view.dispatch(put())
  }
}
const enter = (editor: Editor) => {
  const event = new KeyboardEvent('keydown', { key: 'Enter' })
  editor.view.someProp('handleKeyDown', (handle) => handle(editor.view, event))
}

describe('numbered lists', () => {
  const list = (id: string, start: number, ...items: string[]): Block => ({
    id,
    kind: 'text',
    rich: {
      type: 'orderedList',
      attrs: { start },
      content: items.map((item) => ({
        type: 'listItem',
        content: [{ type: 'paragraph', ...(item && { content: [{ type: 'text', text: item }] }) }],
      })),
    },
  })
  /** The page in short: lists as the numbers of their items with their words, all else by its kind. */
  const inShort = (editor: Editor, some: WorksheetContent) =>
    read(editor, some).blocks.map((block) =>
      block.kind === 'text' && block.rich.type === 'orderedList'
        ? block.rich.content!.map(
            (item, at) =>
              `${Number(block.rich.attrs!['start']) + at}. ${item.content![0]!.content?.map(({ text: words }) => words).join('') ?? ''}`,
          )
        : block.kind,
    )
  /** Sets the caret behind some words. */
  const behind = (editor: Editor, words: string) =>
    editor.state.doc.descendants((node, at) => {
      if (node.isText && node.text === words) editor.commands.setTextSelection(at + words.length)
    })
  const questions = content(list('q', 1, 'Why?', 'Where?', 'When?'))

  test('an answer space stands under its question, and the list goes on after it; one step of undo', () => {
    const editor = opened(questions)
    behind(editor, 'Why?')
    editor.commands.putSpace('line')
    expect(inShort(editor, questions)).toEqual([['1. Why?'], 'line', ['2. Where?', '3. When?']])
    behind(editor, 'Where?')
    editor.commands.putSpace('passage')
    behind(editor, 'When?')
    editor.commands.putSpace('line')
    const all = [['1. Why?'], 'line', ['2. Where?'], 'passage', ['3. When?'], 'line']
    expect(inShort(editor, questions)).toEqual(all)
    expect(checkContent(read(editor, questions)).ok).toBe(true)
    // Each has an id of its own; the first keeps the one it had.
    const ids = read(editor, questions).blocks.map(({ id }) => id)
    expect([new Set(ids).size, ids[0]]).toEqual([6, 'q'])
    editor.commands.undo()
    editor.commands.undo()
    editor.commands.undo()
    expect(inShort(editor, questions)).toEqual([['1. Why?', '2. Where?', '3. When?']])
    editor.destroy()
  })
  test('questions added or taken out before move the numbers of those after', () => {
    const editor = opened(
      content(list('q', 1, 'Why?'), { id: 'l', kind: 'line', width: 'full' }, list('r', 2, 'When?')),
    )
    behind(editor, 'Why?')
    editor.commands.splitListItem('listItem')
    editor.commands.insertContent('Where?')
    expect(inShort(editor, questions)).toEqual([['1. Why?', '2. Where?'], 'line', ['3. When?']])
    editor.commands.undo()
    // The list before it gone, it is the first.
    editor.commands.setTextSelection(3)
    editor.commands.removeBlock()
    expect(inShort(editor, questions)).toEqual(['line', ['1. When?']])
    editor.destroy()
  })
  test('a list that begins at a number of its own keeps it', () => {
    const own = content(list('q', 1, 'Why?'), list('r', 7, 'When?'))
    const editor = opened(own)
    behind(editor, 'Why?')
    editor.commands.splitListItem('listItem')
    expect(inShort(editor, own)).toEqual([['1. Why?', '2. '], ['7. When?']])
    behind(editor, 'When?')
    expect(numberedListAt(editor)).toMatchObject({ start: 7, next: 3 })
    editor.view.dispatch(editor.state.tr.setNodeAttribute(numberedListAt(editor)!.at, 'start', 3))
    behind(editor, 'Why?')
    editor.commands.splitListItem('listItem')
    expect(inShort(editor, own).at(-1)).toEqual(['4. When?'])
    editor.destroy()
  })
  test('a list parted by a line of text does not begin again at 1', () => {
    const editor = opened(questions)
    behind(editor, 'Why?')
    editor.commands.splitListItem('listItem')
    editor.commands.liftListItem('listItem')
    editor.commands.insertContent('Look at the chart.')
    expect(inShort(editor, questions)).toEqual([['1. Why?'], 'text', ['2. Where?', '3. When?']])
    editor.destroy()
  })
  test('Enter behind a space under a question begins the next one', () => {
    const editor = opened(content(list('q', 1, 'Why?')))
    behind(editor, 'Why?')
    editor.commands.putSpace('line')
    enter(editor)
    editor.commands.insertContent('Where?')
    expect(inShort(editor, questions)).toEqual([['1. Why?'], 'line', ['2. Where?']])
    // Between two questions it is a question too.
    editor.commands.setNodeSelection(editor.state.doc.child(0).nodeSize)
    enter(editor)
    editor.commands.insertContent('How?')
    expect(inShort(editor, questions)).toEqual([['1. Why?'], 'line', ['2. How?', '3. Where?']])
    editor.destroy()
  })
  test('of lists changed in any order, those that go on keep going on', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom('put', 'split', 'remove', 'item'), fc.nat(60)), { maxLength: 12 }),
        (deeds) => {
          const editor = opened(questions)
          for (const [deed, at] of deeds) {
            const { doc, tr } = editor.state
            editor.view.dispatch(tr.setSelection(Selection.near(doc.resolve(Math.min(at, doc.content.size)))))
            if (deed === 'put') editor.commands.putSpace('line')
            else if (deed === 'split') editor.commands.splitListItem('listItem')
            else if (deed === 'item') enter(editor)
            else if (read(editor, questions).blocks.length > 1 && !editor.isActive('orderedList'))
              editor.commands.removeBlock()
          }
          const numbers = inShort(editor, questions).flatMap((one) =>
            Array.isArray(one) ? one.map((words) => Number.parseInt(words)) : [],
          )
          expect(numbers).toEqual(numbers.map((_, index) => index + 1))
          editor.destroy()
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('typing on', () => {
  const said = (editor: Editor) => {
    const parts: string[] = []
    editor.state.doc.descendants((node) => {
      if (node.isText) parts.push(node.text!)
      else if (node.isAtom) parts.push(`[${node.type.name}]`)
      else if (node.type.name === 'paragraph') parts.push('¶')
    })
    return parts.join('')
  }

  test('a gap put into a sentence stays; the sentence goes on behind it', () => {
    const sheet = content(text('a', 'At '))
    const editor = opened(sheet)
    editor.commands.setTextSelection(4)
    editor.commands.putSpace('gap')
    type(editor, ' the tide is ')
    editor.commands.putFormula('x', false)
    type(editor, '.')
    expect(said(editor)).toBe('¶At [gap] the tide is [formula].')
    // What is put is a step of undo by itself, however quickly one types before and after it.
    editor.commands.undo()
    editor.commands.undo()
    expect(said(editor)).toBe('¶At [gap] the tide is ')
    editor.destroy()
  })

  test('with a gap selected, what is typed goes behind it, and Enter breaks the line there', () => {
    const editor = opened(content(text('a', 'At ')))
    editor.commands.setTextSelection(4)
    editor.commands.putSpace('gap')
    editor.commands.setNodeSelection(4)
    type(editor, ' noon')
    editor.commands.setNodeSelection(4)
    enter(editor)
    expect(said(editor)).toBe('¶At [gap]¶ noon')
    editor.destroy()
  })

  test('behind a space on the page a new line is begun, whatever comes after it', () => {
    for (const kind of ['line', 'passage', 'choice', 'number', 'drawing', 'file'] as const) {
      const editor = opened(content(text('a', 'One'), text('b', 'Two')))
      editor.commands.setTextSelection(2)
      editor.commands.putSpace(kind)
      type(editor, 'New')
      expect(said(editor)).toBe('¶One[answerSpace]¶New¶Two')
      editor.destroy()
    }
    const editor = opened(content(text('a', 'One')))
    editor.commands.setTextSelection(2)
    editor.commands.putBlock('pageBreak', {})
    enter(editor)
    enter(editor)
    type(editor, 'x')
    expect(said(editor)).toBe('¶One[pageBreak]¶¶x')
    editor.destroy()
  })

  test('what the caret stands right behind can be set up', () => {
    const editor = opened(content(text('a', 'At ')))
    editor.commands.setTextSelection(4)
    editor.commands.putSpace('gap')
    expect(partsAt(editor).piece).toMatchObject({ at: 4, node: { type: { name: 'gap' } } })
    type(editor, ' ')
    expect(partsAt(editor).piece).toBeNull()
    editor.destroy()
  })
})

test('formulas that cannot be worked out are marked at their cells, and no longer once they can', () => {
  const sheet = content(
    text('a', 'One'),
    table('t', ['Rope', { formula: 'A2 +' }], [{ formula: 'B2' }, { formula: 'A2' }]),
    table('u', ['1', { formula: 'A1 * 2' }]),
  )
  const editor = opened(sheet)
  const marked = () =>
    [...editor.view.dom.querySelectorAll('.cell-wrong')].map((cell) => cell.getAttribute('data-problem'))
  expect(marked()).toEqual([
    'This formula cannot be read.',
    expect.stringContaining('circle'),
    expect.stringContaining('circle'),
  ])
  const cells: number[] = []
  editor.state.doc.descendants((node, at) => {
    if (typeof node.attrs['formula'] === 'string') cells.push(at)
  })
  expect(cells.map((at) => formulaProblemAt(editor.state, at) !== null)).toEqual([true, true, true, false])
  const mend = (at: number, formula: string) =>
    editor.view.dispatch(editor.state.tr.setNodeAttribute(at, 'formula', formula))
  mend(cells[0]!, '2')
  mend(cells[1]!, 'B1')
  expect(marked()).toEqual([])
  editor.destroy()
})

describe('proposals', () => {
  const proposed: Block[] = [
    text(
      'q',
      'The tide goes ',
      { type: 'gap', attrs: { space: { id: 'g', kind: 'gap', width: 6, proposed: { was: '____' } } } },
      ' now.',
    ),
    { id: 'l', kind: 'passage', lines: 2, proposed: { was: '______\n______' } },
    table('t', ['Rope', 'kg'], ['hemp', { space: { id: 'c', kind: 'cell', numeric: true, proposed: { was: '' } } }]),
  ]
  const sheet = content(...proposed)
  const placeOf = (editor: Editor, id: string) => {
    let at = -1
    editor.state.doc.descendants((node, pos) => {
      if ((node.attrs['space'] as { id?: string } | null)?.id === id) at = pos
    })
    return at
  }

  test('are counted; taken they are answer spaces like any other', () => {
    const editor = opened(sheet)
    expect(countSpaces(editor.state.doc)).toEqual({ spaces: 3, proposed: 3, points: 0 })
    takeSpace(editor, placeOf(editor, 'g'))
    expect(countSpaces(editor.state.doc).proposed).toBe(2)
    takeAllSpaces(editor)
    expect(countSpaces(editor.state.doc)).toEqual({ spaces: 3, proposed: 0, points: 0 })
    editor.destroy()
  })
  test('left, what was there stands there again', () => {
    const editor = opened(sheet)
    for (const id of ['c', 'l', 'g']) leaveSpace(editor, placeOf(editor, id))
    const after = read(editor, sheet)
    expect(answerSpaces(after)).toEqual([])
    expect(editor.getText()).toContain('The tide goes ____ now.')
    expect(after.blocks.map(({ kind }) => kind)).toEqual(['text', 'text', 'text', 'table'])
    editor.destroy()
  })
})
