import { STANDING_KINDS, type WorksheetContent, checkContent } from '@gavrin/core'
import { expect, test } from '@jest/globals'
import { changeKind, fromEditor, newSpace, toEditor } from '../src/editor/document'

const CONTENT: WorksheetContent = {
  version: 2,
  page: 'A4',
  source: '',
  blocks: [
    {
      id: 'h',
      kind: 'text',
      rich: {
        type: 'heading',
        attrs: { level: 2 },
        content: [{ type: 'text', text: 'Tides', marks: [{ type: 'bold' }] }],
      },
    },
    { id: 'p', kind: 'text', rich: { type: 'paragraph' } },
    { id: 'l', kind: 'line', width: 'short' },
    {
      id: 'c',
      kind: 'choice',
      many: true,
      options: [
        { id: 'a', text: 'A' },
        { id: 'b', text: 'B' },
      ],
    },
  ],
}

test('a worksheet opened in the editor and taken out again is the same, and sound', () => {
  const out = fromEditor(toEditor(CONTENT), CONTENT)
  expect(out).toEqual(CONTENT)
  expect(checkContent(out)).toEqual({ ok: true, value: CONTENT })
})

test('empty paragraphs at the end are room to type in, not part of the worksheet', () => {
  const document = toEditor(CONTENT)
  document.content!.push({ type: 'paragraph', attrs: { blockId: 'x' } }, { type: 'paragraph', attrs: { blockId: 'y' } })
  expect(fromEditor(document, CONTENT)).toEqual(CONTENT)
  expect(fromEditor(toEditor({ blocks: [] }), { page: 'A4', source: '' })).toEqual({
    version: 2,
    page: 'A4',
    source: '',
    blocks: [],
  })
})

test('every new answer space is sound as it is', () => {
  const blocks = (['line', 'passage', 'choice', 'number'] as const).map(newSpace)
  expect(checkContent({ version: 2, page: 'A4', source: '', blocks }).ok).toBe(true)
})

test('a space made one of another kind keeps what both kinds have, and its id', () => {
  const line = {
    id: 'a',
    kind: 'line',
    width: 'short',
    label: 'Rope',
    points: 0,
    hint: 'Look up.',
    required: true,
    model: 'hemp',
    accepted: ['hemp'],
  } as const
  expect(changeKind(line, 'passage')).toEqual({
    id: 'a',
    kind: 'passage',
    lines: 4,
    label: 'Rope',
    points: 0,
    hint: 'Look up.',
    required: true,
    model: 'hemp',
  })
  for (const from of STANDING_KINDS)
    for (const to of STANDING_KINDS) {
      const space = changeKind({ ...newSpace(from), points: 2 }, to)
      expect(checkContent({ version: 2, page: 'A4', source: '', blocks: [space] })).toMatchObject({
        ok: true,
        value: { blocks: [{ kind: to, points: 2 }] },
      })
    }
})
