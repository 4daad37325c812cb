import type { Block, RichNode, TableCell, WorksheetContent } from '@gavrin/core'
import type { StaffKey } from './school.js'

/** A worksheet of the demo library that shows what worksheets can be; nothing is handed out of it. */
export interface RichWorksheet {
  readonly title: string
  readonly owner: StaffKey
  readonly folder: string
  readonly pinned?: boolean
  /** What all teachers of the school may do with it. */
  readonly schoolMay?: 'view' | 'edit'
  /** Its editions, one after the other. */
  readonly editions: readonly WorksheetContent[]
  /** A picture that it shows, by the name of the sample; its id stands as `picture` in the content. */
  readonly picture?: string
}

const say = (...parts: readonly (string | RichNode)[]): RichNode[] =>
  parts.map((part) => (typeof part === 'string' ? { type: 'text', text: part } : part))
const print = (id: string, ...parts: readonly (string | RichNode)[]): Extract<Block, { kind: 'text' }> => ({
  id,
  kind: 'text',
  rich: { type: 'paragraph', content: say(...parts) },
})
const heading = (id: string, text: string, level = 1): Extract<Block, { kind: 'text' }> => ({
  id,
  kind: 'text',
  rich: { type: 'heading', attrs: { level }, content: say(text) },
})
const gap = (id: string, width: number, ...accepted: string[]): RichNode => ({
  type: 'gap',
  attrs: { space: { id, kind: 'gap', width, points: 1, accepted } },
})
const formula = (tex: string): RichNode => ({ type: 'formula', attrs: { tex, large: false } })
const cell = (inside: string | Partial<TableCell>): TableCell => ({
  across: 1,
  down: 1,
  head: false,
  rich: typeof inside === 'string' && inside ? [{ type: 'paragraph', content: say(inside) }] : [],
  space: null,
  formula: null,
  ...(typeof inside === 'object' && inside),
})
const head = (text: string): TableCell => ({ ...cell(text), head: true })
const weight = (id: string): TableCell => cell({ space: { id, kind: 'cell', numeric: true } })
const sheet = (source: string, ...blocks: readonly Block[]): WorksheetContent => ({
  version: 2,
  page: 'A4',
  source,
  blocks,
})

const ropes = sheet(
  'Fennick Quay rope walk, shortened for class',
  heading('mr-head', 'Measuring ropes'),
  print('mr-intro', 'Hang weights from each rope until it begins to fray, twice. Write down the last weight it held.'),
  {
    id: 'mr-table',
    kind: 'table',
    rows: [
      [head('Rope'), head('First (kg)'), head('Second (kg)'), head('Mean (kg)')],
      [cell('hemp, 3 mm'), weight('mr-h1'), weight('mr-h2'), cell({ formula: 'round(mean(B2:C2), 1)' })],
      [cell('cotton, 3 mm'), weight('mr-c1'), weight('mr-c2'), cell({ formula: 'round(mean(B3:C3), 1)' })],
      [cell('nylon, 3 mm'), weight('mr-n1'), weight('mr-n2'), cell({ formula: 'round(mean(B4:C4), 1)' })],
      [
        cell('strongest'),
        cell({ formula: 'max(B2:B4)' }),
        cell({ formula: 'max(C2:C4)' }),
        cell({ formula: 'max(D2:D4)' }),
      ],
    ],
  },
  print('mr-q1', 'The pull on the rope is ', formula('F = m \\cdot g'), '. What does ', formula('g'), ' stand for?'),
  { id: 'mr-g', kind: 'line', width: 'full', points: 1, accepted: ['gravity', 'the pull of the earth'] },
  print('mr-q2', 'With ', formula('m = 14\\ \\text{kg}'), ', how large is ', formula('F'), '?'),
  { id: 'mr-f', kind: 'number', unit: 'N', points: 2, value: '137', tolerance: 3, hint: 'Take 9.8 for g.' },
  print('mr-q3', 'Draw how you fastened the rope.'),
  { id: 'mr-d', kind: 'drawing', height: 40, ground: null, points: 3 },
  print('mr-q4', 'Hand in a photograph of your test.'),
  { id: 'mr-p', kind: 'file', most: 2, required: true },
)

const frontPage = (lead: string): WorksheetContent =>
  sheet(
    '',
    heading('fp-head', 'Harbour front page'),
    print('fp-intro', lead),
    { id: 'fp-name', kind: 'line', width: 'short', label: 'Name of your newspaper', points: 1 },
    {
      id: 'fp-own',
      kind: 'section',
      title: 'Your story',
      whose: { is: 'each member' },
      blocks: [
        print('fp-q1', 'Write about one thing that happened at the quay this week.'),
        {
          id: 'fp-story',
          kind: 'passage',
          lines: 6,
          points: 6,
          starter: 'On Tuesday morning,',
          wanted: { least: 80, most: 150 },
        },
        print('fp-q2', 'A picture for it'),
        { id: 'fp-pic', kind: 'file', most: 1 },
      ],
    },
    { id: 'fp-break', kind: 'page break' },
    heading('fp-weather', 'The weather at sea', 2),
    print(
      'fp-w1',
      'Tomorrow the wind comes from the ',
      gap('fp-wind', 10, 'west', 'south-west'),
      ' and high water is at ',
      gap('fp-high', 8, '05:48', '5:48'),
      '.',
    ),
    {
      id: 'fp-link',
      kind: 'link',
      url: 'https://fennickquay.example/tides',
      title: 'Tide table of the harbour',
      note: 'Heights in metres above chart datum',
    },
  )

const shoreSurvey = sheet(
  '',
  heading('ss-head', 'Shore survey'),
  print('ss-intro', 'One survey of the whole shore. Each crew fills in its own stretch; read what the others found.'),
  {
    id: 'ss-stretch',
    kind: 'section',
    title: 'Stretch of shore',
    whose: { is: 'each group' },
    blocks: [
      print('ss-q1', 'What lies between the tide lines?'),
      { id: 'ss-found', kind: 'passage', lines: 3, points: 4 },
      print('ss-q2', 'How many kinds of shell did you count?'),
      { id: 'ss-shells', kind: 'number', unit: 'kinds', points: 1 },
    ],
  },
)

const knots = sheet('Fennick Quay sailing club', {
  id: 'kn-page',
  kind: 'backdrop',
  media: 'picture',
  alt: 'Knots of the harbour: three questions about the bowline and the clove hitch, with lines to write on.',
  width: 210,
  height: 297,
  spaces: [
    {
      box: { x: 0.097, y: 0.274, width: 0.806, height: 0.074 },
      space: { id: 'kn-1', kind: 'passage', lines: 2, label: 'Why must the loop not slip?', points: 2 },
    },
    {
      box: { x: 0.097, y: 0.438, width: 0.806, height: 0.037 },
      space: { id: 'kn-2', kind: 'line', width: 'full', label: 'Two places in the harbour', points: 2 },
    },
    {
      box: { x: 0.1, y: 0.609, width: 0.801, height: 0.124 },
      space: { id: 'kn-3', kind: 'passage', lines: 4, label: 'When not to trust a clove hitch', points: 3 },
    },
  ],
})

export const RICH_WORKSHEETS: readonly RichWorksheet[] = [
  {
    title: 'Knots of the harbour',
    owner: 'okonjo',
    folder: 'Ropes and boats',
    editions: [knots],
    picture: 'knots.png',
  },
  {
    title: 'Harbour front page',
    owner: 'okonjo',
    folder: 'Tides and harbours',
    pinned: true,
    editions: [
      frontPage('Your crew writes the front page of the harbour newspaper. Each of you has a story.'),
      frontPage('Your crew writes the front page of the harbour newspaper. Each of you has one story and one picture.'),
    ],
  },
  { title: 'Shore survey', owner: 'okonjo', folder: 'Tides and harbours', editions: [shoreSurvey] },
  { title: 'Measuring ropes', owner: 'sandvik', folder: 'Ropes', schoolMay: 'view', editions: [ropes] },
]

/** The folder that each of the plain demo worksheets lies in. */
export const PLAIN_FOLDERS: Readonly<Record<string, string>> = {
  'Reading a tide table': 'Tides and harbours',
  'Sea-word glossary': 'Tides and harbours',
  'Rope strength test': 'Ropes',
}
