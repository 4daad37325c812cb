import { type Browser, type Page, test as base, expect } from '@playwright/test'

/** A test whose windows are closed after it. */
export const test = base.extend<{ closing: void }>({
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
    if (message.type() === 'error' && !/Failed to load resource|WebSocket connection/.test(message.text()))
      throw new Error(message.text())
  })
}

/** A window of its own in which this demo person is signed in, by the list on the sign-in page. */
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
  const page = await context.newPage()
  listen(page)
  await page.goto('/')
  await page.getByLabel('Find a name or class').fill(name)
  await page.getByRole('button', { name }).first().click()
  await expect(page.locator('#person-menu')).toContainText(name)
  return page
}
