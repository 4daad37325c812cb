import { expect } from '@playwright/test'
import { test, url, windowOf } from './support/people.js'

test('by e-mail and password; what is wrong is said, and what was typed stays', async ({ page }) => {
  await page.goto(url())
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('Type your e-mail address.')).toBeVisible()
  await page.getByLabel('E-mail').fill('okonjo@fennickquay.example')
  await page.getByLabel('Password').fill('not it')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('alert')).toContainText('do not belong together')
  await expect(page.getByLabel('E-mail')).toHaveValue('okonjo@fennickquay.example')
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
  await expect(other.getByLabel('Password')).toBeVisible()
})
