import type { Request, Response } from 'express'
import { createHash, randomBytes } from 'node:crypto'
import { cookieOf } from '../common/cookies.js'

/** The mark of a browser, by which it is known again where somebody signed in before. It opens nothing by itself. */
export const DEVICE_COOKIE = 'gavrin.device'
const YEAR = 365 * 24 * 3600 * 1000
const MARK = /^[A-Za-z0-9_-]{43}$/

export const hashOfMark = (mark: string): string => createHash('sha256').update(mark).digest('base64url')

/** The hash of the mark that a request comes with, or null. */
export function deviceOf(request: Request): string | null {
  const mark = cookieOf(request, DEVICE_COOKIE)
  return mark && MARK.test(mark) ? hashOfMark(mark) : null
}

/** Marks a browser; the hash of its mark. */
export function markDevice(request: Request, response: Response): string {
  const mark = randomBytes(32).toString('base64url')
  response.cookie(DEVICE_COOKIE, mark, {
    httpOnly: true,
    sameSite: 'lax',
    secure: request.secure,
    maxAge: YEAR,
    path: '/api',
  })
  return hashOfMark(mark)
}
