import type { Request } from 'express'

/** What a request brings under the name of a cookie; null if nothing that can be read. */
export function cookieOf(request: Request, wanted: string): string | null {
  for (const part of (request.headers.cookie ?? '').split(';')) {
    const [name, value] = part.trim().split('=')
    if (name !== wanted || !value) continue
    try {
      return decodeURIComponent(value)
    } catch {
      return null
    }
  }
  return null
}
