import { type Page, expect } from '@playwright/test'
import { test, url, windowOf } from './support/people.js'

const blank = (page: Page, label: RegExp) => page.getByRole('button', { name: label })
const proofOf = (page: Page) => page.getByRole('region', { name: 'Proof' })
/** Opens what is seldom filled in. */
async function unfold(page: Page): Promise<void> {
  const folds = page.locator('details.fold:not([open]) > summary')
  while ((await folds.count()) > 0) await folds.first().click()
}
/** Chooses in a blank of the slip. */
async function fill(page: Page, label: RegExp, choice: RegExp): Promise<void> {
  if (!(await blank(page, label).isVisible())) await unfold(page)
  await blank(page, label).click()
  await page.locator('.blank-menu.show').getByRole('button', { name: choice }).click()
}

/** A new slip in a class of the demo, with a worksheet chosen. */
async function newSlip(page: Page, className: string, worksheet: RegExp, title: string): Promise<void> {
  await page.goto('/')
  await page.getByRole('link', { name: className, exact: true }).click()
  await page.getByRole('link', { name: 'New handout' }).click()
  await fill(page, /^Worksheet:/, worksheet)
  await page.getByLabel('Title of the handout').fill(title)
}

async function handOut(page: Page, words: RegExp): Promise<void> {
  await page.getByRole('button', { name: words }).click()
  await expect(page.getByRole('link', { name: 'Edit the slip' })).toBeVisible()
}

test('one per group, with a part for each member, seen as a student before it is given', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await newSlip(teacher, '8 Heron', /^Harbour front page/, 'The weekend page')
  await fill(teacher, /^Way:/, /^one per group/)
  await expect(blank(teacher, /^Group set: Survey crews/)).toBeVisible()
  const proof = proofOf(teacher)
  await expect(proof.getByText('Crane – Harbour front page')).toBeVisible()
  await expect(proof.getByText('look like one group written twice')).toBeVisible()
  await expect(proof.getByText('In no group of Survey crews')).toBeVisible()
  await proof.getByRole('button', { name: /without a copy/ }).click()
  await expect(proof.getByText('in no group of Survey crews').first()).toBeVisible()
  await proof.getByRole('button', { name: /without a copy/ }).click()
  await proof.getByRole('button', { name: 'Buoy yard – Harbour front page' }).click()
  await teacher.getByRole('button', { name: 'See as Soraya' }).click()
  const seen = teacher.getByRole('dialog', { name: 'As Soraya Faraji will see it' })
  await expect(seen.getByRole('heading', { name: 'Your story · Soraya Faraji' })).toBeVisible()
  await expect(seen.getByRole('heading', { name: 'Your story · Lucía Ibáñez' })).toBeVisible()
  await teacher.keyboard.press('Escape')
  await handOut(teacher, /^Hand out 7 copies/)
  await expect(teacher.getByText('Soraya Faraji, Lucía Ibáñez, Thandi Mbeki-Jones, Даниил Petrov')).toBeVisible()

  const soraya = await windowOf(browser, 'Soraya Faraji')
  await soraya.getByRole('link', { name: /The weekend page/ }).click()
  await expect(soraya.getByText('All saved')).toBeVisible()
  // The name of the page, her story, and the two gaps of the weather are hers to write; the stories of others are not.
  await expect(soraya.getByRole('textbox')).toHaveCount(4)
  await soraya.getByRole('textbox', { name: /Name of your newspaper/ }).fill('The Buoy')
  const lucia = await windowOf(browser, 'Lucía Ibáñez')
  await lucia.getByRole('link', { name: /The weekend page/ }).click()
  await expect(lucia.getByRole('textbox', { name: /Name of your newspaper/ })).toHaveValue('The Buoy')
})

test('one for all is mended to one each: who wrote keeps what they wrote', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await newSlip(teacher, '8 Tern', /^Sea-word glossary/, 'Words at sea')
  await fill(teacher, /^Way:/, /^one together/)
  await expect(proofOf(teacher).getByText('whoever comes first fills it in')).toBeVisible()
  await handOut(teacher, /^Hand out 1 copy/)
  const pip = await windowOf(browser, 'Pip Calloway')
  await pip.getByRole('link', { name: /Words at sea/ }).click()
  await pip.getByRole('textbox', { name: /^Answer 3/ }).fill('bollard')
  await expect(pip.getByText(/^Saved \d\d:\d\d$/)).toBeVisible()

  await teacher.getByRole('link', { name: 'Edit the slip' }).click()
  await fill(teacher, /^Way:/, /^one each/)
  await expect(teacher.getByText('1 copy with writing in it is set aside')).toBeVisible()
  await fill(teacher, /^What was written:/, /^given to the one/)
  await expect(proofOf(teacher).getByText('new, writing goes along')).toBeVisible()
  await handOut(teacher, /^Hand out 26 copies and set \d+ aside/)
  await expect(teacher.getByRole('button', { name: '1 working' })).toBeVisible()
  await expect(teacher.getByRole('button', { name: '1 set aside' })).toBeVisible()

  await pip.goto('/')
  // The copy that all shared is on the desk too, kept from before.
  await expect(pip.getByRole('heading', { name: 'Kept from before' })).toBeVisible()
  await pip.getByRole('link', { name: /^working Sea-word glossary Words at sea/ }).click()
  await expect(pip.getByRole('textbox', { name: /^Answer 3/ })).toHaveValue('bollard')
  await expect(pip.getByText('1 of 3 answered')).toBeVisible()
  // Undone, it is as it was.
  await teacher.getByRole('link', { name: 'Edit the slip' }).click()
  await teacher.getByRole('button', { name: 'Undo the last hand-out …' }).click()
  const undoing = teacher.getByRole('dialog', { name: 'Undo the last hand-out' })
  await expect(undoing.getByText('26 copies leave the desks, 1 of them with writing.')).toBeVisible()
  await undoing.getByRole('button', { name: 'Take 26 copies back, change 1' }).click()
  await expect(blank(teacher, /^Way: one together/)).toBeVisible()
  await expect(teacher.getByText('All of this is handed out.')).toBeVisible()
})

test('two classes with different dates, something to read and a link, peer readers, a cover note', async ({
  browser,
}) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await newSlip(teacher, '8 Heron', /^Knots of the harbour/, 'Knots again')
  await fill(teacher, /^Another class/, /^8 Tern/)
  await expect(blank(teacher, /^Due for 8 Tern:/)).toBeVisible()
  await blank(teacher, /^Due for 8 Tern:/).click()
  // Part by part, as the school writes it: day, month, year.
  await teacher.locator('.blank-menu.show').getByRole('group', { name: 'Day' }).getByRole('spinbutton').first().click()
  await teacher.keyboard.type('04032027')
  await teacher.locator('.blank-menu.show').getByRole('group', { name: 'Time' }).getByRole('spinbutton').first().click()
  await teacher.keyboard.type('0930')
  await teacher.keyboard.press('Escape')
  await expect(blank(teacher, /^Due for 8 Tern: Thu 4 Mar 2027 09:30/)).toBeVisible()
  await fill(teacher, /^Peer readers:/, /^2 for each copy/)
  await teacher.keyboard.press('Escape')
  await teacher.getByRole('button', { name: 'Add something to read' }).click()
  const slips = teacher.getByRole('region', { name: 'Slip to read' })
  await slips.getByRole('button', { name: /^Worksheet: which worksheet/ }).click()
  await teacher
    .locator('.blank-menu.show')
    .getByRole('button', { name: /^Quayside safety/ })
    .click()
  await teacher.getByRole('button', { name: 'Add a link' }).click()
  await expect(proofOf(teacher).getByText('Give the address that the link leads to.')).toBeVisible()
  await blank(teacher, /^Link:/).click()
  await teacher.getByLabel('Address').fill('fennickquay')
  await expect(teacher.getByText('A link begins with https:// or http://')).toBeVisible()
  await teacher.getByLabel('Address').fill('https://fennickquay.example/knots')
  await teacher.getByLabel('What it is').fill('Pictures of knots')
  await teacher.keyboard.press('Escape')
  await fill(teacher, /^Cover note:/, /^by mail/)
  const note = teacher.getByRole('textbox', { name: 'Cover note' })
  await note.click()
  await teacher.keyboard.press('Control+End')
  await teacher.keyboard.type('tie [title] before you write.')
  await expect(note.locator('.token')).toHaveText(['First name', 'Title'])
  await expect(proofOf(teacher).getByText(/cover notes by mail and on their desks/)).toBeVisible()
  await handOut(teacher, /^Hand out 58 copies/)
  await expect(teacher.getByText('28 copies, by name')).toBeVisible()

  const zofia = await windowOf(browser, 'Zofia Dąbrowska')
  await expect(
    zofia.getByText('Dear Zofia, tie Knots of the harbour, Quayside safety, Pictures of knots').first(),
  ).toBeVisible()
  await zofia.getByRole('link', { name: /^not opened Pictures of knots/ }).click()
  await expect(zofia.getByRole('link', { name: 'https://fennickquay.example/knots' })).toBeVisible()
  await zofia.goto('/')
  await zofia.getByRole('link', { name: /^not opened Quayside safety Knots again/ }).click()
  await expect(zofia.getByText('to read', { exact: true })).toBeVisible()
  await expect(zofia.getByRole('button', { name: 'Submit' })).toHaveCount(0)
  const pip = await windowOf(browser, 'Pip Calloway')
  await expect(pip.getByRole('link', { name: /^not opened Knots of the harbour Knots again/ })).toContainText(
    'due Thu 4 Mar 2027 09:30',
  )
})

test('different worksheets by a column of the roster, and who matches nothing', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await newSlip(teacher, '8 Heron', /^Reading a tide table/, 'By reading band')
  await unfold(teacher)
  await teacher.getByRole('button', { name: 'Different worksheets for some' }).click()
  const rules = teacher.locator('.match-rules')
  await rules.getByLabel('Different worksheets by').selectOption({ label: 'Reading band' })
  const [first] = await rules.getByRole('rowheader').allTextContents()
  await rules.getByRole('button', { name: `Worksheet for ${first}: the one for all others` }).click()
  await teacher
    .locator('.blank-menu.show')
    .getByRole('button', { name: /^Sea-word glossary/ })
    .click()
  const proof = proofOf(teacher)
  await expect(proof.getByText(/students fit no rule/)).toBeVisible()
  await expect(proof.getByText('Sea-word glossary, edition 1').first()).toBeVisible()
  await rules.getByRole('button', { name: 'Leave them out' }).click()
  await proof.getByRole('button', { name: /without a copy/ }).click()
  await expect(proof.getByText('no rule fits').first()).toBeVisible()
})

test('a name typed nearly right is explained, and mended with one click', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await newSlip(teacher, '8 Heron', /^Reading a tide table/, 'Names')
  const name = teacher.getByRole('textbox', { name: 'Name of the copies' })
  await name.click()
  await teacher.keyboard.press('Control+a')
  await teacher.keyboard.type('[Frist name] and [reading band]')
  await expect(teacher.getByText('There is no token [Frist name]. Did you mean [First name]?')).toBeVisible()
  await expect(name.locator('.token')).toHaveText(['Reading band'])
  await teacher.getByRole('button', { name: 'Put in First name' }).click()
  await expect(name.locator('.token')).toHaveText(['First name', 'Reading band'])
  await expect(proofOf(teacher).getByText(/^Chidi and /)).toBeVisible()
})

test('a corrected worksheet reaches a copy in work; what was answered to what is gone is kept', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Birgit Sandvik')
  await teacher.getByRole('link', { name: 'Worksheets' }).click()
  await teacher.getByRole('button', { name: 'New worksheet' }).click()
  await teacher.getByLabel('Title of the worksheet').fill('Salt or fresh')
  const palette = teacher.getByRole('navigation', { name: 'What to put on the page' })
  for (const [label, at] of [
    ['Is it salt?', 1],
    ['Is it cold?', 2],
  ] as const) {
    await palette.getByRole('button', { name: /^Line Alt/ }).click()
    await expect(teacher.getByRole('heading', { name: `${at} · Line` })).toBeVisible()
    await teacher.getByLabel('Label', { exact: true }).fill(label)
  }
  await expect(teacher.getByText(/· saved /)).toBeVisible()
  await teacher.getByRole('button', { name: 'Make edition 1' }).click()
  await expect(teacher.getByRole('button', { name: 'Edition 1 is made' })).toBeVisible()
  const worksheet = teacher.url()
  await newSlip(teacher, '7 Dunlin', /^Salt or fresh/, 'Water samples')
  await handOut(teacher, /^Hand out 24 copies/)
  const board = teacher.url()

  const names = (await teacher.locator('tbody .row-button').allTextContents()).map((text) => text.split(', '))
  const [last, first] = names[1]!
  const student = await windowOf(browser, `${first} ${last}`)
  await student.getByRole('link', { name: /Salt or fresh/ }).click()
  await student.getByRole('textbox', { name: /Is it salt/ }).fill('very')
  await student.getByRole('textbox', { name: /Is it cold/ }).fill('a little')
  await expect(student.getByText(/^Saved \d\d:\d\d$/)).toBeVisible()

  await teacher.goto(worksheet)
  await teacher.locator('.space-node').nth(1).click()
  await teacher.keyboard.press('Delete')
  await expect(teacher.locator('.space-node')).toHaveCount(1)
  await expect(teacher.getByText(/· saved /)).toBeVisible()
  await teacher.getByRole('button', { name: 'Make edition 2' }).click()
  await expect(teacher.getByRole('button', { name: 'Edition 2 is made' })).toBeVisible()
  await teacher.goto(board)
  await teacher.getByRole('link', { name: 'Edit the slip' }).click()
  await expect(teacher.getByText('Edition 2 is newer than what 24 copies have.')).toBeVisible()
  await teacher.getByRole('link', { name: 'See the difference' }).click()
  await expect(teacher.getByText('taken out', { exact: true })).toBeVisible()
  await teacher.goBack()
  await teacher.getByRole('button', { name: 'Send it to all' }).click()
  await handOut(teacher, /^Change 24 copies/)

  // Open in the student's window, it becomes the new one by itself.
  await expect(student.getByRole('heading', { name: 'Answers from an earlier edition' })).toBeVisible()
  await expect(student.getByText('a little')).toBeVisible()
  await expect(student.getByRole('textbox', { name: /Is it salt/ })).toHaveValue('very')
  await expect(student.getByText('1 of 1 answered')).toBeVisible()
})

test('a late joiner who waits is shown on the desk and given theirs', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Birgit Sandvik')
  const line = teacher.getByRole('listitem').filter({ hasText: /“Measuring ropes”: .* has no copy yet/ })
  await expect(line).toContainText('7 Dunlin, No. 2')
  await line.getByRole('link', { name: 'Look at the proof' }).click()
  await handOut(teacher, /^Hand out 1 copy/)
  await teacher.goto('/')
  await expect(teacher.getByText('Needs you')).toBeVisible()
  await expect(line).toHaveCount(0)
})

test('the class link opens each one’s own copy; a guest walks in by a code, to this alone', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await newSlip(teacher, '8 Tern', /^Sea-word glossary/, 'Words for visitors')
  await handOut(teacher, /^Hand out 26 copies/)
  await teacher.getByRole('button', { name: 'More', exact: true }).click()
  await teacher.getByRole('button', { name: 'Class link and walk-in link' }).click()
  const links = teacher.getByRole('dialog', { name: 'Links' })
  const classLink = await links.getByLabel('Class link', { exact: true }).inputValue()
  await links.getByRole('button', { name: 'Make a walk-in link' }).click()
  const walkIn = await links.getByLabel('Walk-in link to Sea-word glossary', { exact: true }).inputValue()
  await expect(links.getByText('Nobody has come in yet.')).toBeVisible()

  const pip = await windowOf(browser, 'Pip Calloway')
  await pip.goto(new URL(classLink).pathname)
  await expect(pip).toHaveURL(/\/copies\//)
  await expect(pip.getByText('No. ', { exact: false }).first()).toBeVisible()

  const guest = await (await browser.newContext({ baseURL: url() })).newPage()
  await guest.goto(new URL(walkIn).pathname)
  await guest.getByRole('button', { name: 'Come in' }).click()
  await expect(guest.getByText('Give your name')).toBeVisible()
  await guest.getByLabel('Your name').fill('Captain Amaro')
  await guest.getByRole('button', { name: 'Come in' }).click()
  await guest.getByRole('textbox', { name: /^Answer 3/ }).fill('painter')
  await expect(guest.getByText(/^Saved \d\d:\d\d$/)).toBeVisible()
  await expect(links.getByText('Captain Amaro')).toBeVisible()
  await guest.goto('/')
  await expect(guest.getByRole('heading', { name: 'To do' })).toBeVisible()
  await expect(guest.locator('.my-copies > li')).toHaveCount(1)
  await guest.goto(new URL(teacher.url()).pathname)
  await expect(guest.getByText('Nothing is here', { exact: false })).toBeVisible()

  await links.getByRole('checkbox', { name: 'open' }).click()
  await expect(links.getByText('closed: nobody comes in')).toBeVisible()
  await guest.goto(new URL(walkIn).pathname)
  await expect(guest.getByText('This link is closed.')).toBeVisible()
  await teacher.keyboard.press('Escape')
  await expect(teacher.getByRole('button', { name: /Amaro/ })).toBeVisible()
})

test('the shelf: put on, written in by the class, taken off and put back', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.getByRole('link', { name: '8 Tern', exact: true }).click()
  await teacher.getByRole('link', { name: 'Shelf' }).click()
  const together = teacher.getByRole('region', { name: 'To work on together' })
  await together.getByRole('button', { name: 'Put a worksheet here' }).click()
  await teacher
    .locator('.dropdown-menu.show')
    .getByRole('button', { name: /^Sea-word glossary/ })
    .click()
  await expect(together.getByRole('link', { name: 'Sea-word glossary' })).toBeVisible()
  const reading = teacher.getByRole('region', { name: 'To read' })
  await reading.getByLabel('Address of a link').fill('https://fennickquay.example/tides')
  await reading.getByRole('button', { name: 'Put a link here' }).click()
  await expect(reading.getByRole('link', { name: 'fennickquay.example/tides' })).toBeVisible()

  const pip = await windowOf(browser, 'Pip Calloway')
  await expect(pip.getByRole('heading', { name: 'Shelf' })).toBeVisible()
  await pip.getByRole('link', { name: /^.*Sea-word glossary 8 Tern/ }).click()
  await pip.getByRole('textbox', { name: /^Answer 3/ }).fill('leeward')
  await expect(pip.getByText(/^Saved \d\d:\d\d$/)).toBeVisible()
  await together.getByRole('button', { name: 'Take off' }).click()
  await expect(together.getByText('Nothing here yet.')).toBeVisible()
  await expect(pip.getByText('This copy was set aside by your teacher', { exact: false })).toBeVisible()
})

test('a copy nobody opened is taken back and brought back; the whole again for another class; a recipe', async ({
  browser,
}) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await newSlip(teacher, '8 Tern', /^Lighthouse sectors/, 'Lights')
  await teacher.getByRole('button', { name: 'Recipes' }).click()
  await teacher.getByRole('button', { name: 'Crews, with a letter', exact: true }).click()
  await expect(blank(teacher, /^Way: one per group/)).toBeVisible()
  await expect(blank(teacher, /^Worksheet: Lighthouse sectors/)).toBeVisible()
  await expect(proofOf(teacher).getByText('has no group set “Survey crews”')).toBeVisible()
  await teacher.keyboard.press('Escape')
  await fill(teacher, /^Way:/, /^one each/)
  await handOut(teacher, /^Hand out 26 copies/)
  await teacher.getByRole('button', { name: 'More', exact: true }).click()
  await teacher.getByRole('button', { name: 'Take back what nobody has opened' }).click()
  await teacher.getByRole('button', { name: 'Take 26 copies back' }).click()
  await teacher.getByRole('button', { name: '26 set aside' }).click()
  // The buttons of a copy stand where they are, however long it takes to load.
  let go = () => undefined as void
  const gate = new Promise<void>((resolve) => (go = resolve))
  await teacher.route('**/api/copies/*', async (route) => {
    await gate
    await route.continue()
  })
  await teacher.locator('tbody .row-button').first().click()
  const back = teacher.getByRole('button', { name: 'Bring it back' })
  const before = await back.boundingBox()
  go()
  await expect(teacher.locator('.drawer .sheet')).toBeVisible()
  expect(await back.boundingBox()).toEqual(before)
  await back.click()
  await expect(teacher.getByRole('button', { name: '25 set aside' })).toBeVisible()
  await teacher.keyboard.press('Escape')
  await teacher.getByRole('button', { name: 'More', exact: true }).click()
  await teacher.getByRole('button', { name: 'Repeat for another class' }).click()
  await teacher.getByLabel('For which class').selectOption({ label: '8 Heron, Geography, 2026/27' })
  await teacher.getByRole('button', { name: 'Write the slip' }).click()
  await expect(blank(teacher, /^To whom: all of 8 Heron/)).toBeVisible()
  await expect(blank(teacher, /^Worksheet: Lighthouse sectors/)).toBeVisible()
  await expect(teacher.getByRole('button', { name: 'Hand out 28 copies' })).toBeEnabled()
})
