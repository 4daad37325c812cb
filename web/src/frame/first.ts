import type { SessionAnswer } from './session'

/** What the server sent along with the page: who is signed in, and what the page shows first. */
export interface First {
  readonly key: readonly unknown[]
  readonly data: unknown
}

/** Empty where nothing was sent along: then it is asked for. */
export function firstOf(page: Document): readonly First[] {
  try {
    return JSON.parse(page.getElementById('first')?.textContent ?? '[]') as First[]
  } catch {
    return []
  }
}

/** Who is signed in, if that was sent along. */
export const sessionOf = (first: readonly First[]): SessionAnswer | undefined =>
  first.find(({ key }) => key[0] === 'session')?.data as SessionAnswer | undefined
