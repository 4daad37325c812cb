import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { CHROMIUM } from './lib/chromium.mjs'
import { needChromium, needPackages } from './lib/needs.mjs'
import { ROOT, main, say } from './lib/run.mjs'

const OUT = join(ROOT, 'docs', 'screenshots')
const PASSWORD = 'harbour-wall-26'

await main(async () => {
  needPackages()
  needChromium()
  const { build } = await import('./build.mjs')
  await build()
  const { startApplication } = await import('../e2e/support/server.mjs')
  const { chromium } = await import('@playwright/test')
  mkdirSync(OUT, { recursive: true })
  const application = await startApplication('screenshots')
  const browser = await chromium.launch(CHROMIUM)

  /** A page of this demo person. */
  const pageOf = async (mailbox, options = {}) => {
    const context = await browser.newContext({
      baseURL: application.url,
      viewport: { width: 1280, height: 800 },
      locale: 'en-GB',
      timezoneId: 'UTC',
      reducedMotion: 'reduce',
      ...options,
    })
    await context.request.post('/api/session', {
      data: { email: `${mailbox}@fennickquay.example`, password: PASSWORD },
    })
    // As on every visit but the first.
    await context.addCookies([{ name: 'gavrin.fonts', value: 'here', url: application.url }])
    const page = await context.newPage()
    await page.goto('/')
    await page.locator('#root:not([data-drawn])').waitFor()
    return page
  }
  const shot = async (page, name, ready) => {
    await ready.first().waitFor()
    await page.evaluate(() => document.fonts.ready)
    await page.waitForLoadState('networkidle').catch(() => undefined)
    await page.screenshot({ path: join(OUT, `${name}.png`) })
    say(`took ${name}.png`)
  }

  try {
    const teacher = await pageOf('okonjo')
    await shot(teacher, 'desk', teacher.getByText('Needs you'))
    await teacher.getByRole('link', { name: '8 Heron' }).click()
    await teacher.getByLabel('Select Zofia Dąbrowska').check()
    await teacher.getByLabel('Select Théo Joubert').check()
    await shot(teacher, 'class', teacher.getByText('2 selected'))
    await teacher.getByRole('button', { name: 'Select nobody' }).click()
    await teacher.getByRole('link', { name: 'Overview' }).click()
    await shot(teacher, 'overview', teacher.getByRole('columnheader', { name: 'Tides and harbours' }))
    await teacher.getByLabel('Find anything').fill('dabrowska')
    await teacher.getByRole('option').first().click()
    await shot(teacher, 'person', teacher.getByText('Quayside safety'))
    await teacher.getByRole('link', { name: 'Worksheets', exact: true }).click()
    await teacher.locator('.page-card .sheet', { hasText: 'Quayside safety' }).waitFor()
    await teacher.waitForFunction(() =>
      [...document.querySelectorAll('.page-card .thumbnail')].every(
        (page) => page.getBoundingClientRect().top > globalThis.innerHeight || page.querySelector('.sheet'),
      ),
    )
    await shot(teacher, 'worksheets', teacher.locator('.page-card'))
    await teacher.getByRole('link', { name: 'Harbour front page' }).click()
    await teacher.locator('.gap-node').first().click()
    await shot(teacher, 'worksheet-editor', teacher.getByRole('heading', { name: '4 · Gap in a sentence' }))
    await teacher.getByRole('link', { name: 'Worksheets', exact: true }).click()

    await teacher.getByRole('link', { name: 'New handout' }).click()
    await teacher.getByRole('button', { name: /^Worksheet:/ }).click()
    await teacher.getByRole('button', { name: /^Reading a tide table edition/ }).click()
    await shot(teacher, 'composer', teacher.getByText('Abara, Chidi – Reading a tide table'))
    await teacher.getByRole('link', { name: 'Handouts' }).click()
    await teacher.getByRole('link', { name: 'Tides at the quay' }).click()
    const board = teacher.url()
    await teacher.goto(board)
    await teacher.goto(board)

    const student = await pageOf('zofia.dabrowska')
    await shot(student, 'student-desk', student.getByText('To do'))
    await student.getByRole('link', { name: /Reading a tide table/ }).click()
    await student.getByText('All saved').waitFor()
    await teacher.getByRole('button', { name: /Dąbrowska/ }).click()
    await teacher.getByRole('complementary').getByText('5:48 in the morning').waitFor()
    await student.getByLabel(/^Answer 8/).fill('The long way round')
    await shot(student, 'copy', student.getByText(/^Saved \d/))
    await shot(teacher, 'board-with-copy', teacher.getByRole('complementary').getByText('5 of 9'))
    await teacher.getByRole('button', { name: 'Close', exact: true }).click()
    await teacher.getByRole('button', { name: 'Answer grid' }).click()
    await shot(teacher, 'answer-grid', teacher.locator('.cell-asked'))
    await teacher.getByRole('button', { name: /^Answer 3: .*Read all answers/ }).click()
    await shot(teacher, 'one-question', teacher.locator('.heap'))
    await teacher.getByRole('button', { name: 'Over time' }).click()
    await shot(teacher, 'over-time', teacher.locator('.apexcharts-series'))
    await teacher.getByRole('button', { name: 'More' }).click()
    await teacher.getByRole('link', { name: 'Likeness between copies' }).click()
    await shot(teacher, 'likeness', teacher.getByText(/came in one piece/))

    await teacher.goto(`${board}/marking`)
    await teacher.getByRole('button', { name: /Al-Masri/ }).click()
    await shot(teacher, 'marking', teacher.getByText('How high is the sill itself?'))
    await teacher.getByRole('button', { name: 'By question' }).click()
    await teacher.getByRole('button', { name: 'Next question' }).click()
    await teacher.getByRole('button', { name: 'Next question' }).click()
    await shot(teacher, 'by-question', teacher.locator('.heap'))
    await teacher.getByRole('link', { name: 'Mark book' }).click()
    await teacher.getByRole('button', { name: 'More on Before the harbour walk' }).click()
    await teacher.getByRole('button', { name: 'How its marks are spread' }).click()
    await shot(teacher, 'mark-book', teacher.locator('.apexcharts-series'))
    const back = await pageOf('chidi.abara')
    await back.getByRole('link', { name: /^handed back .*Before the harbour walk/ }).click()
    await shot(back, 'handed-back', back.getByText('How high is the sill itself?'))

    // A group in its copy: two of them and their teacher, with what was said of it.
    const questions = await (await teacher.context().request.get('/api/desk/questions')).json()
    const asked = questions.find(({ handoutTitle }) => handoutTitle === 'Harbour front page')
    const shared = `/copies/${asked.copyId}`
    const { holders } = await (await teacher.context().request.get(`/api${shared}`)).json()
    const door = await browser.newContext({ baseURL: application.url })
    const { demo } = await (await door.request.get('/api/session')).json()
    const mailboxOf = (name) =>
      demo.people.find(({ first, last }) => `${first} ${last}`.trim() === name).email.split('@')[0]
    const [one, other] = await Promise.all(holders.slice(0, 2).map((name) => pageOf(mailboxOf(name))))
    const listener = await pageOf('okonjo')
    for (const page of [listener, other, one]) {
      await page.goto(shared)
      await page.getByRole('button', { name: 'Comment', exact: true }).waitFor()
    }
    await other.getByLabel(/Name of your newspaper/).click()
    await other.keyboard.press('End')
    await one.locator('.answer-passage[contenteditable=true]').first().click()
    await one.keyboard.type('A seal lay on the slipway.')
    await one.getByText(/^Saved \d/).waitFor()
    await one.evaluate(() => document.documentElement.scrollTo(0, 0))
    await shot(one, 'group-copy', one.locator('.other-caret'))
  } finally {
    await browser.close()
    await application.stop()
  }
})
