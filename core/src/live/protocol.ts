import * as decoding from 'lib0/decoding'
import * as encoding from 'lib0/encoding'
import type { Permission } from '../access/permission.js'
import type { Way } from '../handout/statement.js'
import type { CopyState } from '../progress/journal.js'
import type { ProgressBySpace } from '../progress/answers.js'
import type { ThreadSeen } from '../comment/thread.js'
import type { PersonHere } from '../presence/here.js'
import { isPosition } from './letters.js'

// The live protocol. Text frames carry JSON; binary frames carry what is written. A channel is one copy opened over the
// socket, numbered by the client. docs/live.md tells the order of things.

/** From the browser. */
export type ClientMessage =
  | { readonly type: 'open'; readonly channel: number; readonly copyId: string }
  | { readonly type: 'close'; readonly channel: number }
  /** Registers the client id under which this person writes in a space. */
  | { readonly type: 'writer'; readonly channel: number; readonly space: string; readonly client: number }
  /** Where one is in a copy: in which answer space, where in its letters (`positionAt`), and whether one looks at all. */
  | {
      readonly type: 'here'
      readonly channel: number
      readonly space: string | null
      readonly at: string | null
      readonly away: boolean
    }
  | { readonly type: 'watch'; readonly handoutId: string }
  | { readonly type: 'unwatch'; readonly handoutId: string }
  /** To be told when something of a class changes: see `class changed`. */
  | { readonly type: 'watch class'; readonly classId: string }
  | { readonly type: 'unwatch class'; readonly classId: string }
  /** To be told who writes in a worksheet of the library and when its draft is kept; `block` and `at`: where one is oneself. */
  | {
      readonly type: 'watch worksheet'
      readonly worksheetId: string
      readonly block: string | null
      readonly at: number | null
    }
  | { readonly type: 'unwatch worksheet'; readonly worksheetId: string }

/** What of a class has changed. */
export type ClassPart = 'roster' | 'groups' | 'class' | 'join page' | 'marks'

/** Somebody who has a worksheet of the library open. */
export interface WorksheetWriter {
  readonly personId: string
  readonly name: string
  /** The id of the block they are in. */
  readonly block: string | null
  /** How far into the block their caret is, as the editor counts; null: nowhere in its words. */
  readonly at: number | null
}

/** How much is said in a copy. */
export interface CopyComments {
  readonly staff: number
  readonly holders: number
  /** Classmates and guests who do not hold it. */
  readonly peers: number
  /** Threads that somebody has said are done with. */
  readonly done: number
  /** By its holders, in other copies of the handout. */
  readonly onOthers: number
  /** The addresses of the answers that something is said of, and of those that a question waits at. */
  readonly spaces: readonly string[]
  readonly asked: readonly string[]
}

/** The mark of a copy on its board. */
export interface BoardMark {
  /** In hundredths of a point; null: none yet, or not by points. */
  readonly total: number | null
  readonly most: number | null
  readonly step: string | null
  readonly excused: boolean
  /** The marking of the copy as it was submitted last is done. */
  readonly isDone: boolean
  /** Counts its changes. */
  readonly version: number
}

/** One line of the board. */
export interface BoardRow {
  readonly copyId: string
  readonly slotKey: string
  readonly worksheetId: string
  readonly way: Way
  readonly title: string
  readonly holders: readonly {
    readonly personId: string
    readonly first: string
    readonly last: string
    /** They came by a walk-in link. */
    readonly isGuest: boolean
    /** A guest who is a student of the class; null: it is the student, or a guest whom nobody has matched. */
    readonly guestOf: { readonly studentId: string; readonly beside: boolean } | null
  }[]
  /** The groups that have a place of their own in it. */
  readonly places: readonly { readonly id: string; readonly name: string }[]
  readonly state: CopyState
  readonly pensDown: boolean
  /** When a teacher has set them to go down; null: they did not, or they are down. */
  readonly pensDownFrom: number | null
  readonly pensDownAtDue: boolean
  readonly setAside: boolean
  readonly dueAt: number | null
  readonly answered: number
  readonly spaces: number
  readonly words: number
  /** Stretches of writing without a long pause. */
  readonly sittings: number
  readonly comments: CopyComments
  readonly progress: ProgressBySpace
  readonly lastActivityAt: number | null
  /** When something was written in it last; null: nothing is. */
  readonly writtenAt: number | null
  readonly submittedAt: number | null
  /** In how many answer spaces somebody wrote too late. */
  readonly lateWritings: number
  /** How many questions wait for an answer. */
  readonly questions: number
  /** Its holders say that a document with it is the answer. */
  readonly hasDocument: boolean
  /** It cannot be opened in time; its teachers can bring it to its last good state. */
  readonly unreadable: boolean
  readonly edition: number
  /** Null: nothing of it is marked. */
  readonly mark: BoardMark | null
}

/** That pens go down by themselves: then, by the clock of the server, which shows this now. Milliseconds since 1970. */
export interface PensGoDown {
  readonly at: number
  readonly now: number
}

export type RefusalCode =
  | 'malformed'
  | 'too-many'
  | 'too-large'
  | 'too-fast'
  | 'not-yours'
  | 'not-an-answer'
  | 'no-such-space'
  | 'not-open'
  | 'full'
  | 'may-not-write'

/** From the server. */
export type ServerMessage =
  /** The states of all spaces that hold something have been sent before this. */
  | {
      readonly type: 'ready'
      readonly channel: number
      readonly permission: Permission
      readonly reason: string
      readonly state: CopyState
      readonly pensGoDown: PensGoDown | null
      /** Another one than the page that is shown was drawn from: read the copy again. */
      readonly page: string
    }
  | {
      readonly type: 'permission'
      readonly channel: number
      readonly permission: Permission
      readonly reason: string
      readonly state: CopyState
      readonly pensGoDown: PensGoDown | null
    }
  // Every change gets exactly one of the next three in the end, by its number; `resend` is not the last word.
  /** This change is in the answer, and committed. */
  | { readonly type: 'saved'; readonly channel: number; readonly number: number; readonly at: number }
  /** This change came too late for the answer; it is committed beside it. The sentence says why it stood still. */
  | {
      readonly type: 'late'
      readonly channel: number
      readonly space: string
      readonly number: number
      readonly sentence: string
      readonly at: number
    }
  /** This change was not taken, neither into the answer nor beside it. */
  | {
      readonly type: 'refused'
      readonly channel: number
      readonly space: string
      readonly number: number
      readonly code: RefusalCode
      readonly sentence: string
    }
  /** Send all you have of this space again: something this change rests on is not here. */
  | { readonly type: 'resend'; readonly channel: number; readonly space: string; readonly number: number }
  /** Writing of somebody, here or in another window, was kept beside this copy: read the late writing again. */
  | { readonly type: 'late writing'; readonly channel: number }
  /** Who has this copy open, and where they are: everybody, whenever something of it has changed. */
  | { readonly type: 'people'; readonly channel: number; readonly people: readonly PersonHere[] }
  /** Comments of this copy as they are now; `gone`: the ids of threads of which nothing is left to see. */
  | {
      readonly type: 'comments'
      readonly channel: number
      readonly threads: readonly ThreadSeen[]
      readonly gone: readonly string[]
    }
  /** Which answers are right by their key, where whoever writes is told: by answer space. */
  | { readonly type: 'checks'; readonly channel: number; readonly right: Readonly<Record<string, boolean>> }
  /** This answer space is nearly full. */
  | { readonly type: 'filling'; readonly channel: number; readonly space: string }
  | { readonly type: 'writer-taken'; readonly channel: number; readonly space: string; readonly client: number }
  /** `again`: open it again in a moment; `takes`: what was written and not sent yet is still taken, beside the answers. */
  | {
      readonly type: 'closed'
      readonly channel: number
      readonly sentence: string
      readonly again: boolean
      readonly takes: boolean
    }
  | { readonly type: 'rows'; readonly handoutId: string; readonly rows: readonly BoardRow[] }
  /** Read this part of the class again: somebody changed it; of marks this column of the mark book (a handout, or one of its own), where it is said. */
  | { readonly type: 'class changed'; readonly classId: string; readonly part: ClassPart; readonly columnId?: string }
  | { readonly type: 'worksheet writers'; readonly worksheetId: string; readonly writers: readonly WorksheetWriter[] }
  /** The draft of a worksheet was kept by somebody. */
  | { readonly type: 'worksheet changed'; readonly worksheetId: string; readonly version: number; readonly by: string }
  | { readonly type: 'trouble'; readonly sentence: string }

const ID = /^[A-Za-z0-9_-]{1,64}$/
const isChannel = (value: unknown): value is number => isPlace(value)
const isClient = (value: unknown): value is number =>
  Number.isInteger(value) && (value as number) >= 0 && (value as number) < 2 ** 32
const isPlace = (value: unknown): value is number =>
  Number.isInteger(value) && (value as number) >= 0 && (value as number) < 2 ** 31
const isId = (value: unknown): value is string => typeof value === 'string' && ID.test(value)

/** Reads a text frame from the browser; null for anything else than a message of {@link ClientMessage}. */
export function readClientMessage(text: string): ClientMessage | null {
  let raw: Record<string, unknown>
  try {
    raw = JSON.parse(text) as Record<string, unknown>
  } catch {
    return null
  }
  if (typeof raw !== 'object' || raw === null) return null
  const { type, channel, copyId, space, client, handoutId, classId, worksheetId, block, at, away } = raw
  if (type === 'open' && isChannel(channel) && isId(copyId)) return { type, channel, copyId }
  if (type === 'close' && isChannel(channel)) return { type, channel }
  if (type === 'writer' && isChannel(channel) && isId(space) && isClient(client))
    return { type, channel, space, client }
  if (type === 'here' && isChannel(channel) && (space === null || isId(space)) && typeof away === 'boolean')
    return { type, channel, space, at: isPosition(at) ? at : null, away }
  if ((type === 'watch' || type === 'unwatch') && isId(handoutId)) return { type, handoutId }
  if ((type === 'watch class' || type === 'unwatch class') && isId(classId)) return { type, classId }
  if (type === 'watch worksheet' && isId(worksheetId) && (block === null || isId(block)))
    return { type, worksheetId, block, at: isPlace(at) ? at : null }
  if (type === 'unwatch worksheet' && isId(worksheetId)) return { type, worksheetId }
  return null
}

/** A change to a space. `number` counts the changes of a channel; the server acknowledges by it. From the server it is 0. */
export interface SpaceUpdate {
  readonly channel: number
  readonly space: string
  readonly number: number
  readonly bytes: Uint8Array
}

/** A binary frame. */
export function writeSpaceUpdate({ channel, space, number, bytes }: SpaceUpdate): Uint8Array {
  const encoder = encoding.createEncoder()
  encoding.writeVarUint(encoder, channel)
  encoding.writeVarString(encoder, space)
  encoding.writeVarUint(encoder, number)
  encoding.writeUint8Array(encoder, bytes)
  return encoding.toUint8Array(encoder)
}

/** Reads a binary frame; null for anything malformed. */
export function readSpaceUpdate(frame: Uint8Array): SpaceUpdate | null {
  try {
    const decoder = decoding.createDecoder(frame.slice())
    const channel = decoding.readVarUint(decoder)
    const space = decoding.readVarString(decoder)
    const number = decoding.readVarUint(decoder)
    if (!isChannel(channel) || !ID.test(space) || decoder.pos > decoder.arr.length) return null
    return { channel, space, number, bytes: decoding.readTailAsUint8Array(decoder) }
  } catch {
    return null
  }
}
