import type { BoardRow } from '../live/protocol.js'
import { isNotBegun } from '../progress/board.js'
import { isOverdue } from '../progress/journal.js'
import { pensDownByTeacher } from '../pens/pens.js'

/** What somebody is reminded of. */
export const REMINDED_OF = ['not begun', 'not submitted', 'overdue'] as const
export type RemindedOf = (typeof REMINDED_OF)[number]

/** What somebody is written to about: what is missing, an answer to a question of theirs, or what a teacher has to say. */
export const LETTERS_OF = [...REMINDED_OF, 'question answered', 'message', 'handed back'] as const
export type LetterOf = (typeof LETTERS_OF)[number]

/** What a teacher writes about, at once: each copy is missing something of its own. */
export const LETTERS_ABOUT = ['missing', 'question answered', 'message'] as const
export type LettersAbout = (typeof LETTERS_ABOUT)[number]

/** Nobody is reminded of the same handout twice within this time, nor of anything more often than so a day. */
export const REMINDER_LIMITS = { pause: 20 * 3_600_000, aDay: 3, words: 1_000 } as const

type RemindedRow = Pick<
  BoardRow,
  'state' | 'words' | 'answered' | 'dueAt' | 'way' | 'setAside' | 'pensDown' | 'pensDownFrom'
>

/**
 * What there is to remind the holders of a copy of.
 * @param now milliseconds since 1970
 * @returns null: nothing is missing, or nothing can be done about it now
 */
export function remindedOf(row: RemindedRow, now: number): RemindedOf | null {
  if (row.setAside || row.way === 'to read' || pensDownByTeacher(row, now)) return null
  if (row.state === 'submitted' || row.state === 'marked' || row.state === 'handed back') return null
  if (isOverdue(row, now)) return 'overdue'
  return isNotBegun(row) ? 'not begun' : 'not submitted'
}

/** Why somebody is not reminded. */
export type NotReminded =
  | 'nothing is missing'
  | 'no answer to see'
  | 'not open yet'
  | 'no e-mail'
  | 'reminded already'
  | 'reminded often'

/** What is known of somebody who may be reminded. */
export interface ReminderFacts {
  readonly hasEmail: boolean
  /** Of this handout, last; null: never. Milliseconds since 1970. */
  readonly lastAt: number | null
  /** How often within a day, of whatever. */
  readonly today: number
}

/** Somebody, and a copy that they hold. */
export interface ReminderPerson {
  readonly copyId: string
  readonly personId: string
}

/** What has to be known to say who is written to. */
export interface ReminderKnowledge {
  readonly factsOf: (personId: string) => ReminderFacts
  /** Whether the holders of a copy see it already. */
  readonly isOpen: (copyId: string) => boolean
  /** Whether a question of somebody in a copy was answered that they have not seen. */
  readonly isAnswered: (person: ReminderPerson) => boolean
}

export interface ReminderPlan {
  readonly goes: readonly (ReminderPerson & { readonly of: LetterOf })[]
  readonly passed: readonly (ReminderPerson & { readonly why: NotReminded })[]
}

/**
 * Who would be reminded of what, and who not, and why. Somebody who holds several of the copies is reminded once, of the first in
 * which something is missing.
 * @param now milliseconds since 1970
 * @param about what is written about; a message goes to all who hold one of the copies
 */
export function planReminders(
  rows: readonly (RemindedRow & Pick<BoardRow, 'copyId' | 'holders'>)[],
  { factsOf, isOpen, isAnswered }: ReminderKnowledge,
  now: number,
  about: LettersAbout = 'missing',
): ReminderPlan {
  const goes = new Map<string, ReminderPlan['goes'][number]>()
  const passed = new Map<string, ReminderPlan['passed'][number]>()
  for (const row of rows)
    for (const { personId, isGuest } of row.holders) {
      if (isGuest || goes.has(personId)) continue
      const of: LetterOf | null =
        about === 'message'
          ? 'message'
          : about === 'missing'
            ? remindedOf(row, now)
            : isAnswered({ copyId: row.copyId, personId })
              ? 'question answered'
              : null
      const { hasEmail, lastAt, today } = factsOf(personId)
      const why: NotReminded | null = !of
        ? about === 'missing'
          ? 'nothing is missing'
          : 'no answer to see'
        : !isOpen(row.copyId)
          ? 'not open yet'
          : !hasEmail
            ? 'no e-mail'
            : about === 'missing' && lastAt !== null && now - lastAt < REMINDER_LIMITS.pause
              ? 'reminded already'
              : today >= REMINDER_LIMITS.aDay
                ? 'reminded often'
                : null
      const person = { copyId: row.copyId, personId }
      if (why === null) {
        goes.set(personId, { ...person, of: of! })
        passed.delete(personId)
      } else if (!passed.has(personId)) passed.set(personId, { ...person, why })
    }
  return { goes: [...goes.values()], passed: [...passed.values()] }
}

/** What a reminder says, besides what is missing. */
export interface ReminderWords {
  /** As they are spoken to. */
  readonly first: string
  readonly handout: string
  readonly number: number
  readonly className: string
  readonly title: string
  readonly answered: number
  readonly spaces: number
  /** When it is due, in words; null: without a time. */
  readonly due: string | null
  /** What the teacher adds; '': nothing. */
  readonly words: string
  /** Who sends it; '': it goes out by itself. */
  readonly sender: string
  readonly link: string
}

/** A reminder as it goes out. */
export function reminderLetter(
  of: LetterOf,
  { first, handout, number, className, title, answered, spaces, due, words, sender, link }: ReminderWords,
): { readonly subject: string; readonly text: string } {
  const about = `“${title}” (No. ${number}, ${className})`
  const letter = (subject: string, ...parts: readonly string[]) => ({
    // A subject is one line, whatever a title has in it.
    subject: subject.replace(/\s+/g, ' ').slice(0, 180),
    text: [`${first},`, ...parts, `Open it here:\n${link}`, sender].filter(Boolean).join('\n\n'),
  })
  if (of === 'message')
    return letter(`${handout}: a message${sender && ` from ${sender}`}`, words.trim(), `It is about ${about}.`)
  if (of === 'handed back') return letter(`${handout}: handed back`, words.trim(), `${about} is handed back.`)
  if (of === 'question answered')
    return letter(`${handout}: your question is answered`, words.trim(), `A question of yours in ${about} is answered.`)
  const missing =
    of === 'not begun'
      ? 'you have not begun it yet'
      : `${answered} of ${spaces} answers are there, and it is not submitted`
  const when = due === null ? '' : of === 'overdue' ? `It was due ${due}.` : `It is due ${due}.`
  return letter(
    `${handout}: ${of}${due !== null && of !== 'overdue' ? `, due ${due}` : ''}`,
    words.trim(),
    [`${about}: ${missing}.`, when].filter(Boolean).join(' '),
  )
}
