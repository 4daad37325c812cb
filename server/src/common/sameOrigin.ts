import type { IncomingMessage } from 'node:http'

/**
 * Whether a request comes from a page of ours. Browsers say where from; a program that says nothing has no cookie that
 * somebody else could misuse.
 */
export function sameOrigin(request: IncomingMessage): boolean {
  const { origin, host } = request.headers
  if (request.headers['sec-fetch-site'] === 'cross-site') return false
  if (origin === undefined) return true
  try {
    return new URL(origin).host === host
  } catch {
    return false
  }
}
