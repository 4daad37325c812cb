import { QueryClient } from '@tanstack/react-query'
import { ApiError } from '../ui/api'
import type { First } from './first'

/** What is known of the data, beginning with what came along with the page. */
export function queryClient(first: readonly First[]): QueryClient {
  const client = new QueryClient({
    defaultOptions: {
      queries: {
        staleTime: 5_000,
        // Only what may go better by itself is tried again.
        retry: (times, error) => times < 3 && error instanceof ApiError && (error.status === 0 || error.status === 503),
      },
    },
  })
  for (const { key, data } of first) client.setQueryData(key, data)
  return client
}
