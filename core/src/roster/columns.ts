import { type Outcome, fine, refuse } from '../errors/problem.js'
import { cleanText, foldText } from './names.js'

/** A roster column of a class beside the names, e.g. "Reading band". `tags`: several words in one cell, parted by commas. */
export interface RosterColumn {
  readonly id: string
  readonly name: string
  readonly kind: 'text' | 'tags'
}

export const COLUMN_LIMIT = 40
export const COLUMN_NAME_LIMIT = 60
/** The longest text, in UTF-16 units, that a cell of a roster column keeps. */
export const CELL_LIMIT = 500
export const NUMBER_LIMIT = 60
/** The most students that one class takes. */
export const CLASS_SIZE_LIMIT = 5_000

/** What the fixed columns are called; an extra column cannot take one of these names. */
export const FIXED_COLUMNS = {
  last: 'Last name',
  first: 'First name',
  email: 'E-mail',
  number: 'Student number',
} as const

/** Checks the name of a new or renamed column against the others of its class. */
export function checkColumnName(name: string, others: readonly string[]): Outcome<string> {
  const clean = cleanText(name)
  const wrong = (sentence: string) => refuse({ code: 'column-name', field: 'name', sentence })
  if (!clean) return wrong('Give the column a name.')
  if (clean.length > COLUMN_NAME_LIMIT) return wrong(`A column name has up to ${COLUMN_NAME_LIMIT} characters.`)
  const taken = [...Object.values(FIXED_COLUMNS), ...others].find((other) => foldText(other) === foldText(clean))
  if (taken) return wrong(`There is a column "${taken}" already.`)
  return fine(clean)
}

/** The words of a cell of tags, in their order, none twice. */
export function tagsOf(cell: string): string[] {
  const seen = new Set<string>()
  return cell
    .split(',')
    .map(cleanText)
    .filter((tag) => tag && !seen.has(foldText(tag)) && seen.add(foldText(tag)))
}

/** A cell of tags with one more; as it was if the tag is there already in any spelling of case and space. */
export const withTag = (cell: string, tag: string): string => tagsOf(`${cell},${tag}`).join(', ')

/** A cell of tags without one. */
export const withoutTag = (cell: string, tag: string): string =>
  tagsOf(cell)
    .filter((other) => foldText(other) !== foldText(tag))
    .join(', ')
