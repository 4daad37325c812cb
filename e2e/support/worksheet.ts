import { type Page, expect } from '@playwright/test'

export async function newWorksheet(page: Page, title: string) {
  await page.goto('/worksheets')
  await page.getByRole('button', { name: 'New worksheet' }).click()
  await page.getByLabel('Title of the worksheet').fill(title)
  await page.getByRole('textbox', { name: 'Worksheet', exact: true }).click()
}
export const palette = (page: Page) => page.getByRole('navigation', { name: 'What to put on the page' })
export const put = (page: Page, name: string | RegExp) =>
  palette(page).getByRole('button', { name, exact: true }).click()
export const kept = (page: Page) => expect(page.getByText(/· saved /)).toBeVisible()
