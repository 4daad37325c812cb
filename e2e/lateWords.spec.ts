import { type Browser, type Page, expect } from '@playwright/test'
import { test, windowOf, submit } from './support/people.js'

// Every letter that stood on a screen is afterwards in the answer or in late writing, and the page says which.

/** A live connection that takes its time both ways, or nothing through at all. */
async function slow(page: Page, delay: number) {
  const line = { cut: false }
  await page.routeWebSocket(/api\/live/, (socket) => {
    const server = socket.connectToServer()
    const later = (pass: () => void) => {
      if (!line.cut) setTimeout(pass, delay)
    }
    socket.onMessage((message) => later(() => server.send(message)))
    server.onMessage((message) => later(() => socket.send(message)))
  })
  return line
}

/** The longest text that ever stood in a field while it could be written in. */
async function watched(page: Page): Promise<() => Promise<string>> {
  await page.evaluate(() => {
    const seen = { text: '' }
    Object.assign(window, { seen })
    document.addEventListener('input', ({ target }) => {
      const { value } = target as HTMLInputElement
      if (value.length > seen.text.length) seen.text = value
    })
  })
  return () => page.evaluate(() => (window as unknown as { seen: { text: string } }).seen.text)
}

const openSeaWords = async (page: Page) => {
  await page.getByRole('link', { name: /Our sea words/ }).click()
  await expect(page.getByText('All saved')).toBeVisible()
}

/** The same student submits in another browser. */
async function submitElsewhere(browser: Browser, name: string): Promise<void> {
  const other = await windowOf(browser, name)
  await openSeaWords(other)
  await submit(other)
  await expect(other.getByText(/It stands still now/)).toBeVisible()
}

const letters = (text: string) => [...text].sort().join('')

for (const [delay, name] of [
  [150, 'Ifeoma Ekwueme'],
  [400, 'Ingrid Brandvold'],
] as const)
  test(`letters under way at ${delay} ms when another window submits are in the answer or in late writing`, async ({
    browser,
  }) => {
    const page = await windowOf(browser, name)
    await slow(page, delay)
    await openSeaWords(page)
    const onScreen = await watched(page)
    const field = page.getByLabel(/^Answer 3/)
    await field.focus()
    const submitting = submitElsewhere(browser, name)
    // Typed on until the page takes the pen away.
    while (await field.evaluate((element) => element instanceof HTMLInputElement).catch(() => false))
      await page.keyboard.type('abcdefgh', { delay: 40 })
    await submitting
    const written = await onScreen()
    expect(written.length).toBeGreaterThan(10)
    // Until every change is answered the page keeps what stood there.
    await expect(page.getByText('came too late for the answer')).toBeVisible()
    const late = page.getByRole('region', { name: 'Late writing' })
    await expect(late).toBeVisible()
    await expect
      .poll(async () => letters((await late.locator('.answer').first().textContent()) ?? ''))
      .toBe(letters(written))
    const answer = (await page.getByLabel(/^Answer 3/).textContent()) ?? ''
    expect(written.startsWith(answer.replace('nothing written yet', ''))).toBe(true)
    await expect(page.getByText(/Not saved/)).toHaveCount(0)
  })

test('words written while the network stands still are late writing whole, once it is back', async ({ browser }) => {
  const page = await windowOf(browser, 'Rania Al-Masri')
  const line = await slow(page, 0)
  await openSeaWords(page)
  await page.getByLabel(/^Answer 3/).fill('start ')
  await expect(page.getByText(/^Saved \d\d/)).toBeVisible()
  line.cut = true
  await page.getByLabel(/^Answer 3/).pressSequentially('LAPTOP WORDS')
  await submitElsewhere(browser, 'Rania Al-Masri')
  await expect(page.getByText('Not saved yet', { exact: true })).toBeVisible()
  // Closing the window asks first.
  const asked = page.waitForEvent('dialog')
  await page.close({ runBeforeUnload: true })
  const dialog = await asked
  expect(dialog.type()).toBe('beforeunload')
  await dialog.accept()

  const again = await page.context().newPage()
  await again.goto('/')
  // What was written last is sent from the desk.
  await expect(again.getByText('Submitted', { exact: true }).first()).toBeVisible()
  await expect(again.getByText('Not saved yet:')).toHaveCount(0)
  const copy = again.getByRole('link', { name: /Our sea words/ })
  await copy.click()
  const late = again.getByRole('region', { name: 'Late writing' })
  await expect(late.locator('.answer')).toHaveText('start LAPTOP WORDS')
  await expect(again.getByLabel(/^Answer 3/)).toHaveText(/^start\s*$/)
})

test('submitting while offline rests the pen and says so; it is done when the connection is back, over a reload too', async ({
  browser,
}) => {
  const page = await windowOf(browser, 'Théo Joubert')
  const line = await slow(page, 0)
  await openSeaWords(page)
  await page.context().setOffline(true)
  line.cut = true
  await page.getByLabel(/^Answer 3/).fill('all of it')
  await submit(page)
  await expect(page.getByText('Not submitted yet: Gavrin cannot be reached at the moment.')).toBeVisible()
  await expect(page.getByText('the pen rests until then')).toBeVisible()
  await expect(page.getByLabel(/^Answer 3/)).toHaveText('all of it')
  // Thought better of it, and again.
  await page.getByRole('button', { name: 'Go on writing instead' }).click()
  await page.getByLabel(/^Answer 3/).fill('all of it, and more')
  await submit(page)
  await expect(page.getByRole('button', { name: 'Waiting to submit' }).first()).toBeVisible()

  await page.context().setOffline(false)
  line.cut = false
  page.on('dialog', (dialog) => void dialog.accept())
  await page.reload()
  await expect(page.getByText(/It stands still now/)).toBeVisible()
  await expect(page.getByLabel(/^Answer 3/)).toHaveText('all of it, and more')
  await expect(page.getByRole('region', { name: 'Late writing' })).toHaveCount(0)
})

test('leaving a page with words that are not saved waits for them, and says so', async ({ browser }) => {
  const page = await windowOf(browser, 'Deniz Yilmaz-Brandt')
  await slow(page, 1_200)
  await openSeaWords(page)
  await page.getByLabel(/^Answer 3/).fill('last words')
  await page.getByRole('link', { name: 'Back to my desk' }).click()
  await expect(page.getByText('Your last words are being saved; then you are taken back.')).toBeVisible()
  await expect(page.getByRole('heading', { name: 'To do' })).toBeVisible()
  const other = await windowOf(browser, 'Deniz Yilmaz-Brandt')
  await openSeaWords(other)
  await expect(other.getByLabel(/^Answer 3/)).toHaveValue('last words')
})
