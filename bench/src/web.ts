import { type Browser, type BrowserContext, type LaunchOptions, type Page, chromium } from '@playwright/test'
import { median, print } from './figures.js'

// The first and the second visit on a slow school laptop: processor four times slower, 1.6 Mbit/s, 150 ms there and back.

const URL_OF = process.env['GAVRIN_URL']!
const CHROMIUM = JSON.parse(process.env['CHROMIUM']!) as LaunchOptions
const PASSWORD = 'harbour-wall-26'
const SLOWER = 4
const NETWORK = { offline: false, latency: 150, downloadThroughput: 200_000, uploadThroughput: 100_000 }
const ROUNDS = 3

interface Place {
  readonly name: string
  readonly email: string | null
  readonly path: (page: Page) => Promise<string>
  /** Goals: bytes of the first visit, then milliseconds. */
  readonly goal: {
    readonly bytes?: number
    readonly heading: number
    readonly writing?: number
    readonly again: number
  }
  readonly heading: string
  /** Something to write in. */
  readonly field?: string
}

const root = () => Promise.resolve('/')
const firstOf = (path: string, pick: (found: unknown) => string) => async (page: Page) =>
  pick(await (await page.request.get(`${URL_OF}/api/${path}`)).json())

const PLACES: readonly Place[] = [
  { name: 'sign-in', email: null, path: root, heading: 'h1', goal: { heading: 2_000, again: 1_000 } },
  {
    name: 'student’s desk',
    email: 'zofia.dabrowska@fennickquay.example',
    path: root,
    heading: 'h1, h2',
    goal: { heading: 2_000, again: 1_000 },
  },
  {
    name: 'copy page',
    email: 'zofia.dabrowska@fennickquay.example',
    path: firstOf('copies', (copies) => {
      const mine = copies as { id: string; permission: string; state: string; way: string }[]
      return `/copies/${mine.find(({ permission, state, way }) => permission === 'edit' && state !== 'submitted' && way === 'one each')!.id}`
    }),
    heading: '.copy-title h1',
    field: '.sheet input.answer, .sheet .answer input, .sheet [contenteditable=true]',
    goal: { bytes: 300_000, heading: 2_000, writing: 3_000, again: 1_000 },
  },
  {
    name: 'teacher’s desk',
    email: 'okonjo@fennickquay.example',
    path: root,
    heading: 'main h1, main h2, main .lane',
    goal: { bytes: 450_000, heading: 2_000, again: 1_000 },
  },
]

/** What a page noted of itself, in milliseconds since it was asked for. */
interface Seen {
  shift: number
  heading: number | null
  writing: number | null
}

interface Visit {
  readonly bytes: number
  readonly heading: number
  readonly writing: number
  readonly shift: number
}

async function visit(context: BrowserContext, place: Place, path: string): Promise<Visit> {
  const page = await context.newPage()
  const devTools = await context.newCDPSession(page)
  let bytes = 0
  await devTools.send('Network.enable')
  devTools.on('Network.loadingFinished', ({ encodedDataLength }) => (bytes += encodedDataLength))
  await devTools.send('Network.emulateNetworkConditions', NETWORK)
  await devTools.send('Emulation.setCPUThrottlingRate', { rate: SLOWER })
  // Looked for by the page itself, at every picture it draws: a look from outside would wait for a slow processor too.
  await page.addInitScript(
    ({ heading, field }) => {
      const seen: Seen = { shift: 0, heading: null, writing: null }
      Object.assign(window, { seen })
      new PerformanceObserver((list) => {
        for (const entry of list.getEntries() as (PerformanceEntry & { value: number; hadRecentInput: boolean })[])
          if (!entry.hadRecentInput) seen.shift += entry.value
      }).observe({ type: 'layout-shift', buffered: true })
      const look = () => {
        if (document.querySelector(heading)) seen.heading ??= performance.now()
        if (!field || document.querySelector(field)) seen.writing ??= performance.now()
        if (seen.heading === null || seen.writing === null) requestAnimationFrame(look)
      }
      requestAnimationFrame(look)
    },
    { heading: place.heading, field: place.field ?? null },
  )
  await page.goto(`${URL_OF}${path}`, { waitUntil: 'commit' })
  await page.waitForFunction(() => {
    const { heading, writing } = (window as unknown as { seen: Seen }).seen
    return heading !== null && writing !== null
  })
  // What is fetched at once; what comes ahead when nothing waits is not of the first visit.
  await page.waitForTimeout(1_500)
  const { shift, heading, writing } = await page.evaluate(() => (window as unknown as { seen: Seen }).seen)
  const found = { bytes, heading: heading!, writing: place.field ? writing! : heading!, shift }
  await page.close()
  return found
}

async function measure(browser: Browser, place: Place): Promise<void> {
  const cold: Visit[] = []
  const warm: Visit[] = []
  for (let round = 0; round < ROUNDS; round++) {
    const context = await browser.newContext({ viewport: { width: 1366, height: 768 } })
    const page = await context.newPage()
    if (place.email)
      await page.request.post(`${URL_OF}/api/session`, { data: { email: place.email, password: PASSWORD } })
    const path = await place.path(page)
    await page.close()
    cold.push(await visit(context, place, path))
    warm.push(await visit(context, place, path))
    await context.close()
  }
  const of = (visits: readonly Visit[], what: keyof Visit) => median(visits.map((one) => one[what]))
  const figure = (what: string, value: number, unit: string, limit?: number) =>
    print({ bench: 'web', case: `${place.name}: ${what}`, value, unit, ...(limit !== undefined && { limit }) })
  const { goal } = place
  figure('bytes of the first visit', of(cold, 'bytes'), 'B', goal.bytes)
  figure('first heading', of(cold, 'heading'), 'ms', goal.heading)
  if (place.field) figure('writing', of(cold, 'writing'), 'ms', goal.writing)
  figure('shift of the layout', of(cold, 'shift'), '', 0.02)
  figure('second visit', of(warm, 'heading'), 'ms', goal.again)
  if (place.field) figure('second visit: writing', of(warm, 'writing'), 'ms', goal.writing)
}

const browser = await chromium.launch(CHROMIUM)
try {
  for (const place of PLACES) await measure(browser, place)
} finally {
  await browser.close()
}
