import { type Page, expect } from '@playwright/test'
import { test, windowOf, submit } from './support/people.js'

async function openTides(page: Page): Promise<void> {
  await page.getByRole('link', { name: /Reading a tide table/ }).click()
  await expect(page.getByText('All saved')).toBeVisible()
}

test('two windows of one person show each other’s keys, carets stay where they were', async ({ browser }) => {
  const one = await windowOf(browser, 'Elsa Lindqvist')
  await openTides(one)
  const two = await one.context().newPage()
  await two.goto(one.url())
  await expect(two.getByText('All saved')).toBeVisible()
  const [a, b] = [one.getByLabel(/^Answer 8/), two.getByLabel(/^Answer 8/)]
  await a.fill('harbour wall')
  await expect(b).toHaveValue('harbour wall')
  await b.focus()
  await two.keyboard.press('End')
  await one.keyboard.press('Home')
  await one.keyboard.type('The ')
  await expect(b).toHaveValue('The harbour wall')
  await two.keyboard.insertText(' at dawn')
  await expect(a).toHaveValue('The harbour wall at dawn')
  await one.keyboard.insertText('old ')
  await expect(b).toHaveValue('The old harbour wall at dawn')
  // Each takes back their own, though the other has written since.
  await two.keyboard.press('Control+z')
  for (const field of [a, b]) await expect(field).toHaveValue('The old harbour wall')
  await one.keyboard.press('Control+z')
  for (const field of [a, b]) await expect(field).toHaveValue('The harbour wall')
  await two.keyboard.press('Control+y')
  for (const field of [a, b]) await expect(field).toHaveValue('The harbour wall at dawn')
})

test('the whole of it by keyboard alone', async ({ browser }) => {
  const page = await windowOf(browser, 'Ren Hatoyama')
  const focused = () =>
    page.evaluate(() => {
      const { activeElement } = document
      if (!activeElement || activeElement === document.body) return ''
      return activeElement.getAttribute('aria-label') ?? activeElement.textContent
    })
  const tabTo = async (text: RegExp) => {
    for (let presses = 0; presses < 60; presses++) {
      if (text.test(await focused())) return
      await page.keyboard.press('Tab')
    }
    throw new Error(`nothing called ${text} is reached by Tab`)
  }
  await tabTo(/Reading a tide table/)
  await page.keyboard.press('Enter')
  await expect(page.getByText('All saved')).toBeVisible()
  await tabTo(/^Answer 8/)
  await page.keyboard.type('By keys')
  await tabTo(/^Answer 9/)
  await page.keyboard.type('Not a mouse in sight.')
  await expect(page.getByText(/^Saved/)).toBeVisible()
  await tabTo(/^Submit$/)
  await page.keyboard.press('Enter')
  // What is empty is asked about first.
  await expect(page.getByRole('dialog', { name: '2 answers are empty' })).toBeVisible()
  await tabTo(/^Submit as it is$/)
  await page.keyboard.press('Enter')
  await expect(page.getByText(/It stands still now/)).toBeVisible()
})

test('at 360 pixels, in the dark, with right-to-left text, nothing runs out of the page', async ({ browser }) => {
  const page = await windowOf(browser, 'ليلى', {
    viewport: { width: 360, height: 740 },
    colorScheme: 'dark',
    hasTouch: true,
  })
  const fits = () => page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)
  expect(await fits()).toBe(true)
  await page.getByRole('link', { name: /Our sea words/ }).tap()
  await expect(page.getByText('All saved')).toBeVisible()
  await page.getByLabel(/^Answer 3/).fill('الميناء القديم')
  await expect(page.getByText(/^Saved/)).toBeVisible()
  expect(await fits()).toBe(true)
  expect(await page.getByLabel(/^Answer 3/).evaluate((element) => getComputedStyle(element).direction)).toBe('rtl')
  // The line with the way to submit stays in view, in two rows at most.
  await page.getByLabel(/^Answer 3/).scrollIntoViewIfNeeded()
  const line = (await page.locator('.copy-line').boundingBox())!
  expect(line.y).toBe(0)
  expect(line.height).toBeLessThan(80)
  await expect(page.locator('.copy-line').getByRole('button', { name: 'Submit' })).toBeInViewport()
})

test('the board can be used at 360 pixels, with a copy over it', async ({ browser }) => {
  const page = await windowOf(browser, 'Adaeze Okonjo-Reyes', { viewport: { width: 360, height: 740 } })
  const fits = () => page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)
  await page
    .getByRole('link', { name: /Tides at the quay/ })
    .first()
    .click()
  const row = page.getByRole('row', { name: /Lindqvist, Elsa/ })
  await expect(row).toBeVisible()
  expect(await fits()).toBe(true)
  await row.scrollIntoViewIfNeeded()
  await expect(row.getByRole('link', { name: /^Open the copy/ })).toBeInViewport()
  await row.getByRole('button').click()
  const drawer = page.getByRole('complementary')
  await expect(drawer.getByRole('heading', { name: 'Reading a tide table' })).toBeVisible()
  expect((await drawer.boundingBox())!.width).toBe(360)
  await page.keyboard.press('Escape')
  await expect(drawer).toHaveCount(0)
})

test('an address of somebody else’s copy, or of none, leads nowhere', async ({ browser }) => {
  const page = await windowOf(browser, 'Finn O’Hara')
  const mate = await windowOf(browser, 'Noa Kamakau')
  await mate.getByRole('link', { name: /Reading a tide table/ }).click()
  await expect(mate.getByText('All saved')).toBeVisible()
  await page.goto(new URL(mate.url()).pathname)
  await expect(page.getByText('This is not here, or not for you to see.')).toBeVisible()
  await page.goto('/class/none/handouts')
  await expect(page.getByRole('heading', { name: 'Nothing is here' })).toBeVisible()
})

test('what could not be sent outlives the page; if the copy stands still by then it is kept as late writing', async ({
  browser,
}) => {
  const page = await windowOf(browser, 'Thandi Mbeki-Jones')
  let cut = false
  await page.routeWebSocket(/api\/live/, (socket) => {
    const server = socket.connectToServer()
    socket.onMessage((message) => {
      if (!cut) server.send(message)
    })
  })
  await page.getByRole('link', { name: /Our sea words/ }).click()
  await expect(page.getByText('All saved')).toBeVisible()
  await page.getByLabel(/^Answer 3/).fill('in time')
  await expect(page.getByText(/^Saved \d\d/)).toBeVisible()
  const address = page.url()

  cut = true
  await page.getByLabel(/^Answer 3/).fill('in time, and too late')
  await expect(page.getByText('Not saved yet', { exact: true })).toBeVisible()
  page.on('dialog', (dialog) => void dialog.accept())
  await page.goto('about:blank')

  await test.step('the same student submits in another browser meanwhile', async () => {
    const other = await windowOf(browser, 'Thandi Mbeki-Jones')
    await other.getByRole('link', { name: /Our sea words/ }).click()
    await expect(other.getByText('All saved')).toBeVisible()
    await expect(other.getByLabel(/^Answer 3/)).toHaveValue('in time')
    await submit(other)
    await expect(other.getByText(/It stands still now/)).toBeVisible()
  })

  cut = false
  await page.goto(address)
  await expect(page.getByText('came too late for the answer')).toBeVisible()
  await expect(page.getByLabel(/^Answer 3/)).toHaveText('in time')
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto(new URL(address).pathname)
  await expect(teacher.getByRole('region', { name: 'Late writing' })).toContainText('in time, and too late')
})
