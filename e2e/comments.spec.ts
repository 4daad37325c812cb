import { type Page, expect } from '@playwright/test'
import { test, windowOf } from './support/people.js'

/** The words of the page that are marked because something is said of them. */
const marked = (page: Page, name: 'said-of' | 'asked-of') =>
  page.evaluate((name) => [...(CSS.highlights.get(name) ?? [])].map(String), name)

/** Marks words on the sheet, as one does with the mouse. */
const mark = (page: Page, words: string) =>
  page.evaluate((words) => {
    const walker = document.createTreeWalker(document.querySelector('.sheet')!, NodeFilter.SHOW_TEXT)
    for (let node = walker.nextNode() as Text | null; node; node = walker.nextNode() as Text | null) {
      const at = node.data.indexOf(words)
      if (at >= 0) return getSelection()!.setBaseAndExtent(node, at, node, at + words.length)
    }
    throw new Error(`nowhere: ${words}`)
  }, words)

const openCopy = async (page: Page, title: RegExp): Promise<string> => {
  await page.getByRole('link', { name: title }).first().click()
  await expect(page.getByRole('button', { name: 'Comment', exact: true })).toBeVisible()
  await expect(page.getByText('All saved')).toBeVisible()
  return page.url()
}
const said = (page: Page, words: string) => page.locator('.said', { hasText: words })

test('words that something is said of are followed while they are edited; what is said of them is answered, and done with', async ({
  browser,
}) => {
  const student = await windowOf(browser, 'Ingrid Brandvold')
  const address = await openCopy(student, /Knots of the harbour|Reading a tide table/)
  const passage = student.locator('.answer-passage[contenteditable=true]').first()
  await passage.click()
  await student.keyboard.press('Control+End')
  await student.keyboard.type(' The harbour master waited until noon.')
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto(address)
  await expect(teacher.getByText('The harbour master waited')).toBeVisible()

  await mark(teacher, 'harbour master')
  await expect(teacher.getByText('about “harbour master”')).toBeVisible()
  await teacher.getByRole('button', { name: 'Comment', exact: true }).click()
  // Nothing typed: one sentence at its place, and the words stay.
  await teacher.getByRole('button', { name: 'Comment', exact: true }).last().click()
  await expect(teacher.getByRole('alert')).toHaveText('Write something first.')
  await teacher.getByLabel('Comment on “harbour master”').fill('Who is that? Give the name the first time.')
  await teacher.keyboard.press('Control+Enter')

  await expect(said(student, 'Who is that?')).toContainText('on “harbour master”')
  await expect.poll(() => marked(student, 'said-of')).toEqual(['harbour master'])
  // What is typed before the words, and in them.
  await passage.click()
  await student.keyboard.press('Control+Home')
  await student.keyboard.type('On Tuesday. ')
  await expect.poll(() => marked(student, 'said-of')).toEqual(['harbour master'])
  await expect.poll(() => marked(teacher, 'said-of')).toEqual(['harbour master'])

  await said(student, 'Who is that?').getByRole('button', { name: 'Reply' }).click()
  await student.getByLabel('Say more').fill('Is it all right to ask him?')
  await student.getByRole('button', { name: 'Send' }).click()
  await expect(said(teacher, 'Who is that?')).toContainText('Is it all right to ask him?')
  // In other words; deleted, and brought back.
  await said(student, 'Who is that?').getByRole('button', { name: 'Change' }).click()
  await student.getByLabel('In other words').fill('May I ask him?')
  await student.getByRole('button', { name: 'Keep' }).click()
  await expect(said(teacher, 'Who is that?')).toContainText('May I ask him?')
  await said(student, 'Who is that?').getByRole('button', { name: 'Delete' }).click()
  await expect(said(teacher, 'Who is that?')).not.toContainText('May I ask him?')
  await said(student, 'Who is that?').getByRole('button', { name: 'Bring it back' }).click()
  await expect(said(teacher, 'Who is that?')).toContainText('May I ask him?')

  // What begins a comment stays in view to the end of the page.
  await teacher.evaluate(() => window.scrollTo(0, document.body.scrollHeight))
  await expect(teacher.getByRole('button', { name: 'Comment', exact: true })).toBeInViewport()

  // The words go: it says so, and what they were.
  await passage.click()
  await student.keyboard.press('Control+a')
  await student.keyboard.type('A seal lay on the slipway.')
  await expect(said(teacher, 'Who is that?')).toContainText('on words that are gone: “harbour master”')
  expect(await marked(teacher, 'said-of')).toEqual([])

  await said(teacher, 'Who is that?').getByRole('button', { name: 'Done with this' }).click()
  await expect(student.locator('.said-fold')).toContainText('done with by Adaeze Okonjo-Reyes')
  await student.locator('.said-fold').click()
  await student.getByRole('button', { name: 'Take it up again' }).click()
  await expect(said(teacher, 'Who is that?').getByRole('button', { name: 'Done with this' })).toBeVisible()
})

test('a question is asked with one key, seen by the staff alone, and stands under “Needs you” until it is answered', async ({
  browser,
}) => {
  const asker = await windowOf(browser, 'Zofia Dąbrowska')
  const address = await openCopy(asker, /Harbour front page/)
  const copy = (await (await asker.request.get(`/api${new URL(address).pathname}`)).json()) as { holders: string[] }
  const mate = await windowOf(
    browser,
    copy.holders.find((name) => name !== 'Zofia Dąbrowska')!,
  )
  await mate.goto(address)
  await expect(mate.getByRole('button', { name: 'Ask the teacher' })).toBeVisible()
  await asker.locator('.answer-passage[contenteditable=true]').first().click()
  await asker.keyboard.press('F8')
  await asker.keyboard.type('May the picture be a drawing?')
  await asker.getByLabel('Only the staff see it').check()
  await asker.getByRole('button', { name: 'Ask', exact: true }).click()
  const question = said(asker, 'May the picture be a drawing?')
  await expect(question).toContainText('Your question to the teacher · waits for an answer')
  await expect(question).toContainText('only the staff see it')

  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  const need = teacher.locator('.needs li', { hasText: 'Zofia Dąbrowska asks: “May the picture be a drawing?”' })
  await need.getByRole('link', { name: 'Answer' }).click()
  const asked = said(teacher, 'May the picture be a drawing?')
  await expect(asked).toBeInViewport()
  await asked.getByRole('button', { name: 'Answer', exact: true }).click()
  await asked.getByRole('textbox', { name: 'Answer' }).fill('Yes, in pencil.')
  await teacher.getByRole('button', { name: 'Send' }).click()
  await expect(question).toContainText('Yes, in pencil.')
  await expect(question).toContainText('Your question to the teacher · answered')
  // A comment for all comes after it, and to their mate it is the first thing said.
  await asker.getByRole('button', { name: 'Comment', exact: true }).click()
  await asker.getByRole('textbox', { name: /^Comment on/ }).fill('The title is still to be found.')
  await asker.keyboard.press('Control+Enter')
  await expect(said(mate, 'The title is still to be found.')).toBeVisible()
  await expect(mate.getByText('May the picture be a drawing?')).toHaveCount(0)
  await teacher.goto('/')
  await expect(teacher.getByText('Needs you')).toBeVisible()
  await expect(need).toHaveCount(0)
})

test('a comment written without a connection is kept in the browser, and sent when the page is there again', async ({
  browser,
}) => {
  const student = await windowOf(browser, 'Ren Hatoyama')
  const address = await openCopy(student, /Quayside safety|Knots of the harbour|Reading a tide table/)
  await student.route(/\/comments\//, (route) => route.abort())
  await student.getByRole('button', { name: 'Comment', exact: true }).click()
  await student.getByRole('textbox', { name: 'Comment on the whole copy' }).fill('Written on the ferry.')
  await student.keyboard.press('Control+Enter')
  await expect(said(student, 'Written on the ferry.')).toContainText('not sent yet, kept in this browser')
  await student.close()
  const again = await student.context().newPage()
  await again.goto(address)
  await expect(said(again, 'Written on the ferry.')).toBeVisible()
  await expect(said(again, 'Written on the ferry.')).not.toContainText('not sent yet')
  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto(address)
  await expect(said(teacher, 'Written on the ferry.')).toHaveCount(1)
})

test('a question is answered from the board, beside the copy that is looked at there', async ({ browser }) => {
  const student = await windowOf(browser, 'Minh Anh Nguyễn')
  const address = await openCopy(student, /Knots of the harbour/)
  await student.getByRole('button', { name: 'Ask the teacher' }).click()
  await student.getByLabel('Ask about the whole copy').fill('May I use a rope of my own?')
  await student.keyboard.press('Control+Enter')
  await expect(said(student, 'May I use a rope')).toContainText('waits for an answer')

  const teacher = await windowOf(browser, 'Adaeze Okonjo-Reyes')
  await teacher.goto(address)
  await teacher.getByRole('link', { name: 'Back to the board' }).click()
  await teacher
    .getByRole('row', { name: /Nguyễn, Minh Anh/ })
    .getByRole('button')
    .click()
  const drawer = teacher.getByRole('complementary')
  await expect(drawer.getByText('Comments 1, a question waits')).toBeVisible()
  await drawer.getByRole('button', { name: 'Answer' }).click()
  await drawer.getByRole('textbox', { name: 'Answer', exact: true }).fill('Yes, if it is not too thick.')
  await teacher.keyboard.press('Control+Enter')
  await expect(said(student, 'May I use a rope')).toContainText('Yes, if it is not too thick.')
  await expect(teacher.getByRole('row', { name: /Nguyễn, Minh Anh/ })).not.toContainText('asks')
})
