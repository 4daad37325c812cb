import { type Outcome, type Problem, fine, refuse } from '../errors/problem.js'
import { cleanText, foldText } from '../roster/names.js'
import type { GroupPair } from './wish.js'
import { GROUPS_IN_SET_LIMIT, GROUP_NAME_LIMIT, type Group } from './set.js'

/** How a class is divided: its groups in their order, who stays where they are, and who must or must not be together. */
export interface Arrangement {
  readonly groups: readonly Group[]
  /** People who keep their group when groups are made again. */
  readonly locked: readonly string[]
  readonly pairs: readonly GroupPair[]
}

export const PLACES_LIMIT = 500

/**
 * Checks how many may sign up for a group; null is no limit.
 * @param field where a problem is told
 */
export function checkPlaces(places: number | null, field: string): Outcome<number | null> {
  if (places === null || (Number.isInteger(places) && places >= 1 && places <= PLACES_LIMIT)) return fine(places)
  return refuse({ code: 'places', field, sentence: `A group has 1 to ${PLACES_LIMIT} places.` })
}

/** Checks an arrangement and cleans its names. Problems name the place: `groups.2.name`. */
export function checkArrangement({ groups, locked, pairs }: Arrangement): Outcome<Arrangement> {
  const problems: Problem[] = []
  const wrong = (field: string, sentence: string) => problems.push({ code: 'arrangement', field, sentence })
  if (groups.length > GROUPS_IN_SET_LIMIT) wrong('groups', `A set has up to ${GROUPS_IN_SET_LIMIT} groups.`)
  const names = new Map<string, string>()
  const ids = new Set<string>()
  const placed = new Set<string>()
  const clean = groups.map((group, at) => {
    const name = cleanText(group.name)
    if (!name) wrong(`groups.${at}.name`, 'Give the group a name.')
    else if (name.length > GROUP_NAME_LIMIT)
      wrong(`groups.${at}.name`, `A group name has up to ${GROUP_NAME_LIMIT} characters.`)
    else if (names.has(foldText(name)))
      wrong(`groups.${at}.name`, `There is a group "${names.get(foldText(name))}" already.`)
    names.set(foldText(name), name)
    if (ids.has(group.id)) wrong(`groups.${at}.id`, 'Two groups have the same id.')
    ids.add(group.id)
    const places = checkPlaces(group.places, `groups.${at}.places`)
    if (!places.ok) problems.push(...places.problems)
    for (const personId of group.personIds) {
      if (placed.has(personId)) wrong(`groups.${at}.personIds`, 'A student can be in one group of a set only.')
      placed.add(personId)
    }
    return { ...group, name }
  })
  const kept = new Map<string, GroupPair>()
  for (const { a, b, kind } of pairs) {
    if (a === b) continue
    const [first, second] = a < b ? [a, b] : [b, a]
    kept.set(`${first} ${second}`, { a: first, b: second, kind })
  }
  if (problems.length) return { ok: false, problems }
  return fine({ groups: clean, locked: [...new Set(locked)].filter((id) => placed.has(id)), pairs: [...kept.values()] })
}

/** An arrangement with somebody moved to a group, or to none. Those who are not to be moved stay as they are. */
export function moved(arrangement: Arrangement, personIds: readonly string[], groupId: string | null): Arrangement {
  const moving = new Set(personIds)
  return {
    ...arrangement,
    groups: arrangement.groups.map((group) => {
      const rest = group.personIds.filter((id) => !moving.has(id))
      return group.id === groupId ? { ...group, personIds: [...rest, ...personIds] } : { ...group, personIds: rest }
    }),
    locked: groupId === null ? arrangement.locked.filter((id) => !moving.has(id)) : arrangement.locked,
  }
}

/** An arrangement with two groups made one: everybody of the other goes to the one that is kept. */
export function joined(arrangement: Arrangement, keepId: string, otherId: string): Arrangement {
  const other = arrangement.groups.find(({ id }) => id === otherId)
  if (!other || keepId === otherId) return arrangement
  return {
    ...arrangement,
    groups: arrangement.groups
      .filter(({ id }) => id !== otherId)
      .map((group) =>
        group.id === keepId ? { ...group, personIds: [...group.personIds, ...other.personIds] } : group,
      ),
  }
}
