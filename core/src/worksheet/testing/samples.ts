import fc from 'fast-check'
import {
  type Block,
  type PlainBlock,
  type RichNode,
  STANDING_KINDS,
  type TableBlock,
  type TableCell,
  type WorksheetContent,
} from '../content.js'

// Worksheets to test with: small ones by hand, and any that the model allows.

export const content = (...blocks: readonly Block[]): WorksheetContent => ({
  version: 2,
  page: 'A4',
  source: '',
  blocks,
})

export const text = (id: string, ...parts: readonly (string | RichNode)[]): PlainBlock => ({
  id,
  kind: 'text',
  rich: {
    type: 'paragraph',
    content: parts.map((part) => (typeof part === 'string' ? { type: 'text', text: part } : part)),
  },
})

export const cell = (inside: string | Partial<TableCell>): TableCell => ({
  across: 1,
  down: 1,
  head: false,
  rich: typeof inside === 'string' && inside ? [{ type: 'paragraph', content: [{ type: 'text', text: inside }] }] : [],
  space: null,
  formula: null,
  ...(typeof inside === 'object' && inside),
})

export const table = (id: string, ...rows: readonly (readonly (string | Partial<TableCell>)[])[]): TableBlock => ({
  id,
  kind: 'table',
  rows: rows.map((row) => row.map(cell)),
})

/** Ids that count up: `n1`, `n2`, … */
export function counting(prefix = 'n'): () => string {
  let count = 0
  return () => `${prefix}${++count}`
}

const words = fc.stringMatching(/^[A-Za-zäéñ ,.]{1,30}$/).map((found) => found.replace(/\s+/g, ' ').trim() || 'tide')

/** Any worksheet that the model allows, each block with an id of its own. */
export const anyContent: fc.Arbitrary<WorksheetContent> = fc
  .record({
    page: fc.constantFrom('A4' as const, 'Letter' as const, { width: 150, height: 200 }),
    source: words,
    kinds: fc.array(
      fc.tuple(
        fc.constantFrom(
          ...STANDING_KINDS,
          ...(['text', 'gap', 'table', 'picture', 'page break', 'link', 'backdrop', 'section'] as const),
        ),
        words,
        fc.integer({ min: 2, max: 40 }),
      ),
      { maxLength: 12 },
    ),
  })
  .map(({ page, source, kinds }) => {
    const blocks = kinds.map(([kind, said, number], at): Block => {
      const id = `b${at}`
      switch (kind) {
        case 'text':
          return {
            id,
            kind: 'text',
            rich: {
              type: 'heading',
              attrs: { level: 1 + (number % 3) },
              content: [
                { type: 'text', text: said, marks: [{ type: 'bold' }, { type: 'colour', attrs: { name: 'tide' } }] },
                { type: 'formula', attrs: { tex: 'x^2', large: false } },
              ],
            },
          }
        case 'gap':
          return text(id, said, {
            type: 'gap',
            attrs: { space: { id: `${id}g`, kind: 'gap', width: 3 + number, accepted: [said] } },
          })
        case 'line':
          return { id, kind, width: number % 2 ? 'short' : 'full', label: said, points: number, accepted: [said] }
        case 'passage':
          return { id, kind, lines: number, starter: said, wanted: { least: number, most: null } }
        case 'choice':
          return {
            id,
            kind,
            many: number % 2 === 0,
            options: [
              { id: 'o1', text: said },
              { id: 'o2', text: 'other' },
            ],
            right: ['o1'],
          }
        case 'number':
          return { id, kind, unit: 'm', value: String(number), tolerance: 0.5, hint: said }
        case 'drawing':
          return { id, kind, height: 10 + number, ground: number % 2 ? 'm1' : null }
        case 'file':
          return { id, kind, most: 1 + (number % 10), required: true }
        case 'table':
          return table(
            id,
            [said, 'kg'],
            ['hemp', { space: { id: `${id}c`, kind: 'cell', numeric: true, value: '4' } }],
            ['sum', { formula: 'sum(B2:B2)' }],
          )
        case 'picture':
          return {
            id,
            kind,
            media: 'm1',
            alt: said,
            pixelWidth: 100 * number,
            pixelHeight: 300,
            width: 5 + number,
            turn: 90,
            crop: { x: 0.1, y: 0, width: 0.5, height: 0.5 },
            place: 'middle',
          }
        case 'page break':
          return { id, kind }
        case 'link':
          return { id, kind, url: 'https://fennickquay.example/tides', title: said, note: '' }
        case 'backdrop':
          return {
            id,
            kind,
            media: 'm2',
            alt: said,
            width: 210,
            height: 297,
            spaces: [
              {
                box: { x: 0.1, y: 0.2, width: 0.5, height: 0.05 },
                space: { id: `${id}s`, kind: 'line', width: 'full' },
              },
            ],
          }
        case 'section':
          return {
            id,
            kind,
            title: said,
            whose: { is: number % 2 ? 'each member' : 'everyone' },
            blocks: [text(`${id}t`, said), { id: `${id}l`, kind: 'line', width: 'full' }],
          }
      }
    })
    return { version: 2, page, source: source.trim(), blocks }
  })
