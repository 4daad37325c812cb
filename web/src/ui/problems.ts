import { ApiError, sentenceOf } from './api'

/** What a failed request says of one field; undefined if nothing. */
export const problemAt = (error: unknown, field: string): string | undefined =>
  error instanceof ApiError ? error.errors.find((problem) => problem.field === field)?.sentence : undefined

/** What a failed request says apart from these fields, for a place of its own; null if it all stands at the fields. */
export function problemBeside(error: unknown, fields: readonly string[]): string | null {
  if (!error || fields.some((field) => problemAt(error, field))) return null
  return (error instanceof ApiError && error.errors[0]?.sentence) || sentenceOf(error)
}
