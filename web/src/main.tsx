import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource/zilla-slab/600.css'
import '@fontsource/zilla-slab/700.css'
import 'bootstrap/dist/css/bootstrap.min.css'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { fetchFirst } from './App'
import { Gavrin } from './Gavrin'
import { remember } from './ui/cookies'
import { firstOf, sessionOf } from './frame/first'
import { watchScripts } from './ui/fontsByScript'
import { ownFonts, storeFonts } from './ui/ownFonts'
import { queryClient } from './frame/queryClient'
import { hear } from './frame/session'
import { takeOver } from './frame/takeOver'
import { beginAt } from './ui/useNow'
import { whenSettled } from './ui/whenIdle'
import './ui/theme.css'

const root = document.getElementById('root')!
/** When the server drew the page, in milliseconds since 1970; undefined where it sent it empty. */
const { drawn } = root.dataset
const first = firstOf(document)
const session = sessionOf(first)
if (session) hear(session)

function show(): void {
  watchScripts(root)
  const all = <Gavrin client={queryClient(first)} Router={BrowserRouter} />
  if (drawn === undefined) return createRoot(root).render(all)
  beginAt(Number(drawn))
  takeOver(root, all)
}

// The server writes times in this zone the next time.
whenSettled(() => remember('zone', Intl.DateTimeFormat().resolvedOptions().timeZone))

// Shown once, with everything in it; what cannot be loaded now is tried again by the page itself. Not awaited here: what is
// loaded may stand in the same file.
const parts = session ? fetchFirst(location.pathname, session.person).catch(() => undefined) : Promise.resolve()
if (drawn === undefined) void parts.then(ownFonts).then(show)
else void parts.then(show).then(storeFonts)
