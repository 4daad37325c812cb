import type { Permission } from '../access/permission.js'
import type { PlanGroup } from './facts.js'
import type { Way } from './statement.js'

export interface PlannedHolder {
  readonly personId: string
  readonly permission: Permission
}

/** A group with a place of its own in a copy that the whole class shares. */
export type PlaceOfGroup = PlanGroup

/** A copy that should exist. */
export interface PlannedCopy {
  /** Stable: the same slot of the same statement has the same key however often it is planned. */
  readonly slotKey: string
  readonly itemId: string
  readonly way: Way
  readonly title: string
  readonly worksheetId: string
  readonly edition: number
  /** A web page in place of a worksheet. */
  readonly link: string | null
  readonly holders: readonly PlannedHolder[]
  /** Chosen classmates who read it. */
  readonly readers: readonly PlannedHolder[]
  readonly classmatesMay: Permission
  readonly mayInvite: boolean
  readonly places: readonly PlaceOfGroup[]
  readonly opensAt: number | null
  readonly dueAt: number | null
  readonly pensDownAtDue: boolean
  readonly lateWork: boolean
}

/** Something to look at before handing out. `stops`: nothing can be handed out until it is mended. */
export interface Finding {
  readonly code:
    | 'no-item'
    | 'no-worksheet'
    | 'no-link'
    | 'no-edition'
    | 'worksheet-gone'
    | 'no-column'
    | 'no-group-set'
    | 'no-such-group'
    | 'nobody'
    | 'empty-class'
    | 'no-answer-spaces'
    | 'nobody-writes'
    | 'opens-after-due'
    | 'due-past'
    | 'same-name'
    | 'no-value'
    | 'no-email'
    | 'numbered'
    | 'single'
    | 'namesake'
    | 'twice'
    | 'no-match'
    | 'in-no-group'
    | 'group-twins'
    | 'crowded'
    | 'classmates-edit'
    | 'original-edited'
    | 'few-readers'
    | 'ungraded-rubric'
    | 'no-points'
    | 'points-differ'
    | 'many-notices'
    | 'unknown-token'
    | 'left-behind'
    | 'was-submitted'
  readonly sentence: string
  readonly stops: boolean
  readonly itemId?: string
  readonly slotKey?: string
}

export interface LeftOut {
  readonly personId: string
  readonly itemId: string
  readonly reason: string
  /** It was said so; else it may have been overlooked. */
  readonly byChoice: boolean
}
