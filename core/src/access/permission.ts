/** What a person may do with a copy, from nothing to writing in it. Each includes the ones before it. */
export const PERMISSIONS = ['none', 'view', 'comment', 'edit'] as const
export type Permission = (typeof PERMISSIONS)[number]

/** Whether `has` is enough for `needed`. */
export function includes(has: Permission, needed: Permission): boolean {
  return PERMISSIONS.indexOf(has) >= PERMISSIONS.indexOf(needed)
}

/** The lesser of two permissions. */
export function atMost(one: Permission, other: Permission): Permission {
  return includes(one, other) ? other : one
}
