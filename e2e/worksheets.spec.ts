import { type Page, expect } from '@playwright/test'
import { fileURLToPath } from 'node:url'
import { test, windowOf } from './support/people.js'

const sample = (name: string) => fileURLToPath(new URL(`../samples/worksheets/${name}`, import.meta.url))
const TEACHER = 'Adaeze Okonjo-Reyes'

async function newWorksheet(page: Page, title: string) {
  await page.goto('/worksheets')
  await page.getByRole('button', { name: 'New worksheet' }).click()
  await page.getByLabel('Title of the worksheet').fill(title)
  await page.getByRole('textbox', { name: 'Worksheet', exact: true }).click()
}
const palette = (page: Page) => page.getByRole('navigation', { name: 'What to put on the page' })
const put = (page: Page, name: string | RegExp) => palette(page).getByRole('button', { name, exact: true }).click()
const kept = (page: Page) => expect(page.getByText(/· saved /)).toBeVisible()

async function bringIn(page: Page, name: string) {
  await page.goto('/worksheets/bring-in')
  await page.getByLabel('File to bring in').setInputFiles(sample(name))
  const once = page.getByRole('button', { name: 'Bring it in once more' })
  await expect(page.getByRole('heading', { name }).or(once)).toBeVisible()
  if (await once.isVisible()) await once.click()
}

test('a worksheet with each answer space, tried as a student, its key, its editions compared', async ({ browser }) => {
  const page = await windowOf(browser, TEACHER)
  await newWorksheet(page, 'Every space')
  const paper = page.getByRole('textbox', { name: 'Worksheet', exact: true })

  await test.step('print with gaps and a formula', async () => {
    await page.keyboard.type('The tide goes ')
    await page.keyboard.press('Alt+5')
    await page.keyboard.type(' twice ')
    await expect(paper.locator('.gap-node')).toHaveCount(1)
    await page.keyboard.press('Control+z')
    // To what can be set about it with one key, and back behind it with another.
    await page.keyboard.press('Alt+Enter')
    await expect(page.getByLabel('Width in letters')).toBeFocused()
    await page.getByLabel('Accepted answers, one a line').fill('out\nebb')
    await page.getByLabel('Points').fill('2')
    await page.keyboard.press('Escape')
    await page.keyboard.type(' twice a day: ')
    await put(page, 'Formula')
    await page.getByLabel('In TeX').fill('v = \\frac{s}{t}')
    await expect(paper.locator('.katex').first()).toBeVisible()
  })

  await test.step('the standing spaces', async () => {
    for (const kind of ['Line', 'Passage', 'Choice', 'Number', 'Drawing', 'File']) {
      await put(page, new RegExp(`^${kind} Alt`))
      await expect(page.getByRole('heading', { name: new RegExp(`· ${kind}`) })).toBeVisible()
      if (kind === 'Line') await page.getByLabel('Hint, shown when asked for').fill('Think of the moon.')
      if (kind === 'Passage') await page.getByLabel('Begins with').fill('I think that')
      if (kind === 'Choice') await page.getByLabel('Option 2 is right').check()
      if (kind === 'Number') {
        await page.getByLabel('Accepted answer').fill('3.7')
        await page.getByLabel('May be off by').fill('0.1')
        await page.getByLabel('Unit, printed after it').fill('m')
      }
    }
  })

  await test.step('a table that works a sum out', async () => {
    await put(page, 'Table')
    const cells = paper.locator('td, th')
    await expect(cells).toHaveCount(9)
    await cells.nth(0).click()
    await page.keyboard.type('Rope')
    for (const at of [4, 7]) {
      await cells.nth(at).click()
      await put(page, 'Table cell')
      await page.getByLabel('What is written there').selectOption('a number')
    }
    await cells.nth(8).click()
    await page.getByLabel('This cell is').selectOption('worked out from others')
    await page.getByLabel('Worked out as').fill('sum(B2:B3)')
    await kept(page)
    await page.reload()
    await expect(paper.locator('.cell-answer')).toHaveCount(2)
    await expect(paper.locator('.space-node')).toHaveCount(6)
  })

  await test.step('moved, put twice, undone', async () => {
    await paper.locator('.space-node').nth(1).click()
    await page.keyboard.press('Alt+ArrowUp')
    await expect(page.getByRole('heading', { name: '2 · Passage' })).toBeVisible()
    await page.keyboard.press('Control+d')
    await expect(paper.locator('.space-node')).toHaveCount(7)
    await page.keyboard.press('Control+z')
    await expect(paper.locator('.space-node')).toHaveCount(6)
    await kept(page)
    await page.getByRole('button', { name: 'Make edition 1' }).click()
    await expect(page.getByRole('button', { name: 'Edition 1 is made' })).toBeVisible()
  })

  await test.step('try as student: checked as it is written, and nothing kept', async () => {
    await page.getByRole('link', { name: 'Try as student' }).click()
    await page.getByRole('button', { name: 'phone' }).click()
    const sheet = page.frameLocator('iframe')
    await sheet.getByLabel(/^Answer 1/).fill('EBB')
    await expect(sheet.getByText('1 of 3 checked answers right, 2 of 2 points')).toBeVisible()
    await sheet.getByLabel('Second option').check()
    await sheet.getByLabel(/^Answer 5/).fill('3,75')
    await expect(sheet.getByText('3 of 3 checked answers right')).toBeVisible()
    await sheet.getByRole('button', { name: 'Hint' }).click()
    await expect(sheet.getByText('Think of the moon.')).toBeVisible()
    const passage = sheet.getByRole('textbox', { name: /^Answer 2/ })
    await passage.click()
    await expect(sheet.locator('.starter')).toHaveText('I think that')
    await passage.press('ArrowRight')
    await expect(sheet.locator('.starter')).toBeVisible()
    await passage.pressSequentially(', yes')
    await expect(passage).toHaveText('I think that, yes')
    await expect(sheet.locator('.starter')).toHaveCount(0)
    const drawing = sheet.locator('svg.pen')
    await drawing.scrollIntoViewIfNeeded()
    const box = (await drawing.boundingBox())!
    await page.mouse.move(box.x + 20, box.y + 20)
    await page.mouse.down()
    await page.mouse.move(box.x + 90, box.y + 60, { steps: 6 })
    await page.mouse.up()
    await expect(sheet.getByRole('application', { name: /a drawing of one stroke/ })).toBeVisible()
    await sheet.locator('input[type=file]').setInputFiles(sample('knots.png'))
    await expect(sheet.getByRole('link', { name: 'knots.png' })).toBeVisible()
    await sheet.getByLabel(/^Answer 8/).fill('14')
    await sheet.getByLabel(/^Answer 9/).fill('12,5')
    await expect(sheet.locator('output', { hasText: '26.5' })).toBeVisible()
    await page.getByRole('button', { name: 'Begin again' }).click()
    await expect(sheet.getByText('0 of 3 checked answers right')).toBeVisible()
  })

  await test.step('the answer key', async () => {
    await page.getByRole('link', { name: 'Back to the editor' }).click()
    await page.getByRole('button', { name: 'More' }).click()
    await page.getByRole('link', { name: 'Answer key' }).click()
    await expect(page.getByText('out / ebb')).toBeVisible()
    await expect(page.getByText('3.7 ± 0.1 m')).toBeVisible()
    await page.getByRole('link', { name: 'Back', exact: true }).click()
  })

  await test.step('what changed since the edition', async () => {
    await paper
      .locator('p')
      .first()
      .click({ position: { x: 5, y: 10 } })
    await page.keyboard.press('Home')
    await page.keyboard.type('Every day, ')
    await kept(page)
    await paper.locator('.space-node').nth(0).click()
    await page.getByRole('button', { name: 'Remove this space' }).click()
    await kept(page)
    await page.goto(`${page.url()}/compare`)
    await expect(page.locator('ins', { hasText: 'Every day,' })).toBeVisible()
    await expect(page.getByText('One answer space is gone')).toBeVisible()
  })
})

test('a document becomes a worksheet: blanks are taken or left, what was left out is said', async ({ browser }) => {
  const page = await windowOf(browser, TEACHER)
  await bringIn(page, 'tide-table.docx')
  await expect(page.getByText('blanks were found and are proposed')).toBeVisible()
  await expect(page.getByText('What stands above and below each page was left out')).toBeVisible()
  await expect(page.getByRole('img', { name: 'The height of the sea over one day' })).toBeVisible()
  await page.getByLabel('Where does it come from?').fill('Fennick Quay harbour office')
  await page.getByRole('button', { name: 'Put in the library' }).click()
  await expect(page.getByLabel('Title of the worksheet')).toHaveValue('Reading a tide table')
  await expect(page.getByText('9 answer spaces proposed')).toBeVisible()
  await expect(page.locator('.paper > .sheet-source')).toHaveText('Fennick Quay harbour office')
  await page.getByRole('button', { name: 'Make edition 1' }).click()
  await expect(
    page.getByText('9 answer spaces are only proposed: say of each whether it is one, or use all.'),
  ).toBeVisible()
  await page.locator('.space-node.proposed').first().getByRole('button', { name: 'Not a space' }).click()
  await expect(page.getByText('8 answer spaces proposed')).toBeVisible()
  await page.getByRole('button', { name: 'Use all' }).click()
  await kept(page)
  await page.getByRole('button', { name: 'Make edition 1' }).click()
  await expect(page.getByRole('button', { name: 'Edition 1 is made' })).toBeVisible()

  await page.goto('/worksheets/bring-in')
  await page.getByLabel('File to bring in').setInputFiles(sample('tide-table.docx'))
  await expect(page.getByText('You brought in the same file before')).toBeVisible()
  await page.getByRole('button', { name: 'Leave it' }).click()
  await expect(page.getByRole('link', { name: 'tide-table.docx' })).toHaveCount(0)
})

test('a photograph becomes a worksheet: corners, cleaning, reading, a figure cut out', async ({ browser }) => {
  const page = await windowOf(browser, TEACHER)
  await bringIn(page, 'knots-by-the-lamp.jpg')
  await expect(page.getByText('The corners were found.')).toBeVisible()
  await page.getByRole('button', { name: 'Upper left corner' }).focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowLeft')
  await page.getByRole('button', { name: 'Straighten' }).click()
  await page.getByRole('button', { name: 'Read the text' }).click()
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible()
  const text = page.getByRole('group', { name: 'The text that was read' })
  await expect(text.getByRole('button', { name: 'Knots of the harbour', exact: true })).toBeVisible()
  await expect(text.getByText('3 places to write were found.')).toBeVisible()
  await text.getByRole('button', { name: /^1\. Why must/ }).click()
  await text.getByLabel('Text of this paragraph').fill('1. Why must it never slip?')
  await page.keyboard.press('Tab')
  await text.getByRole('button', { name: /^Leave out: Keep this sheet/ }).click()
  await page.getByRole('button', { name: 'Cut out a figure' }).click()
  const picture = page.getByRole('img', { name: 'The page, straight and clean' })
  const box = (await picture.boundingBox())!
  await page.mouse.move(box.x + box.width * 0.05, box.y + box.height * 0.03)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width * 0.9, box.y + box.height * 0.1, { steps: 4 })
  await page.mouse.up()
  await expect(page.getByRole('img', { name: 'A figure cut out of the page' })).toBeVisible()
  await text.getByRole('button', { name: /^Leave out: The bowline/ }).click()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(text.getByRole('button', { name: /^Leave out: The bowline/ })).toBeVisible()
  await expect(page.getByText('saved with this file')).toBeVisible()

  // Another day: all of it is there.
  await page.reload()
  await expect(text.getByRole('button', { name: '1. Why must it never slip?', exact: true })).toBeVisible()
  await expect(page.getByRole('img', { name: 'The page, straight and clean' })).toBeVisible()
  await expect(page.getByRole('img', { name: 'A figure cut out of the page' })).toBeVisible()
  await expect(text.getByRole('button', { name: /^Leave out: Keep this sheet/ })).toHaveCount(0)
  await page.getByRole('button', { name: 'Make the worksheet' }).click()
  await page.getByLabel('Title').fill('Knots')
  await page.getByRole('button', { name: 'Put in the library' }).click()
  await expect(page.getByText('1. Why must it never slip?')).toBeVisible()
  await expect(page.getByText('3 answer spaces proposed')).toBeVisible()
  await expect(page.locator('.sheet-picture img')).toBeVisible()
})

test('a page as backdrop: boxes drawn, found, aligned, and filled in by a student', async ({ browser }) => {
  const page = await windowOf(browser, TEACHER)
  await newWorksheet(page, 'Knots to fill in')
  await page.locator('input[data-role=backdrops]').setInputFiles(sample('knots.png'))
  const backdrop = page.locator('.backdrop')
  await expect(backdrop).toBeVisible()
  await page.getByRole('button', { name: 'Find the blanks' }).click()
  await expect(backdrop.getByRole('button', { name: /^Answer space/ })).toHaveCount(3)
  await page.getByRole('button', { name: 'Use the 3 proposed' }).click()
  await backdrop.scrollIntoViewIfNeeded()
  const box = (await backdrop.boundingBox())!
  await page.mouse.move(box.x + box.width * 0.55, box.y + box.height * 0.02)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width * 0.9, box.y + box.height * 0.045, { steps: 5 })
  await page.mouse.up()
  await expect(backdrop.getByRole('button', { name: 'Answer space 1 · line' })).toBeVisible()
  await page.getByLabel('Label').fill('Name')
  const second = backdrop.getByRole('button', { name: /^Answer space 2/ })
  const before = (await second.boundingBox())!.x
  await second.focus()
  await page.keyboard.press('ArrowRight')
  await expect.poll(async () => (await second.boundingBox())!.x).toBeGreaterThan(before)
  await kept(page)
  await page.getByRole('button', { name: 'Make edition 1' }).click()
  await expect(page.getByRole('button', { name: 'Edition 1 is made' })).toBeVisible()

  await page.getByRole('link', { name: 'New handout' }).click()
  await page.getByRole('button', { name: /^Worksheet:/ }).click()
  await page.getByRole('button', { name: /^Knots to fill in edition 1/ }).click()
  await page.getByRole('button', { name: /^Hand out \d+ copies/ }).click()
  await expect(page.getByRole('button', { name: /not opened/ }).first()).toBeVisible()

  const student = await windowOf(browser, 'Zofia Dąbrowska')
  await student.getByRole('link', { name: /Knots to fill in/ }).click()
  await expect(student.getByText('All saved')).toBeVisible()
  await expect(student.locator('.backdrop img')).toHaveJSProperty('complete', true)
  await student.getByLabel('Answer 1: Name').fill('Zofia')
  await expect(student.getByText(/^Saved \d/)).toBeVisible()
  await expect(student.getByText('1 of 4 answered')).toBeVisible()

  // A passage is as tall as its box, and does not reach into the question below.
  const passage = student.locator('.backdrop-space').nth(1)
  const tall = async (place: typeof passage) => (await place.boundingBox())!.height
  expect(await tall(passage.getByRole('textbox'))).toBeLessThanOrEqual((await tall(passage)) + 1)

  // On a telephone the box that is touched is gone to, large enough to write in; the whole page is one button away.
  await student.setViewportSize({ width: 390, height: 780 })
  const line = student.locator('.backdrop-space').nth(2)
  expect(await tall(line)).toBeLessThan(30)
  await student.getByLabel(/^Answer 3/).click()
  await expect.poll(() => tall(line)).toBeGreaterThanOrEqual(33)
  await expect(line).toBeInViewport()
  await student.keyboard.type('It would not hold.')
  await expect(student.getByText('2 of 4 answered')).toBeVisible()
  await student.getByRole('button', { name: 'Whole page' }).click()
  await expect.poll(() => tall(line)).toBeLessThan(30)
})

test('a block dragged in one quick movement is dropped where it is let go, and back in one step', async ({
  browser,
}) => {
  const page = await windowOf(browser, TEACHER)
  await newWorksheet(page, 'Dragged about')
  await page.keyboard.type('First')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Second')
  await put(page, /^Choice/)
  await kept(page)
  await page.reload()
  const blocks = page.locator('.paper .sheet > *')
  await expect(blocks).toHaveText([/^First$/, /Second/, /First option/, ''])
  await page.getByText('First', { exact: true }).hover()
  const handle = (await page.locator('.block-handle').boundingBox())!
  const choice = (await page.locator('.space-node').boundingBox())!
  await page.mouse.move(handle.x + 5, handle.y + 8)
  await page.mouse.down()
  await page.mouse.move(choice.x + 60, choice.y + 10)
  await page.mouse.move(choice.x + 40, choice.y + choice.height * 0.25, { steps: 2 })
  await page.mouse.up()
  await expect(blocks).toHaveText([/Second/, /^First$/, /First option/, ''])
  await page.keyboard.press('Control+z')
  await expect(blocks).toHaveText([/^First$/, /Second/, /First option/, ''])
})

test('words typed just before the window is left are kept, also where the server could not be reached', async ({
  browser,
}) => {
  const page = await windowOf(browser, TEACHER)
  await newWorksheet(page, 'Left in a hurry')
  await expect(page).toHaveURL(/\/worksheets\/[0-9a-f-]{36}$/)
  await kept(page)
  const address = page.url()
  const paper = page.getByRole('textbox', { name: 'Worksheet', exact: true })
  await page.keyboard.type('The last words')
  await page.goto('about:blank')
  await page.goto(address)
  await expect(paper).toContainText('The last words')
  await paper.click()
  await page.keyboard.press('Control+End')
  const context = page.context()
  // Also what is sent while the window is closed comes to nothing: a route would let that through.
  await page.evaluate(() => {
    window.fetch = () => Promise.reject(new TypeError('no connection'))
  })
  await page.keyboard.type(', and more.')
  await expect(page.getByText('not saved', { exact: true })).toBeVisible()
  await page.close()
  const next = await context.newPage()
  await next.goto(address)
  await expect(next.getByText('What you wrote here last had not reached the server', { exact: false })).toBeVisible()
  await expect(next.getByRole('textbox', { name: 'Worksheet', exact: true })).toContainText('The last words, and more.')
  await kept(next)
  await next.reload()
  await expect(next.getByRole('textbox', { name: 'Worksheet', exact: true })).toContainText('The last words, and more.')
  await expect(next.getByText('had not reached the server', { exact: false })).toHaveCount(0)
})

test('two authors write in one worksheet and see each other', async ({ browser }) => {
  const mine = await windowOf(browser, TEACHER)
  await newWorksheet(mine, 'Written by two')
  await mine.keyboard.type('First paragraph.')
  await mine.keyboard.press('Enter')
  await mine.keyboard.type('Second paragraph.')
  await kept(mine)
  const address = mine.url()
  await mine.goto(`${address}/about`)
  await mine.getByLabel('All teachers of the school').selectOption('All teachers of the school may edit it')
  await mine.goto(address)
  const theirs = await windowOf(browser, 'Birgit Sandvik')
  await theirs.goto(address)
  await expect(mine.getByText('Birgit Sandvik has it open too')).toBeVisible()
  await theirs.getByText('Second paragraph.').click()
  await theirs.keyboard.press('End')
  await expect(mine.locator('[data-author="Birgit Sandvik"]')).toHaveText('Second paragraph.')
  await mine.getByText('First paragraph.').click()
  await mine.keyboard.press('End')
  await Promise.all([mine.keyboard.type(' Mine.'), theirs.keyboard.type(' Theirs.')])
  for (const page of [mine, theirs]) {
    await expect(page.getByText('First paragraph. Mine.')).toBeVisible()
    await expect(page.getByText('Second paragraph. Theirs.')).toBeVisible()
    await kept(page)
  }

  // In one paragraph, letter by letter, each where the caret is.
  await mine.getByText('Second paragraph. Theirs.').click()
  await mine.keyboard.press('Home')
  await expect(theirs.locator('p[data-author] .author-caret')).toBeVisible()
  await Promise.all([
    mine.keyboard.type('At the beginning I write this. ', { delay: 40 }),
    theirs.keyboard.type(' And they write this at the end.', { delay: 50 }),
  ])
  const all = 'At the beginning I write this. Second paragraph. Theirs. And they write this at the end.'
  for (const page of [mine, theirs]) await expect(page.getByText(all, { exact: true })).toBeVisible()
  await mine.keyboard.type('Still here. ')
  for (const page of [mine, theirs]) {
    await expect(page.getByText('I write this. Still here. Second')).toBeVisible()
    await kept(page)
  }
})

test('the library: folders, search in the text, archive and back', async ({ browser }) => {
  const page = await windowOf(browser, TEACHER)
  await page.goto('/worksheets')
  await page.getByRole('button', { name: 'New folder' }).click()
  await page.getByLabel('Name').fill('Lights and marks')
  await page.getByRole('button', { name: 'Make the folder' }).click()
  const folder = page.getByRole('button', { name: /^Lights and marks/ })
  await expect(folder).toBeVisible()
  const card = page.locator('.page-card', { hasText: 'Lighthouse sectors' })
  await card.locator('.thumbnail').hover()
  await page.mouse.down()
  const target = (await folder.boundingBox())!
  await page.mouse.move(target.x + 30, target.y + 10, { steps: 8 })
  await expect(page.locator('.place.over')).toContainText('Lights and marks')
  await page.mouse.up()
  await expect(folder).toContainText('1')
  // The package that drags takes no click for 50 ms after it lets go, and no hand is as quick as this one: the page's
  // timers run in their order, so behind this one its own has run.
  await page.evaluate(() => new Promise((done) => setTimeout(done, 51)))
  await folder.click()
  await expect(page.locator('.page-card')).toHaveCount(1)
  await page.getByLabel('Find in titles and text').fill('white sector')
  await expect(page.locator('.page-card', { hasText: 'Lighthouse sectors' })).toBeVisible()
  await page.getByLabel('Find in titles and text').fill('zzz nowhere')
  await expect(page.getByText('No worksheet has this in its title or its text.')).toBeVisible()
  await page.getByLabel('Find in titles and text').fill('')
  await page.getByLabel('Select Lighthouse sectors').check()
  await page.getByRole('button', { name: 'Archive 1' }).click()
  await expect(page.getByText('This folder is empty')).toBeVisible()
  await page.getByRole('button', { name: /^Archive/ }).click()
  await page.getByLabel('Select Lighthouse sectors').check()
  await page.getByRole('button', { name: 'Bring back 1' }).click()
  await expect(page.getByText('Nothing is archived')).toBeVisible()
})
