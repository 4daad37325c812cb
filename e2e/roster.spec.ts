import { type Page, expect } from '@playwright/test'
import { fileURLToPath } from 'node:url'
import { test, windowOf } from './support/people.js'

const sample = (name: string) => fileURLToPath(new URL(`../samples/${name}`, import.meta.url))

const row = (page: Page, name: string | RegExp) => page.getByRole('grid').getByRole('row', { name })

/** The cell of a row of the roster grid; columns are counted from 0 for the last name. */
const cell = (page: Page, row: string | RegExp, column: number) =>
  page
    .getByRole('row', { name: row })
    .getByRole('gridcell')
    .nth(column + 1)

async function openClass(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Class', exact: true }).click()
  await expect(page.getByRole('grid')).toBeVisible()
}

async function newClass(page: Page, name: string): Promise<void> {
  await page.goto('/classes')
  await page.getByRole('button', { name: 'New class' }).click()
  await page.getByLabel('Name, as the school says it').fill(name)
  await page.getByRole('button', { name: 'Make the class' }).click()
  await expect(page.getByRole('heading', { name: 'Bring in a list' })).toBeVisible()
}

test('cells are corrected by keyboard; a bad one says why and keeps what was typed; all of it is undone', async ({
  browser,
}) => {
  const page = await windowOf(browser, 'Birgit Sandvik')
  await openClass(page)
  await cell(page, /Kofi/, 2).click()
  await page.keyboard.type('nonsense')
  await page.keyboard.press('Enter')
  await expect(row(page, /Kofi/)).toContainText('nonsense')
  await page.keyboard.press('ArrowUp')
  await expect(page.getByRole('alert')).toHaveText('This is not an e-mail address.')
  await page.keyboard.press('F2')
  await expect(page.getByLabel('E-mail of Kofi Amankwah')).toHaveValue('nonsense')
  await page.getByLabel('E-mail of Kofi Amankwah').fill('kofi.a@fennickquay.example')
  await page.keyboard.press('Tab')
  await expect(cell(page, /Kofi/, 2)).toHaveText('kofi.a@fennickquay.example')
  // Tab went on to the next cell; from there three to the left, and typed over.
  for (let at = 0; at < 3; at++) await page.keyboard.press('ArrowLeft')
  await page.keyboard.type('Amankwah-Boye')
  await page.keyboard.press('Enter')
  await expect(row(page, /Amankwah-Boye/)).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect(row(page, /Amankwah-Boye/)).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await expect(cell(page, /Kofi/, 2)).toHaveText('kofi.amankwah@fennickquay.example')
  await page.keyboard.press('Control+y')
  await expect(cell(page, /Kofi/, 2)).toHaveText('kofi.a@fennickquay.example')
  await page.getByLabel('Find in this class').fill('celik')
  await expect(page.locator('.sheet-grid tbody tr').filter({ hasText: '@' })).toHaveCount(1)
})

test('a column is added, a block is pasted into it, filtered by and saved; another teacher sees it at once', async ({
  browser,
}) => {
  const page = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await page.getByRole('link', { name: '8 Tern' }).click()
  const helper = await windowOf(browser, 'Birgit Sandvik')
  await page.getByRole('link', { name: 'Staff' }).click()
  await page.getByLabel('Their e-mail').fill('sandvik@fennickquay.example')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(page.getByText('sandvik@fennickquay.example is on the staff')).toBeVisible()
  await helper.goto(page.url().replace('/staff', ''))
  await expect(helper.getByRole('grid')).toBeVisible()

  await page.getByRole('link', { name: 'Roster' }).click()
  await page.getByRole('button', { name: 'Columns' }).click()
  await page.getByRole('button', { name: 'Add a column' }).click()
  await page.getByLabel('Name of the column').fill('Boat')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByRole('columnheader', { name: /Boat/ })).toBeVisible()
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.evaluate(() => navigator.clipboard.writeText('Gull\nTern\nGull'))
  await cell(page, /Achterberg/, 6).click()
  await page.keyboard.press('Control+v')
  await expect(cell(page, /Calloway/, 6)).toHaveText('Gull')
  await expect(cell(helper, /Calloway/, 6)).toHaveText('Gull')

  await page.getByRole('button', { name: 'Column Boat' }).click()
  await page.getByRole('button', { name: 'Gull', exact: true }).click()
  await expect(page.getByRole('status').filter({ hasText: '2 of 26' })).toBeVisible()
  const saved = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save as' }).click()
  await page.getByRole('button', { name: /^XLSX/ }).click()
  expect((await saved).suggestedFilename()).toBe('8 Tern 2026-27 roster.xlsx')
  await page.getByRole('button', { name: 'Column Boat' }).click()
  await page.getByRole('button', { name: 'Take it away' }).click()
  await expect(page.getByRole('columnheader', { name: /Boat/ })).toHaveCount(0)
  await page.getByRole('button', { name: 'Bring it back' }).click()
  await expect(cell(page, /Calloway/, 6)).toHaveText('Gull')
})

test('many are selected: tagged, moved to a group, removed and taken back in', async ({ browser }) => {
  const page = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await page.getByRole('link', { name: '8 Heron' }).click()
  await page.getByLabel('Select Zayd Qureshi').check()
  await page.getByLabel('Select Giulia Rossi').check()
  const bar = page.getByRole('region', { name: 'Selected students' })
  await expect(bar).toContainText('2 selected')
  await bar.getByRole('button', { name: 'Tag' }).click()
  await page.getByRole('button', { name: 'Put a tag on them' }).click()
  await page.getByLabel(/^Tag, e\.g\./).fill('boat club')
  await page.getByRole('button', { name: 'Put it on' }).click()
  await expect(row(page, /Qureshi/)).toContainText('boat club')
  await bar.getByRole('button', { name: 'Move to a group' }).click()
  await page.getByRole('button', { name: 'Net loft' }).click()
  await expect(bar.getByRole('status')).toHaveText('2 moved to Net loft.')
  await expect(row(page, /Qureshi/)).toContainText('Net loft')
  await bar.getByRole('button', { name: 'Remove 2' }).click()
  await expect(row(page, /Qureshi/)).toHaveCount(0)
  await page.getByRole('button', { name: 'Show 2 who left' }).click()
  await expect(row(page, /Qureshi/)).toContainText('left the class')
  await bar.getByRole('button', { name: 'Take 2 back in' }).click()
  await expect(page.getByRole('button', { name: /who left/ })).toHaveCount(0)
})

test('a helper sees the roster and cannot change it', async ({ browser }) => {
  const helper = await windowOf(browser, 'Tomasz Adeyemi-Falk')
  await openClass(helper)
  await expect(row(helper, /Abara/)).toBeVisible()
  await expect(helper.getByRole('link', { name: 'Bring in a list' })).toHaveCount(0)
  await expect(helper.getByRole('link', { name: 'New handout' })).toHaveCount(0)
  await cell(helper, /Abara/, 0).dblclick()
  await expect(helper.getByLabel('Last name of Chidi Abara')).toHaveCount(0)
})

test('somebody is typed in under the last row', async ({ browser }) => {
  const page = await windowOf(browser, 'Birgit Sandvik')
  await newClass(page, '7 Knot')
  await page.getByRole('link', { name: 'Back to the class' }).click()
  await page.getByRole('gridcell', { name: 'Last name: New student' }).click()
  await page.keyboard.type('Moss')
  await page.keyboard.press('Tab')
  await expect(row(page, /Moss/)).toBeVisible()
  await page.keyboard.type('Ida')
  await page.keyboard.press('Tab')
  await expect(cell(page, /Moss/, 1)).toHaveText('Ida')
})

test('a workbook is brought in; a newer one shows what would change before it does', async ({ browser }) => {
  const page = await windowOf(browser, 'Birgit Sandvik')
  await newClass(page, '9 Curlew')
  await page.getByLabel('Choose a file').setInputFiles(sample('autumn.xlsx'))
  await expect(page.getByLabel('Column Student ID holds')).toHaveValue('number')
  await expect(page.getByLabel('Column Reading band holds')).toHaveValue('keep')
  await expect(page.getByLabel('Column No holds')).toHaveValue('unused')
  await page.getByLabel('Column House holds').selectOption('not used')
  await page.getByRole('button', { name: 'Save 6 rows' }).click()
  await expect(row(page, /Bąk/)).toContainText('FQ-9102')
  await expect(page.getByRole('columnheader', { name: /House/ })).toHaveCount(0)

  await page.getByRole('link', { name: 'Bring in a list' }).click()
  await page.getByLabel('Choose a file').setInputFiles(sample('spring.xlsx'))
  const counts = page.locator('.counts')
  await expect(counts).toContainText('2 new')
  await expect(counts).toContainText('1 missing from the list')
  await expect(page.getByText('Last name: Amundsen-Rowe → Amundsen')).toBeVisible()
  await expect(page.getByText('Reading band: B → A')).toBeVisible()
  await expect(page.getByText('Nobody is removed by saving a list.')).toBeVisible()
  await page.getByLabel('Maren D’Souza').check()
  await expect(page.getByText('1 student leaves the class; their work is kept.')).toBeVisible()
  await page.getByRole('button', { name: 'Save 7 rows' }).click()
  await expect(row(page, /قاسم/)).toBeVisible()
  await expect(cell(page, /Castro Vidal/, 2)).toHaveText('castro.vidal@fennickquay.example')
  await expect(row(page, /D’Souza/)).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Show 1 who left' })).toBeVisible()
})

test('the other formats, and files that are no list', async ({ browser }) => {
  const page = await windowOf(browser, 'Birgit Sandvik')
  await newClass(page, '9 Dotterel')
  for (const [name, first, encoding] of [
    ['autumn.csv', 'Amundsen-Rowe', 'UTF-8'],
    ['autumn-windows-1252.csv', 'Amundsen-Rowe', 'Windows-1252'],
    ['autumn-utf-16.tsv', 'Amundsen-Rowe', 'UTF-16'],
    ['autumn.ods', 'Amundsen-Rowe', null],
  ] as const) {
    await page.getByLabel('Choose a file').setInputFiles(sample(name))
    await expect(page.locator('.source-file')).toContainText(name)
    await expect(page.getByLabel('Last name, row 2', { exact: true })).toHaveValue(first)
    if (encoding) await expect(page.getByLabel('Letters look wrong? Read them as')).toHaveValue(encoding)
  }
  await expect(page.getByLabel('Last name, row 5')).toHaveValue('D’Souza')
  const refused = async (name: string, buffer: Buffer, sentence: string | RegExp) => {
    await page.getByLabel('Choose a file').setInputFiles({ name, mimeType: 'application/octet-stream', buffer })
    await expect(page.getByRole('alert')).toHaveText(sentence)
    await expect(page.getByLabel('Last name, row 5')).toHaveValue('D’Souza')
  }
  await refused('list.pdf', Buffer.from('%PDF-1.7 x'), /This is a document or a picture, not a list/)
  await refused(
    'old.xls',
    Buffer.from([0xd0, 0xcf, 0x11, 0xe0, 1, 2, 3]),
    /locked with a password, or in the old format/,
  )
  await refused('broken.xlsx', Buffer.from('PK\u0003\u0004 and no more'), /damaged/)
  await refused('large.csv', Buffer.alloc(10_000_001, 'a'), /more than 10 MB/)
})

test('a rostering bundle brings in several classes at once', async ({ browser }) => {
  const page = await windowOf(browser, 'Birgit Sandvik')
  await openClass(page)
  await page.getByRole('link', { name: 'Bring in a list' }).click()
  await page.getByLabel('Choose a file').setInputFiles(sample('rostering-bundle.zip'))
  await expect(page.getByRole('heading', { name: '2 classes in the bundle' })).toBeVisible()
  for (const name of ['9 Curlew', '9 Plover']) await page.getByLabel(`Bring in ${name} as`).selectOption('a new class')
  await page.getByRole('button', { name: 'Bring in 2 classes' }).click()
  await expect(page.getByRole('link', { name: /as before$/ })).toHaveCount(2)
  await page
    .getByRole('row', { name: /9 Plover/ })
    .getByRole('link')
    .click()
  await expect(page.getByRole('heading', { name: '9 Plover' })).toBeVisible()
  await expect(row(page, /Øverby/)).toBeVisible()

  // The bundle again, for this class: it alone is chosen; somebody with another address since is asked about.
  await row(page, /Øverby/)
    .getByRole('gridcell')
    .nth(3)
    .dblclick()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('someone.else@fennickquay.example')
  await page.keyboard.press('Enter')
  await expect(row(page, /someone\.else/)).toBeVisible()
  await row(page, /Øverby/)
    .getByRole('gridcell')
    .nth(4)
    .dblclick()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('FQ-0')
  await page.keyboard.press('Enter')
  await expect(row(page, /FQ-0/)).toBeVisible()
  await page.getByRole('link', { name: 'Bring in a list' }).click()
  await page.getByLabel('Choose a file').setInputFiles(sample('rostering-bundle.zip'))
  await expect(page.getByLabel('Bring in 9 Curlew as')).toHaveValue('none')
  await page.getByRole('button', { name: 'Bring in 1 class', exact: true }).click()
  await page.getByRole('link', { name: 'Look at the list' }).click()
  await expect(page.getByText(/the same person|same person/).first()).toBeVisible()
})

test('2,000 pasted rows are understood and scrolled through; 50,000 are one class of a school', async ({ browser }) => {
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
  await expect(page.getByLabel('Last name, row 2001')).toHaveValue('Last1999')

  const school = Array.from(
    { length: 50_000 },
    (_, at) => `Last${at},First${at},class ${at % 50},s${at}@fennickquay.example`,
  )
  await page.getByLabel('Choose a file').setInputFiles({
    name: 'school.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(['Last name,First name,Class,E-mail', ...school].join('\n')),
  })
  await expect(page.getByText('This list has 50000 rows and one class takes up to 5,000.')).toBeVisible()
  await page.getByLabel('Only rows where').selectOption('Class is')
  await page.getByLabel('this value').selectOption('class 7')
  await expect(page.getByRole('button', { name: 'Save 1000 rows' })).toBeEnabled()
})

test('sign-in cards open the door to a student of a pasted roster, with and without an e-mail', async ({ browser }) => {
  const page = await windowOf(browser, 'Birgit Sandvik')
  await newClass(page, '7 Petrel')
  await page
    .getByLabel('Paste the rows from your spreadsheet')
    .fill('Castellan\tPia\tpia.castellan@fennickquay.example\nFinch\tRue\t')
  await page.getByRole('button', { name: 'Save 2 rows' }).click()
  // What comes next is offered at once, and does only what it says.
  const next = page.getByText('The list is saved: 2 students added.').locator('..')
  await expect(next).toContainText('1 student with an e-mail cannot sign in yet.')
  await expect(next.getByRole('link', { name: 'card to print' })).toBeVisible()
  await next.getByRole('button', { name: 'Invite 1 by mail' }).click()
  await expect(next).toContainText('1 invitation goes out by mail')
  await next.getByRole('button', { name: 'Close' }).click()
  await expect(page.getByText('The list is saved')).toHaveCount(0)

  // One student by a button; taken out again by mistake, and back.
  await page.getByRole('button', { name: 'Add a student' }).click()
  const form = page.getByRole('dialog')
  await form.getByLabel('Last name').fill('Oyster')
  await form.getByLabel('E-mail (empty, if there is none)').fill('not an address')
  await form.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(form.getByLabel('Last name')).toHaveValue('Oyster')
  await form.getByLabel('E-mail (empty, if there is none)').fill('')
  await form.getByLabel('First name').fill('Sol')
  await form.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(form.getByText('Added: Sol Oyster')).toBeVisible()
  await form.getByRole('button', { name: 'Done' }).click()
  await page.getByRole('button', { name: '··· More for Sol Oyster' }).click()
  // It is told once the roster shows it: a row that is still there would take its open menu away with it.
  const told = page.getByText('Sol Oyster is not in the class any more')
  let answer = () => {}
  const held = new Promise<void>((resolve) => (answer = resolve))
  await page.route(/\/roster$/, async (route) => {
    await held
    await route.continue()
  })
  const asked = page.waitForRequest(/\/roster$/)
  await page.getByRole('button', { name: /^Remove from the class/ }).click()
  await asked
  await expect(page.getByText('3 students')).toBeVisible()
  await expect(told).toHaveCount(0)
  answer()
  await expect(told).toBeVisible()
  await expect(page.getByText('2 students')).toBeVisible()
  await page.unroute(/\/roster$/)
  await page.getByRole('button', { name: 'Take them back in' }).click()
  await expect(page.getByText('3 students')).toBeVisible()
  await page.getByRole('button', { name: '··· More for Sol Oyster' }).click()
  await page.getByRole('button', { name: /^Remove from the class/ }).click()
  await expect(page.getByText('2 students')).toBeVisible()

  await page.getByRole('link', { name: 'Sign-in cards for 2' }).click()
  await page.getByRole('button', { name: 'Make 2 cards' }).click()
  for (const name of ['Pia Castellan', 'Rue Finch']) {
    const card = page.locator('.cards li').filter({ hasText: name })
    await expect(card).toContainText(new URL(page.url()).host)
    await expect(card.getByRole('img', { name: 'The way to Gavrin' })).toBeVisible()
    const student = await (await browser.newContext()).newPage()
    await student.goto(new URL(page.url()).origin)
    await student.getByLabel('E-mail, or the name on your card').fill(await card.locator('.card-name').innerText())
    await student.getByLabel('Password').fill(await card.locator('code').innerText())
    await student.getByRole('button', { name: 'Sign in' }).click()
    await expect(student.getByText('Nothing is waiting for you.')).toBeVisible()
  }
})
