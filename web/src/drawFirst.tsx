import { renderToString } from 'react-dom/server'
import { StaticRouter } from 'react-router'
import { fetchDrawn, fetchFirst } from './App'
import { Gavrin } from './Gavrin'
import { readFrom } from './ui/cookies'
import { type First, sessionOf } from './frame/first'
import { queryClient } from './frame/queryClient'
import { readIn, writeTimesAs } from './ui/time'
import { beginAt } from './ui/useNow'

/** What the first picture of a page is drawn from. */
export interface Drawing {
  /** Where the page is, below the origin. */
  readonly path: string
  /** What is sent along with it, as JSON. */
  readonly first: string
  /** What the browser remembers, as it sends it. */
  readonly cookies: string
  /** Milliseconds since 1970; times are written by this clock. */
  readonly now: number
  /** The zone of whoever reads it; null if it is not known. */
  readonly zone: string | null
}

// There before the first is asked for.
await fetchDrawn()

/**
 * Draws the first picture of a page where there is no browser; the browser takes it over. For the server, which does it in a
 * process of its own.
 */
export async function drawFirst({ path, first: json, cookies, now, zone }: Drawing): Promise<string> {
  const first = JSON.parse(json) as First[]
  const session = sessionOf(first)
  if (!session) throw new Error('Nothing is drawn before it is known for whom.')
  await fetchFirst(path, session.person)
  // From here on nothing is awaited: what is set now is for this picture alone.
  writeTimesAs(session.person)
  readIn(zone)
  readFrom(cookies)
  beginAt(now)
  const client = queryClient(first)
  try {
    return renderToString(
      <Gavrin client={client} Router={({ children }) => <StaticRouter location={path}>{children}</StaticRouter>} />,
    )
  } finally {
    client.clear()
  }
}
