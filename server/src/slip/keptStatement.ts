import { type Statement, checkStatement } from '@gavrin/core'
import type { ValueTransformer } from 'typeorm'

/** Statements kept by an older Gavrin have less in them: what is missing is filled in as it is read. */
export function keptStatement(kept: unknown): Statement {
  const checked = checkStatement(kept)
  if (!checked.ok) throw new Error(`A kept statement cannot be read: ${checked.problems[0]?.field}`)
  return checked.value
}

/** A column that holds a statement. */
export const STATEMENT: ValueTransformer = {
  to: (value: Statement | null) => value,
  from: (value: unknown) => (value === null || value === undefined ? null : keptStatement(value)),
}
