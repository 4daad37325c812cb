import {
  type HandBackLine,
  type Viewer,
  MARK_LIMITS,
  cleanLines,
  goesBack,
  handBackFingerprint,
  handBackTime,
  markInWords,
  mayWithCopy,
  planHandBack,
  reminderLetter,
} from '@gavrin/core'
import { type BeforeApplicationShutdown, Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, type EntityManager } from 'typeorm'
import { Class, ClassMember, Person } from '../access/access.entity.js'
import { holdInClass } from '../access/classRole.js'
import { hold } from '../access/viewer.js'
import { valueOf } from '../common/checked.js'
import { ProblemException, conflict, isDatabaseAway } from '../common/problemDetails.js'
import type { Settings } from '../common/settings.js'
import { SETTINGS } from '../common/tokens.js'
import { inSchool, oneAtATime } from '../database/inSchool.js'
import { Events } from '../events/events.js'
import { copyOf, roleIn } from '../kept/copyRecord.js'
import { type Back, backOf, noteLooked } from '../kept/mark.queries.js'
import { Pens } from '../kept/pens.js'
import { MailService } from '../mail/mail.service.js'
import { Reminder } from '../reminder/reminder.entity.js'
import { findHandout } from '../slip/handoutSet.js'
import type { Handout } from '../slip/slip.entity.js'
import { type MarkedCopy, markedCopies, reckonAnew, wayOf } from './facts.js'
import { HandBackLater } from './marking.entity.js'
import { backDue, holdCopies, lastBack, openAgain, takeBackDue, writeBack, writeWithdrawn } from './marking.queries.js'

/** How often it is looked whether something is to be handed back by itself, in milliseconds. */
const CLOCK = 1_000

/** What a teacher wishes to hand back. */
export interface HandBackWish {
  /** Left out: all copies of the handout. */
  readonly copyIds?: readonly string[] | undefined
  /** To each student, with tokens. */
  readonly message: string
  readonly byMail: boolean
}

/** Handing back: proved first, then all at once; what nobody has looked at can be taken back. */
@Injectable()
export class HandBackService implements OnApplicationBootstrap, BeforeApplicationShutdown {
  private readonly log = new Logger('hand-back')
  private clock: NodeJS.Timeout | null = null
  private looking: Promise<unknown> | null = null

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly events: Events,
    private readonly pens: Pens,
    private readonly mail: MailService,
  ) {}

  onApplicationBootstrap(): void {
    this.clock = setInterval(() => void this.lookAtDue(), CLOCK)
    this.clock.unref()
  }

  async beforeApplicationShutdown(): Promise<void> {
    if (this.clock) clearInterval(this.clock)
    await this.looking
  }

  /** Exactly what would go to whom. */
  async proof(viewer: Viewer, handoutId: string, wish: HandBackWish) {
    const { handout } = await this.held(this.source.manager, viewer, handoutId)
    const { lines, withoutMail } = await this.plan(this.source.manager, handout, wish)
    return {
      fingerprint: handBackFingerprint(lines),
      lines: lines.map(({ mark, ...line }) => ({
        ...line,
        mark: markInWords(mark),
        hasMail: !withoutMail.has(line.personId),
      })),
      later: await this.laterOf(handout),
    }
  }

  /** Hands back what the proof showed, now or at a time; anything else, and it says so and does nothing. */
  async handBack(
    viewer: Viewer,
    handoutId: string,
    { at, ...wish }: HandBackWish & { readonly fingerprint: string; readonly at?: number | undefined },
  ): Promise<{ handedBack: number; students: number; at: number | null }> {
    if (at !== undefined) return this.later(viewer, handoutId, at, wish)
    return this.now(viewer, handoutId, wish, async (tx) => {
      await inSchool(tx, viewer.schoolId).delete(HandBackLater, { handoutId })
      return wish.fingerprint
    })
  }

  /** @param shown what must go, by its fingerprint; null: whatever is marked by now */
  private async now(
    viewer: Viewer,
    handoutId: string,
    wish: HandBackWish,
    shown: (tx: EntityManager) => Promise<string | null>,
  ): Promise<{ handedBack: number; students: number; at: null }> {
    const { schoolId } = viewer
    const { handout } = await this.held(this.source.manager, viewer, handoutId)
    const all = await markedCopies(this.source, handout, wish.copyIds ?? null)
    const ids = all.filter(({ isDone }) => isDone).map(({ copyId }) => copyId)
    // Of copies that are still written in the pens stand still meanwhile; of others nobody's.
    const { done } = await this.pens.holdAllStill(schoolId, ids, async () => ({
      done: await this.source.transaction(async (tx) => {
        await oneAtATime(tx, `hand back ${handoutId}`)
        const fingerprint = await shown(tx)
        await this.held(tx, viewer, handoutId)
        await holdCopies(tx, schoolId, ids)
        const { lines, addresses } = await this.plan(tx, handout, { ...wish, copyIds: ids })
        if (fingerprint !== null && handBackFingerprint(lines) !== fingerprint) throw changed()
        const going = lines.filter(goesBack)
        if (going.length === 0 && fingerprint !== null) throw nothing()
        if (going.length > 0) {
          const by = { personId: viewer.personId, at: Date.now() }
          await writeBack(tx, schoolId, going, by)
          if (wish.byMail) await this.post(tx, handout, going, { ...by, addresses })
        }
        return { handedBack: new Set(going.map(({ copyId }) => copyId)).size, students: going.length, at: null }
      }),
      pens: new Map(),
    }))
    await this.events.tell('handout changed', { schoolId, handoutId })
    return done
  }

  /** Puts down that what the proof showed is handed back at a time; with the marks as they are then. */
  private async later(
    viewer: Viewer,
    handoutId: string,
    at: number,
    wish: HandBackWish & { readonly fingerprint: string },
  ): Promise<{ handedBack: number; students: number; at: number }> {
    valueOf(handBackTime(at, Date.now()))
    return this.source.transaction(async (tx) => {
      const { handout } = await this.held(tx, viewer, handoutId)
      await oneAtATime(tx, `hand back ${handoutId}`)
      const { lines } = await this.plan(tx, handout, wish)
      if (handBackFingerprint(lines) !== wish.fingerprint) throw changed()
      const going = lines.filter(goesBack)
      if (going.length === 0) throw nothing()
      const copyIds = [...new Set(going.map(({ copyId }) => copyId))]
      await inSchool(tx, viewer.schoolId).put(
        HandBackLater,
        { handoutId, at, personId: viewer.personId, copyIds, message: wish.message, byMail: wish.byMail },
        ['at', 'personId', 'copyIds', 'message', 'byMail'],
      )
      return { handedBack: copyIds.length, students: going.length, at }
    })
  }

  /** Nothing is handed back by itself any more. */
  async notLater(viewer: Viewer, handoutId: string): Promise<void> {
    await this.held(this.source.manager, viewer, handoutId)
    await inSchool(this.source, viewer.schoolId).delete(HandBackLater, { handoutId })
  }

  private async laterOf({ schoolId, id: handoutId }: Handout): Promise<{ at: number; copies: number } | null> {
    const [found] = await inSchool(this.source, schoolId).find(
      HandBackLater,
      { handoutId },
      { select: ['at', 'copyIds'] },
    )
    return found ? { at: found.at, copies: found.copyIds.length } : null
  }

  /** Hands back what is to be by now: each once, whatever happens to the server; with what it was put down. */
  private async lookAtDue(): Promise<void> {
    if (this.looking) return
    this.looking = this.handBackDue()
      .catch((error: unknown) => {
        if (!isDatabaseAway(error)) this.log.error(error instanceof Error ? error.stack : String(error))
      })
      .finally(() => (this.looking = null))
    await this.looking
  }

  private async handBackDue(): Promise<void> {
    for (const { schoolId, handoutId, personId } of await backDue(this.source)) {
      const viewer: Viewer = { schoolId, personId, role: 'teacher' }
      const school = inSchool(this.source, schoolId)
      const [due] = await school.find(HandBackLater, { handoutId })
      if (!due) continue
      try {
        await this.now(viewer, handoutId, due, async (tx) => {
          // Another process, or another time since: then nothing.
          if ((await takeBackDue(tx, schoolId, handoutId)) === 0) throw gone()
          return null
        })
      } catch (error) {
        if (!(error instanceof ProblemException)) throw error
        // Who said so teaches here no more, or the class is archived: it is not handed back, and not tried for ever.
        if (error.code !== GONE) await takeBackDue(this.source, schoolId, handoutId)
      }
    }
  }

  /** Takes back what was handed back last, where nobody has looked at it yet. */
  async withdraw(viewer: Viewer, handoutId: string, copyIds: readonly string[]) {
    const { schoolId, personId } = viewer
    const done = await this.source.transaction(async (tx) => {
      const { handout } = await this.held(tx, viewer, handoutId)
      await oneAtATime(tx, `hand back ${handoutId}`)
      const own = (await markedCopies(tx, handout, copyIds)).map(({ copyId }) => copyId)
      await holdCopies(tx, schoolId, own)
      const last = await lastBack(tx, schoolId, own)
      const taken = last.filter(({ isSeen }) => !isSeen)
      if (taken.length > 0) await writeWithdrawn(tx, schoolId, taken, { personId, at: Date.now() })
      return {
        withdrawn: taken.length,
        seen: last.filter(({ isSeen }) => isSeen).map(({ copyId, title }) => ({ copyId, title })),
      }
    })
    if (done.withdrawn > 0) await this.events.tell('handout changed', { schoolId, handoutId })
    return done
  }

  /** Opens copies that were handed back again, to be improved: they are written in, submitted and marked once more; what was handed back stays. */
  async openAgain(viewer: Viewer, handoutId: string, copyIds: readonly string[]): Promise<{ opened: number }> {
    const { schoolId, personId } = viewer
    const opened = await this.source.transaction(async (tx) => {
      const { handout } = await this.held(tx, viewer, handoutId)
      await oneAtATime(tx, `hand back ${handoutId}`)
      const own = (await markedCopies(tx, handout, copyIds)).map(({ copyId }) => copyId)
      await holdCopies(tx, schoolId, own)
      return openAgain(tx, schoolId, own, { personId, at: Date.now() })
    })
    if (opened.length > 0) await this.events.tell('handout changed', { schoolId, handoutId })
    return { opened: opened.length }
  }

  /** Somebody has looked at what they got back. */
  async looked(viewer: Viewer, copyId: string): Promise<void> {
    const copy = await copyOf(this.source, viewer.schoolId, copyId)
    hold(mayWithCopy(viewer, roleIn(copy, viewer), copy.facts, 'see what was handed back', Date.now()))
    await noteLooked(this.source, viewer.schoolId, copyId, viewer.personId)
  }

  private async plan(
    tx: EntityManager,
    handout: Handout,
    { copyIds, message }: Pick<HandBackWish, 'copyIds' | 'message'>,
  ) {
    const { schoolId } = handout
    const copies = await markedCopies(tx, handout, copyIds ?? null)
    await reckonAnew(tx, handout, copies)
    const back = new Map<string, Record<string, Back['mark']>>()
    for (const { copyId, personId, mark } of await backOf(
      tx,
      schoolId,
      copies.map((copy) => copy.copyId),
    ))
      back.set(copyId, { ...back.get(copyId), [personId]: mark })
    const here = await inSchool(tx, schoolId).find(
      ClassMember,
      { classId: handout.classId, leftAt: null },
      { select: ['personId'] },
    )
    const members = new Set(here.map(({ personId }) => personId))
    const lines = planHandBack(
      wayOf(handout),
      copies.map((copy) => ({
        ...copy,
        isSubmitted: copy.submittedAt !== null,
        before: back.get(copy.copyId) ?? {},
      })),
      cleanLines(message.slice(0, MARK_LIMITS.remark)),
    )
    const addresses = addressesOf(copies, members)
    return {
      lines,
      addresses,
      withoutMail: new Set(lines.map(({ personId }) => personId).filter((id) => !addresses.has(id))),
    }
  }

  private async post(
    tx: EntityManager,
    handout: Handout,
    lines: readonly HandBackLine[],
    {
      personId,
      at,
      addresses,
    }: { readonly personId: string; readonly at: number; readonly addresses: ReadonlyMap<string, string> },
  ): Promise<void> {
    const { schoolId, id: handoutId, classId } = handout
    const [own] = await inSchool(tx, schoolId).find(Class, { id: classId }, { select: ['name'] })
    const [sender] = await inSchool(tx, schoolId).find(Person, { id: personId }, { select: ['first', 'last'] })
    const first = new Map<string, HandBackLine>()
    // Who holds several of the copies gets one mail, about the first.
    for (const line of lines)
      if (addresses.has(line.personId) && !first.has(line.personId)) first.set(line.personId, line)
    if (first.size === 0) return
    const people = [...first.values()]
    const messages = await this.mail.postReminders(
      tx,
      { schoolId, personId },
      people.map((line) => ({ personId: line.personId, address: addresses.get(line.personId)! })),
      { classId, handoutId },
    )
    await inSchool(tx, schoolId).insert(
      Reminder,
      people.map((line) => ({
        ...{ copyId: line.copyId, personId: line.personId, at, of: 'handed back' as const },
        ...reminderLetter('handed back', {
          first: line.first,
          handout: handout.title,
          number: handout.number,
          className: own?.name ?? '',
          title: line.worksheet,
          answered: 0,
          spaces: 0,
          due: null,
          words: line.message,
          sender: sender ? [sender.first, sender.last].filter(Boolean).join(' ') : '',
          link: `${this.settings.mail.publicUrl}/copies/${line.copyId}`,
        }),
        messageId: messages.get(line.personId)!,
      })),
    )
  }

  private async held(tx: EntityManager, viewer: Viewer, handoutId: string) {
    const handout = await findHandout(tx, viewer, handoutId)
    await holdInClass(tx, viewer, handout.classId, 'hand back')
    return { handout }
  }
}

/** The addresses of those who are in the class. */
const addressesOf = (copies: readonly MarkedCopy[], members: ReadonlySet<string>): ReadonlyMap<string, string> =>
  new Map(
    copies.flatMap(({ holders }) =>
      holders.flatMap(({ personId, email }) => (email && members.has(personId) ? [[personId, email] as const] : [])),
    ),
  )

const changed = () =>
  conflict('changed', 'Something has changed since you looked: look at what would go back, and hand it back then.')
const nothing = () => conflict('nothing', 'There is nothing to hand back.')
const GONE = 'gone'
const gone = () => conflict(GONE, 'It was handed back already.')
