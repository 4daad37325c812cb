import { type Browser, type BrowserContext, type Page, type Response, expect } from '@playwright/test'
import { isListenedTo, test, url, windowOf } from './support/people.js'

// The server draws the first picture of the places that are opened most; the browser takes it over.

interface Place {
  readonly name: string
  readonly person: string | null
  /** Where it is, seen from the desk of that person. */
  readonly path: (page: Page) => Promise<string>
  /** A part of it far down. */
  readonly part: string
}

const root = () => Promise.resolve('/')
const linkOn = (selector: string) => async (page: Page) => (await page.locator(selector).first().getAttribute('href'))!

const PLACES: readonly Place[] = [
  { name: 'sign-in', person: null, path: root, part: '.demo-people li' },
  { name: 'student’s desk', person: 'Zofia Dąbrowska', path: root, part: '.my-copies li' },
  { name: 'copy', person: 'Zofia Dąbrowska', path: linkOn('.my-copies a'), part: '.sheet p' },
  { name: 'teacher’s desk', person: 'Okonjo-Reyes', path: root, part: '.needs h2' },
  {
    name: 'board',
    person: 'Okonjo-Reyes',
    path: linkOn('.needs a[href*="/handouts/"]:not([href$="/marking"])'),
    part: '.board-table tbody tr',
  },
]

/** The address of a place, and a signed-in context to open it in. */
async function placeIn(browser: Browser, { person, path }: Place): Promise<{ context: BrowserContext; path: string }> {
  if (!person) return { context: await browser.newContext({ baseURL: url() }), path: '/' }
  const page = await windowOf(browser, person)
  return { context: page.context(), path: await path(page) }
}

/** The same browser, where no script runs. */
const stillOf = async (browser: Browser, context: BrowserContext) =>
  browser.newContext({ baseURL: url(), javaScriptEnabled: false, storageState: await context.storageState() })

/** Opens a page until it comes drawn: one that is not ready in time comes without. */
async function goDrawn(page: Page, path: string): Promise<Response> {
  for (;;) {
    const answer = await page.goto(path, { waitUntil: 'commit' })
    if ((await answer!.text()).includes('data-drawn="')) return answer!
  }
}

for (const place of PLACES)
  test(`${place.name}: there before any script, and taken over as it stands`, async ({ browser }) => {
    const { context, path } = await placeIn(browser, place)
    const still = await (await stillOf(browser, context)).newPage()
    await goDrawn(still, path)
    await expect(still.locator('h1, h2').first()).toBeVisible()
    await expect(still.locator(place.part).first()).toBeVisible()

    const page = await context.newPage()
    const problems: string[] = []
    page.on('console', (message) => message.type() === 'error' && problems.push(message.text()))
    await page.addInitScript((part) => {
      const seen = new Map<string, Element>()
      new MutationObserver(() => {
        for (const selector of ['#root > *', 'h1, h2', part]) {
          const found = document.querySelector(selector)
          if (found && !seen.has(selector)) seen.set(selector, found)
        }
      }).observe(document, { childList: true, subtree: true })
      Object.assign(window, {
        replaced: () => [...seen].filter(([, { isConnected }]) => !isConnected).map(([what]) => what),
      })
    }, place.part)
    await goDrawn(page, path)
    await isListenedTo(page)
    await expect(page.locator(place.part).first()).toBeVisible()
    expect(await page.evaluate(() => (window as unknown as { replaced: () => string[] }).replaced())).toEqual([])
    expect(problems).toEqual([])
  })

test('times are the school’s, with those of the reader’s zone beside them from the first picture on, once it is known', async ({
  browser,
}) => {
  const page = await windowOf(browser, 'Zofia Dąbrowska', { timezoneId: 'Pacific/Auckland' })
  await expect
    .poll(async () => (await page.context().cookies()).find(({ name }) => name === 'gavrin.zone')?.value)
    .toBe('Pacific%2FAuckland')
  // Drawn for nobody's zone at first; by now as it is here.
  const due = page.locator('.my-copy-due').filter({ hasText: /due/ }).first()
  await expect(due).toContainText(/16:00 in Lisbon, .*05:00 where you are/)
  const here = await due.innerText()
  const still = await (await stillOf(browser, page.context())).newPage()
  await goDrawn(still, '/')
  await expect(still.locator('.my-copy-due').filter({ hasText: /due/ }).first()).toHaveText(here.replace(/\n/g, ''))
})

test('what is typed before the page is listened to counts, and its button waits', async ({ browser }) => {
  const page = await (await browser.newContext({ baseURL: url() })).newPage()
  let go = () => undefined as void
  const held = new Promise<void>((resolve) => (go = resolve))
  await page.route('**/assets/*.js', async (route) => {
    await held
    await route.continue()
  })
  await goDrawn(page, '/')
  await page.getByLabel('E-mail, or the name on your card').fill('okonjo@fennickquay.example')
  await page.getByLabel('Password').fill('harbour-wall-26')
  // Sent already now, nothing is lost.
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('E-mail, or the name on your card')).toHaveValue('okonjo@fennickquay.example')
  const pressed = page.getByRole('button', { name: 'Sign in' }).click()
  go()
  await pressed
  await expect(page.getByRole('link', { name: 'Desk' })).toBeVisible()
})

test('the styles of what was drawn are allowed, and no others', async ({ browser }) => {
  const { context, path } = await placeIn(
    browser,
    PLACES.find(({ name }) => name === 'board')!,
  )
  const still = await (await stillOf(browser, context)).newPage()
  const answer = await goDrawn(still, path)
  const policy = answer.headers()['content-security-policy']!
  expect(policy).toMatch(/style-src-attr 'unsafe-hashes' 'sha256-/)
  expect(policy).not.toContain("'unsafe-inline'")
  const widths = await still
    .locator('.strip-part')
    .evaluateAll((parts) => parts.map((part) => getComputedStyle(part).flexGrow))
  expect(widths.some((grow) => Number(grow) > 1)).toBe(true)
})
