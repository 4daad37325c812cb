import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { MemoryRouter, Route, Routes } from 'react-router'

/** What was asked of the server. */
export interface Asked {
  readonly method: string
  readonly path: string
  readonly body: unknown
}

/** An answer: a body, or a problem with its status. */
export type Answer =
  | { readonly status?: number; readonly body?: unknown }
  | Promise<{ status?: number; body?: unknown }>

/** Stands for the server: remembers what is asked, and answers as it is told. */
export function serveWith(answer: (asked: Asked) => Answer): Asked[] {
  const asked: Asked[] = []
  globalThis.fetch = async (input, init) => {
    const one: Asked = {
      method: init?.method ?? 'GET',
      path: (input as string).replace('/api/', ''),
      body: typeof init?.body === 'string' ? (JSON.parse(init.body) as unknown) : undefined,
    }
    asked.push(one)
    const { status = 200, body } = await answer(one)
    return new Response(status === 204 ? null : JSON.stringify(body ?? {}), { status })
  }
  return asked
}

/** A page's surroundings, with what is known already; at an address with parts, if it reads them. */
export function surroundings(
  known: readonly (readonly [readonly unknown[], unknown])[] = [],
  at?: { readonly path: string; readonly address: string },
) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } })
  for (const [key, value] of known) client.setQueryData(key, value)
  const Around = ({ children }: { children: ReactNode }) => (
    <MemoryRouter {...(at && { initialEntries: [at.address] })}>
      <QueryClientProvider client={client}>
        {at ? (
          <Routes>
            <Route path={at.path} element={children} />
            <Route path="*" element={<output>elsewhere</output>} />
          </Routes>
        ) : (
          children
        )}
      </QueryClientProvider>
    </MemoryRouter>
  )
  return { client, Around }
}

/** Stands for the live connection, which pages listen to and a test has none of. */
export function withoutLive(): void {
  Object.assign(globalThis, {
    WebSocket: class {
      static readonly OPEN = 1
      readyState = 0
      close(): void {
        this.readyState = 3
      }
    },
  })
}

/** A problem as the server says it, with what is wrong at single fields. */
export const refusal = (
  status: number,
  detail: string,
  errors: readonly { readonly field: string; readonly sentence: string; readonly code?: string }[] = [],
) => ({ status, body: { status, detail, errors } })

/** Gives everything a size, which a test has none of: of a long table only the rows that there is room for are in the page. */
export function withRoom(): void {
  for (const side of ['clientWidth', 'clientHeight'])
    Object.defineProperty(HTMLElement.prototype, side, { configurable: true, value: 800 })
}
