import { type Page, expect } from '@playwright/test'
import { createRequire } from 'node:module'
import { test, windowOf } from './support/people.js'

const AXE = createRequire(import.meta.url).resolve('axe-core/axe.min.js')

interface Found {
  violations: { id: string; nodes: { html: string; failureSummary: string }[] }[]
}

/** What axe finds wrong by WCAG 2.2 AA. It is put in by the browser's tools, not by the page, so the page's policy stays. */
async function violations(page: Page): Promise<string[]> {
  await page.evaluate((await import('node:fs')).readFileSync(AXE, 'utf8'))
  const found = await page.evaluate(() =>
    (window as unknown as { axe: { run: (options: object) => Promise<Found> } }).axe.run({
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
    }),
  )
  return found.violations.map(
    ({ id, nodes }) => `${id}: ${nodes.map(({ html, failureSummary }) => `${html} ${failureSummary}`).join(' | ')}`,
  )
}

for (const colorScheme of ['light', 'dark'] as const)
  test(`every main view is without violations, ${colorScheme}`, async ({ browser }) => {
    test.setTimeout(120_000)
    const signIn = await (await browser.newContext({ colorScheme })).newPage()
    await signIn.goto(process.env['GAVRIN_URL']!)
    await expect(signIn.getByText('This is the demo.')).toBeVisible()
    expect(await violations(signIn)).toEqual([])

    const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes', { colorScheme })
    const look = async (what: string) => {
      expect(await violations(teacher), what).toEqual([])
    }
    await expect(teacher.getByText('Needs you')).toBeVisible()
    await look('desk')
    await teacher.getByRole('link', { name: '8 Heron' }).click()
    await expect(teacher.getByText('Abara', { exact: true })).toBeVisible()
    await look('class')
    await teacher.getByRole('link', { name: 'Bring in a list' }).click()
    await teacher.getByLabel('Paste the rows from your spreadsheet').fill('A;B;c\nD;E;d@fennickquay.example\nF;G;')
    await expect(teacher.getByText('This is not an e-mail address.')).toBeVisible()
    await look('bring in')
    await teacher.getByRole('link', { name: 'Handouts' }).click()
    await expect(teacher.getByText('draft').first()).toBeVisible()
    await look('handouts')
    await teacher.getByRole('link', { name: 'Before the harbour walk' }).click()
    await teacher.getByRole('button', { name: /Al-Masri/ }).click()
    await expect(teacher.getByRole('complementary').getByRole('heading', { name: 'Quayside safety' })).toBeVisible()
    await look('board')
    await teacher.getByRole('link', { name: 'New handout' }).click()
    await expect(teacher.getByRole('button', { name: /Hand out \d+ copies/ })).toBeVisible()
    await look('composer')
    await teacher.getByRole('link', { name: 'Worksheets' }).click()
    await teacher.getByRole('link', { name: 'Reading a tide table' }).click()
    await teacher.locator('.space-node').first().click()
    await expect(teacher.getByRole('heading', { name: '1 · Line' })).toBeVisible()
    await look('editor')

    const student = await windowOf(browser, 'Aroha Tamihana', { colorScheme })
    await expect(student.getByRole('heading', { name: 'To do' })).toBeVisible()
    expect(await violations(student), 'student’s desk').toEqual([])
    await student.getByRole('link', { name: /Our sea words/ }).click()
    await expect(student.getByText('All saved')).toBeVisible()
    expect(await violations(student), 'copy').toEqual([])
  })
