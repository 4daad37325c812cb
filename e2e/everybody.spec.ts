import { type Page, expect } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { test, windowOf } from './support/people.js'

const AXE = createRequire(import.meta.url).resolve('axe-core/axe.min.js')

interface Found {
  violations: { id: string; nodes: { html: string; failureSummary: string }[] }[]
}

const RULES = {
  light: { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] },
  // All else is the same in the dark.
  dark: { runOnly: { type: 'rule', values: ['color-contrast'] } },
}

/** What axe finds wrong by WCAG 2.2 AA. It is put in by the browser's tools, not by the page, so the page's policy stays. */
async function violationsIn(page: Page, colorScheme: 'light' | 'dark'): Promise<string[]> {
  await page.evaluate(readFileSync(AXE, 'utf8'))
  const found = await page.evaluate(
    (options) => (window as unknown as { axe: { run: (options: object) => Promise<Found> } }).axe.run(options),
    RULES[colorScheme],
  )
  return found.violations.map(
    ({ id, nodes }) => `${id}: ${nodes.map(({ html, failureSummary }) => `${html} ${failureSummary}`).join(' | ')}`,
  )
}

for (const colorScheme of ['light', 'dark'] as const)
  test(`every main view is without violations, ${colorScheme}`, async ({ browser }) => {
    test.setTimeout(400_000)
    const violations = (page: Page) => violationsIn(page, colorScheme)
    const signIn = await (await browser.newContext({ colorScheme })).newPage()
    await signIn.goto(process.env['GAVRIN_URL']!)
    await expect(signIn.getByText('This is the demo.')).toBeVisible()
    expect(await violations(signIn)).toEqual([])
    await signIn.getByRole('link', { name: 'Join a class' }).click()
    await expect(signIn.getByRole('heading', { name: 'Join a class' })).toBeVisible()
    expect(await violations(signIn), 'join page').toEqual([])
    await signIn.goto(`${process.env['GAVRIN_URL']!}/forgotten`)
    await expect(signIn.getByRole('heading', { name: 'New password' })).toBeVisible()
    expect(await violations(signIn), 'forgotten').toEqual([])

    const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes', { colorScheme })
    const look = async (what: string) => {
      expect(await violations(teacher), what).toEqual([])
    }
    await expect(teacher.getByText('Needs you')).toBeVisible()
    await look('desk')
    await teacher.getByRole('link', { name: '8 Heron' }).click()
    await expect(teacher.getByText('Abara', { exact: true })).toBeVisible()
    await teacher.getByLabel('Select Chidi Abara').check()
    await look('class')
    await teacher.getByRole('link', { name: 'Groups' }).click()
    await expect(teacher.getByRole('region', { name: 'Crane' })).toBeVisible()
    await look('groups')
    await teacher.getByRole('link', { name: 'Staff' }).click()
    await expect(teacher.getByText('Sees the roster', { exact: false })).toBeVisible()
    await look('staff')
    await teacher.getByRole('link', { name: 'Join page' }).click()
    await expect(teacher.getByRole('heading', { name: 'Class code' })).toBeVisible()
    await look('join page of the class')
    await teacher.getByRole('link', { name: 'Set up' }).click()
    await expect(teacher.getByRole('heading', { name: 'Units' })).toBeVisible()
    await look('set up')
    await teacher.getByRole('link', { name: 'Mailroom' }).click()
    await expect(teacher.getByRole('heading', { name: 'As it arrives' })).toBeVisible()
    await look('mailroom')
    await teacher.getByLabel('Find a person or class').fill('dabrowska')
    await expect(teacher.getByRole('option')).toBeVisible()
    await look('finder')
    await teacher.keyboard.press('Enter')
    await expect(teacher.getByRole('row', { name: /Quayside safety/ })).toBeVisible()
    await look('person')
    await teacher.getByRole('link', { name: 'Class', exact: true }).click()
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
    await expect(teacher.locator('.page-card .sheet').first()).toBeVisible()
    await look('library')
    await teacher.getByRole('link', { name: 'Reading a tide table' }).click()
    await teacher.locator('.space-node').first().click()
    await expect(teacher.getByRole('heading', { name: '1 · Line' })).toBeVisible()
    await look('editor')
    const worksheet = teacher.url()
    await teacher.goto(`${worksheet}/key`)
    await expect(teacher.getByText('05:48 / 5:48')).toBeVisible()
    await look('answer key')
    await teacher.goto(`${worksheet}/about`)
    await expect(teacher.getByRole('heading', { name: 'Colleagues' })).toBeVisible()
    await look('about a worksheet')
    await teacher.goto(`${worksheet}/try`)
    await expect(teacher.frameLocator('iframe').getByText('0 of 4 checked answers right')).toBeVisible()
    await look('try as student')
    await teacher.goto('/worksheets')
    await teacher.getByRole('link', { name: 'Knots of the harbour' }).click()
    await teacher.locator('.box').first().click()
    await look('backdrop')
    await teacher.goto('/worksheets')
    await teacher.getByRole('link', { name: 'Harbour front page' }).click()
    await expect(teacher.getByText('for each member of the group')).toBeVisible()
    await look('editor with sections, gaps and a link')
    await teacher.goto(`${teacher.url()}/compare?from=1&to=2`)
    await expect(teacher.getByText('changed', { exact: true })).toBeVisible()
    await look('editions compared')
    await teacher.goto('/worksheets')
    await teacher.getByRole('link', { name: 'Measuring ropes' }).click()
    await expect(teacher.getByRole('heading', { name: 'Measuring ropes' }).first()).toBeVisible()
    await look('a shared worksheet with a table, to be read')
    await teacher.goto('/worksheets/bring-in')
    await expect(teacher.getByRole('button', { name: 'Choose a file' })).toBeVisible()
    await look('bring in a document')
    await teacher.getByLabel('File to bring in').setInputFiles('samples/worksheets/sea-words.md')
    await expect(teacher.getByRole('button', { name: 'Put in the library' })).toBeVisible()
    await look('a document before it is kept')
    await teacher.goto('/worksheets/bring-in')
    await teacher.getByLabel('File to bring in').setInputFiles('samples/worksheets/knots-by-the-lamp.jpg')
    await expect(teacher.getByText('The corners were found.')).toBeVisible()
    await look('a photograph')

    const office = await windowOf(browser, 'Joana Ferreira-Lund', { colorScheme })
    await expect(office.getByRole('heading', { name: 'People' })).toBeVisible()
    expect(await violations(office), 'office').toEqual([])
    const signer = await windowOf(browser, 'Pip Calloway', { colorScheme })
    await signer.getByRole('link', { name: /Harbour trades/ }).click()
    await expect(signer.getByText('Pilots')).toBeVisible()
    expect(await violations(signer), 'sign-up').toEqual([])

    const student = await windowOf(browser, 'Aroha Tamihana', { colorScheme })
    await expect(student.getByRole('heading', { name: 'To do' })).toBeVisible()
    expect(await violations(student), 'student’s desk').toEqual([])
    await student.getByRole('link', { name: /Our sea words/ }).click()
    await expect(student.getByText('All saved')).toBeVisible()
    expect(await violations(student), 'copy').toEqual([])
  })
