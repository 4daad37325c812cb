import { expect, type Page } from '@playwright/test'
import { boardOf, test, windowOf } from './support/people.js'
import { fill, handOut, newSlip } from './support/slip.js'

// Marking by keyboard, by question and by two at once; handing back; what students see before and after; the mark book.

const opened = async (page: Page, title: string) => {
  await page.goto(`${await boardOf(page, title)}/marking`)
  await expect(page.getByRole('region', { name: /^Mark slip of/ })).toBeVisible()
}

test('copies are marked by keyboard alone, handed back, and seen then and not before', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  const student = await windowOf(browser, 'Zayd Qureshi')
  await student.getByRole('link', { name: /Tides at the quay/ }).click()
  await expect(student.getByRole('heading', { name: 'Reading a tide table' }).first()).toBeVisible()
  await opened(teacher, 'Tides at the quay')
  const list = teacher.getByRole('navigation', { name: 'Copies' })
  const current = list.locator('[aria-current="true"]')
  const slip = teacher.getByRole('region', { name: /^Mark slip of/ })
  let arrive = () => {}
  const isSlow = new Promise<void>((resolve) => {
    arrive = resolve
  })

  await test.step('points, a rubric’s level by a digit, done: all by keys', async () => {
    // Others of the class submit meanwhile: whoever is first.
    await list.getByRole('button', { name: /Qureshi, Zayd/ }).click()
    await expect(current).toContainText('Qureshi, Zayd')
    // Proposals stand there once the answers are read.
    await expect(teacher.getByRole('region', { name: 'Mark slip of Qureshi, Zayd' })).toBeVisible()
    const answers = teacher.getByRole('group', { name: /^Answers of Qureshi, Zayd/ })
    await expect(answers.getByPlaceholder('2').first()).toBeVisible()
    await teacher.keyboard.press('p')
    await teacher.keyboard.press('Enter')
    await teacher.keyboard.press('Enter')
    await teacher.keyboard.type('4,5')
    await teacher.keyboard.press('Enter')
    await teacher.keyboard.type('2½')
    await teacher.keyboard.press('Enter')
    await teacher.keyboard.press('Enter')
    await teacher.keyboard.press('Enter')
    await teacher.keyboard.press('2')
    await teacher.keyboard.press('3')
    await expect(slip.getByRole('radio', { name: /^3: All of them/ })).toBeChecked()
    // On a slow network: shown at once, kept later.
    await teacher.route('**/api/handouts/*/marks', async (route) => {
      if (route.request().method() === 'PUT') await isSlow
      await route.continue()
    })
    await teacher.keyboard.press('Control+Enter')
    await expect(current).not.toContainText('Qureshi, Zayd')
    await expect(current).toContainText('submitted')
    await expect(list.getByRole('button', { name: /Qureshi, Zayd/ })).toContainText('16')
  })

  await test.step('a remark on an answer, by its stock name', async () => {
    await list.getByRole('button', { name: /Qureshi, Zayd/ }).click()
    await teacher.getByLabel(/^Points for .*Why are the two/).focus()
    await expect(teacher.getByText(/^about Answer 4/)).toBeVisible()
    await teacher.keyboard.press('F8')
    const words = teacher.getByLabel(/^Remark on Answer 4/)
    await words.fill('/force')
    await teacher.keyboard.type(' ')
    await expect(words).toHaveValue(/Say which force makes it/)
    await teacher.keyboard.press('Control+Enter')
    await expect(teacher.getByRole('article', { name: /^Remark on/ })).toContainText('not handed back yet')
  })

  await test.step('the stock remark in other words, there too', async () => {
    await teacher.keyboard.press('F8')
    await teacher.getByRole('button', { name: 'My remarks …' }).click()
    const mine = teacher.getByRole('dialog', { name: 'My remarks' })
    const words = mine.getByLabel('Words of force')
    const row = mine.getByRole('listitem').filter({ has: teacher.getByLabel('Words of force') })
    await expect(row).toContainText('in 1 copy')
    await words.fill('{first name}, say which force makes it rise.')
    await row.getByLabel('there too').check()
    await row.getByRole('button', { name: 'Keep' }).click()
    await expect(row).toContainText('Changed, in 1 copy too.')
    await mine.getByRole('button', { name: 'Close' }).last().click()
    await teacher.getByRole('button', { name: 'Leave it' }).click()
    await expect(teacher.getByRole('article', { name: /^Remark on/ })).toContainText('Zayd, say which force makes it')
  })

  await test.step('the pen: a tick, and a line that is rubbed out and taken back', async () => {
    const page = teacher.locator('.copy-to-mark:not([hidden]) .pen-layer')
    const answerAt = async () => (await teacher.locator('.copy-to-mark:not([hidden]) .answer').nth(1).boundingBox())!
    await teacher.getByRole('button', { name: /^Tick/ }).click()
    const { x, y, width, height } = await answerAt()
    await teacher.mouse.click(x + width - 10, y + height / 2)
    await teacher.getByRole('button', { name: /^Pen: draw/ }).click()
    await teacher.mouse.move(x + 5, y + height / 2)
    await teacher.mouse.down()
    await teacher.mouse.move(x + width / 2, y + height / 2, { steps: 5 })
    await teacher.mouse.up()
    await expect(page).toHaveAttribute('aria-label', 'Of the marking pen: 1 tick, 1 stroke')
    await teacher.getByRole('button', { name: /^Rubber/ }).click()
    await teacher.mouse.click(x + width / 4, y + height / 2)
    await expect(page).toHaveAttribute('aria-label', 'Of the marking pen: 1 tick')
    await teacher.getByRole('button', { name: 'Undo what the pen did' }).click()
    await expect(page).toHaveAttribute('aria-label', 'Of the marking pen: 1 tick, 1 stroke')
    await teacher.keyboard.press('Escape')
    // It stays with its answer when the print comes back.
    await teacher.getByLabel('Answers only').click()
    await expect(
      teacher.locator('.copy-to-mark:not([hidden])').getByText('Use the table for Fennick Quay'),
    ).toBeVisible()
    const after = await answerAt()
    const tick = (await page.locator('path').first().boundingBox())!
    expect(Math.abs(tick.x + tick.width / 2 - (after.x + after.width - 10))).toBeLessThan(4)
    expect(Math.abs(tick.y + tick.height / 2 - (after.y + after.height / 2))).toBeLessThan(4)
    await teacher.getByLabel('Answers only').click()
  })

  await test.step('the student knows nothing of it', async () => {
    await student.reload()
    await expect(student.getByRole('heading', { name: 'Reading a tide table' }).first()).toBeVisible()
    await expect(student.getByRole('complementary', { name: 'Comments' })).not.toContainText('force')
    await expect(student.getByText('of 21')).toHaveCount(0)
  })

  await test.step('handed back: what is shown is what goes', async () => {
    await teacher.getByRole('button', { name: /^See the hand-back/ }).click()
    const dialog = teacher.getByRole('dialog')
    await expect(dialog.getByRole('button', { name: 'Marks are being saved' })).toBeDisabled()
    arrive()
    await expect(dialog.getByRole('row', { name: /Zayd Qureshi 16 of 21 1, pen hand back/ })).toBeVisible()
    await dialog.getByLabel('What each student reads with it').fill('{first name}, {points missing} are missing.')
    await dialog.getByLabel('By mail too').check()
    await expect(dialog.getByRole('region', { name: /reads it$/ })).toContainText('are missing.')
    await dialog.getByRole('button', { name: /^Hand back \d+ copies$/ }).click()
    await expect(dialog.getByText(/handed back to/)).toBeVisible()
    await dialog.getByRole('link', { name: 'mailroom' }).click()
    await expect(teacher.getByText('Zayd Qureshi').first()).toBeVisible()
  })

  await test.step('and the student sees mark, rubric, points and remark where they belong', async () => {
    const back = student.getByRole('region', { name: 'Handed back' })
    await expect(back).toContainText('16 of 21')
    await expect(back).toContainText('Zayd, 5 are missing.')
    await expect(back).toContainText('All of them, each in its place')
    await expect(student.locator('#space-t3')).toContainText('4½ of 6')
    await expect(student.getByRole('article', { name: /^Remark on/ })).toContainText('Zayd, say which force makes it')
    await expect(student.getByRole('img', { name: 'Of the marking pen: 1 tick, 1 stroke' })).toBeVisible()
    await student.goto('/')
    await expect(student.getByRole('link', { name: /Tides at the quay/ })).toContainText('16 of 21')
  })
})

test('by question: a heap has its points and a remark in one act', async ({ browser }) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await opened(teacher, 'Tides at the quay')
  await teacher.getByRole('button', { name: 'By question' }).click()
  // An answer that its key did not think of.
  await teacher.getByLabel('Question', { exact: true }).selectOption({ index: 0 })
  const late = teacher.getByRole('listitem').filter({ hasText: '5:48 in the morning' })
  await expect(late).toContainText('wrong')
  await late.getByRole('button', { name: 'It is right too' }).click()
  const proof = late.getByRole('group', { name: 'What is accepted too' })
  await expect(proof).toContainText(/answers become right: .*Zayd Qureshi/)
  await proof.getByRole('button', { name: 'Accept' }).click()
  await expect(late).toContainText('right')
  await expect(late).not.toContainText('wrong')
  await teacher.getByRole('button', { name: 'Accept 5:48 in the morning no longer' }).click()
  await teacher.getByRole('button', { name: 'Accept it no longer' }).click()
  await expect(late).toContainText('wrong')

  await teacher.getByLabel('Question', { exact: true }).selectOption({ index: 3 })
  const heap = teacher.getByRole('listitem').filter({ hasText: 'The moon moves on between them.' })
  const count = Number(await heap.locator('.heap-count').textContent())
  expect(count).toBeGreaterThan(0)
  await heap.getByLabel(/^Points for/).fill('1,5')
  await heap.getByLabel(/^Points for/).press('Enter')
  await heap.getByRole('button', { name: 'Remark', exact: true }).click()
  await heap.getByLabel(/^Remark on/).fill('Which of them moves?')
  await heap.getByRole('button', { name: /^Remark in/ }).click()
  await expect(heap.getByText(new RegExp(`^Remarked on in ${count} `))).toBeVisible()
  // It stands in each of the copies.
  await heap.locator('.heap-names a').first().click()
  await expect(teacher.getByLabel(/^Points for .*Why are the two/)).toHaveValue('1½')
  await expect(
    teacher.getByRole('article', { name: /^Remark on/ }).filter({ hasText: 'Which of them moves?' }),
  ).toBeVisible()
})

test('two mark at once: what another marks comes by itself, and nothing that either wrote is lost; without a network it is kept after', async ({
  browser,
}) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  const second = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await opened(teacher, 'Knots before the regatta')
  await opened(second, 'Knots before the regatta')
  // The slip says that it is marked by a remark alone.
  const remark = (page: Page) => page.getByLabel('Remark on the whole')
  await remark(teacher).fill('Neatly tied.')
  await remark(teacher).blur()
  await expect(remark(second)).toHaveValue('Neatly tied.')
  await remark(second).fill('Say which knot.')
  await remark(teacher).fill('Neatly tied, and named.')
  await remark(teacher).blur()
  await expect(second.getByRole('alert')).toContainText('Somebody else wrote meanwhile: Neatly tied, and named.')
  await expect(remark(second)).toHaveValue('Say which knot.')
  await second.getByRole('button', { name: 'Both' }).click()
  await expect(remark(teacher)).toHaveValue('Neatly tied, and named.\nSay which knot.')

  await teacher.context().setOffline(true)
  await remark(teacher).fill('Well done.')
  await remark(teacher).blur()
  await expect(teacher.getByText('Not saved yet: Gavrin cannot be reached')).toBeVisible()
  await teacher.context().setOffline(false)
  await expect(teacher.getByText('Not saved yet: Gavrin cannot be reached')).toBeHidden()
  await expect(remark(second)).toHaveValue('Well done.')
})

test('the mark book: a mark typed in its cell is the mark of the copy; a column of one’s own; saved', async ({
  browser,
}) => {
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.getByRole('link', { name: '8 Heron' }).first().click()
  await teacher.getByRole('link', { name: 'Mark book' }).click()
  const grid = teacher.getByRole('grid', { name: 'Mark book' })
  const row = (name: string) => grid.getByRole('row', { name: new RegExp(`^${name}`) })
  await expect(row('Faraji, Soraya')).toContainText('70 %')
  const cell = row('Faraji, Soraya').getByRole('gridcell').nth(1)
  await cell.click()
  await teacher.keyboard.type('9½')
  await teacher.keyboard.press('Enter')
  await expect(row('Faraji, Soraya')).toContainText('95 %')
  await cell.click()
  await teacher.keyboard.type('a lot')
  await teacher.keyboard.press('Enter')
  await cell.click()
  await expect(teacher.getByRole('alert')).toContainText('Type points as a number')
  await teacher.keyboard.type('8')
  await teacher.keyboard.press('Enter')
  await expect(row('Faraji, Soraya')).toContainText('80 %')

  // Somebody else changes it meanwhile: what is typed over what stood there before does not take its place.
  const other = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await other.goto(new URL(teacher.url()).pathname)
  const theirs = other.getByRole('row', { name: /^Faraji, Soraya/ })
  await expect(theirs).toContainText('80 %')
  await other.context().setOffline(true)
  await theirs.getByRole('gridcell').nth(1).click()
  await other.keyboard.type('5')
  await other.keyboard.press('Enter')
  await expect(other.getByText('Not saved yet: Gavrin cannot be reached')).toBeVisible()
  await cell.click()
  await teacher.keyboard.type('8½')
  await teacher.keyboard.press('Enter')
  await expect(row('Faraji, Soraya')).toContainText('85 %')
  await other.context().setOffline(false)
  await expect(other.getByText('This was changed by somebody else meanwhile')).toBeVisible()
  await expect(theirs).toContainText('85 %')
  await cell.click()
  await teacher.keyboard.press('Control+z')
  await expect(row('Faraji, Soraya')).toContainText('80 %')

  await teacher.getByRole('button', { name: 'A column for marks on paper' }).click()
  const dialog = teacher.getByRole('dialog')
  await dialog.getByLabel('What was marked').fill('Map of the quay')
  await dialog.getByLabel('Out of how many points').fill('20')
  await dialog.getByRole('button', { name: 'Add the column' }).click()
  await expect(grid.getByRole('columnheader', { name: /Map of the quay/ })).toBeVisible()
  // Other handouts may have been given meanwhile: its column is found by its head.
  const heads = await grid.getByRole('columnheader').allTextContents()
  const at = heads.findIndex((head) => head.includes('Map of the quay'))
  await row('Faraji, Soraya').getByRole('gridcell').nth(at).click()
  await teacher.keyboard.type('20')
  await teacher.keyboard.press('Enter')
  await expect(row('Faraji, Soraya')).toContainText('90 %')
  // Marks kept elsewhere: what is different is shown first; one undo takes all of them back.
  await teacher.getByRole('button', { name: 'From a table' }).click()
  await dialog
    .getByLabel('The table, pasted')
    .fill('8 Heron\n\nName\tMap of the quay\nFaraji Soraya\t10\nRossi, Giulia\t12\nNobody Known\t3')
  await expect(dialog.getByRole('row', { name: /Soraya Faraji Map of the quay 20 10/ })).toBeVisible()
  await expect(dialog).toContainText('No student of this class is called Nobody Known')
  await dialog.getByRole('button', { name: 'Keep 2 marks' }).click()
  await expect(row('Rossi, Giulia')).toContainText('65 %')
  await expect(row('Faraji, Soraya')).toContainText('65 %')
  await row('Rossi, Giulia').getByRole('gridcell').nth(at).click()
  await teacher.keyboard.press('Control+z')
  await expect(row('Faraji, Soraya')).toContainText('90 %')
  await teacher.getByRole('button', { name: 'What counts' }).click()
  await dialog.getByLabel(/Map of the quay/).fill('0')
  await dialog.getByRole('button', { name: 'Keep' }).click()
  await expect(row('Faraji, Soraya')).toContainText('80 %')

  await teacher.getByRole('button', { name: 'Save as' }).click()
  const saving = teacher.waitForEvent('download')
  await teacher.getByRole('button', { name: /^CSV/ }).click()
  expect((await saving).suggestedFilename()).toBe('8 Heron, mark book.csv')
  // The same number stands on the marking page, typed over what the rubric comes to.
  // On a narrow window, scrolled: the menu of a column lies over the names that stay.
  await teacher.setViewportSize({ width: 800, height: 800 })
  await grid.evaluate((table) => table.closest('.sheet-grid')!.scrollTo({ left: 40 }))
  await teacher.getByRole('button', { name: 'More on Before the harbour walk' }).click()
  await teacher.getByRole('link', { name: 'Mark its copies' }).click()
  await teacher.setViewportSize({ width: 1280, height: 800 })
  await teacher
    .getByRole('navigation', { name: 'Copies' })
    .getByRole('button', { name: /Faraji, Soraya/ })
    .click()
  await expect(teacher.getByLabel('The whole mark')).toHaveValue('8')
  await expect(teacher.getByText(/typed; its parts come to 7/)).toBeVisible()
})

test('the mark of a copy that several hold, in the mark book: for all of them or for one, seen in another window at once', async ({
  browser,
}) => {
  // A handout of its own: in those of the demo others make groups, and hand out anew.
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await newSlip(teacher, '8 Tern', /^Sea-word glossary/, 'Words to mark')
  await fill(teacher, /^Way:/, /^one together/)
  await fill(teacher, /^Marking:/, /^marked out of/)
  await teacher.keyboard.press('Escape')
  await handOut(teacher, /^Hand out 1 copy/)
  const board = await boardOf(teacher, 'Words to mark', '8 Tern')
  const read = async (path: string) => (await (await teacher.request.get(`/api/${path}`)).json()) as unknown
  const { copies } = (await read(`handouts/${board.split('/').at(-1)}/marks`)) as {
    copies: { holders: { first: string; last: string }[] }[]
  }
  const [one, two] = copies[0]!.holders
  const open = async (page: typeof teacher) => {
    await page.goto(`${board.split('/handouts')[0]}/marks`)
    await expect(page.getByRole('grid', { name: 'Mark book' })).toBeVisible()
  }
  const other = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await Promise.all([open(teacher), open(other)])
  const heads = await teacher.getByRole('columnheader').allTextContents()
  const at = heads.findIndex((head) => head.includes('Words to mark'))
  const cell = (page: typeof teacher, { first, last }: { first: string; last: string }) =>
    page
      .getByRole('row', { name: new RegExp(`^${last}, ${first}`) })
      .getByRole('gridcell')
      .nth(at)
  const type = async (whose: { first: string; last: string }, points: string) => {
    await cell(teacher, whose).click()
    await teacher.keyboard.type(points)
    await teacher.keyboard.press('Enter')
  }
  await type(one!, '7')
  await expect(teacher.getByText('shares this copy')).toBeVisible()
  await expect(teacher.getByRole('button', { name: /alone$/ })).toHaveCount(0)
  await teacher.getByRole('button', { name: /^For all \d+$/ }).click()
  for (const whose of [one!, two!]) {
    await expect(cell(teacher, whose)).toContainText('7')
    await expect(cell(other, whose)).toContainText('7')
  }
  await type(two!, '8½')
  await teacher.getByRole('button', { name: `For ${two!.first} ${two!.last} alone` }).click()
  await expect(cell(other, two!)).toContainText('8½')
  await expect(cell(other, one!)).toContainText('7')
  await cell(teacher, two!).click()
  await teacher.keyboard.press('Control+z')
  await expect(cell(other, two!)).toContainText('7')
})
