import { type Page, expect } from '@playwright/test'
import { fileURLToPath } from 'node:url'
import { test, windowOf } from './support/people.js'
import { kept, newWorksheet, put } from './support/worksheet.js'

const sample = (name: string) => fileURLToPath(new URL(`../samples/worksheets/${name}`, import.meta.url))
const TEACHER = 'Adaeze Okonjo-Reyes'

async function bringIn(page: Page, name: string) {
  await page.goto('/worksheets/bring-in')
  await page.getByLabel('File to bring in').setInputFiles(sample(name))
  const once = page.getByRole('button', { name: 'Bring it in once more' })
  await expect(page.getByRole('heading', { name }).or(once)).toBeVisible()
  if (await once.isVisible()) await once.click()
}

// Each begins a worksheet of its own.
test.describe.configure({ mode: 'parallel' })

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
