import type { PlanFacts } from './facts.js'
import { type Audience, type HandoutItem, type Statement, timesFor } from './statement.js'

/** What of an item holds for other people too: nobody by name, no copy by its slot. Whom it was for by name is to be said anew. */
const forOthers = (item: HandoutItem, where: string): HandoutItem => ({
  ...item,
  audience: audienceElsewhere(item.audience, where),
  peers: item.peers && { ...item.peers, chosen: {}, until: null },
  earlier: {},
  without: [],
  single: {},
  carry: 'keep aside',
  carryChosen: {},
})

function audienceElsewhere(audience: Audience, where: string): Audience {
  if (audience.kind !== 'some' && audience.kind !== 'all but') return audience
  const count = audience.personIds.length
  if (audience.kind === 'all but' && count === 0) return { kind: 'all' }
  return { kind: 'not said', was: `${audience.kind === 'all but' ? 'all but ' : ''}${count} of ${where}` }
}

/** The same people: whom it is for by name stays, and who was left out by hand; which edition each copy had does not. */
const forTheSame = (item: HandoutItem): HandoutItem => ({
  ...item,
  peers: item.peers && { ...item.peers, until: null },
  earlier: {},
  single: {},
  carry: 'keep aside',
  carryChosen: {},
})

/**
 * A statement again, for this or another class or year: with its worksheets in their newest editions, and without what speaks of
 * these copies or days. For another class nothing speaks of these people any more: whom it was for by name is to be said anew,
 * never widened to all.
 * @param from the class it was for
 */
export function repeatStatement(
  statement: Statement,
  from: { readonly id: string; readonly name: string },
  classId: string,
  worksheets: PlanFacts['worksheets'],
): Statement {
  const newest = (id: string | null, edition: number | null) =>
    worksheets.find((worksheet) => worksheet.id === id)?.editions.at(-1)?.number ?? edition
  const again = from.id === classId ? forTheSame : (item: HandoutItem) => forOthers(item, from.name)
  return {
    ...statement,
    items: statement.items.map(again).map((item) => ({
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
    items: statement.items.map((item) => ({
      ...forOthers(item, 'a class'),
      worksheetId: null,
      edition: null,
      match: null,
    })),
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
    return {
      ...item,
      id: own?.id ?? item.id,
      worksheetId: own?.worksheetId ?? null,
      edition: own?.edition ?? null,
      // Whom a recipe was for by name, it does not say; the slip may.
      audience: item.audience.kind === 'not said' && own ? own.audience : item.audience,
    }
  })
  return {
    ...recipe,
    items: [...items, ...statement.items.slice(items.length)],
    classes: statement.classes.length ? statement.classes : [timesFor(statement, classId)],
    unit: statement.unit,
  }
}
