import { SPACE_LIMITS } from '../worksheet/kinds/basics.js'
import { ANSWER_KINDS, type AnswerKind, KINDS, STANDING_KINDS } from '../worksheet/kinds/index.js'
import { type Schema, idSchema as id, objectSchema as object, textSchema as text } from '../worksheet/kinds/schema.js'

const ref = (name: string): Schema => ({ $ref: `#/$defs/${name}` })
const basics = {
  id,
  label: text(SPACE_LIMITS.label),
  points: { type: 'number', minimum: 0, maximum: SPACE_LIMITS.points },
  hint: text(SPACE_LIMITS.hint),
  required: { const: true },
  model: text(SPACE_LIMITS.model),
  proposed: object({ was: text(SPACE_LIMITS.proposal) }),
}
const spaceSchema = (kind: AnswerKind): Schema => {
  const { properties, required } = KINDS[kind].schema
  return object({ ...basics, kind: { const: kind }, ...properties }, ['id', 'kind', ...required])
}
const share = { type: 'number', minimum: 0, maximum: 1 }
const millimetres = { type: 'number', minimum: 30, maximum: 2000 }
const standing = STANDING_KINDS.map((kind) => ref(`${kind}Space`))
const plain = [
  ...standing,
  ...['textBlock', 'pictureBlock', 'pageBreak', 'linkBlock', 'tableBlock', 'backdropBlock'].map(ref),
]

/** What `worksheet.json` in an archive looks like, as docs/archive.md says. */
export const archiveSchema = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Gavrin worksheet archive: worksheet.json',
  ...object({
    format: { const: 'gavrin-worksheet' },
    version: { const: 1 },
    title: text(200),
    content: ref('content'),
    media: {
      type: 'array',
      items: object({
        id,
        file: { type: 'string', pattern: '^media/[A-Za-z0-9_-]{1,64}\\.(png|jpg|webp)$' },
        type: { enum: ['image/png', 'image/jpeg', 'image/webp'] },
        width: { type: 'integer', minimum: 1 },
        height: { type: 'integer', minimum: 1 },
      }),
    },
  }),
  $defs: {
    content: object(
      {
        version: { const: 2 },
        page: { oneOf: [{ enum: ['A4', 'Letter'] }, object({ width: millimetres, height: millimetres })] },
        source: text(300),
        language: text(35),
        spelling: { const: false },
        blocks: { type: 'array', maxItems: 1000, items: { oneOf: [...plain, ref('section')] } },
      },
      ['version', 'page', 'source', 'blocks'],
    ),
    section: object({
      id,
      kind: { const: 'section' },
      title: text(200),
      whose: {
        oneOf: [
          object({ is: { enum: ['everyone', 'each member', 'each group'] } }),
          object({ is: { const: 'named' }, people: { type: 'array', items: object({ id, name: text(610) }) } }),
        ],
      },
      blocks: { type: 'array', items: { oneOf: plain } },
    }),
    textBlock: object({ id, kind: { const: 'text' }, rich: ref('rich') }),
    rich: object(
      {
        type: {
          enum: [
            'paragraph',
            'heading',
            'bulletList',
            'orderedList',
            'listItem',
            'text',
            'hardBreak',
            'formula',
            'gap',
          ],
        },
        attrs: { type: 'object' },
        content: { type: 'array', items: ref('rich') },
        marks: {
          type: 'array',
          items: object(
            {
              type: { enum: ['bold', 'italic', 'underline', 'sub', 'sup', 'colour', 'link'] },
              attrs: { type: 'object' },
            },
            ['type'],
          ),
        },
        text: { type: 'string', minLength: 1 },
      },
      ['type'],
    ),
    pictureBlock: object({
      id,
      kind: { const: 'picture' },
      media: id,
      alt: text(1000),
      pixelWidth: { type: 'number', minimum: 1 },
      pixelHeight: { type: 'number', minimum: 1 },
      width: { type: 'number', minimum: 5, maximum: 100 },
      turn: { enum: [0, 90, 180, 270] },
      crop: { oneOf: [{ type: 'null' }, ref('box')] },
      place: { enum: ['start', 'middle', 'end'] },
    }),
    pageBreak: object({ id, kind: { const: 'page break' } }),
    linkBlock: object({ id, kind: { const: 'link' }, url: text(2000), title: text(200), note: text(500) }),
    tableBlock: object({
      id,
      kind: { const: 'table' },
      rows: { type: 'array', minItems: 1, maxItems: 100, items: { type: 'array', maxItems: 20, items: ref('cell') } },
    }),
    cell: object({
      across: { type: 'integer', minimum: 1, maximum: 20 },
      down: { type: 'integer', minimum: 1, maximum: 100 },
      head: { type: 'boolean' },
      rich: { type: 'array', items: ref('rich') },
      space: { oneOf: [{ type: 'null' }, ref('cellSpace')] },
      formula: { type: ['string', 'null'], maxLength: 200 },
    }),
    backdropBlock: object({
      id,
      kind: { const: 'backdrop' },
      media: id,
      alt: text(5000),
      width: millimetres,
      height: millimetres,
      spaces: { type: 'array', items: object({ box: ref('box'), space: { oneOf: standing } }) },
    }),
    box: object({ x: share, y: share, width: share, height: share }),
    ...Object.fromEntries(ANSWER_KINDS.map((kind) => [`${kind}Space`, spaceSchema(kind)])),
  },
}
