import { expect } from '@playwright/test'
import { openCluster } from '../scripts/lib/postgres.mjs'
import { clusterOf, test, windowOf, submit } from './support/people.js'

test('the database goes away while a student writes: the page is honest, the writing outlives a reload, all is saved after', async ({
  browser,
}, { parallelIndex }) => {
  const database = await openCluster(clusterOf(parallelIndex))
  const page = await windowOf(browser, 'Zayd Qureshi')
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await expect(teacher.getByRole('link', { name: 'Handouts' })).toBeVisible()
  await page.getByRole('link', { name: /Our sea words/ }).click()
  await expect(page.getByText('All saved')).toBeVisible()
  await page.getByLabel(/^Answer 3/).fill('before')
  await expect(page.getByText(/^Saved \d\d/)).toBeVisible()

  database.stop('fast')
  try {
    await page.getByLabel(/^Answer 3/).fill('before and during')
    await expect(page.getByText('Not saved yet', { exact: true })).toBeVisible()
    await expect(page.getByText('Keep writing; what you write is kept in this browser')).toBeVisible()
    await submit(page)
    await expect(page.getByText('Not submitted yet: Gavrin cannot be reached at the moment.')).toBeVisible()
    await page.getByRole('button', { name: 'Go on writing instead' }).click()
    await expect(page.getByLabel(/^Answer 3/)).toHaveValue('before and during')
    await teacher.getByRole('link', { name: 'Handouts' }).click()
    await expect(teacher.getByText('Gavrin cannot reach its database at the moment.').first()).toBeVisible()
  } finally {
    await database.start()
  }
  await expect(page.getByText(/^Saved \d\d/)).toBeVisible()
  await page.reload()
  await expect(page.getByText('All saved')).toBeVisible()
  await expect(page.getByLabel(/^Answer 3/)).toHaveValue('before and during')
})
