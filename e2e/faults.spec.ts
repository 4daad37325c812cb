import { expect, test } from '@playwright/test'
import { openCluster } from '../scripts/lib/postgres.mjs'
import { windowOf } from './support/people.js'

const cluster = () => openCluster('e2e')

test('the database goes away while a student writes: the page is honest, the writing outlives a reload, all is saved after', async ({
  browser,
}) => {
  test.setTimeout(120_000)
  const database = await cluster()
  const page = await windowOf(browser, 'Zayd Qureshi')
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await page.getByRole('link', { name: /Our sea words/ }).click()
  await expect(page.getByText('All saved')).toBeVisible()
  await page.getByLabel(/^Answer 3/).fill('before')
  await expect(page.getByText(/^Saved \d\d/)).toBeVisible()

  database.stop('fast')
  try {
    await page.getByLabel(/^Answer 3/).fill('before and during')
    await expect(page.getByText('Not saved yet', { exact: true })).toBeVisible()
    await expect(page.getByText('Keep writing; what you write is kept in this browser')).toBeVisible()
    await page.getByRole('button', { name: 'Submit' }).first().click()
    await expect(page.getByText('Not submitted: your last words are not saved yet.')).toBeVisible()
    await expect(page.getByLabel(/^Answer 3/)).toHaveValue('before and during')
    await teacher.getByRole('link', { name: 'Handouts' }).click()
    await expect(teacher.getByText('Gavrin cannot reach its database at the moment.').first()).toBeVisible({
      timeout: 40_000,
    })
  } finally {
    await database.start()
  }
  await expect(page.getByText(/^Saved \d\d/)).toBeVisible({ timeout: 40_000 })
  await page.reload()
  await expect(page.getByLabel(/^Answer 3/)).toHaveValue('before and during')
})

test('writing that could not be sent is kept over a closed page; if the copy stands still by then, it is late writing', async ({
  browser,
}) => {
  test.setTimeout(120_000)
  const page = await windowOf(browser, 'Thandi Mbeki-Jones')
  await page.getByRole('link', { name: /Our sea words/ }).click()
  await expect(page.getByText('All saved')).toBeVisible()
  const address = page.url()
  await page.getByLabel(/^Answer 3/).fill('in time')
  await expect(page.getByText(/^Saved \d\d/)).toBeVisible()

  // The live connection is gone; what is typed now stays in the browser.
  await page.routeWebSocket(/api\/live/, (socket) => void socket.close())
  await page.reload()
  await expect(page.getByText('Opening …')).toBeVisible()
  await page.unrouteAll()
  await page.reload()
  await expect(page.getByText('All saved')).toBeVisible()
  const database = await cluster()
  database.stop('fast')
  await page.getByLabel(/^Answer 3/).fill('in time, and too late')
  await expect(page.getByText('Not saved yet', { exact: true })).toBeVisible()
  await page.goto('about:blank')
  await database.start()

  // Another browser of the same student submits meanwhile.
  const other = await windowOf(browser, 'Thandi Mbeki-Jones')
  await other.getByRole('link', { name: /Our sea words/ }).click()
  await expect(other.getByText(/All saved|Saved/)).toBeVisible({ timeout: 30_000 })
  await other.getByRole('button', { name: 'Submit' }).first().click()
  await expect(other.getByText(/It stands still now/)).toBeVisible()

  await page.goto(address)
  // Either it was committed before the pens went down, or it is kept beside the copy: it is never lost.
  await expect(page.getByText('in time, and too late').first()).toBeVisible({ timeout: 30_000 })
})
