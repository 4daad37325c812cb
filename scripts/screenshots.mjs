import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { CHROMIUM } from './lib/chromium.mjs'
import { needChromium, needPackages } from './lib/needs.mjs'
import { ROOT, main, say } from './lib/run.mjs'

const OUT = join(ROOT, 'docs', 'screenshots')
const PASSWORD = 'harbour-wall-26'
const ROWS = [
  'Surname;Given name;Mail',
  'Abara;Chidi;chidi.abara@fennickquay.example',
  'Marchetti;Fiora;fiora.marchetti@fennickquay.example',
  'Oyelaran;Tunde;tunde.oyelaran@fennickquay',
  'Castellanos Ruiz;Mateo;',
  'Halvorsen;Signe;fiora.marchetti@fennickquay.example',
  'عباس;سلمى;salma.abbas@fennickquay.example',
].join('\n')

await main(async () => {
  needPackages()
  needChromium()
  const { build } = await import('./build.mjs')
  build()
  const { startApplication } = await import('../e2e/support/server.mjs')
  const { chromium } = await import('@playwright/test')
  mkdirSync(OUT, { recursive: true })
  const application = await startApplication('screenshots')
  const browser = await chromium.launch(CHROMIUM)

  /** A page of this demo person; null: of nobody. */
  const pageOf = async (mailbox, options = {}) => {
    const context = await browser.newContext({
      baseURL: application.url,
      viewport: { width: 1280, height: 800 },
      locale: 'en-GB',
      timezoneId: 'UTC',
      reducedMotion: 'reduce',
      ...options,
    })
    if (mailbox)
      await context.request.post('/api/session', {
        data: { email: `${mailbox}@fennickquay.example`, password: PASSWORD },
      })
    const page = await context.newPage()
    await page.goto('/')
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
    const stranger = await pageOf(null)
    await shot(stranger, 'sign-in', stranger.getByText('This is the demo.'))

    const teacher = await pageOf('okonjo')
    await shot(teacher, 'desk', teacher.getByText('Needs you'))
    await teacher.getByRole('link', { name: '8 Heron' }).click()
    await shot(teacher, 'class', teacher.getByText('Abara', { exact: true }))
    await teacher.getByRole('link', { name: 'Bring in a list' }).click()
    await teacher.getByLabel('Paste the rows from your spreadsheet').fill(ROWS)
    await shot(teacher, 'bring-in', teacher.getByText('rows have to be put right first'))
    await teacher.getByRole('link', { name: 'Worksheets' }).click()
    await shot(teacher, 'worksheets', teacher.getByText('Lighthouse sectors'))
    await teacher.getByRole('link', { name: 'Reading a tide table' }).click()
    await teacher.locator('.space-node').nth(1).click()
    await shot(teacher, 'worksheet-editor', teacher.getByRole('heading', { name: '2 · Number' }))
    await teacher.getByRole('link', { name: 'New handout' }).click()
    await teacher.getByRole('button', { name: /^Worksheet:/ }).click()
    await teacher.getByRole('button', { name: /^Reading a tide table edition/ }).click()
    await shot(teacher, 'composer', teacher.getByText('Abara, Chidi – Reading a tide table'))
    await teacher.getByRole('link', { name: 'Handouts' }).click()
    await teacher.getByRole('link', { name: 'Tides at the quay' }).click()
    await shot(teacher, 'board', teacher.getByRole('button', { name: /Dąbrowska/ }))

    const student = await pageOf('zofia.dabrowska')
    await shot(student, 'student-desk', student.getByText('To do'))
    await student.getByRole('link', { name: /Reading a tide table/ }).click()
    await student.getByText('All saved').waitFor()
    await teacher.getByRole('button', { name: /Dąbrowska/ }).click()
    await teacher.getByRole('complementary').getByText('5:48 in the morning').waitFor()
    await student.getByLabel(/^Answer 8/).fill('The long way round')
    await shot(student, 'copy', student.getByText(/^Saved \d/))
    await shot(teacher, 'board-with-copy', teacher.getByRole('complementary').getByText('5 of 9'))

    const phone = await pageOf('zofia.dabrowska', { viewport: { width: 390, height: 800 } })
    await phone.getByRole('link', { name: /Reading a tide table/ }).click()
    await shot(phone, 'copy-phone', phone.getByText('All saved'))
  } finally {
    await browser.close()
    await application.stop()
  }
})
