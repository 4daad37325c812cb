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
