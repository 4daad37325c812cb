import { type MarkChange, type RubricRow, type Viewer, NO_PARTS, answerSpaces } from '@gavrin/core'
import type { INestApplication } from '@nestjs/common'
import { randomUUID } from 'node:crypto'
import { DataSource } from 'typeorm'
import { CommentService } from '../comment/comment.service.js'
import { copyOf } from '../kept/copyRecord.js'
import { HandBackService } from '../marking/handBack.service.js'
import { MarkingService } from '../marking/marking.service.js'
import { StockRemarksService } from '../marking/stockRemarks.service.js'
import { inSchool } from '../database/inSchool.js'
import { LibraryService } from '../marking/library.service.js'
import { KeptScaleRow } from '../marking/marking.entity.js'
import { ToKeepService } from '../toKeep/toKeep.service.js'
import { DEMO_SCHOOL_ID } from './school.js'

const REMARKS = [
  'Your reading of the table is sure. Next time say how you know.',
  'Good, and neatly reasoned.',
  'You have the numbers; the reasons are still thin. Look at the plan of the sill again.',
  '',
  'A step forward. Write whole sentences where it says “why”.',
]

const STOCK = [
  ['force', 'Good word. Say which force makes it.'],
  ['unit', 'A number without its unit says nothing: metres? minutes?'],
  ['why', 'Say why, not only that it is so.'],
] as const

/** Has a teacher mark copies that were submitted, and hand them back. */
export async function markDemo(
  app: INestApplication,
  lead: Viewer,
  handoutId: string,
  { most, handBack }: { readonly most: number; readonly handBack: boolean },
): Promise<void> {
  const marking = app.get(MarkingService)
  const { way, copies } = await marking.page(lead, handoutId)
  const submitted = copies.filter(({ state }) => state === 'submitted').slice(0, most)
  for (const [at, { copyId, spaces }] of submitted.entries()) {
    const { progress } = await copyOf(app.get(DataSource), DEMO_SCHOOL_ID, copyId)
    const changes: MarkChange[] = [
      ...spaces.map(({ id, most: of }, place): MarkChange => ({
        of: 'space',
        space: id,
        was: null,
        to: Math.max(
          0,
          progress[id]?.right === undefined
            ? of - [0, 50, 100, 200][(at * 3 + place) % 4]!
            : Number(progress[id].right) * of,
        ),
      })),
      ...way.rubric.map(({ id, most: of, levels }, place): MarkChange => ({
        of: 'criterion',
        criterion: id,
        was: null,
        to:
          levels.length > 0
            ? reached(levels[(at * 2 + place + 1) % levels.length]!)
            : { points: Math.max(0, of - 100 * ((at + place) % 3)), level: null },
      })),
      { of: 'remark', was: NO_PARTS.remark, to: REMARKS[at % REMARKS.length]! },
    ]
    await marking.change(lead, handoutId, [{ copyId, personId: null, changes, done: true }])
  }
  const [first] = submitted
  if (first) await remarkOn(app, lead, first.copyId)
  if (!handBack) return
  const back = app.get(HandBackService)
  const wish = { message: 'Dear {first name},\n\n{worksheet}: {mark}.', byMail: false }
  const { fingerprint } = await back.proof(lead, handoutId, wish)
  await back.handBack(lead, handoutId, { ...wish, fingerprint })
}

const reached = ({ id, points }: { readonly id: string; readonly points: number }) => ({ points, level: id })

/** A remark on the longest answer of a copy. */
async function remarkOn(app: INestApplication, lead: Viewer, copyId: string): Promise<void> {
  const { content } = await copyOf(app.get(DataSource), DEMO_SCHOOL_ID, copyId)
  const passage = answerSpaces(content).find(({ kind }) => kind === 'passage')
  await app.get(CommentService).write(lead, copyId, {
    ...{ commentId: randomUUID(), threadId: randomUUID(), text: 'How high is the sill itself? Look at the plan.' },
    begins: {
      kind: 'remark',
      staffOnly: false,
      anchor: passage ? { is: 'space', space: passage.id } : { is: 'copy' },
    },
  })
}

/** Remarks that a teacher keeps. */
export async function keepStock(app: INestApplication, lead: Viewer): Promise<void> {
  for (const [short, text] of STOCK) await app.get(StockRemarksService).keep(lead, randomUUID(), { short, text }, false)
}

/** A rubric that a teacher shares, and scales that the school is marked by. */
export async function keepLibrary(app: INestApplication, lead: Viewer, rows: readonly RubricRow[]): Promise<void> {
  await app.get(LibraryService).keepRubric(lead, randomUUID(), { name: 'Reasons and sea words', rows, shared: true })
  const school = inSchool(app.get(DataSource), DEMO_SCHOOL_ID)
  for (const [name, steps, from] of SCALES)
    await school.insert(KeptScaleRow, {
      id: randomUUID(),
      classId: null,
      name,
      steps: [...steps],
      from: from && [...from],
    })
}

const SCALES = [
  ['Points in words', ['Very good', 'Good', 'Sound', 'Not yet'], [85, 65, 45, 0]],
  ['Yes or not yet', ['Yes', 'Not yet'], null],
] as const

/** Has a teacher give one student's copy of a handout to keep. */
export async function keepDemo(app: INestApplication, lead: Viewer, handoutId: string, name: string): Promise<void> {
  const keeping = app.get(ToKeepService)
  const wish = { of: { handoutId, classId: null, studentId: null }, unfinished: false }
  const { lines } = await keeping.proof(lead, { ...wish, copyIds: null })
  const copyIds = lines.filter(({ names }) => names.includes(name)).map(({ copyId }) => copyId)
  const { fingerprint } = await keeping.proof(lead, { ...wish, copyIds })
  await keeping.give(lead, { ...wish, copyIds, fingerprint })
}
