import { type QueryClient, type QueryKey, hashKey } from '@tanstack/react-query'

interface Writing {
  count: number
  /** Somebody asked meanwhile for it to be read again. */
  isStale: boolean
}

const writings = new WeakMap<QueryClient, Map<string, Writing>>()

/**
 * Changes what a query holds, here and on the server. What is read while a change is on its way may be from before it, and
 * would be seen as the change jumping back and forth: reading again ({@link readAgain}) waits for its end.
 */
export async function whileWriting<T>(client: QueryClient, key: QueryKey, change: () => Promise<T>): Promise<T> {
  const ofClient = writings.get(client) ?? new Map<string, Writing>()
  writings.set(client, ofClient)
  const hash = hashKey(key)
  const writing = ofClient.get(hash) ?? { count: 0, isStale: false }
  ofClient.set(hash, writing)
  writing.count++
  try {
    await client.cancelQueries({ queryKey: key, exact: true })
    return await change()
  } finally {
    writing.count--
    if (writing.count === 0) {
      ofClient.delete(hash)
      if (writing.isStale) void client.invalidateQueries({ queryKey: key, exact: true })
    }
  }
}

/**
 * Reads again what somebody changed, as soon as no change of ours to it is on its way.
 * @param key of a query, or what the keys of several begin with
 */
export function readAgain(client: QueryClient, key: QueryKey, exact = false): void {
  for (const { queryKey, queryHash } of client.getQueryCache().findAll({ queryKey: key, exact })) {
    const writing = writings.get(client)?.get(queryHash)
    if (writing) writing.isStale = true
    else void client.invalidateQueries({ queryKey, exact: true })
  }
}
