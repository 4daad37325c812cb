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

test('a pasted page comes without its scripts and pictures; a megabyte of it is not put in, and why is said', async ({
  browser,
}) => {
  const page = await windowOf(browser, 'Ren Hatoyama')
  await page
    .getByRole('link', { name: /Harbour front page/ })
    .first()
    .click()
  await expect(page.getByText('All saved')).toBeVisible()
  const passage = page.locator('.answer-passage[contenteditable=true]').first()
  const paste = (html: string) =>
    passage.evaluate((field, html) => {
      const clipboardData = new DataTransfer()
      clipboardData.setData('text/html', html)
      field.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }))
    }, html)
  const asked: string[] = []
  page.on('request', (request) => asked.push(request.url()))
  await passage.click()
  await page.keyboard.press('Control+End')
  await paste(
    `<h1>Gulls at noon</h1><script>document.title = 'ran'</script>
     <p>Two of them <b>stayed</b>.<img src="/pasted.png"></p>`,
  )
  await expect(passage).toContainText('Gulls at noon')
  await expect(passage).toContainText('Two of them stayed.')
  await expect(passage.locator('script, img[src]')).toHaveCount(0)
  await expect(page.getByText(/^Saved \d\d/)).toBeVisible()
  await expect(page).not.toHaveTitle('ran')
  expect(asked.filter((url) => url.includes('pasted.png'))).toEqual([])

  const before = await passage.innerText()
  await paste(`<p>${'a seal and a gull '.repeat(60_000)}</p>`)
  await expect(page.getByText('An answer takes up to 100,000 letters. This was not put in.')).toBeVisible()
  expect(await passage.innerText()).toBe(before)
  await page.keyboard.type(' On we write.')
  await expect(passage).toContainText('On we write.')
})
