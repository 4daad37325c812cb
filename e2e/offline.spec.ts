import { type Page, expect } from '@playwright/test'
import { test, windowOf } from './support/people.js'

/** The addresses that are kept in this browser. */
const keptPages = (page: Page) =>
  page.evaluate(async () => {
    if (!(await caches.has('gavrin-pages'))) return []
    return (await (await caches.open('gavrin-pages')).keys()).map(({ url }) => new URL(url).pathname)
  })
const keptFiles = (page: Page) => page.evaluate(async () => (await (await caches.open('gavrin-files')).keys()).length)
const keptAnswers = (page: Page) =>
  page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        const opening = indexedDB.open('gavrin-copies')
        opening.onsuccess = () => {
          const count = opening.result.transaction('states').objectStore('states').count()
          count.onsuccess = () => resolve(count.result)
        }
      }),
  )

test('one’s own copy opens without a network, with what was written, and goes on; it is sent when the network is back, and nothing stays after signing out', async ({
  browser,
}) => {
  const student = await windowOf(browser, 'Soraya Faraji')
  await student
    .getByRole('link', { name: /Knots of the harbour/ })
    .first()
    .click()
  await expect(student.getByText('All saved')).toBeVisible()
  const path = new URL(student.url()).pathname
  const field = student.locator('.answer-passage[contenteditable=true]').first()
  await field.click()
  await student.keyboard.press('Control+End')
  await student.keyboard.type(' Written at school.')
  await expect(student.getByText(/^Saved \d\d:\d\d$/)).toBeVisible()
  await expect.poll(() => keptPages(student), { timeout: 30_000 }).toContain(path)
  await expect.poll(() => keptFiles(student)).toBeGreaterThan(10)
  await expect.poll(() => keptAnswers(student)).toBeGreaterThan(0)

  // On the bus: the browser is opened again, without a network.
  await student.context().setOffline(true)
  await student.reload()
  await expect(field).toContainText('Written at school.')
  await expect(
    student.getByText('This is the copy as it was when it was last open here', { exact: false }),
  ).toBeVisible()
  await field.click()
  await student.keyboard.press('Control+End')
  await student.keyboard.type(' And on the bus.')
  await expect(student.getByText('Gavrin cannot be reached at the moment.', { exact: false })).toBeVisible()
  // Once more: what is not sent yet is there too.
  await student.reload()
  await expect(field).toContainText('Written at school. And on the bus.')
  await student.context().setOffline(false)
  await expect(student.getByText(/^Saved \d\d:\d\d$|^All saved$/)).toBeVisible()

  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto(path)
  await expect(teacher.getByText('Written at school. And on the bus.')).toBeVisible()

  // On the desk, and out: nothing is kept of them any more.
  await student.getByRole('link', { name: 'Back to my desk' }).click()
  await student.locator('#person-menu').click()
  await student.getByRole('button', { name: 'Sign out' }).click()
  await expect(student.getByRole('button', { name: 'Sign in' })).toBeVisible()
  expect(await keptPages(student)).toEqual([])
  expect(await keptAnswers(student)).toBe(0)
  await student.context().setOffline(true)
  await expect(student.goto(path)).rejects.toThrow()
  await student.context().setOffline(false)
})

test('whoever signs in next on the same computer finds nothing of the one before', async ({ browser }) => {
  const first = await windowOf(browser, 'Lucía Ibáñez')
  await first
    .getByRole('link', { name: /Knots of the harbour/ })
    .first()
    .click()
  await expect(first.getByText('All saved')).toBeVisible()
  const path = new URL(first.url()).pathname
  await expect.poll(() => keptPages(first), { timeout: 30_000 }).toContain(path)
  // The session ends by itself, and somebody else sits down.
  await first.context().clearCookies()
  await first.goto('about:blank')
  await first.goto(path)
  await expect(first.getByRole('button', { name: 'Sign in' })).toBeVisible()
  expect(await keptPages(first)).toEqual([])
  await expect.poll(() => keptAnswers(first)).toBe(0)
})
