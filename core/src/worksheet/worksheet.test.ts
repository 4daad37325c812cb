import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { BLOCK_LIMIT, checkContent } from './check.js'
import type { Block } from './content.js'
import { answerSpaces } from './walk.js'
import { plainText, spaceLabel } from './words.js'

const paragraph = (id: string, text: string): Block => ({
  id,
  kind: 'text',
  rich: { type: 'paragraph', content: [{ type: 'text', text }] },
})
const CHOICE: Block = {
  id: 'c',
  kind: 'choice',
  many: false,
  options: [
    { id: 'o1', text: 'full moon' },
    { id: 'o2', text: 'any windy day' },
  ],
}
const BLOCKS: readonly Block[] = [
  {
    id: 'h',
    kind: 'text',
    rich: {
      type: 'heading',
      attrs: { level: 1 },
      content: [{ type: 'text', text: 'Tides', marks: [{ type: 'bold' }] }],
    },
  },
  {
    id: 'u',
    kind: 'text',
    rich: {
      type: 'bulletList',
      content: [
        {
          type: 'listItem',
          content: [
            {
              type: 'paragraph',
              content: [{ type: 'text', text: 'high' }, { type: 'hardBreak' }, { type: 'text', text: 'low' }],
            },
          ],
        },
      ],
    },
  },
  paragraph('q1', 'At what time?'),
  { id: 'a1', kind: 'line', width: 'short' },
  { id: 'a2', kind: 'passage', lines: 4 },
  CHOICE,
  { id: 'n', kind: 'number', unit: 'm' },
]
const content = (...blocks: readonly unknown[]) => ({ version: 2, page: 'A4', source: '', blocks })

test('a worksheet is read back as it was', () => {
  expect(checkContent(JSON.parse(JSON.stringify(content(...BLOCKS))))).toEqual({ ok: true, value: content(...BLOCKS) })
})

test('what the model does not know is left out, so that it cannot be kept by accident', () => {
  const input = content({
    ...paragraph('q', 'x'),
    onclick: 'evil()',
    rich: {
      type: 'paragraph',
      attrs: { style: 'x' },
      content: [{ type: 'text', text: 'x', marks: [{ type: 'link', attrs: { href: 'javascript:x' } }] }],
    },
  })
  expect(checkContent(input)).toEqual({ ok: true, value: content(paragraph('q', 'x')) })
})

describe('problems are said at their place', () => {
  test.each<[string, unknown]>([
    ['content', null],
    ['content', { version: 3, blocks: [] }],
    ['blocks.1.id', content(paragraph('q', 'x'), paragraph('q', 'y'))],
    ['blocks.0.kind', content({ id: 'x', kind: 'script' })],
    ['blocks.0.rich', content({ id: 'x', kind: 'text', rich: { type: 'iframe' } })],
    [
      'blocks.0.rich.content.0',
      content({ id: 'x', kind: 'text', rich: { type: 'paragraph', content: [{ type: 'heading' }] } }),
    ],
    ['blocks.0.lines', content({ id: 'x', kind: 'passage', lines: 1 })],
    ['blocks.0.unit', content({ id: 'x', kind: 'number', unit: 'x'.repeat(31) })],
    ['blocks.0.options', content({ ...CHOICE, options: [{ id: 'o', text: 'only one' }] })],
    [
      'blocks.0.options.1.text',
      content({
        ...CHOICE,
        options: [
          { id: 'o', text: 'a' },
          { id: 'p', text: ' ' },
        ],
      }),
    ],
    [
      'blocks.0.options.1.id',
      content({
        ...CHOICE,
        options: [
          { id: 'o', text: 'a' },
          { id: 'o', text: 'b' },
        ],
      }),
    ],
    ['blocks', content(...Array.from({ length: BLOCK_LIMIT + 1 }, (_, at) => paragraph(`b${at}`, 'x')))],
  ])('%s', (field, input) => {
    const checked = checkContent(input)
    expect(checked.ok).toBe(false)
    if (!checked.ok) {
      expect(checked.problems.map((problem) => problem.field)).toContain(field)
      for (const { sentence } of checked.problems) expect(sentence).toMatch(/[.:]/)
    }
  })

  test('lists nested too deep are refused, not followed for ever', () => {
    let node: unknown = { type: 'paragraph' }
    for (let depth = 0; depth < 40; depth++)
      node = { type: 'bulletList', content: [{ type: 'listItem', content: [node] }] }
    expect(checkContent(content({ id: 'x', kind: 'text', rich: node })).ok).toBe(false)
  })

  test('any JSON is a worksheet or problems, and what passes passes again unchanged', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.jsonValue(),
          fc.array(fc.jsonValue()).map((blocks) => ({ version: 2, blocks })),
        ),
        (input) => {
          const checked = checkContent(input)
          if (checked.ok) expect(checkContent(checked.value)).toEqual(checked)
        },
      ),
    )
  })
})

test('answer spaces are named by their number and the print before them', () => {
  const worksheet = { version: 2 as const, page: 'A4' as const, source: '', blocks: BLOCKS }
  expect(answerSpaces(worksheet).map(({ id }) => spaceLabel(worksheet, id))).toEqual([
    'Answer 1: At what time?',
    'Answer 2: At what time?',
    'Answer 3: At what time?',
    'Answer 4: At what time?',
  ])
  expect(spaceLabel({ blocks: [CHOICE] }, 'c')).toBe('Answer 1')
  expect(plainText((BLOCKS[1] as { rich: Parameters<typeof plainText>[0] }).rich)).toBe('high\nlow')
})
