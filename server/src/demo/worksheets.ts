import type { Block, ChoiceSpace, LineSpace, NumberSpace, RichNode, WorksheetContent } from '@gavrin/core'
import type { StaffKey } from './school.js'

/** A worksheet of the demo library. */
export interface DemoWorksheet {
  readonly key: 'tides' | 'lighthouse' | 'rope' | 'safety' | 'glossary'
  readonly title: string
  readonly owner: StaffKey
  readonly content: WorksheetContent
}

const words = (text: string): RichNode[] =>
  text
    .split('*')
    .map((part, index): RichNode =>
      index % 2 ? { type: 'text', text: part, marks: [{ type: 'bold' }] } : { type: 'text', text: part },
    )
    .filter(({ text: part }) => part !== '')

/** Print; between asterisks it is bold. */
const print = (id: string, text: string): Block => ({
  id,
  kind: 'text',
  rich: { type: 'paragraph', content: words(text) },
})
const heading = (id: string, text: string, level = 2): Block => ({
  id,
  kind: 'text',
  rich: { type: 'heading', attrs: { level }, content: words(text) },
})
const bullets = (id: string, ...items: string[]): Block => ({
  id,
  kind: 'text',
  rich: {
    type: 'bulletList',
    content: items.map((item) => ({ type: 'listItem', content: [{ type: 'paragraph', content: words(item) }] })),
  },
})
const line = (id: string, width: 'short' | 'full' = 'full'): LineSpace => ({ id, kind: 'line', width })
const passage = (id: string, lines: number, points = 0): Block => ({
  ...{ id, kind: 'passage', lines },
  ...(points > 0 && { points }),
})
const number = (id: string, unit: string): NumberSpace => ({ id, kind: 'number', unit })
const choice = (id: string, many: boolean, ...options: string[]): ChoiceSpace => ({
  id,
  kind: 'choice',
  many,
  options: options.map((text, index) => ({ id: `${id}-${index + 1}`, text })),
})

export const DEMO_WORKSHEETS: readonly DemoWorksheet[] = [
  {
    key: 'tides',
    title: 'Reading a tide table',
    owner: 'okonjo',
    content: {
      version: 2,
      page: 'A4',
      source: '',
      blocks: [
        heading('t-head', 'Reading a tide table', 1),
        print('t-intro', 'Use the table for Fennick Quay, 3 December. Heights are in metres above chart datum.'),
        bullets('t-table', '*05:48* high water, 4.6 m', '*12:03* low water, 0.9 m', '*18:15* high water, 4.3 m'),
        print('t-q1', '*1.* At what time is the first high water?'),
        { ...line('t1', 'short'), points: 1, accepted: ['05:48', '5:48'] },
        print('t-q2', '*2.* How far does the water fall between first high and first low?'),
        { ...number('t2', 'm'), points: 2, value: '3.7', tolerance: 0.1, hint: 'Take the low from the high.' },
        print(
          't-q3',
          '*3.* A boat needs 1.5 m of water over the sill. Between which times can it leave? Say how you know.',
        ),
        passage('t3', 4, 6),
        print('t-q4', '*4.* Why are the two high waters not equally high?'),
        passage('t4', 3, 3),
        print('t-q5', '*5.* Spring tides come after'),
        { ...choice('t5', false, 'the first quarter', 'a full moon', 'any windy day'), points: 1, right: ['t5-2'] },
        print('t-q6', '*6.* Which of these make the water higher than the table says?'),
        choice('t6', true, 'low air pressure', 'wind from the sea', 'a clear night', 'rain inland'),
        heading('t-plan', 'Plan a crossing', 2),
        print('t-q7', '*7.* How long is it from the first high water to the second, in minutes?'),
        { ...number('t7', 'min'), points: 2, value: '747', tolerance: 1 },
        print('t-q8', '*8.* Give the crossing a name for the log book.'),
        line('t8'),
        print('t-q9', '*9.* What would you tell a crew that wants to leave at noon?'),
        passage('t9', 4),
      ],
    },
  },
  {
    key: 'lighthouse',
    title: 'Lighthouse sectors',
    owner: 'okonjo',
    content: {
      version: 2,
      page: 'A4',
      source: '',
      blocks: [
        heading('l-head', 'Lighthouse sectors', 1),
        print('l-intro', 'From the sea, Fennick light shows *red*, *white* or *green*, depending on where you are.'),
        print('l-q1', '*1.* You see white and steer straight for the light. Are you safe?'),
        choice('l1', false, 'yes, all the way in', 'yes, until the buoy', 'no'),
        print('l-q2', '*2.* How wide is the white sector?'),
        number('l2', '°'),
        print('l-q3', '*3.* Explain to a new crew what to do when the light turns red.'),
        passage('l3', 5),
      ],
    },
  },
  {
    key: 'rope',
    title: 'Rope strength test',
    owner: 'sandvik',
    content: {
      version: 2,
      page: 'A4',
      source: '',
      blocks: [
        heading('r-head', 'Rope strength test', 1),
        print('r-intro', 'Hang weights from each rope until it begins to fray. Write down the last weight it held.'),
        print('r-q1', '*Hemp*, 3 mm'),
        number('r1', 'kg'),
        print('r-q2', '*Cotton*, 3 mm'),
        number('r2', 'kg'),
        print('r-q3', '*Nylon*, 3 mm'),
        number('r3', 'kg'),
        print('r-q4', 'Which rope would you moor a dinghy with?'),
        choice('r4', false, 'hemp', 'cotton', 'nylon'),
        print('r-q5', 'Say why, and what your test could not tell you.'),
        passage('r5', 4),
      ],
    },
  },
  {
    key: 'safety',
    title: 'Quayside safety',
    owner: 'okonjo',
    content: {
      version: 2,
      page: 'A4',
      source: '',
      blocks: [
        heading('s-head', 'Quayside safety', 1),
        print('s-intro', 'Read this before we walk to the harbour on Friday.'),
        bullets(
          's-list',
          'Stay behind the yellow line, *always*.',
          'Life jackets are put on at the gate and taken off at the gate.',
          'Nobody walks on nets, ropes or chains.',
        ),
        print('s-q1', '*1.* Where are the life jackets put on?'),
        line('s1', 'short'),
        print('s-q2', '*2.* Somebody falls in. What do you do first?'),
        choice('s2', false, 'jump after them', 'shout and throw the ring', 'run to the office'),
      ],
    },
  },
  {
    key: 'glossary',
    title: 'Sea-word glossary',
    owner: 'okonjo',
    content: {
      version: 2,
      page: 'A4',
      source: '',
      blocks: [
        heading('g-head', 'Sea-word glossary', 1),
        print('g-q1', 'What is *slack water*?'),
        passage('g1', 2),
        print('g-q2', 'What is a *fairway*?'),
        passage('g2', 2),
        print('g-q3', 'Your own word'),
        line('g3', 'short'),
      ],
    },
  },
]
