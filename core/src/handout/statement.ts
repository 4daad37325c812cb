import type { Permission } from '../access/permission.js'
import { type Outcome, type Problem, fine } from '../errors/problem.js'
import { DEFAULT_PATTERN, type NamePattern, checkPattern } from '../naming/pattern.js'

/** Who an item is for. `some` names people; those who have left the class since are passed over. */
export type Audience = { readonly kind: 'all' } | { readonly kind: 'some'; readonly personIds: readonly string[] }

/** How an item is given. */
export type Way = 'one each'

/** One slip: this worksheet, to these people, this way, with these permissions, called this. */
export interface HandoutItem {
  readonly id: string
  readonly worksheetId: string | null
  /** The edition that is given. */
  readonly edition: number | null
  readonly audience: Audience
  readonly way: Way
  readonly holdersMay: Permission
  readonly classmatesMay: Permission
  readonly pattern: NamePattern
}

/** What should exist. A handout is this and nothing else; copies follow from it (see {@link planHandout}). */
export interface Statement {
  readonly items: readonly HandoutItem[]
  /** Milliseconds since 1970, or null: no due time. */
  readonly dueAt: number | null
}

/** A slip with every blank filled in as most want it: one each for the whole class, to write in, seen by nobody else. */
export const plainItem = (id: string, worksheetId: string | null, edition: number | null): HandoutItem => ({
  id,
  worksheetId,
  edition,
  audience: { kind: 'all' },
  way: 'one each',
  holdersMay: 'edit',
  classmatesMay: 'none',
  pattern: DEFAULT_PATTERN,
})

const ITEM_LIMIT = 20
const ID = /^[A-Za-z0-9_-]{1,64}$/

/** Reads a statement from anywhere. Problems name the place: `items.0.audience`. */
export function checkStatement(input: unknown): Outcome<Statement> {
  const problems: Problem[] = []
  const wrong = (field: string, sentence: string) => problems.push({ code: 'statement-malformed', field, sentence })
  const raw = record(input)
  const dueAt = raw['dueAt'] ?? null
  if (dueAt !== null && !(Number.isInteger(dueAt) && Math.abs(dueAt as number) < 8.64e15))
    wrong('dueAt', 'This due time cannot be read.')
  const rawItems = raw['items']
  if (!Array.isArray(rawItems) || rawItems.length > ITEM_LIMIT) {
    wrong('items', `A handout has up to ${ITEM_LIMIT} worksheets.`)
    return { ok: false, problems }
  }
  const ids = new Set<string>()
  const items = rawItems.map((rawItem: unknown, index): HandoutItem => {
    const item = record(rawItem)
    const place = `items.${index}`
    const id = item['id']
    if (typeof id !== 'string' || !ID.test(id) || ids.has(id))
      wrong(`${place}.id`, 'Each worksheet of a handout needs an id of its own.')
    else ids.add(id)
    const worksheetId = item['worksheetId'] ?? null
    if (worksheetId !== null && (typeof worksheetId !== 'string' || !ID.test(worksheetId)))
      wrong(`${place}.worksheetId`, 'This worksheet cannot be read.')
    const edition = item['edition'] ?? null
    if (edition !== null && !(Number.isInteger(edition) && (edition as number) > 0))
      wrong(`${place}.edition`, 'This edition cannot be read.')
    if (item['way'] !== 'one each') wrong(`${place}.way`, 'A worksheet is given one each.')
    for (const field of ['holdersMay', 'classmatesMay'] as const)
      if (!['none', 'view', 'comment', 'edit'].includes(item[field] as string))
        wrong(`${place}.${field}`, 'A permission is edit, comment, view or none.')
    const pattern = checkPattern(item['pattern'])
    if (!pattern.ok)
      problems.push(...pattern.problems.map((problem) => ({ ...problem, field: `${place}.${problem.field}` })))
    return {
      id: String(id),
      worksheetId: worksheetId as string | null,
      edition: edition as number | null,
      audience: readAudience(item['audience'], () =>
        wrong(`${place}.audience`, 'Say who this is for: all, or named people.'),
      ),
      way: 'one each',
      holdersMay: item['holdersMay'] as Permission,
      classmatesMay: item['classmatesMay'] as Permission,
      pattern: pattern.ok ? pattern.value : [],
    }
  })
  return problems.length ? { ok: false, problems } : fine({ items, dueAt: dueAt as number | null })
}

function readAudience(input: unknown, wrong: () => void): Audience {
  const audience = record(input)
  if (audience['kind'] === 'all') return { kind: 'all' }
  const personIds = audience['personIds']
  if (
    audience['kind'] === 'some' &&
    Array.isArray(personIds) &&
    personIds.length <= 10_000 &&
    personIds.every((id): id is string => typeof id === 'string' && ID.test(id))
  )
    return { kind: 'some', personIds: [...new Set(personIds)] }
  wrong()
  return { kind: 'all' }
}

const record = (input: unknown): Record<string, unknown> =>
  typeof input === 'object' && input !== null ? (input as Record<string, unknown>) : {}

/**
 * The statement of a handout for the class of another year: the same worksheets given the same way, to all of the new
 * class, without the old one's dates and people.
 */
export const carriedStatement = (statement: Statement): Statement => ({
  items: statement.items.map((item) => ({ ...item, audience: { kind: 'all' } })),
  dueAt: null,
})
