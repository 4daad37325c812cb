import { expect } from '@playwright/test'
import { test, url, windowOf } from './support/people.js'

test('by e-mail and password; what is wrong is said, and what was typed stays', async ({ page }) => {
  await page.goto(url())
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('Type your e-mail address.')).toBeVisible()
  await page.getByLabel('E-mail, or the name on your card').fill('okonjo@fennickquay.example')
  await page.getByLabel('Password').fill('not it')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('alert')).toContainText('do not belong together')
  await expect(page.getByLabel('E-mail, or the name on your card')).toHaveValue('okonjo@fennickquay.example')
  await page.getByLabel('Password').fill('harbour-wall-26')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('link', { name: 'Desk' })).toBeVisible()
})

test('signing out ends it in every window of that browser', async ({ browser }) => {
  const page = await windowOf(browser, 'Giulia Rossi')
  const other = await page.context().newPage()
  await other.goto(url())
  await other.getByRole('link', { name: /Reading a tide table/ }).click()
  await expect(other.getByText('All saved')).toBeVisible()
  await page.getByRole('button', { name: /Giulia Rossi/ }).click()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByLabel('Password')).toBeVisible()
  await expect(other.getByRole('button', { name: 'Sign in', exact: true })).toBeVisible()
  await expect(other.getByText('You have been signed out')).toHaveCount(0)
})

test('whose session ends while writing signs in again in front of the page, which goes on with every letter', async ({
  browser,
}) => {
  const page = await windowOf(browser, 'Giulia Rossi')
  await page.getByRole('link', { name: /Reading a tide table/ }).click()
  await expect(page.getByText('All saved')).toBeVisible()
  const field = page.getByLabel(/^Answer 8/)
  await field.fill('The long way')
  await expect(page.getByText(/^Saved \d\d/)).toBeVisible()
  const elsewhere = await windowOf(browser, 'Giulia Rossi')
  const change = (current: string, password: string) =>
    elsewhere.request.put('/api/account/password', { headers: { origin: url() }, data: { current, password } })
  // Still typed while the session ends: another password ends all others.
  const typing = field.pressSequentially(' to Gull Rock', { delay: 20 })
  expect((await change('harbour-wall-26', 'harbour-gate-27')).status()).toBe(204)
  await typing.catch(() => undefined)
  await expect(page.getByRole('heading', { name: 'You have been signed out' })).toBeVisible()
  await expect(field).toBeHidden()
  const typed = await field.inputValue()
  await page.getByLabel('Password').fill('not it')
  await page.getByRole('button', { name: 'Sign in again' }).click()
  await expect(page.getByRole('alert')).toContainText('do not belong together')
  await page.getByLabel('Password').fill('harbour-gate-27')
  await page.keyboard.press('Enter')
  await expect(field).toBeVisible()
  await expect(field).toHaveValue(typed)
  await expect(page.getByText(/^Saved \d\d|^All saved/)).toBeVisible()
  await page.reload()
  await expect(page.getByText('All saved')).toBeVisible()
  await expect(field).toHaveValue(typed)
  expect((await change('harbour-gate-27', 'harbour-wall-26')).status()).toBe(204)
})

test('in the demo, by choosing a person from the list', async ({ page }) => {
  await page.goto(url())
  await page.getByLabel('Find a name or class').fill('dabrow')
  await page.getByRole('button', { name: 'Zofia Dąbrowska' }).click()
  await expect(page.locator('#person-menu')).toContainText('Zofia Dąbrowska')
})

test('what Gavrin is made with is named with its licence', async ({ browser }) => {
  const page = await (await browser.newContext({ baseURL: url() })).newPage()
  await page.goto('/')
  await page.getByRole('link', { name: 'About', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'About Gavrin' })).toBeVisible()
  await page.getByLabel('Find a package or a licence').fill('yjs')
  await page.getByText(/^yjs \d/).click()
  await expect(page.getByText('Kevin Jahns', { exact: false }).first()).toBeVisible()
})
