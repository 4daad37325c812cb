import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/noto-sans'
import '@fontsource/noto-sans-arabic/400.css'
import '@fontsource/noto-sans-arabic/600.css'
import '@fontsource/noto-sans-hebrew/400.css'
import '@fontsource/noto-sans-hebrew/600.css'
import '@fontsource/zilla-slab/600.css'
import '@fontsource/zilla-slab/700.css'
import 'bootstrap/dist/css/bootstrap.min.css'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { App } from './App'
import { ApiError } from './ui/api'
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

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <App />
    </QueryClientProvider>
  </StrictMode>,
)

// A hundred small files for Chinese names, of which a page loads the few it needs; their list is fetched when nothing waits.
window.addEventListener('load', () => void import('@fontsource/noto-sans-sc/400.css'))
