import {
  type AnswerSpace,
  type CopyAct,
  type Viewer,
  answerSpaces,
  bringParts,
  fullName,
  isOfStaff,
  journalForHolders,
  maySeeAt,
  mayWithCopy,
  partsBetween,
  writeLog,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { Any, DataSource, type EntityManager } from 'typeorm'
import { Person } from '../access/access.entity.js'
import { hold } from '../access/viewer.js'
import { conflict, notThere } from '../common/problemDetails.js'
import { inSchool } from '../database/inSchool.js'
import { Events } from '../events/events.js'
import { changeOf, takable } from '../kept/amend.js'
import { type CopyRecord, copyOf, roleIn } from '../kept/copyRecord.js'
import { DocLoader } from '../kept/docLoader.js'
import { addToJournal } from '../kept/journal.js'
import { Copy } from '../kept/kept.entity.js'
import { Pens } from '../kept/pens.js'
import { type StoredSpace, appendAfter, loadSpaces, logOf } from '../kept/spaces.queries.js'
import { type KeptStep, logAfter, stepsOf, writersOf } from './history.queries.js'

/** What of a log is sent at once. */
const PIECE = { changes: 30_000, bytes: 2_000_000 }

/** What happened to a copy, and who had a part in it; what was written is in its log. */
export interface CopyHistory {
  readonly people: readonly { readonly id: string; readonly name: string }[]
  readonly steps: readonly KeptStep[]
  readonly mayBringBack: boolean
}

/** An answer, and how many of its changes it is to be as after. */
export interface BroughtBack {
  readonly space: string
  readonly count: number
}

/** The history of copies, from the log that there is of what was written. */
@Injectable()
export class HistoryService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly pens: Pens,
    private readonly loader: DocLoader,
    private readonly events: Events,
  ) {}

  async history(viewer: Viewer, copyId: string): Promise<CopyHistory> {
    const copy = await this.held(this.source, viewer, copyId, 'see its history')
    const [steps, writers] = await Promise.all([
      stepsOf(this.source, viewer.schoolId, copyId),
      writersOf(this.source, viewer.schoolId, copyId),
    ])
    const ids = new Set([...steps, ...writers].flatMap(({ personId }) => personId ?? []))
    const people = await inSchool(this.source, viewer.schoolId).find(
      Person,
      { id: Any([...ids]) },
      { select: ['id', 'first', 'last'], order: { last: 'ASC', first: 'ASC', id: 'ASC' } },
    )
    return {
      // Guests are not told who is in the class.
      people: people
        .filter(({ id }) => viewer.role !== 'guest' || id === viewer.personId)
        .map((person) => ({ id: person.id, name: fullName(person) })),
      steps: (isOfStaff(roleIn(copy, viewer)) ? steps : journalForHolders(steps)).filter(
        ({ space }) => space === null || this.isShown(viewer, copy, space),
      ),
      mayBringBack: mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'bring answers back', Date.now()).may,
    }
  }

  /** The log itself, piece by piece: the changes after one of an answer, and those of the answers after it; where there is more, from where. */
  async log(
    viewer: Viewer,
    copyId: string,
    after: { space: string; seq: number },
  ): Promise<{ bytes: Uint8Array; next: { space: string; seq: number } | null }> {
    const copy = await this.held(this.source, viewer, copyId, 'see its history')
    const piece = await logAfter(this.source, viewer.schoolId, copyId, after, PIECE)
    const isCut =
      piece.length === PIECE.changes || piece.reduce((sum, { bytes }) => sum + bytes.length, 0) >= PIECE.bytes
    const shown = piece.filter(({ space }) => this.isShown(viewer, copy, space))
    return { bytes: writeLog(shown), next: isCut ? (piece.at(-1) ?? null) : null }
  }

  private isShown(viewer: Viewer, copy: CopyRecord, space: string): boolean {
    return maySeeAt(viewer, roleIn(copy, viewer), copy.facts, space, Date.now())
  }

  /**
   * Makes answers as they were after some of their changes, by a change more: nothing that was written since is lost, and the step can
   * itself be taken back. It is in all open windows when this resolves.
   * @returns the answers that are other now, and how many changes they had before
   */
  async bringBack(
    viewer: Viewer,
    copyId: string,
    answers: readonly BroughtBack[],
  ): Promise<{ changed: BroughtBack[] }> {
    const { copy, changed } = await this.pens.holdStill(viewer.schoolId, copyId, () =>
      this.source.transaction(async (tx) => {
        await inSchool(tx, viewer.schoolId).find(Copy, { id: copyId }, { select: ['id'], lock: true })
        const copy = await this.held(tx, viewer, copyId, 'bring answers back')
        const spaces = new Map(answerSpaces(copy.content).map((space) => [space.id, space]))
        const stored = await loadSpaces(tx, viewer.schoolId, copyId)
        const now = Date.now()
        const changed: BroughtBack[] = []
        for (const { space: id, count } of answers) {
          const space = spaces.get(id)
          if (!space) throw notThere()
          const was = await this.bringOneBack(tx, copy, viewer.personId, { space, count, now, stored: stored.get(id) })
          if (was) changed.push(was)
        }
        return { copy, changed }
      }),
    )
    const { schoolId, handoutId } = copy
    if (changed.length > 0) await this.events.tell('handout changed', { schoolId, handoutId, written: [copyId] })
    return { changed }
  }

  private async bringOneBack(
    tx: EntityManager,
    { schoolId, copyId }: CopyRecord,
    personId: string,
    {
      space,
      count,
      now,
      stored,
    }: {
      readonly space: AnswerSpace
      readonly count: number
      readonly now: number
      readonly stored: StoredSpace | undefined
    },
  ): Promise<BroughtBack | null> {
    const log = await logOf(tx, schoolId, copyId, space.id)
    const earlier = await this.loader.load(
      space.kind,
      log.slice(0, count).map(({ bytes }) => bytes),
    )
    const answer = await this.loader.load(space.kind, stored?.updates ?? [])
    if (!earlier || !answer) throw conflict('unreadable', 'This answer takes too long to read: nothing was changed.')
    if (partsBetween(space, answer, earlier).length === 0) return null
    const bytes = takable(
      space,
      answer,
      changeOf(answer, (doc) => bringParts(space, doc, earlier, null)),
    )
    const change = { copyId, space: space.id, after: stored?.seq ?? 0, personId, at: now, bytes }
    if (!(await appendAfter(tx, schoolId, change)))
      throw conflict('changed', 'Somebody wrote in this answer at this moment: bring it back again.')
    await addToJournal(tx, schoolId, {
      copyId,
      kind: 'answers brought back',
      personId,
      at: now,
      space: space.id,
    })
    return { space: space.id, count: log.length }
  }

  private async held(
    database: DataSource | EntityManager,
    viewer: Viewer,
    copyId: string,
    act: Extract<CopyAct, 'see its history' | 'bring answers back'>,
  ): Promise<CopyRecord> {
    const copy = await copyOf(database, viewer.schoolId, copyId)
    hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, act, Date.now()))
    // What cannot be opened in time cannot be gone through either: it would stop the page of whoever looks.
    if (copy.unreadable)
      throw conflict('unreadable', 'This copy cannot be opened: its teachers bring it to its last good state first.')
    return copy
  }
}
