import type { PlanFacts } from './facts.js'
import { type HandoutItem, type Statement, timesFor } from './statement.js'

/** What of an item holds for other people too: nobody by name, no copy by its slot. */
const forOthers = (item: HandoutItem): HandoutItem => ({
  ...item,
  audience: item.audience.kind === 'some' || item.audience.kind === 'all but' ? { kind: 'all' } : item.audience,
  peers: item.peers && { ...item.peers, chosen: {} },
  earlier: {},
  without: [],
  carry: 'keep aside',
  carryChosen: {},
})

/**
 * A statement for another class or year: with its worksheets in their newest editions, and without what speaks of these
 * people and copies, or of these days.
 */
export function repeatStatement(statement: Statement, classId: string, worksheets: PlanFacts['worksheets']): Statement {
  const newest = (id: string | null, edition: number | null) =>
    worksheets.find((worksheet) => worksheet.id === id)?.editions.at(-1)?.number ?? edition
  return {
    ...statement,
    items: statement.items.map(forOthers).map((item) => ({
      ...item,
      edition: newest(item.worksheetId, item.edition),
      match: item.match && {
        ...item.match,
        rules: item.match.rules.map((rule) => ({ ...rule, edition: newest(rule.worksheetId, rule.edition)! })),
      },
    })),
    classes: [{ classId, opensAt: null, dueAt: null }],
    exceptions: [],
  }
}

/** The shape of a statement, to be used with any worksheets: a recipe. */
export function recipeOf(statement: Statement): Statement {
  return {
    ...statement,
    items: statement.items.map(forOthers).map((item) => ({ ...item, worksheetId: null, edition: null, match: null })),
    classes: [],
    exceptions: [],
    unit: null,
  }
}

/**
 * A statement with the shape of a recipe: its worksheets and times stay, slip by slip; slips that the recipe has more come
 * without a worksheet.
 */
export function withRecipe(statement: Statement, recipe: Statement, classId: string): Statement {
  const items = recipe.items.map((item, at): HandoutItem => {
    const own = statement.items[at]
    return { ...item, id: own?.id ?? item.id, worksheetId: own?.worksheetId ?? null, edition: own?.edition ?? null }
  })
  return {
    ...recipe,
    items: [...items, ...statement.items.slice(items.length)],
    classes: statement.classes.length ? statement.classes : [timesFor(statement, classId)],
    unit: statement.unit,
  }
}
