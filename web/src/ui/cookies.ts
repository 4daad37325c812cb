// What this browser remembers and the server has to know to draw the first picture of a page alike.

let given: string | null = null

/** Where there is no browser: what its request brought. */
export function readFrom(cookies: string): void {
  given = cookies
}

/** What this browser remembers under a name; null if nothing. */
export function remembered(name: string): string | null {
  for (const part of (given ?? document.cookie).split('; ')) {
    const [key, value] = part.split('=')
    if (key === `gavrin.${name}`) return decoded(value ?? '')
  }
  return null
}

/** Null for what we did not write. */
function decoded(value: string): string | null {
  try {
    return decodeURIComponent(value)
  } catch {
    return null
  }
}

const YEAR = 365 * 86_400

/** Remembers something in this browser; nothing secret. */
export function remember(name: string, value: string): void {
  if (remembered(name) === value) return
  document.cookie = `gavrin.${name}=${encodeURIComponent(value)}; path=/; max-age=${YEAR}; samesite=lax`
}
