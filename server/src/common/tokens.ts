import type { SchoolRole } from '@gavrin/core'
/** What is injected by name. */
export const SETTINGS = Symbol('settings')
export const SESSIONS = Symbol('sessions')
/** Somebody the demo can be tried as. */
export interface DemoPerson {
  readonly email: string
  readonly first: string
  readonly last: string
  readonly role: SchoolRole
  /** The classes they are in. */
  readonly classes: string
}

/** In demo mode a function that finds whom the demo can be tried as; else null. */
export const DEMO_PEOPLE = Symbol('demo people')
/** Who can sign in to the demo, all with one password. */
export interface DemoPeople {
  readonly password: string
  readonly people: readonly DemoPerson[]
}

export type FindDemoPeople = (() => Promise<DemoPeople>) | null
