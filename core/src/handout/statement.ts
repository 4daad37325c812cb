import type { Permission } from '../access/permission.js'
import { DEFAULT_PATTERN, GROUP_PATTERN, type NamePattern, TITLE_PATTERN } from '../naming/pattern.js'
import { foldText } from '../roster/names.js'
import type { NoteText } from './note.js'

/**
 * A column or group set of the roster. It is looked for by its id first, and by its name where there is no such id: in the
 * other classes of a handout, and in the class of another year.
 */
export interface Ref {
  readonly id: string | null
  readonly name: string
}

/** Who an item is for. Named people who have left the class since are passed over. */
export type Audience =
  | { readonly kind: 'all' }
  | { readonly kind: 'some'; readonly personIds: readonly string[] }
  | { readonly kind: 'all but'; readonly personIds: readonly string[] }
  /** Those with one of these values in a column. */
  | { readonly kind: 'column'; readonly column: Ref; readonly values: readonly string[] }
  /** It is still to be said; elsewhere it was for these, in words. Until then nothing can be handed out. */
  | { readonly kind: 'not said'; readonly was: string }
  /** Those in one of these groups. */
  | { readonly kind: 'groups'; readonly set: Ref; readonly groups: readonly string[] }

/** How an item is given. */
export const WAYS = ['one each', 'one per group', 'one together', 'to read'] as const
export type Way = (typeof WAYS)[number]

/** A worksheet for those whom a rule of {@link Matching} fits. */
export interface MatchRule {
  /** The value of the column, or the name of the group. */
  readonly is: string
  readonly worksheetId: string
  readonly edition: number
}

/** Different worksheets in one item, by what stands in a column or by group; the item's own worksheet is for all others. */
export interface Matching {
  readonly by: 'column' | 'group'
  /** The column, or the group set. */
  readonly of: Ref
  readonly rules: readonly MatchRule[]
}

/** Classmates who read a copy. */
export interface Peers {
  /** How many read each copy. */
  readonly each: number
  readonly may: 'view' | 'comment'
  /** The same seed chooses the same readers. */
  readonly seed: number
  /** Chosen by hand: slot key to the readers of this copy. */
  readonly chosen: Readonly<Record<string, readonly string[]>>
  /** What readers look for, a sentence each; empty: it is not said. */
  readonly lookFor: readonly string[]
  /** Until when they read, in milliseconds since 1970; null: it is not said. */
  readonly until: number | null
  /** Whose copy it is sees who says what; else "Peer reader 1". Staff always do. */
  readonly named: boolean
}

/** Peer readers of whom nothing more is said. */
export const plainPeers = (each: number, may: Peers['may'] = 'comment'): Peers => ({
  each,
  may,
  seed: 1,
  chosen: {},
  lookFor: [],
  until: null,
  named: true,
})

/** How much readers can be asked to look for. */
export const LOOK_FOR_LIMITS = { sentences: 8, letters: 300 } as const

/**
 * What becomes of writing in copies that are no longer planned when others take their place. `give all`: where answers of several
 * would meet in one passage, they stand in it under each other, each under the names of who wrote it.
 */
export const CARRIES = ['keep aside', 'give to writer', 'give all'] as const
export type Carry = (typeof CARRIES)[number]

/** One slip: this worksheet, to these people, this way, with these permissions, called this. */
export interface HandoutItem {
  readonly id: string
  readonly worksheetId: string | null
  /** The edition that is given. */
  readonly edition: number | null
  /** A web page in place of a worksheet. */
  readonly link: { readonly address: string; readonly title: string } | null
  readonly match: Matching | null
  readonly audience: Audience
  readonly way: Way
  /** Of whom one per group is given, and whose groups have places of their own in one together. */
  readonly groupSet: Ref | null
  readonly holdersMay: Permission
  readonly classmatesMay: Permission
  readonly peers: Peers | null
  /** Holders may let classmates into their copy. */
  readonly mayInvite: boolean
  /** In a copy with places of members or groups: whether others' are read by those who have one. */
  readonly othersPlaces: OthersPlaces
  /** Whether who may only view a copy reads what is said in it. */
  readonly viewersReadComments: boolean
  /** Of something to read: whether who gets it may make a copy of their own, to write in. */
  readonly ownCopies: boolean
  readonly pattern: NamePattern
  /** Copies that stay on an earlier edition: slot key to its number. */
  readonly earlier: Readonly<Record<string, number>>
  /** Slots taken back by hand, in one class alone where each has one (`slotInClass`). */
  readonly without: readonly string[]
  /** What single copies have of their own, in place of what the slip says: by slot, in one class alone (`slotInClass`). */
  readonly single: Readonly<Record<string, SingleCopy>>
  readonly carry: Carry
  /** Where answers of several copies meet: which of them goes along, by `meetingKey`: the slot of its copy, `all` or `none`. */
  readonly carryChosen: Readonly<Record<string, string>>
}

/** What one copy has of its own; null: as the slip says. */
export interface SingleCopy {
  readonly called: string | null
  /** What its holders may. */
  readonly may: Permission | null
}

/** Whether in a copy that several share the places of others can be read. */
export const OTHERS_PLACES = ['read', 'hidden until due', 'hidden'] as const
export type OthersPlaces = (typeof OTHERS_PLACES)[number]

/** A class that a handout is for, with its own times. */
export interface ClassTimes {
  readonly classId: string
  /** Milliseconds since 1970, or null: as soon as it is handed out. */
  readonly opensAt: number | null
  /** Milliseconds since 1970, or null: no due time. */
  readonly dueAt: number | null
}

/** Another due or opening time for one student; null: as for the class. */
export interface Exception {
  readonly personId: string
  readonly opensAt: number | null
  readonly dueAt: number | null
}

/** The message that goes out with a handout. */
export interface CoverNote {
  readonly text: NoteText
  readonly by: 'mail' | 'here'
  /** The staff of the class get every one of them too. */
  readonly staffCopied: boolean
}

export interface RubricRow {
  readonly id: string
  readonly name: string
  /** The most that it is worth. */
  readonly points: number
  /** What can be reached in it; missing: any points up to the most. */
  readonly levels?: readonly RubricLevel[]
}

/** A level of a row of a rubric: what who reaches it has done, and what that is worth. */
export interface RubricLevel {
  readonly id: string
  readonly name: string
  readonly points: number
}

export type Marking =
  /** By a remark alone. */
  | { readonly kind: 'ungraded' }
  | { readonly kind: 'not marked' }
  | { readonly kind: 'points'; readonly points: number }
  /** By the points of the answer spaces, and the rubric. */
  | { readonly kind: 'spaces' }
  /** Best first. `from`: from how many per cent each step is reached, falling to 0; missing: a step is given by hand. */
  | { readonly kind: 'scale'; readonly steps: readonly string[]; readonly from?: readonly number[] }

/** When those who write are told which answers are right by their key: before it is handed back not, or as practice. */
export const CHECKS = ['no', 'when submitted', 'while writing'] as const
export type Checks = (typeof CHECKS)[number]

/** Of the marks that a copy got in several rounds: which counts. */
export const ROUNDS = ['last', 'best', 'mean'] as const
export type Rounds = (typeof ROUNDS)[number]

/** What should exist. A handout is this and nothing else; copies follow from it (see {@link planHandout}). */
export interface Statement {
  readonly items: readonly HandoutItem[]
  readonly classes: readonly ClassTimes[]
  /** At the due time nobody can write any more. */
  readonly pensDownAtDue: boolean
  /** Copies can still be submitted after the due time. */
  readonly lateWork: boolean
  /** A day before it is due, who has not submitted is reminded. */
  readonly remindBefore: boolean
  readonly exceptions: readonly Exception[]
  /** Students who join later get theirs by themselves, or wait until somebody hands out again. */
  readonly joiners: 'by themselves' | 'wait'
  readonly cover: CoverNote | null
  readonly marking: Marking
  readonly rubric: readonly RubricRow[]
  /** What work that comes late loses of its mark: per cent of the most a day begun, and how many per cent of the sum stay. */
  readonly lateDeduction: { readonly perDay: number; readonly atLeast: number } | null
  /** When holders are told which of their answers are right. */
  readonly checks: Checks
  /** Which mark counts where copies were opened again to be improved. */
  readonly rounds: Rounds
  readonly unit: Ref | null
  readonly instructions: NoteText | null
}

/** A slip with every blank filled in as most want it: one each for the whole class, to write in, seen by nobody else. */
export const plainItem = (id: string, worksheetId: string | null, edition: number | null): HandoutItem => ({
  id,
  worksheetId,
  edition,
  link: null,
  match: null,
  audience: { kind: 'all' },
  way: 'one each',
  groupSet: null,
  holdersMay: 'edit',
  classmatesMay: 'none',
  peers: null,
  mayInvite: false,
  othersPlaces: 'read',
  viewersReadComments: true,
  ownCopies: false,
  pattern: DEFAULT_PATTERN,
  earlier: {},
  without: [],
  single: {},
  carry: 'keep aside',
  carryChosen: {},
})

/** A statement with everything besides its items and classes as most want it. */
export const plainStatement = (items: readonly HandoutItem[], classes: readonly ClassTimes[]): Statement => ({
  items,
  classes,
  pensDownAtDue: false,
  lateWork: true,
  remindBefore: false,
  exceptions: [],
  joiners: 'by themselves',
  cover: null,
  marking: { kind: 'ungraded' },
  rubric: [],
  lateDeduction: null,
  checks: 'no',
  rounds: 'last',
  unit: null,
  instructions: null,
})

/** The statement that nothing should exist. */
export const NOTHING: Statement = plainStatement([], [])

/** How copies of a way are called when nobody has said otherwise. */
export function patternOf(way: Way): NamePattern {
  switch (way) {
    case 'one each':
      return DEFAULT_PATTERN
    case 'one per group':
      return GROUP_PATTERN
    case 'one together':
    case 'to read':
      return TITLE_PATTERN
  }
}

/** A slip given another way: what the way before had as a matter of course gives way to what this one has. */
export function withWay(item: HandoutItem, way: Way, sets: readonly Ref[]): HandoutItem {
  const own = JSON.stringify(item.pattern) === JSON.stringify(patternOf(item.way))
  const holdersMay =
    way === 'to read'
      ? item.holdersMay === 'comment'
        ? 'comment'
        : 'view'
      : item.way === 'to read'
        ? 'edit'
        : item.holdersMay
  return {
    ...item,
    way,
    holdersMay,
    pattern: own ? patternOf(way) : item.pattern,
    groupSet: way === 'one per group' ? (item.groupSet ?? sets[0] ?? null) : item.groupSet,
    peers: way === 'one each' || way === 'one per group' ? item.peers : null,
    classmatesMay: way === 'to read' ? 'none' : item.classmatesMay,
    mayInvite: way !== 'to read' && item.mayInvite,
    ownCopies: way === 'to read' && item.ownCopies,
  }
}

/** What a link is called: as somebody said, or its address without what all addresses begin with. */
export const linkTitle = ({ address, title }: NonNullable<HandoutItem['link']>): string =>
  title || address.replace(/^(https?:\/\/|mailto:)/i, '').replace(/\/$/, '')

/** Finds what a reference is to: by id, else by name in any spelling of case and spaces. */
export function findRef<T extends { readonly id: string; readonly name: string }>(
  things: readonly T[],
  ref: Ref,
): T | undefined {
  return things.find(({ id }) => id === ref.id) ?? things.find(({ name }) => foldText(name) === foldText(ref.name))
}

/** The times of a class in a statement; none set for a class that is not in it. */
export const timesFor = (statement: Statement, classId: string): ClassTimes =>
  statement.classes.find((times) => times.classId === classId) ?? { classId, opensAt: null, dueAt: null }
