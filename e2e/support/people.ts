import { type Browser, type Page, test as base, expect } from '@playwright/test'
import { startOnSchool } from './server.mjs'

/** The data folder of the application of one worker. */
export const clusterOf = (parallelIndex: number) => `e2e-${parallelIndex}`

/** A test whose windows are closed after it, on an application of its worker's own. */
export const test = base.extend<{ closing: void }, { application: void }>({
  application: [
    // Playwright reads from its first argument what a fixture needs.
    // oxlint-disable-next-line no-empty-pattern
    async ({}, use, { parallelIndex }) => {
      const application = await startOnSchool(clusterOf(parallelIndex))
      process.env['GAVRIN_URL'] = application.url
      await use()
      await application.stop()
    },
    { auto: true, scope: 'worker', timeout: 480_000 },
  ],
  closing: [
    async ({ browser }, use) => {
      await use()
      await Promise.all(browser.contexts().map((context) => context.close()))
    },
    { auto: true },
  ],
})

export const url = () => process.env['GAVRIN_URL']!

/** Goes wrong as soon as a page says something to its console that it should not. */
function listen(page: Page): void {
  page.on('pageerror', (error) => {
    throw error
  })
  page.on('console', (message) => {
    // What the browser itself says when a server is away or refuses is what some tests are about.
    if (
      message.type() === 'error' &&
      !/Failed to load resource|WebSocket connection|when fetching the script/.test(message.text())
    )
      throw new Error(message.text())
  })
}

/** A page that was drawn on the server is seen before it is taken over. */
export const isListenedTo = (page: Page) => expect(page.locator('#root:not([data-drawn])')).toBeVisible()

interface DemoAnswer {
  readonly demo: {
    readonly password: string
    readonly people: readonly { readonly email: string; readonly first: string; readonly last: string }[]
  }
}

/** The names of those of the demo who can sign in. */
export async function demoNames(browser: Browser): Promise<readonly string[]> {
  const { request } = await browser.newContext({ baseURL: url() })
  const { demo } = (await (await request.get('/api/session')).json()) as DemoAnswer
  return demo.people.map(({ first, last }) => `${first} ${last}`)
}

/** A window of its own in which this demo person is signed in. */
export async function windowOf(
  browser: Browser,
  name: string,
  options: Parameters<Browser['newContext']>[0] = {},
): Promise<Page> {
  const context = await browser.newContext({
    baseURL: url(),
    locale: 'en-GB',
    timezoneId: 'Europe/Lisbon',
    viewport: { width: 1280, height: 800 },
    ...options,
  })
  // By the interface of the server, which is quicker than the sign-in page; that has tests of its own.
  const { demo } = (await (await context.request.get('/api/session')).json()) as DemoAnswer
  const person = demo.people.find(({ first, last }) => `${first} ${last}`.includes(name))
  if (!person) throw new Error(`nobody of the demo is called ${name}`)
  const answer = await context.request.post('/api/session', { data: { email: person.email, password: demo.password } })
  expect(answer.status()).toBe(204)
  const page = await context.newPage()
  listen(page)
  await page.goto('/')
  await expect(page.locator('#person-menu')).toContainText(name)
  await isListenedTo(page)
  // Letters in another font move what is below them: a click would go beside it.
  await page.evaluate(() => document.fonts.ready.then(() => undefined))
  return page
}

/** The address of the board of a handout of a class, wherever the desk has it just now. */
export async function boardOf(page: Page, title: string, className = '8 Heron'): Promise<string> {
  const read = async (path: string) => (await (await page.request.get(`/api/${path}`)).json()) as unknown
  const { id } = ((await read('classes')) as { id: string; name: string }[]).find(({ name }) => name === className)!
  const handouts = (await read(`classes/${id}/handouts`)) as { id: string; title: string }[]
  return `/class/${id}/handouts/${handouts.find((handout) => handout.title === title)!.id}`
}

/** Submits a copy, also with answers that are empty. */
export async function submit(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Submit' }).first().click()
  const asIs = page.getByRole('button', { name: 'Submit as it is' })
  const resting = page.getByRole('button', { name: /^(Submitting|Waiting to submit|Take back)/ }).first()
  await expect(asIs.or(resting).first()).toBeVisible()
  if (await asIs.isVisible()) await asIs.click()
}
