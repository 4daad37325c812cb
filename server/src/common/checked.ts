import type { Outcome } from '@gavrin/core'
import { malformed } from './problemDetails.js'

/** The value of an outcome, or problem details with all its problems at their fields. */
export function valueOf<T>(outcome: Outcome<T>): T {
  if (outcome.ok) return outcome.value
  throw malformed(outcome.problems)
}

/** Milliseconds since 1970 of a database time. */
export function millis(at: Date): number
export function millis(at: Date | null): number | null
export function millis(at: Date | null): number | null {
  return at === null ? null : at.getTime()
}
