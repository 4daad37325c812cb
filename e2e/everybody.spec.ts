import { type Page, expect } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { test, windowOf } from './support/people.js'

const AXE = createRequire(import.meta.url).resolve('axe-core/axe.min.js')

interface Found {
  violations: { id: string; nodes: { html: string; failureSummary: string }[] }[]
}

const RULES = {
  light: { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'] },
  // All else is the same in the dark.
  dark: { runOnly: { type: 'rule', values: ['color-contrast'] } },
}

/** What axe finds wrong by WCAG 2.2 AA and by what is good practice (one main part, one first heading, parts with names of their own), by day and in the dark. It is put in by the browser's tools, so the page's policy stays. */
async function violations(page: Page): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(readFileSync(AXE, 'utf8'))
  const all: string[] = []
  for (const colorScheme of ['dark', 'light'] as const) {
    await page.emulateMedia({ colorScheme, reducedMotion: 'reduce' })
    const found = await page.evaluate(
      (options) => (window as unknown as { axe: { run: (options: object) => Promise<Found> } }).axe.run(options),
      // What is in order is not gathered.
      { ...RULES[colorScheme], resultTypes: ['violations'] },
    )
    for (const { id, nodes } of found.violations)
      all.push(
        `${colorScheme}: ${id}: ${nodes.map(({ html, failureSummary }) => `${html} ${failureSummary}`).join(' | ')}`,
      )
  }
  return all
}

const look = async (page: Page, what: string) => {
  expect.soft(await violations(page), what).toEqual([])
}

// Nothing is changed here: each has its turn wherever there is time.
test.describe.configure({ mode: 'parallel' })

test('the doors are without violations, by day and in the dark', async ({ browser }) => {
  const signIn = await (await browser.newContext()).newPage()
  await signIn.goto(process.env['GAVRIN_URL']!)
  await expect(signIn.getByText('This is the demo.')).toBeVisible()
  await look(signIn, 'sign-in page')
  await signIn.getByRole('link', { name: 'Join a class' }).click()
  await expect(signIn.getByRole('heading', { name: 'Join a class' })).toBeVisible()
  await look(signIn, 'join page')
  await signIn.goto(`${process.env['GAVRIN_URL']!}/forgotten`)
  await expect(signIn.getByRole('heading', { name: 'New password' })).toBeVisible()
  await look(signIn, 'forgotten')
})

test('so are the views of a class', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await expect(teacher.getByText('Needs you')).toBeVisible()
  await look(teacher, 'desk')
  await teacher.getByRole('link', { name: '8 Heron' }).click()
  await expect(teacher.getByText('Abara', { exact: true })).toBeVisible()
  await teacher.getByLabel('Select Chidi Abara').check()
  await look(teacher, 'class')
  await teacher.getByRole('link', { name: 'Groups' }).click()
  await expect(teacher.getByRole('region', { name: 'Crane' })).toBeVisible()
  await look(teacher, 'groups')
  await teacher.getByRole('link', { name: 'Staff' }).click()
  await expect(teacher.getByText('Sees the roster', { exact: false })).toBeVisible()
  await look(teacher, 'staff')
  await teacher.getByRole('link', { name: 'Join page' }).click()
  await expect(teacher.getByRole('heading', { name: 'Class code' })).toBeVisible()
  await look(teacher, 'join page of the class')
  await teacher.getByRole('link', { name: 'Set up' }).click()
  await expect(teacher.getByRole('heading', { name: 'Units' })).toBeVisible()
  await look(teacher, 'set up')
  await teacher.getByRole('link', { name: 'Mailroom' }).click()
  await expect(teacher.getByRole('heading', { name: 'As it arrives' })).toBeVisible()
  await look(teacher, 'mailroom')
  await teacher.getByLabel('Find anything').fill('dabrowska')
  await expect(teacher.getByRole('option')).toBeVisible()
  await look(teacher, 'finder')
  await teacher.keyboard.press('Enter')
  await expect(teacher.getByRole('row', { name: /Quayside safety/ })).toBeVisible()
  await look(teacher, 'person')
  await teacher.getByRole('link', { name: 'Class', exact: true }).click()
  await teacher.getByRole('link', { name: 'Bring in a list' }).click()
  await teacher.getByLabel('Paste the rows from your spreadsheet').fill('A;B;c\nD;E;d@fennickquay.example\nF;G;')
  await expect(teacher.getByText('This is not an e-mail address.')).toBeVisible()
  await look(teacher, 'bring in')
})

test('so is a board, however it is looked at, and what is done from it', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher
    .getByRole('link', { name: /Tides at the quay/ })
    .first()
    .click()
  await teacher.getByRole('checkbox', { name: 'Select Abara, Chidi' }).click()
  await expect(teacher.getByRole('region', { name: 'Selected copies' })).toBeVisible()
  await look(teacher, 'board with a selection')
  await teacher.getByRole('button', { name: 'Select none' }).click()
  await teacher.getByRole('button', { name: 'Pens …' }).click()
  await teacher.getByRole('dialog').getByLabel('Down in', { exact: true }).check()
  await expect(teacher.getByLabel('Who has extra time')).toBeVisible()
  await look(teacher, 'pens')
  await teacher.keyboard.press('Escape')
  await teacher.getByRole('button', { name: 'Write to them …' }).click()
  await expect(teacher.getByRole('dialog').getByText('gets it', { exact: false })).toBeVisible()
  await look(teacher, 'reminders')
  await teacher.keyboard.press('Escape')
  await teacher.getByRole('button', { name: 'Over time' }).click()
  await expect(teacher.locator('.apexcharts-series').first()).toBeVisible()
  await look(teacher, 'over time')
  await teacher.getByRole('button', { name: 'Answer grid' }).click()
  await expect(teacher.getByRole('button', { name: /^Answer 3: .*Read all answers/ })).toBeVisible()
  await look(teacher, 'answer grid')
  await teacher.getByRole('button', { name: 'Abara, Chidi' }).click()
  await teacher.getByRole('button', { name: 'Side by side' }).click()
  await expect(teacher.getByRole('article').nth(3).getByText('Answer 9', { exact: false })).toBeVisible()
  await look(teacher, 'side by side')
  await teacher.keyboard.press('Escape')
  await teacher.keyboard.press('Escape')
  await teacher.getByRole('button', { name: /^Answer 3: .*Read all answers/ }).click()
  await expect(teacher.locator('.heap').first()).toBeVisible()
  await look(teacher, 'one question')
  await teacher.getByRole('button', { name: 'Show large' }).click()
  await expect(teacher.getByRole('dialog')).toBeVisible()
  await look(teacher, 'one answer, large')
})

test('so are handouts, boards and the slip', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.getByRole('link', { name: 'Answer', exact: true }).click()
  await expect(teacher.getByText('Who is that? Give the name the first time.')).toBeVisible()
  await look(teacher, 'copy with comments')
  await teacher.goto('/')
  await teacher.getByRole('link', { name: 'Handouts' }).click()
  await expect(teacher.getByText('draft').first()).toBeVisible()
  await look(teacher, 'handouts')
  await teacher.getByRole('link', { name: 'Before the harbour walk' }).click()
  await teacher.getByRole('button', { name: /Al-Masri/ }).click()
  await expect(teacher.getByRole('complementary').getByRole('heading', { name: 'Quayside safety' })).toBeVisible()
  await look(teacher, 'board')
  await teacher.getByRole('link', { name: 'New handout' }).click()
  await expect(teacher.getByRole('button', { name: /Hand out \d+ copies/ })).toBeVisible()
  await look(teacher, 'composer')
  await teacher.getByRole('button', { name: /^To whom:/ }).click()
  await look(teacher, 'a blank of the slip')
  await teacher.keyboard.press('Escape')
  await teacher.getByRole('link', { name: 'Handouts' }).click()
  await teacher.getByRole('link', { name: 'Harbour front page' }).click()
  await expect(teacher.getByText('Soraya Faraji')).toBeVisible()
  await look(teacher, 'board of groups')
  await teacher.getByRole('link', { name: 'Edit the slip' }).click()
  await expect(teacher.getByRole('textbox', { name: 'Cover note' })).toBeVisible()
  await look(teacher, 'composer with a cover note, a rubric, warnings')
  await teacher.getByRole('button', { name: /^See as/ }).click()
  await expect(teacher.getByRole('dialog').getByRole('heading', { name: 'Harbour front page' })).toBeVisible()
  await look(teacher, 'seen as a student')
  await teacher.keyboard.press('Escape')
  await teacher.getByRole('link', { name: 'Handouts' }).click()
  await teacher.getByRole('link', { name: 'Shore survey' }).click()
  await teacher.getByRole('button', { name: 'More', exact: true }).click()
  await teacher.getByRole('button', { name: 'Class link and walk-in link' }).click()
  await expect(teacher.getByText('Grandfather Lindqvist')).toBeVisible()
  await look(teacher, 'links')
  const walkIn = await teacher.getByLabel('Walk-in link to Shore survey', { exact: true }).inputValue()
  const stranger = await (await browser.newContext()).newPage()
  await stranger.goto(walkIn)
  await expect(stranger.getByLabel('Your name')).toBeVisible()
  await look(stranger, 'walk-in page')
})

test('so are the library and the editor', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.getByRole('link', { name: '8 Heron' }).click()
  await teacher.getByRole('link', { name: 'Class', exact: true }).click()
  await teacher.getByRole('link', { name: 'Shelf' }).click()
  await expect(teacher.getByRole('link', { name: 'Quayside safety' })).toBeVisible()
  await look(teacher, 'shelf')
  await teacher.getByRole('link', { name: 'Worksheets' }).click()
  await expect(teacher.locator('.page-card .sheet').first()).toBeVisible()
  await look(teacher, 'library')
  await teacher.getByRole('link', { name: 'Reading a tide table' }).click()
  await teacher.locator('.space-node').first().click()
  await expect(teacher.getByRole('heading', { name: '1 · Line' })).toBeVisible()
  await look(teacher, 'editor')
  const worksheet = teacher.url()
  await teacher.goto(`${worksheet}/key`)
  await expect(teacher.getByText('05:48 / 5:48')).toBeVisible()
  await look(teacher, 'answer key')
  await teacher.goto(`${worksheet}/about`)
  await expect(teacher.getByRole('heading', { name: 'Colleagues' })).toBeVisible()
  await look(teacher, 'about a worksheet')
  await teacher.goto(`${worksheet}/try`)
  await expect(teacher.frameLocator('iframe').getByText('0 of 4 checked answers right')).toBeVisible()
  await look(teacher, 'try as student')
  await teacher.goto('/worksheets')
  await teacher.getByRole('link', { name: 'Knots of the harbour' }).click()
  await teacher.locator('.box').first().click()
  await look(teacher, 'backdrop')
  await teacher.goto('/worksheets')
  await teacher.getByRole('link', { name: 'Harbour front page' }).click()
  await expect(teacher.getByText('for each member of the group')).toBeVisible()
  await look(teacher, 'editor with sections, gaps and a link')
  await teacher.goto(`${teacher.url()}/compare?from=1&to=2`)
  await expect(teacher.getByText('changed', { exact: true })).toBeVisible()
  await look(teacher, 'editions compared')
  await teacher.goto('/worksheets')
  await teacher.getByRole('link', { name: 'Measuring ropes' }).click()
  await expect(teacher.getByRole('heading', { name: 'Measuring ropes' }).first()).toBeVisible()
  await look(teacher, 'a shared worksheet with a table, to be read')
})

test('so is bringing in a document or a photograph', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto('/worksheets/bring-in')
  await expect(teacher.getByRole('button', { name: 'Choose a file' })).toBeVisible()
  await look(teacher, 'bring in a document')
  await teacher.getByLabel('File to bring in').setInputFiles('samples/worksheets/sea-words.md')
  await expect(teacher.getByRole('button', { name: 'Put in the library' })).toBeVisible()
  await look(teacher, 'a document before it is kept')
  await teacher.goto('/worksheets/bring-in')
  await teacher.getByLabel('File to bring in').setInputFiles('samples/worksheets/knots-by-the-lamp.jpg')
  await expect(teacher.getByText('The corners were found.')).toBeVisible()
  await look(teacher, 'a photograph')
})

test('so are the office and what students have', async ({ browser }) => {
  const office = await windowOf(browser, 'Joana Ferreira-Lund')
  await expect(office.getByRole('heading', { name: 'People' })).toBeVisible()
  await look(office, 'office')
  const signer = await windowOf(browser, 'Pip Calloway')
  await signer.getByRole('link', { name: /Harbour trades/ }).click()
  await expect(signer.getByText('Pilots')).toBeVisible()
  await look(signer, 'sign-up')
  const student = await windowOf(browser, 'Aroha Tamihana')
  await expect(student.getByRole('heading', { name: 'To do' })).toBeVisible()
  await look(student, 'student’s desk')
  await student.getByRole('link', { name: /Our sea words/ }).click()
  await expect(student.getByText('All saved')).toBeVisible()
  await look(student, 'copy')
})
