import { cleanText } from '../roster/names.js'
import { slotInClass } from './slots.js'
import type { HandoutItem, SingleCopy, Statement } from './statement.js'

/** How copies are called otherwise: something before or after what they are called, another title, or again as the slip says. */
export const RENAMINGS = ['before', 'after', 'another title', 'as the slip says'] as const
export interface Renaming {
  readonly how: (typeof RENAMINGS)[number]
  readonly text: string
}

/** The longest title of a copy, in UTF-16 units. */
export const COPY_TITLE_LIMIT = 200

/** What a copy is called then; null: as the slip says. */
export function renamed(title: string, { how, text }: Renaming): string | null {
  const clean = cleanText(text)
  if (how === 'as the slip says') return null
  const called = how === 'before' ? `${clean} ${title}` : how === 'after' ? `${title} ${clean}` : clean
  return called.trim().slice(0, COPY_TITLE_LIMIT).trim()
}

/**
 * The statement with something of their own for single copies of one class.
 * @param changes by slot: what becomes of what the copy has of its own; what is left out stays as it is
 */
export function withSingle(
  statement: Statement,
  changes: ReadonlyMap<string, Partial<SingleCopy>>,
  classId: string,
): Statement {
  return { ...statement, items: statement.items.map((item) => itemWithSingle(item, changes, classId)) }
}

function itemWithSingle(
  item: HandoutItem,
  changes: ReadonlyMap<string, Partial<SingleCopy>>,
  classId: string,
): HandoutItem {
  const single = new Map(Object.entries(item.single))
  for (const [slot, change] of changes) {
    if (!slot.startsWith(`${item.id}:`)) continue
    const key = slotInClass(slot, classId)
    const own: SingleCopy = { called: null, may: null, ...single.get(key), ...change }
    if (own.called === null && own.may === null) single.delete(key)
    else single.set(key, own)
  }
  return { ...item, single: Object.fromEntries(single) }
}

/** A copy there is, and the edition that it has. */
export interface CopyOnEdition {
  readonly slotKey: string
  readonly edition: number
}

/**
 * The statement with single copies in the newest editions of their worksheets; all others stay on the editions that they have.
 * @param chosen their slots
 * @param all the copies there are, in all classes
 * @param newest the number of the newest edition of a worksheet; undefined: it is not known
 */
export function withNewest(
  statement: Statement,
  chosen: ReadonlySet<string>,
  all: readonly CopyOnEdition[],
  newest: (worksheetId: string) => number | undefined,
): Statement {
  return {
    ...statement,
    items: statement.items.map((item) => {
      const own = all.filter(({ slotKey }) => slotKey.startsWith(`${item.id}:`))
      if (!own.some(({ slotKey }) => chosen.has(slotKey))) return item
      const stay = own.filter(({ slotKey }) => !chosen.has(slotKey))
      return {
        ...item,
        edition: (item.worksheetId && newest(item.worksheetId)) || item.edition,
        match: item.match && {
          ...item.match,
          rules: item.match.rules.map((rule) => ({
            ...rule,
            edition: (rule.worksheetId && newest(rule.worksheetId)) || rule.edition,
          })),
        },
        earlier: Object.fromEntries(stay.map(({ slotKey, edition }) => [slotKey, edition])),
      }
    }),
  }
}
