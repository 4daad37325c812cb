import type { IncomingMessage } from 'node:http'
import type { TLSSocket } from 'node:tls'
import proxyaddr from 'proxy-addr'

/** Whether an address is that of a proxy whose word about a request is taken. */
export type Trust = (address: string, hop: number) => boolean

/** Trust in the proxies of this list: addresses, networks, or the names `loopback`, `linklocal`, `uniquelocal`. */
export const trustIn = (list: string): Trust => proxyaddr.compile(list.split(',').map((one) => one.trim()))

/** Whether the browser's part of the way was TLS: said by the socket itself, or by a proxy that is trusted. */
export function cameOverTls(request: IncomingMessage, trust: Trust): boolean {
  if ((request.socket as Partial<TLSSocket>).encrypted) return true
  if (!trust(request.socket.remoteAddress ?? '', 0)) return false
  const said = request.headers['x-forwarded-proto']
  return (Array.isArray(said) ? said[0] : said)?.split(',')[0]!.trim() === 'https'
}

/**
 * Whether a request comes from a page of ours: of the same host, over the same kind of connection. Browsers say where from;
 * a program that says nothing has no cookie that somebody else could misuse.
 */
export function sameOrigin(request: IncomingMessage, trust: Trust): boolean {
  const { origin, host } = request.headers
  if (request.headers['sec-fetch-site'] === 'cross-site') return false
  if (origin === undefined) return true
  try {
    const from = new URL(origin)
    return from.host === host && from.protocol === (cameOverTls(request, trust) ? 'https:' : 'http:')
  } catch {
    return false
  }
}
