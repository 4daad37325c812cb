import type { Outcome } from '@gavrin/core'
import { malformed } from './problemDetails.js'

/** The value of an outcome, or problem details with all its problems at their fields. */
export function valueOf<T>(outcome: Outcome<T>): T {
  if (outcome.ok) return outcome.value
  throw malformed(outcome.problems)
}

const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i

/** Whether a text can be the id of a row; any other is of nothing. */
export const isUuid = (text: string): boolean => UUID.test(text)
