import type { SchoolRole } from '@gavrin/core'

/** What the school knows of a person. */
export interface PersonRecord {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  /** Student number. */
  readonly number: string | null
  readonly role: SchoolRole
  readonly canSignIn: boolean
}

/** Somebody as the office sees them. */
export interface OfficePerson extends PersonRecord {
  /** What somebody without an e-mail signs in with. */
  readonly cardName: string | null
  readonly classes: string
  readonly copies: number
}
