import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource/zilla-slab/600.css'
import '@fontsource/zilla-slab/700.css'
import 'bootstrap/dist/css/bootstrap.min.css'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { App, fetchFirst } from './App'
import { ApiError } from './ui/api'
import { firstOf } from './ui/first'
import { watchScripts } from './ui/fontsByScript'
import { ownFonts } from './ui/ownFonts'
import type { SessionAnswer } from './ui/session'
import './ui/theme.css'

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      // Only what may go better by itself is tried again.
      retry: (times, error) => times < 3 && error instanceof ApiError && (error.status === 0 || error.status === 503),
    },
  },
})

const first = firstOf(document)
for (const { key, data } of first) client.setQueryData(key, data)
const session = first.find(({ key }) => key[0] === 'session')?.data as SessionAnswer | undefined
const draw = () => {
  watchScripts(document.body)
  createRoot(document.getElementById('root')!).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <App />
      </QueryClientProvider>
    </StrictMode>,
  )
}
// Drawn once, with everything in it; what cannot be loaded now is tried again by the page itself. Not awaited here: what is
// loaded may stand in the same file.
const parts = session ? fetchFirst(location.pathname, session.person).catch(() => undefined) : Promise.resolve()
void parts.then(ownFonts).then(draw)
