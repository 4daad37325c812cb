import { expect } from '@playwright/test'
import { test, windowOf } from './support/people.js'

test('a cell is corrected in place; a bad one says why and keeps what was typed', async ({ browser }) => {
  const page = await windowOf(browser, 'Birgit Sandvik')
  await page.getByRole('link', { name: 'Class', exact: true }).click()
  await page.getByRole('button', { name: /E-mail of Kofi Amankwah/ }).click()
  const field = page.getByLabel('E-mail of Kofi Amankwah')
  await field.fill('nonsense')
  await field.press('Enter')
  await expect(page.getByRole('alert')).toHaveText('This is not an e-mail address.')
  await expect(field).toHaveValue('nonsense')
  await field.fill('kofi.a@fennickquay.example')
  await field.press('Enter')
  await expect(page.getByRole('button', { name: /E-mail of Kofi Amankwah: kofi.a@/ })).toBeVisible()
  await page.getByLabel('Find in this class').fill('celik')
  await expect(page.locator('tbody tr')).toHaveCount(1)
})

test('a student leaves and comes back; a helper sees and cannot change', async ({ browser }) => {
  const page = await windowOf(browser, 'Birgit Sandvik')
  await page.getByRole('link', { name: 'Class', exact: true }).click()
  await page.getByRole('button', { name: 'More for Wren Haddow' }).click()
  await page.getByRole('button', { name: /Remove from the class/ }).click()
  await expect(page.getByText('left the class')).toBeVisible()
  await page.getByRole('button', { name: 'Take back in' }).click()
  await expect(page.getByText('left the class')).toHaveCount(0)

  const helper = await windowOf(browser, 'Tomasz Adeyemi-Falk')
  await helper.getByRole('link', { name: 'Class', exact: true }).click()
  await expect(helper.getByText('Abara', { exact: true })).toBeVisible()
  await expect(helper.getByRole('link', { name: 'Bring in a list' })).toHaveCount(0)
  await expect(helper.getByRole('link', { name: 'New handout' })).toHaveCount(0)
})

test('2,000 pasted rows are understood, and scrolled through', async ({ browser }) => {
  const page = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await page.getByRole('link', { name: '8 Tern' }).click()
  await page.getByRole('link', { name: 'Bring in a list' }).click()
  const rows = Array.from({ length: 2_000 }, (_, at) => `Last${at};First${at};many${at}@fennickquay.example`)
  // Pasted as a person does: letting the test tool type it takes the browser half a minute.
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.evaluate(
    (text) => navigator.clipboard.writeText(text),
    ['Last name;First name;E-mail', ...rows].join('\n'),
  )
  await page.getByLabel('Paste the rows from your spreadsheet').press('Control+v')
  await expect(page.getByRole('button', { name: 'Save 2000 rows' })).toBeEnabled()
  expect(await page.locator('.understood tbody tr').count()).toBeLessThan(80)
  await page.locator('.grid-scroll').evaluate((element) => element.scrollTo(0, element.scrollHeight))
  await expect(page.getByLabel('Last name, row 2000')).toHaveValue('Last1999')
})

test('sign-in cards open the door to a student of a pasted roster', async ({ browser }) => {
  const page = await windowOf(browser, 'Birgit Sandvik')
  await page.getByRole('button', { name: 'New class' }).click()
  await page.getByLabel('Name, as the school says it').fill('7 Petrel')
  await page.getByRole('button', { name: 'Make the class' }).click()
  await page
    .getByLabel('Paste the rows from your spreadsheet')
    .fill('Castellan\tPia\tpia.castellan@fennickquay.example')
  await page.getByRole('button', { name: 'Save 1 row' }).click()
  await page.getByRole('link', { name: 'Sign-in cards for 1' }).click()
  await page.getByRole('button', { name: 'Make 1 cards' }).click()
  const password = await page.locator('.cards code').textContent()
  const student = await (await browser.newContext()).newPage()
  await student.goto(new URL(page.url()).origin)
  await student.getByLabel('E-mail').fill('pia.castellan@fennickquay.example')
  await student.getByLabel('Password').fill(password!)
  await student.getByRole('button', { name: 'Sign in' }).click()
  await expect(student.getByText('Nothing is waiting for you.')).toBeVisible()
})
