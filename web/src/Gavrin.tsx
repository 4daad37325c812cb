import { type QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { type ComponentType, type ReactNode, StrictMode } from 'react'
import { App } from './App'

interface Props {
  readonly client: QueryClient
  readonly Router: ComponentType<{ readonly children: ReactNode }>
}

/** The application with what it stands in: the same on the server, which draws the first picture, as in the browser. */
export const Gavrin = ({ client, Router }: Props) => (
  <StrictMode>
    <QueryClientProvider client={client}>
      <Router>
        <App />
      </Router>
    </QueryClientProvider>
  </StrictMode>
)
