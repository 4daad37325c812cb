import {
  type HandoutItem,
  type NoteText,
  type Statement,
  type Viewer,
  fingerprintChanges,
  plainItem,
  plainStatement,
  proofOf,
  withWay,
} from '@gavrin/core'
import type { INestApplication } from '@nestjs/common'
import { DataSource } from 'typeorm'
import { HandOutRuns } from '../handOut/handOutRuns.js'
import { HandoutService } from '../handout/handout.service.js'
import { planWorksheets } from '../slip/planFacts.js'
import { RecipeService } from '../handout/recipe.service.js'
import { ShelfService } from '../handout/shelf.service.js'
import { WalkInService } from '../handout/walkIn.service.js'
import { RosterService } from '../roster/roster.service.js'
import { studentsOf } from '../roster/students.js'
import { talkInCopies } from './said.js'
import { DEMO_SCHOOL_ID } from './school.js'
import { DAY, dueIn, opened, submitted, untouched, workIn, working } from './work.js'
import { inSchool } from '../database/inSchool.js'
import { WalkIn } from '../slip/slip.entity.js'
import { findHandout, handoutsOfSet } from '../slip/handoutSet.js'
import { Handout } from '../slip/slip.entity.js'
import { KeptGroupSet } from '../group/group.entity.js'

/** A class and who leads it. */
export interface DemoClass {
  readonly id: string
  readonly lead: Viewer
}
type Classes = ReadonlyMap<string, DemoClass>

/** Begins a handout, hands out what its proof says, and lets it lie since `givenAt`. */
export async function handOutDemo(
  app: INestApplication,
  { id: classId, lead: viewer }: DemoClass,
  title: string,
  statement: Statement,
  givenAt: number,
): Promise<string> {
  const { id } = await app.get(HandoutService).create(viewer, classId, { title, statement })
  await proveAndHandOut(app, viewer, id)
  const source = app.get(DataSource)
  const handout = await findHandout(source.manager, viewer, id)
  for (const part of await handoutsOfSet(source.manager, handout))
    await inSchool(source, viewer.schoolId).update(Handout, { id: part.id }, { handedOutAt: givenAt })
  return id
}

async function proveAndHandOut(app: INestApplication, viewer: Viewer, id: string): Promise<void> {
  const runs = app.get(HandOutRuns)
  const { statement, version, worksheets, parts } = await app.get(HandoutService).open(viewer, id)
  const { changes } = proofOf(statement, worksheets, parts, Date.now())
  await runs.handOut(viewer, id, { version, fingerprint: fingerprintChanges(changes) })
  await runs.settled()
}

const note = (...paragraphs: readonly (readonly (string | { token: string })[])[]): NoteText => ({
  type: 'doc',
  content: paragraphs.map((parts) => ({
    type: 'paragraph',
    content: parts.map((part) =>
      typeof part === 'string' ? { type: 'text', text: part } : { type: 'nameToken', attrs: part },
    ),
  })),
})

/** Handouts given in every way there is, with what happens to handouts afterwards. */
export async function giveEveryWay(
  app: INestApplication,
  classes: Classes,
  worksheets: { glossary: string; safety: string; rich: ReadonlyMap<string, string> },
  now: number,
): Promise<void> {
  const source = app.get(DataSource)
  const heron = classes.get('heron')!
  const tern = classes.get('tern')!
  const rich = (title: string) => worksheets.rich.get(title)!
  const unit = { id: null, name: 'Tides and harbours' }
  const [crews] = await inSchool(source, DEMO_SCHOOL_ID).find(
    KeptGroupSet,
    { classId: heron.id },
    { select: ['id', 'name'], order: { position: 'ASC' }, most: 1 },
  )
  const of = (item: HandoutItem, way: HandoutItem['way']) => withWay(item, way, crews ? [crews] : [])
  const times = (dueAt: number | null) => [{ classId: heron.id, opensAt: null, dueAt }]

  // Given as one for all first, written in by one, and mended: the one who wrote keeps what they wrote.
  const words = await handOutDemo(
    app,
    heron,
    'Our sea words',
    plainStatement([of(plainItem('words', worksheets.glossary, 1), 'one together')], times(null)),
    now - 5 * DAY,
  )
  await workIn(source, words, () => working(0.34), now - 5 * DAY, now - 5 * DAY + DAY)
  const together = await app.get(HandoutService).open(heron.lead, words)
  await app.get(HandoutService).keep(heron.lead, words, {
    title: 'Our sea words',
    version: together.version,
    statement: {
      ...together.statement,
      items: together.statement.items.map((item) => ({ ...of(item, 'one each'), carry: 'give to writer' })),
    },
  })
  await proveAndHandOut(app, heron.lead, words)
  await workIn(source, words, (i) => (i % 3 ? opened : untouched), now - 4 * DAY, now)

  // One for each crew, each member with a part of their own; the worksheet has been corrected since.
  const front = await handOutDemo(
    app,
    heron,
    'Harbour front page',
    {
      ...plainStatement([of(plainItem('front', rich('Harbour front page'), 1), 'one per group')], times(dueIn(5, now))),
      unit,
      marking: { kind: 'points', points: 20 },
      rubric: [
        { id: 'story', name: 'Everybody’s story', points: 12 },
        { id: 'look', name: 'The page as a whole', points: 5 },
        { id: 'weather', name: 'The weather is right', points: 3 },
      ],
      cover: {
        text: note(
          ['Dear ', { token: 'first' }, ','],
          [
            'you write for ',
            { token: 'group' },
            ' with ',
            { token: 'members' },
            '. The page is due on ',
            { token: 'date' },
            '.',
          ],
        ),
        by: 'mail',
        staffCopied: false,
      },
    },
    now - 3 * DAY,
  )
  await workIn(source, front, (i) => (i % 3 === 2 ? untouched : working(0.3 + 0.1 * (i % 4))), now - 3 * DAY, now)
  await talkInCopies(app, heron.lead, front, now)

  // One for the whole class with a place for each crew, and a link for those without an account.
  const survey = await handOutDemo(
    app,
    heron,
    'Shore survey',
    {
      ...plainStatement(
        [{ ...of(plainItem('survey', rich('Shore survey'), 1), 'one together'), groupSet: crews ?? null }],
        times(dueIn(4, now)),
      ),
      unit,
    },
    now - 2 * DAY,
  )
  await workIn(source, survey, () => working(0.4), now - 2 * DAY, now)
  const walkIns = app.get(WalkInService)
  await walkIns.set(
    heron.lead,
    survey,
    'survey',
    { permission: 'comment', open: true, endsAt: dueIn(4, now), places: 40 },
    false,
  )
  const [link] = await inSchool(source, DEMO_SCHOOL_ID).find(WalkIn, { handoutId: survey }, { select: ['code'] })
  await walkIns.enter(link!.code, 'Grandfather Lindqvist', '127.0.0.1', undefined)

  // Two classes, each with its own time; something to read and a link beside it; two readers for each copy.
  const knots = plainItem('knots', rich('Knots of the harbour'), 1)
  const both = await handOutDemo(
    app,
    heron,
    'Knots before the regatta',
    {
      ...plainStatement(
        [
          {
            ...knots,
            peers: {
              each: 2,
              may: 'comment',
              seed: 7,
              chosen: {},
              lookFor: ['Could you tie the knot from these words alone?', 'Which step would you ask the writer about?'],
              until: dueIn(7, now),
              named: false,
            },
          },
          { ...of(plainItem('rules', worksheets.safety, 1), 'to read'), ownCopies: true },
          {
            ...of(plainItem('club', null, null), 'to read'),
            link: { address: 'https://fennickquay.example/sailing-club', title: 'Sailing club, pictures of knots' },
          },
        ],
        [...times(dueIn(6, now)), { classId: tern.id, opensAt: null, dueAt: dueIn(8, now) }],
      ),
      pensDownAtDue: true,
      instructions: note(['Read “Quayside safety” first. Tie each knot with a real rope before you write.']),
    },
    now - DAY,
  )
  await workIn(source, both, (i) => (i % 5 === 0 ? submitted() : i % 2 ? opened : working(0.4)), now - DAY, now)

  // A student who came after it was handed out waits for a copy.
  const dunlin = classes.get('dunlin')!
  const rosters = app.get(RosterService)
  const late = (await studentsOf(source, DEMO_SCHOOL_ID, dunlin.id)).at(-1)!
  await rosters.setLeft(dunlin.lead, dunlin.id, [late.personId], true)
  const ropes = await handOutDemo(
    app,
    dunlin,
    'Measuring ropes',
    {
      ...plainStatement(
        [plainItem('ropes', rich('Measuring ropes'), 1)],
        [{ classId: dunlin.id, opensAt: null, dueAt: dueIn(3, now) }],
      ),
      joiners: 'wait',
      // Practice: it checks itself.
      checks: 'while writing',
    },
    now - 2 * DAY,
  )
  await workIn(source, ropes, (i) => (i % 2 ? working(0.5) : untouched), now - 2 * DAY, now)
  await rosters.setLeft(dunlin.lead, dunlin.id, [late.personId], false)

  const blankPage = (await planWorksheets(source, DEMO_SCHOOL_ID, [])).find(({ builtIn }) => builtIn === 'blank page')!
  await app.get(ShelfService).keep(heron.lead, heron.id, {
    version: 0,
    items: [
      of(plainItem('safety', worksheets.safety, 1), 'to read'),
      {
        ...of(plainItem('tides', null, null), 'to read'),
        link: { address: 'https://fennickquay.example/tides', title: 'Tide table of the harbour' },
      },
      of(plainItem('board', blankPage.id, 1), 'one together'),
    ],
  })
  await app.get(RecipeService).add(heron.lead, {
    name: 'Crews, with a letter',
    statement: {
      ...plainStatement([of(plainItem('crews', null, null), 'one per group')], []),
      cover: { text: note(['Dear ', { token: 'first' }, ',']), by: 'mail', staffCopied: false },
    },
  })
}
