import { createHmac } from 'node:crypto'
import { request as overTls } from 'node:https'
import { request as plainly } from 'node:http'
import { isIP } from 'node:net'
import { isPublicAddress, publicLookup } from './publicAddress.js'

/** How long a receiver may take, in milliseconds. */
const PATIENCE = 5_000

/** The signature of what is sent: of the time and the body, so that neither can be another. */
export const signatureOf = (secret: string, at: number, body: string): string =>
  createHmac('sha256', secret).update(`${at}.${body}`).digest('hex')

/**
 * Sends a signed message, once.
 * @param isAnywhere also to addresses that are not public: for tests on one machine alone
 * @returns why it was not taken; null: it was
 */
export function sendSigned(address: string, secret: string, body: string, isAnywhere: boolean): Promise<string | null> {
  const url = new URL(address)
  const host = url.hostname.replace(/^\[|\]$/g, '')
  if (!isAnywhere && isIP(host) !== 0 && !isPublicAddress(host)) return Promise.resolve('This is not a public address.')
  const at = Date.now()
  return new Promise((resolve) => {
    const request = (url.protocol === 'https:' ? overTls : plainly)(
      url,
      {
        method: 'POST',
        ...(!isAnywhere && { lookup: publicLookup }),
        // However slowly it takes or answers: then it is over.
        signal: AbortSignal.timeout(PATIENCE),
        agent: false,
        headers: {
          'content-type': 'application/json',
          'content-length': Buffer.byteLength(body),
          'user-agent': 'Gavrin',
          'gavrin-signature': `t=${at},v1=${signatureOf(secret, at, body)}`,
        },
      },
      (response) => {
        // What it says besides is not read, and where it leads is not followed.
        response.destroy()
        const { statusCode = 0 } = response
        resolve(statusCode >= 200 && statusCode < 300 ? null : `It answered ${statusCode}.`)
      },
    )
    request.once('error', (error) => {
      const isLate = error.name === 'AbortError' || error.name === 'TimeoutError'
      const isOwn = error.message === 'not a public address'
      resolve(
        isLate
          ? `It did not answer within ${PATIENCE / 1_000} seconds.`
          : isOwn
            ? 'This is not a public address.'
            : 'It could not be reached.',
      )
    })
    request.end(body)
  })
}
