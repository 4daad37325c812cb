// What this window remembers of a slip over a reload: that it was begun here, and that it was being handed out.

const BEGUN = 'gavrin.begun'
const HANDING = 'gavrin.handing'

function read(key: string): string | null {
  try {
    return sessionStorage.getItem(key)
  } catch {
    return null
  }
}

function write(key: string, value: string | null): void {
  try {
    if (value === null) sessionStorage.removeItem(key)
    else sessionStorage.setItem(key, value)
  } catch {
    // A browser that keeps nothing: then a reload begins anew.
  }
}

/** A slip is about to be kept for the first time, under this id. */
export const rememberBegun = (id: string): void => write(BEGUN, id)
/** Whether this window chose this id for a slip, be it kept or not. */
export const wasBegunHere = (id: string): boolean => read(BEGUN) === id

/**
 * A slip is being handed out.
 * @param after when it was handed out before, in milliseconds since 1970
 */
export const rememberHanding = (id: string, after: number | null): void =>
  write(HANDING, JSON.stringify({ id, after: after ?? 0 }))
export const forgetHanding = (): void => write(HANDING, null)

/** Whether a slip was being handed out when its page was loaded again, and has been begun to be since. */
export function wasHandingOut(id: string | null, lastRunAt: number | null): boolean {
  const kept = read(HANDING)
  if (kept === null || id === null || lastRunAt === null) return false
  try {
    const { id: was, after } = JSON.parse(kept) as { id: unknown; after: unknown }
    return was === id && typeof after === 'number' && lastRunAt > after
  } catch {
    return false
  }
}
