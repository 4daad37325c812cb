import { type Anchor, type Viewer, anchorAtWords, answerSpaces, lettersOf } from '@gavrin/core'
import type { INestApplication } from '@nestjs/common'
import { randomUUID } from 'node:crypto'
import { DataSource } from 'typeorm'
import { Comment, CommentThread } from '../comment/comment.entity.js'
import { CommentService, type Written } from '../comment/comment.service.js'
import { inSchool } from '../database/inSchool.js'
import { type CopyRecord, copyOf } from '../kept/copyRecord.js'
import { DocLoader } from '../kept/docLoader.js'
import { Copy } from '../kept/kept.entity.js'
import { loadSpaces } from '../kept/spaces.queries.js'
import { DEMO_SCHOOL_ID } from './school.js'
import { HOUR } from './work.js'

/** Has a teacher and the crews talk in the margins of two copies that they share. */
export async function talkInCopies(
  app: INestApplication,
  teacher: Viewer,
  handoutId: string,
  now: number,
): Promise<void> {
  const source = app.get(DataSource)
  const ids = await inSchool(source, DEMO_SCHOOL_ID).find(
    Copy,
    { handoutId },
    { select: ['id'], order: { title: 'ASC' } },
  )
  const copies = await Promise.all(ids.map(({ id }) => copyOf(source, DEMO_SCHOOL_ID, id)))
  const written = await Promise.all(copies.map((copy) => wordsOf(app, copy)))
  const [first] = copies.flatMap((copy, at) => (written[at] ? [{ copy, anchor: written[at] }] : []))
  const second = copies.find((copy) => copy !== first?.copy)
  const say = (copy: CopyRecord, who: Viewer, at: number, said: Omit<Written, 'commentId'>) =>
    sayAt(app, { copyId: copy.copyId, who, at }, said)
  const holders = ({ facts }: CopyRecord): Viewer[] =>
    [...facts.holders.keys()].map((personId) => ({ schoolId: DEMO_SCHOOL_ID, personId, role: 'student' }))

  if (first) {
    const { copy, anchor } = first
    const [one, other] = holders(copy)
    const thread = randomUUID()
    const begins = { kind: 'comment', staffOnly: false, anchor } as const
    const text = 'Who is that? Give the name the first time.'
    await say(copy, teacher, now - 5 * HOUR, { threadId: thread, text, begins })
    if (one)
      await say(copy, one, now - 4 * HOUR, { threadId: thread, text: 'Is it all right to ask him?', begins: null })
    const space = answerSpaces(copy.content).find(({ id, kind }) => kind === 'file' && id.endsWith(bare(other)))
    const asked: Anchor = space ? { is: 'space', space: space.id } : { is: 'copy' }
    if (other)
      await say(copy, other, now - 2 * HOUR, {
        threadId: randomUUID(),
        text: 'May the picture be a drawing?',
        begins: { kind: 'question', staffOnly: true, anchor: asked },
      })
  }
  if (second) {
    const copy = second
    const [one] = holders(copy)
    const thread = randomUUID()
    await say(copy, teacher, now - 6 * HOUR, {
      threadId: thread,
      text: 'A good beginning. Agree on the name of your paper before tomorrow.',
      begins: { kind: 'comment', staffOnly: false, anchor: { is: 'copy' } },
    })
    if (one) await app.get(CommentService).done(one, copy.copyId, thread, true)
  }
}

/** Has two students ask about the same answer, each in their own copy. */
export async function askTheSame(app: INestApplication, handoutId: string, now: number): Promise<void> {
  const source = app.get(DataSource)
  const ids = await inSchool(source, DEMO_SCHOOL_ID).find(
    Copy,
    { handoutId, state: 'working' },
    { select: ['id'], order: { title: 'ASC' }, most: 2 },
  )
  const words = ['How long is the answer to be?', 'Is one sentence enough here?']
  for (const [at, { id }] of ids.entries()) {
    const copy = await copyOf(source, DEMO_SCHOOL_ID, id)
    const asked = answerSpaces(copy.content).find(({ kind }) => kind === 'passage')
    const [personId] = copy.facts.holders.keys()
    if (!asked || !personId) continue
    const who: Viewer = { schoolId: DEMO_SCHOOL_ID, personId, role: 'student' }
    await sayAt(
      app,
      { copyId: id, who, at: now - (3 - at) * HOUR },
      {
        threadId: randomUUID(),
        text: words[at]!,
        begins: { kind: 'question', staffOnly: false, anchor: { is: 'space', space: asked.id } },
      },
    )
  }
}

const bare = (viewer: Viewer | undefined) => viewer?.personId.replaceAll('-', '') ?? ''

/** Says something, at a time in the past. */
async function sayAt(
  app: INestApplication,
  { copyId, who, at }: { readonly copyId: string; readonly who: Viewer; readonly at: number },
  said: Omit<Written, 'commentId'>,
): Promise<void> {
  const commentId = randomUUID()
  await app.get(CommentService).write(who, copyId, { ...said, commentId })
  const rows = inSchool(app.get(DataSource), DEMO_SCHOOL_ID)
  await rows.update(Comment, { id: commentId }, { at })
  if (said.begins) await rows.update(CommentThread, { id: said.threadId }, { createdAt: at })
}

/** Words of a passage that ask for an explanation; null: it has none. */
async function wordsOf(app: INestApplication, copy: CopyRecord): Promise<Anchor | null> {
  const spaces = await loadSpaces(app.get(DataSource), DEMO_SCHOOL_ID, copy.copyId)
  for (const { id, kind } of answerSpaces(copy.content)) {
    const kept = spaces.get(id)
    if (kind !== 'passage' || !kept) continue
    const doc = await app.get(DocLoader).load(kind, kept.updates)
    if (!doc) continue
    const found = /harbour master/.exec(lettersOf(kind, doc).text)
    const from = found?.index ?? 0
    const anchor = found && anchorAtWords({ space: id, kind }, doc, { from, to: from + found[0].length })
    doc.destroy()
    if (anchor) return anchor
  }
  return null
}
