import { type Page, expect } from '@playwright/test'

export const blank = (page: Page, label: RegExp) => page.getByRole('button', { name: label })
export const proofOf = (page: Page) => page.getByRole('region', { name: 'Proof' })
/** Opens what is seldom filled in. */
export async function unfold(page: Page): Promise<void> {
  const folds = page.locator('details.fold:not([open]) > summary')
  while ((await folds.count()) > 0) await folds.first().click()
}
/** Chooses in a blank of the slip. */
export async function fill(page: Page, label: RegExp, choice: RegExp): Promise<void> {
  if (!(await blank(page, label).isVisible())) await unfold(page)
  await blank(page, label).click()
  await page.locator('.blank-menu.show').getByRole('button', { name: choice }).click()
}

/** A new slip in a class of the demo, with a worksheet chosen. */
export async function newSlip(page: Page, className: string, worksheet: RegExp, title: string): Promise<void> {
  if (new URL(page.url()).pathname !== '/') await page.goto('/')
  await page.getByRole('link', { name: className, exact: true }).click()
  await page.getByRole('link', { name: 'New handout' }).click()
  await fill(page, /^Worksheet:/, worksheet)
  await page.getByLabel('Title of the handout').fill(title)
}

export async function handOut(page: Page, words: RegExp): Promise<void> {
  await page.getByRole('button', { name: words }).click()
  await expect(page.getByRole('link', { name: 'Edit the slip' })).toBeVisible()
}
