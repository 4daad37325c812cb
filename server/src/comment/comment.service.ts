import {
  type Anchor,
  type CommentAct,
  type KeptComment,
  type KeptThread,
  type Reader,
  type ThreadKind,
  type ThreadSeen,
  type Viewer,
  aboutWhat,
  answerSpaces,
  commentText,
  filledRemark,
  fullName,
  hasTokens,
  isOfStaff,
  isPeerReader,
  isWaiting,
  keptContent,
  markedSpaces,
  mayBeNamed,
  mayBegin,
  maySeeWhatIsSaidOf,
  mayWithComment,
  mayWithCopy,
  mayWithThread,
  mentionsIn,
  plainBlocks,
  readAnchor,
  spaceLabels,
  threadSeen,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { Any, DataSource, type EntityManager } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { hold } from '../access/viewer.js'
import { valueOf } from '../common/checked.js'
import { Bucket } from '../common/bucket.js'
import { ProblemException, conflict, malformed, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { Events } from '../events/events.js'
import { type CopyRecord, copyOf, roleIn } from '../kept/copyRecord.js'
import { Copy } from '../kept/kept.entity.js'
import { ALL_HOLDERS, Mark } from '../kept/mark.entity.js'
import { Edition } from '../worksheet/worksheet.entity.js'
import { Comment, CommentMention, CommentThread, SeenComments } from './comment.entity.js'
import {
  commentCounts,
  mentionsOf,
  peopleOfComments,
  questionsFor,
  readerNumber,
  threadsOf,
} from './comment.queries.js'

/** Comments of a copy, and of one person in it, with their letters: more than a conversation ever has, and no more than a page loads. */
const LIMITS = { ofCopy: 2_000, ofPerson: 300, lettersOfPerson: 150_000 }
/** Questions that a desk shows at once. */
const QUESTIONS = 100

/** Changes of one person a second, and in one burst. */
const RATE = { second: 2, burst: 40 }
/** After this time a rate is full again, in milliseconds. */
const FORGET = 60_000

/** A comment as a page sends it: the first on something, another one, or one in other words. */
export interface Written {
  readonly commentId: string
  readonly text: string
  readonly threadId: string
  /** What the first one is about; a reply says nothing of it. */
  readonly begins: { readonly kind: ThreadKind; readonly staffOnly: boolean; readonly anchor: unknown } | null
}

/** A copy of which something is said, and the ids of what is said. */
export interface SaidOf {
  readonly copyId: string
  readonly threadId: string
  readonly commentId: string
}

/** What is said beside copies. Each change is told once it is committed, to whoever has the copy open. */
@Injectable()
export class CommentService {
  private readonly rates = new Map<string, { readonly bucket: Bucket; usedAt: number }>()

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  /** All that somebody is shown of what is said in a copy, and up to when they have seen it. */
  async list(
    viewer: Viewer,
    copyId: string,
  ): Promise<{
    threads: ThreadSeen[]
    seenAt: number | null
    mayAsk: boolean
    people: { id: string; name: string; seenAt: number | null }[]
  }> {
    const { record, reader } = await accessTo(this.source, viewer, copyId)
    const threads = await threadsOf(this.source, viewer.schoolId, copyId, null)
    const [seen] = await inSchool(this.source, viewer.schoolId).find(
      SeenComments,
      { copyId, personId: viewer.personId },
      { select: ['at'] },
    )
    return {
      threads: threads.flatMap((thread) => threadSeen(thread, reader) ?? []),
      seenAt: seen?.at ?? null,
      mayAsk: mayBegin(reader, 'question').may,
      people: (await this.peopleOf(this.source, { record, reader })).map(({ as: _, ...person }) => person),
    }
  }

  /** Who can be named by this person in the comments of a copy, by their names; and up to when each has seen what is said. */
  private async peopleOf(database: DataSource | EntityManager, { record, reader }: Access): Promise<Named[]> {
    const { schoolId, facts, roles, copyId } = record
    const ids = [...new Set([...facts.holders.keys(), ...roles.keys()])]
    const rows = await peopleOfComments(database, schoolId, copyId, ids)
    return rows.flatMap(({ id, role, first, last, seenAt }): Named[] => {
      const as: Reader = { ...reader, viewer: { personId: id, schoolId, role }, role: roles.get(id) ?? 'none' }
      return mayBeNamed(reader, as) ? [{ id, name: fullName({ first, last }), seenAt, as }] : []
    })
  }

  /** Notes who is named in a comment, of those who can be and are shown it. */
  private async noteMentions(
    tx: EntityManager,
    access: Access,
    { commentId, threadId, text }: Pick<Written, 'commentId' | 'threadId' | 'text'>,
  ): Promise<void> {
    const { schoolId, copyId } = access.record
    const rows = inSchool(tx, schoolId)
    if (!text.includes('@')) return
    const people = await this.peopleOf(tx, access)
    const named = new Set(mentionsIn(text, people).map(({ id }) => id))
    const [thread] = named.size > 0 ? await threadsOf(tx, schoolId, copyId, [threadId]) : []
    for (const { id, as } of people)
      if (thread && named.has(id) && mayWithThread(as, thread, 'see').may)
        await rows.insert(CommentMention, { commentId, personId: id })
  }

  /** Comments in which a teacher is named and that they have not seen, the oldest first. */
  async mentions(viewer: Viewer) {
    const rows = await mentionsOf(this.source, viewer.schoolId, viewer.personId, QUESTIONS)
    return rows.map(({ first, last, ...row }) => ({ ...row, by: fullName({ first, last }) }))
  }

  /** Somebody has seen what is said in a copy up to now. */
  async seen(viewer: Viewer, copyId: string): Promise<void> {
    await accessTo(this.source, viewer, copyId)
    const row = { copyId, personId: viewer.personId, at: Date.now() }
    await inSchool(this.source, viewer.schoolId).put(SeenComments, row, ['at'])
  }

  /** Keeps a comment. Sent twice it is there once; by who wrote it in other words it is changed. */
  write(viewer: Viewer, copyId: string, written: Written): Promise<ThreadSeen | null> {
    this.slowDown(viewer)
    return this.keep(viewer, copyId, written)
  }

  private keep(viewer: Viewer, copyId: string, written: Written): Promise<ThreadSeen | null> {
    const typed = valueOf(commentText(written.text))
    const { commentId, threadId } = written
    return this.change(viewer, copyId, threadId, async (tx, { record, reader }, thread) => {
      const rows = inSchool(tx, viewer.schoolId)
      const text = await this.filled(tx, { record, reader }, thread ?? written.begins, typed)
      const counts = await commentCounts(tx, viewer.schoolId, copyId, viewer.personId)
      const full = conflict('too-many-comments', 'So much is said in this copy already that no more can be added.')
      const [known] = await rows.find(Comment, { id: commentId }, { select: ['threadId', 'text'] })
      if (known) {
        if (!thread || known.threadId !== threadId) throw notThere()
        const comment = commentIn(thread, commentId)
        // It had arrived, and the page did not hear so: whatever became of the copy since.
        if (known.text === text && comment.personId === viewer.personId) return
        hold(mayWithComment(reader, thread, comment, 'edit'))
        if (counts.letters - known.text.length + text.length > LIMITS.lettersOfPerson) throw full
        await rows.update(Comment, { id: commentId }, { text, editedAt: Date.now() })
        await rows.delete(CommentMention, { commentId })
        await this.noteMentions(tx, { record, reader }, { commentId, threadId, text })
        return
      }
      const isFull =
        counts.all >= LIMITS.ofCopy ||
        counts.own >= LIMITS.ofPerson ||
        counts.letters + text.length > LIMITS.lettersOfPerson
      if (isFull) throw full
      if (thread) hold(mayWithThread(reader, thread, 'reply'))
      else await begin(tx, record, reader, written)
      const isUnnamed = isPeerReader(viewer, reader.role, reader.copy) && !reader.copy.readersNamed
      const by = {
        personId: viewer.personId,
        byStaff: isOfStaff(reader.role),
        // Kept with it: who was promised not to be named is not, whatever the slip says later.
        readerNumber: isUnnamed ? await readerNumber(tx, viewer.schoolId, copyId, viewer.personId) : null,
      }
      await rows.insert(Comment, { id: commentId, copyId, threadId, ...by, text, at: Date.now() })
      await this.noteMentions(tx, { record, reader }, { commentId, threadId, text })
      // What is said of a thing that was done with takes it up again.
      if (thread?.doneAt) await rows.update(CommentThread, { id: threadId }, NOT_DONE)
    })
  }

  /** What is said, with the tokens filled in that stand in a remark of the staff's. */
  private async filled(
    tx: EntityManager,
    { record, reader }: Access,
    thread: { readonly kind: ThreadKind; readonly anchor: unknown } | null,
    text: string,
  ): Promise<string> {
    if (thread?.kind !== 'remark' || !isOfStaff(reader.role) || !hasTokens(text)) return text
    const school = inSchool(tx, record.schoolId)
    const [mark] = await school.find(
      Mark,
      { copyId: record.copyId, personId: ALL_HOLDERS },
      { select: ['total', 'most', 'parts'] },
    )
    const holders = await school.find(
      Person,
      { id: Any([...record.facts.holders.keys()]), role: 'student' },
      { select: ['first', 'last'], order: { last: 'ASC', first: 'ASC' } },
    )
    const { space } = thread.anchor as { readonly space?: string }
    const most = markedSpaces({ kind: 'spaces' }, record.content).find(({ id }) => id === space)?.most
    const reached = space === undefined ? undefined : mark?.parts.spaces[space]
    const ofSpace = most === undefined || reached === undefined ? null : most - reached
    const ofAll = !mark || mark.total === null || mark.most === null ? null : mark.most - mark.total
    const missing = space === undefined ? ofAll : ofSpace
    return filledRemark(text, {
      firstNames: holders.map(({ first, last }) => first || last),
      missing: missing === null ? null : Math.max(0, missing),
    })
  }

  /**
   * Puts what somebody of the staff said in other words, in many copies: each as they may change it there.
   * @returns the copies in which it was not changed
   */
  async reword(
    viewer: Viewer,
    all: readonly (SaidOf & { readonly text: string })[],
  ): Promise<{ failed: { copyId: string; sentence: string }[] }> {
    this.slowDown(viewer, 1 + all.length / 8)
    const failed: { copyId: string; sentence: string }[] = []
    for (const { copyId, ...said } of all)
      try {
        await this.keep(viewer, copyId, { ...said, begins: null })
      } catch (error) {
        if (!(error instanceof ProblemException)) throw error
        failed.push({ copyId, sentence: error.sentence })
      }
    return { failed }
  }

  /** Deletes a comment; it can be brought back for a while. */
  delete(viewer: Viewer, copyId: string, commentId: string): Promise<ThreadSeen | null> {
    const to = { deletedAt: Date.now(), deletedBy: viewer.personId }
    return this.changeComment(viewer, { copyId, commentId }, 'delete', to)
  }

  bringBack(viewer: Viewer, copyId: string, commentId: string): Promise<ThreadSeen | null> {
    return this.changeComment(viewer, { copyId, commentId }, 'bring back', { deletedAt: null, deletedBy: null })
  }

  private changeComment(
    viewer: Viewer,
    { copyId, commentId }: { readonly copyId: string; readonly commentId: string },
    act: CommentAct,
    to: Pick<Comment, 'deletedAt' | 'deletedBy'>,
  ): Promise<ThreadSeen | null> {
    this.slowDown(viewer)
    return this.alterComment(viewer, { copyId, commentId }, act, to)
  }

  private async alterComment(
    viewer: Viewer,
    { copyId, commentId }: { readonly copyId: string; readonly commentId: string },
    act: CommentAct,
    to: Pick<Comment, 'deletedAt' | 'deletedBy'>,
  ): Promise<ThreadSeen | null> {
    await accessTo(this.source, viewer, copyId)
    const [found] = await inSchool(this.source, viewer.schoolId).find(
      Comment,
      { id: commentId, copyId },
      { select: ['threadId'] },
    )
    if (!found) throw notThere()
    return this.change(viewer, copyId, found.threadId, async (tx, { reader }, thread) => {
      hold(mayWithComment(reader, thread!, commentIn(thread!, commentId), act))
      await inSchool(tx, viewer.schoolId).update(Comment, { id: commentId }, to)
    })
  }

  /** Says that a thing is done with, or that it is not. */
  done(viewer: Viewer, copyId: string, threadId: string, done: boolean): Promise<ThreadSeen | null> {
    this.slowDown(viewer)
    return this.change(viewer, copyId, threadId, async (tx, { reader }, thread) => {
      if (!thread) throw notThere()
      hold(mayWithThread(reader, thread, 'do'))
      const to = done ? { doneAt: Date.now(), doneBy: viewer.personId } : NOT_DONE
      await inSchool(tx, viewer.schoolId).update(CommentThread, { id: threadId }, to)
    })
  }

  /** The questions that wait in the classes of a teacher, the oldest first. */
  async questions(viewer: Viewer) {
    const rows = await questionsFor(this.source, viewer.schoolId, viewer.personId, QUESTIONS)
    const labels = await this.labelsOf(viewer.schoolId, rows)
    return rows.map(({ first, last, anchor, edition, ...row }) => {
      const asked = aboutWhat(anchor)
      return {
        ...row,
        by: fullName({ first, last }),
        asked,
        // What the answer space is called; nothing for what is printed, or for the whole copy.
        label: (asked !== null && labels.get(`${row.worksheetId} ${edition}`)?.get(asked)) || '',
      }
    })
  }

  /** What answer spaces are called, by worksheet and edition. */
  private async labelsOf(
    schoolId: string,
    rows: readonly { readonly worksheetId: string; readonly edition: number }[],
  ): Promise<Map<string, ReadonlyMap<string, string>>> {
    const labels = new Map<string, ReadonlyMap<string, string>>()
    for (const { worksheetId, edition } of rows) {
      const key = `${worksheetId} ${edition}`
      if (labels.has(key)) continue
      const [found] = await inSchool(this.source, schoolId).find(
        Edition,
        { worksheetId, number: edition },
        { select: ['content'] },
      )
      labels.set(key, found ? spaceLabels(keptContent(found.content)) : new Map())
    }
    return labels
  }

  /**
   * Answers several questions with the same words, each in its copy.
   * @returns those that were not answered, each with why
   */
  async answerAll(
    viewer: Viewer,
    text: string,
    to: readonly { readonly copyId: string; readonly threadId: string; readonly commentId: string }[],
  ): Promise<{ failed: { threadId: string; sentence: string }[] }> {
    this.slowDown(viewer, 1 + to.length / 8)
    const words = valueOf(commentText(text))
    const failed: { threadId: string; sentence: string }[] = []
    for (const { copyId, threadId, commentId } of to)
      try {
        const { reader } = await accessTo(this.source, viewer, copyId)
        if (!isOfStaff(reader.role)) throw notThere()
        await this.keep(viewer, copyId, { commentId, threadId, text: words, begins: null })
      } catch (error) {
        if (!(error instanceof ProblemException)) throw error
        failed.push({ threadId, sentence: error.sentence })
      }
    return { failed }
  }

  /**
   * Says the same of several copies, of each as a whole or of an answer in it; the ids are chosen by the page, so that sent twice it is there once.
   * @returns those of which it was not said, each with why
   */
  async sayOfAll(
    viewer: Viewer,
    handoutId: string,
    { text, kind }: { readonly text: string; readonly kind: 'comment' | 'remark' },
    to: readonly (SaidOf & { readonly space?: string | undefined })[],
  ): Promise<{ failed: { copyId: string; sentence: string }[] }> {
    this.slowDown(viewer, 1 + to.length / 8)
    const words = valueOf(commentText(text))
    return this.ofAll(viewer, handoutId, to, ({ copyId, threadId, commentId, space }) =>
      this.keep(viewer, copyId, {
        ...{ commentId, threadId, text: words },
        begins: { kind, staffOnly: false, anchor: space === undefined ? { is: 'copy' } : { is: 'space', space } },
      }),
    )
  }

  /** Takes back what was said of several copies. */
  async takeBackOfAll(
    viewer: Viewer,
    handoutId: string,
    of: readonly SaidOf[],
  ): Promise<{ failed: { copyId: string; sentence: string }[] }> {
    this.slowDown(viewer, 1 + of.length / 8)
    const to = { deletedAt: Date.now(), deletedBy: viewer.personId }
    return this.ofAll(viewer, handoutId, of, ({ copyId, commentId }) =>
      this.alterComment(viewer, { copyId, commentId }, 'delete', to),
    )
  }

  private async ofAll<S extends SaidOf>(
    viewer: Viewer,
    handoutId: string,
    all: readonly S[],
    work: (one: S) => Promise<unknown>,
  ): Promise<{ failed: { copyId: string; sentence: string }[] }> {
    const failed: { copyId: string; sentence: string }[] = []
    for (const one of all)
      try {
        const { reader, record } = await accessTo(this.source, viewer, one.copyId)
        if (!isOfStaff(reader.role) || record.handoutId !== handoutId) throw notThere()
        await work(one)
      } catch (error) {
        if (!(error instanceof ProblemException)) throw error
        failed.push({ copyId: one.copyId, sentence: error.sentence })
      }
    return { failed }
  }

  /** Changes what is said of one thing, alone with it, and tells of it after. */
  private async change(
    viewer: Viewer,
    copyId: string,
    threadId: string,
    work: (tx: EntityManager, access: Access, thread: KeptThread | null) => Promise<void>,
  ): Promise<ThreadSeen | null> {
    const { schoolId } = viewer
    const { changed, access } = await this.source.transaction(async (tx) => {
      // Of who says something in a copy at once one waits for the other; and it is judged as the copy is then.
      await inSchool(tx, schoolId).hold(Copy, { id: copyId })
      const access = await accessTo(tx, viewer, copyId)
      const [other] = await inSchool(tx, schoolId).find(CommentThread, { id: threadId }, { select: ['copyId'] })
      if (other && other.copyId !== copyId) throw notThere()
      const [thread] = await threadsOf(tx, schoolId, copyId, [threadId])
      if (thread) hold(mayWithThread(access.reader, thread, 'see'))
      await work(tx, access, thread ?? null)
      await inSchool(tx, schoolId).update(CommentThread, { id: threadId }, { version: () => 'version + 1' })
      const [changed] = await threadsOf(tx, schoolId, copyId, [threadId])
      await inSchool(tx, schoolId).update(CommentThread, { id: threadId }, { waiting: isWaiting(changed!) })
      return { changed: changed!, access }
    })
    const { handoutId } = access.record
    await this.events.tell('comments changed', { schoolId, handoutId, copyId, threads: [changed] })
    return threadSeen(changed, access.reader)
  }

  /** Whoever sends more than anybody writes is sent away for a moment: each comment is told to everybody who has the copy open. */
  private slowDown({ personId }: Viewer, cost = 1): void {
    const now = Date.now()
    for (const [id, { usedAt }] of this.rates) if (now - usedAt > FORGET) this.rates.delete(id)
    const rate = this.rates.get(personId) ?? { bucket: new Bucket(RATE.second, RATE.burst), usedAt: now }
    this.rates.set(personId, rate)
    rate.usedAt = now
    const wait = rate.bucket.take(0)
    // Who is put off owes nothing for it.
    if (wait <= 0) return void rate.bucket.take(cost)
    throw new ProblemException(429, 'too-fast', 'These are many comments at once: wait a moment, then go on.', {
      retryAfter: Math.ceil(wait / 1_000),
    })
  }
}

const NOT_DONE = { doneAt: null, doneBy: null }

/** Begins to say something of a thing. */
async function begin(tx: EntityManager, copy: CopyRecord, reader: Reader, written: Written): Promise<void> {
  const { begins, threadId } = written
  // A reply to what is not there, or not here.
  if (!begins) throw notThere()
  const { kind } = begins
  hold(mayBegin(reader, kind))
  const anchor = valueOf(readAnchor(begins.anchor))
  if (!isIn(copy, anchor) || !maySeeWhatIsSaidOf(reader, anchor))
    throw malformed([{ code: 'anchor', field: 'anchor', sentence: 'What this is about is not in this worksheet.' }])
  await inSchool(tx, copy.schoolId).insert(CommentThread, {
    id: threadId,
    copyId: copy.copyId,
    personId: reader.viewer.personId,
    kind,
    staffOnly: kind === 'question' && begins.staffOnly,
    anchor,
  })
}

/** Somebody who can be named in comments, with what they see. */
interface Named {
  readonly id: string
  readonly name: string
  readonly seenAt: number | null
  readonly as: Reader
}

/** A copy, and somebody who sees it. */
interface Access {
  readonly record: CopyRecord
  readonly reader: Reader
}

/** A copy that somebody sees. */
async function accessTo(database: DataSource | EntityManager, viewer: Viewer, copyId: string): Promise<Access> {
  const record = await copyOf(database, viewer.schoolId, copyId)
  const reader = { viewer, role: roleIn(record, viewer), copy: record.facts, now: Date.now() }
  hold(mayWithCopy(viewer, reader.role, record.facts, 'see', reader.now))
  return { record, reader }
}

function commentIn(thread: KeptThread, commentId: string): KeptComment {
  const found = thread.comments.find(({ id }) => id === commentId)
  if (!found) throw notThere()
  return found
}

/** Whether a copy has what something is said of. */
function isIn({ content }: CopyRecord, anchor: Anchor): boolean {
  switch (anchor.is) {
    case 'copy':
      return true
    case 'print':
      return plainBlocks(content).some(({ id }) => id === anchor.block)
    case 'space':
    case 'words':
      return answerSpaces(content).some(({ id }) => id === anchor.space)
  }
}
