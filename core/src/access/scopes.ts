/** What a program may be let do in somebody's name, with a token of theirs. */
export const SCOPES = ['read', 'rosters', 'worksheets', 'hand out', 'copies'] as const
export type Scope = (typeof SCOPES)[number]

/** Accounts, staff and the office, and what strangers do: no token is for that, whatever else it is for. */
const NEVER =
  /^(account|session|office|tokens|webhooks|join|walk-in|mail|sign-ups|calendar|health)(\/|$)|^classes\/[^/]+\/(staff|sign-in-cards|invitations|mail|join|archive|bring-back|carry)(\/|$)/

/** By POST only because what is asked for is long: nothing is changed. */
const READS = /\/out\/[^/]+$|\/proof$|^handouts\/[^/]+\/likeness(\/came)?$|^lists\/read$/

const WRITES: readonly (readonly [RegExp, Scope])[] = [
  [/^(worksheets|folders|bring-in)(\/|$)/, 'worksheets'],
  [/^classes\/[^/]+\/(handouts|shelf)$|^(recipes|saved-copies)(\/|$)/, 'hand out'],
  [
    /^handouts\/[^/]+\/(pens|comments|submitted|reminders|looked|extra-time|marks|hand-back)(\/|$)|^(copies|desk)\//,
    'copies',
  ],
  [/^handouts(\/|$)/, 'hand out'],
  [/^classes$|^classes\/[^/]+\/(roster|columns|units|group-sets)(\/|$)|^group-sets\//, 'rosters'],
]

/**
 * Of which scope a token has to be for a request.
 * @param path without what all addresses begin with: `classes/1/roster`
 * @returns null: no token is for it
 */
export function scopeFor(method: string, path: string): Scope | null {
  if (NEVER.test(path)) return null
  if (method === 'GET' || method === 'HEAD' || READS.test(path)) return 'read'
  return WRITES.find(([is]) => is.test(path))?.[1] ?? null
}
