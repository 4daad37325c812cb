import { type Outcome, fine, refuse } from '../errors/problem.js'
import { checkMarking } from '../handout/readStatement.js'
import type { RubricRow } from '../handout/statement.js'
import { cleanText } from '../roster/names.js'
import type { Scale } from './way.js'

/** Letters of a name; how many rubrics one keeps, and how many scales a school and each class have. */
export const LIBRARY_LIMITS = { name: 80, rubrics: 200, scales: 50 } as const

/** A rubric that is kept, to be used again: what is made of it in a slip is the slip's own. */
export interface KeptRubric {
  readonly name: string
  readonly rows: readonly RubricRow[]
}

/** A scale of a school, or of a class. */
export interface KeptScale extends Scale {
  readonly name: string
}

function checkName(typed: string, what: string): Outcome<string> {
  const name = cleanText(typed)
  return name && name.length <= LIBRARY_LIMITS.name
    ? fine(name)
    : refuse({
        code: 'name',
        field: 'name',
        sentence: `Give the ${what} a name of up to ${LIBRARY_LIMITS.name} characters.`,
      })
}

/** Reads a rubric that is to be kept. */
export function checkKeptRubric({
  name,
  rows,
}: {
  readonly name: string
  readonly rows: unknown
}): Outcome<KeptRubric> {
  const called = checkName(name, 'rubric')
  if (!called.ok) return called
  const read = checkMarking({ marking: { kind: 'spaces' }, rubric: rows })
  if (!read.ok) return read
  if (read.value.rubric.length === 0)
    return refuse({ code: 'empty', field: 'rubric', sentence: 'There is no row in this rubric yet.' })
  return fine({ name: called.value, rows: read.value.rubric })
}

/** Reads a scale that is to be kept. */
export function checkKeptScale({
  name,
  steps,
  from,
}: {
  readonly name: string
  readonly steps: unknown
  readonly from: unknown
}): Outcome<KeptScale> {
  const called = checkName(name, 'scale')
  if (!called.ok) return called
  const read = checkMarking({ marking: { kind: 'scale', steps, from }, rubric: [] })
  if (!read.ok) return read
  const { marking } = read.value
  if (marking.kind !== 'scale') throw new Error('read as a scale')
  return fine({ name: called.value, steps: marking.steps, from: marking.from ?? null })
}
