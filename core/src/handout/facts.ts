import type { Permission } from '../access/permission.js'
import type { PersonName } from '../roster/names.js'

/** A student of the class, now. */
export interface PlanMember extends PersonName {
  readonly personId: string
  readonly email: string | null
  /** What stands in the columns of the roster, by column id. */
  readonly cells?: Readonly<Record<string, string>>
}

/** Somebody let in by the walk-in link of an item. */
export interface PlanGuest {
  readonly personId: string
  readonly name: string
  readonly itemId: string
  readonly permission: Permission
  /** The student of the class that they are, as a teacher said; left out: nobody has said. */
  readonly match?: StudentOfGuest | null
}

/** Which student a guest is. */
export interface StudentOfGuest {
  readonly personId: string
  /** What they wrote stands beside the student's own; else it is the student's own. */
  readonly beside: boolean
}

export interface PlanEdition {
  readonly number: number
  readonly answerSpaces: number
  /** Of all its answer spaces together. */
  readonly points: number
  /** How many of the answer spaces stand in sections that are repeated for each member, for each group. */
  readonly memberSpaces: number
  readonly groupSpaces: number
}

export type BuiltIn = 'blank page' | 'own file' | 'link'

/** A worksheet the statement speaks of. */
export interface PlanWorksheet {
  readonly id: string
  readonly title: string
  /** Editions that exist, newest last. */
  readonly editions: readonly PlanEdition[]
  /** Not of the library: a blank page, a page for a file of one's own, or what stands where a link is given. */
  readonly builtIn?: BuiltIn | null
}

export interface PlanGroup {
  readonly id: string
  readonly name: string
  readonly personIds: readonly string[]
}

export interface PlanGroupSet {
  readonly id: string
  readonly name: string
  readonly groups: readonly PlanGroup[]
  /** Groups that are two though their names look alike, the smaller id first. */
  readonly different?: readonly (readonly [string, string])[]
}

/** All that a plan for one class depends on besides the statement. */
export interface PlanFacts {
  readonly classId: string
  readonly className: string
  /** The number of the handout in this class. */
  readonly number: number
  /** The students of the class in the order of the roster; the order decides which of two equal names is numbered. */
  readonly members: readonly PlanMember[]
  readonly guests: readonly PlanGuest[]
  /** Who made a copy of their own of something to read. */
  readonly ownCopies: readonly { readonly itemId: string; readonly personId: string }[]
  readonly columns: readonly { readonly id: string; readonly name: string }[]
  readonly groupSets: readonly PlanGroupSet[]
  readonly units: readonly { readonly id: string; readonly name: string }[]
  readonly staff: readonly { readonly personId: string; readonly email: string | null }[]
  readonly worksheets: readonly PlanWorksheet[]
  /** When the handout was begun, milliseconds since 1970: the date in names when there is no due time. */
  readonly begunAt: number
  /** IANA time zone of the school. */
  readonly timeZone: string
  /** BCP 47 tag of the school's language. */
  readonly locale: string
}
