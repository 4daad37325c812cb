import {
  type BoardRow,
  type LetterOf,
  type LettersAbout,
  type Viewer,
  REMINDER_LIMITS,
  cleanLines,
  fullName,
  languageOfTimes,
  planReminders,
  reminderLetter,
} from '@gavrin/core'
import { type BeforeApplicationShutdown, Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, type EntityManager } from 'typeorm'
import { Class, Person, School } from '../access/access.entity.js'
import { holdInClass } from '../access/classRole.js'
import { conflict, isDatabaseAway, malformed } from '../common/problemDetails.js'
import type { Settings } from '../common/settings.js'
import { SETTINGS } from '../common/tokens.js'
import { inSchool, oneAtATime } from '../database/inSchool.js'
import { boardRows } from '../kept/boardRows.js'
import { MailService } from '../mail/mail.service.js'
import { findHandout } from '../slip/handoutSet.js'
import type { Handout } from '../slip/slip.entity.js'
import { Reminder } from './reminder.entity.js'
import {
  type ReminderPersonRow,
  answeredUnseen,
  copiesToRemind,
  dueSoon,
  reminderPeople,
  takeDueSoon,
} from './reminder.queries.js'

/** How often it is looked for copies that are due within a day, in milliseconds. */
const CLOCK = 60_000

/** Whom a teacher writes to, of what, and what is said besides. */
export interface LettersWished {
  readonly copyIds: readonly string[]
  readonly words: string
  readonly about: LettersAbout
}

interface Letter {
  readonly copyId: string
  readonly personId: string
  readonly name: string
  readonly address: string
  readonly of: LetterOf
  readonly subject: string
  readonly text: string
}

/** Reminders of what is not begun, not submitted or overdue: proved, limited, sent by mail, and a day before due by themselves. */
@Injectable()
export class ReminderService implements OnApplicationBootstrap, BeforeApplicationShutdown {
  private readonly log = new Logger('reminders')
  private clock: NodeJS.Timeout | null = null
  private looking: Promise<unknown> | null = null

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
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

  /** Who would be reminded of these copies, who not and why, and how it reads. */
  async proof(viewer: Viewer, handoutId: string, { copyIds, words, about }: LettersWished) {
    const handout = await this.held(this.source.manager, viewer, handoutId)
    const { letters, passed, people } = await this.plan(
      this.source.manager,
      handout,
      { copyIds, words, about },
      viewer.personId,
    )
    return {
      goes: letters.map(({ personId, name, of }) => ({ personId, name, of })),
      passed: passed.map(({ personId, why }) => ({ personId, name: people.get(personId) ?? '', why })),
      example: letters[0] ? { to: letters[0].name, subject: letters[0].subject, text: letters[0].text } : null,
    }
  }

  /** Sends them; whoever was reminded meanwhile is not once more. */
  async send(
    viewer: Viewer,
    handoutId: string,
    { copyIds, words, about }: LettersWished,
  ): Promise<{ sent: number; passed: number }> {
    if (about === 'message' && !cleanWords(words))
      throw malformed([{ code: 'no-words', field: 'words', sentence: 'Write what you want to say.' }])
    return this.source.transaction(async (tx) => {
      // Two who press at once: the second finds that the first has sent.
      await oneAtATime(tx, `reminders ${handoutId}`)
      const handout = await this.held(tx, viewer, handoutId)
      const { letters, passed } = await this.plan(tx, handout, { copyIds, words, about }, viewer.personId)
      if (letters.length === 0) throw conflict('nobody', 'Nobody of them is reminded now: see why beside their names.')
      await this.post(tx, handout, letters, viewer.personId)
      return { sent: letters.length, passed: passed.length }
    })
  }

  private async plan(
    tx: EntityManager,
    handout: Handout,
    { copyIds, words, about: kind }: LettersWished,
    senderId: string | null,
  ) {
    const { schoolId } = handout
    const rows = copyIds.length > 0 ? await boardRows(tx, schoolId, handout.id, copyIds) : []
    const order = new Map(copyIds.map((id, at) => [id, at]))
    const wanted = rows.toSorted((a, b) => order.get(a.copyId)! - order.get(b.copyId)!)
    const ids = [...new Set(wanted.flatMap(({ holders }) => holders.map(({ personId }) => personId)))]
    const people = new Map((await reminderPeople(tx, schoolId, handout.id, ids)).map((one) => [one.personId, one]))
    const copies = new Map((await copiesToRemind(tx, schoolId, handout.id, copyIds)).map((copy) => [copy.copyId, copy]))
    const answered = new Set(
      kind === 'question answered'
        ? (await answeredUnseen(tx, schoolId, copyIds)).map(({ copyId, personId }) => `${copyId} ${personId}`)
        : [],
    )
    const now = Date.now()
    const { goes, passed } = planReminders(
      wanted,
      {
        factsOf: (personId) => {
          const person = people.get(personId)
          return { hasEmail: Boolean(person?.email), lastAt: person?.lastAt ?? null, today: person?.today ?? 0 }
        },
        isOpen: (copyId) => (copies.get(copyId)?.opensAt ?? 0) <= now,
        isAnswered: ({ copyId, personId }) => answered.has(`${copyId} ${personId}`),
      },
      now,
      kind,
    )
    const about = await this.about(tx, handout, senderId)
    const byCopy = new Map(wanted.map((row) => [row.copyId, row]))
    const letters = goes.map(({ copyId, personId, of }): Letter => {
      const person = people.get(personId)!
      const letter = reminderLetter(of, {
        ...about.words(byCopy.get(copyId)!, person),
        title: copies.get(copyId)!.worksheet,
        words: cleanWords(words),
      })
      return { copyId, personId, name: fullName(person), address: person.email!, of, ...letter }
    })
    return { letters, passed, people: new Map([...people].map(([id, person]) => [id, fullName(person)])) }
  }

  private async about(tx: EntityManager, handout: Handout, senderId: string | null) {
    const school = await tx.findOneByOrFail(School, { id: handout.schoolId })
    const [own] = await inSchool(tx, handout.schoolId).find(Class, { id: handout.classId }, { select: ['name'] })
    const [sender] = senderId
      ? await inSchool(tx, handout.schoolId).find(Person, { id: senderId }, { select: ['first', 'last'] })
      : []
    const time = new Intl.DateTimeFormat(languageOfTimes(school.locale), {
      timeZone: school.timeZone,
      ...{ weekday: 'short', day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' },
    })
    return {
      words: (row: BoardRow, person: ReminderPersonRow) => ({
        first: person.first || person.last,
        handout: handout.title,
        number: handout.number,
        className: own?.name ?? '',
        answered: row.answered,
        spaces: row.spaces,
        due: row.dueAt === null ? null : time.format(row.dueAt),
        sender: sender ? fullName(sender) : '',
        link: `${this.settings.mail.publicUrl}/copies/${row.copyId}`,
      }),
    }
  }

  private async post(
    tx: EntityManager,
    handout: Handout,
    letters: readonly Letter[],
    personId: string | null,
  ): Promise<void> {
    const { schoolId, id, classId } = handout
    const messages = await this.mail.postReminders(
      tx,
      { schoolId, personId },
      letters.map((letter) => ({ personId: letter.personId, address: letter.address })),
      { classId, handoutId: id },
    )
    const at = Date.now()
    await inSchool(tx, schoolId).insert(
      Reminder,
      letters.map(({ copyId, personId: to, of, subject, text }) => ({
        ...{ copyId, personId: to, at, of, subject, text },
        messageId: messages.get(to)!,
      })),
    )
  }

  /** Reminds of copies that are due within a day, where the handout says so: once for each due time, whatever happens to the server. */
  async lookAtDue(): Promise<void> {
    if (this.looking) return
    this.looking = this.remindBeforeDue()
      .catch((error: unknown) => {
        if (!isDatabaseAway(error)) this.log.error(error instanceof Error ? error.stack : String(error))
      })
      .finally(() => (this.looking = null))
    await this.looking
  }

  private async remindBeforeDue(): Promise<void> {
    for (const { schoolId, handoutId, copyIds } of await dueSoon(this.source))
      await this.source.transaction(async (tx) => {
        await oneAtATime(tx, `reminders ${handoutId}`)
        const taken = await takeDueSoon(tx, schoolId, copyIds)
        const handout = await findHandout(tx, { schoolId }, handoutId)
        const own = taken.map(({ copyId }) => copyId)
        const { letters } = await this.plan(tx, handout, { copyIds: own, words: '', about: 'missing' }, null)
        if (letters.length > 0) await this.post(tx, handout, letters, null)
      })
  }

  private async held(tx: EntityManager, viewer: Viewer, handoutId: string): Promise<Handout> {
    const handout = await findHandout(tx, viewer, handoutId)
    await holdInClass(tx, viewer, handout.classId, 'hand out')
    return handout
  }
}

/** Words of a teacher, line by line, without what is not seen of them. */
const cleanWords = (words: string): string => cleanLines(words.slice(0, REMINDER_LIMITS.words))
