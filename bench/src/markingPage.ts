import { type LaunchOptions, chromium } from '@playwright/test'
import { print, quantile } from './figures.js'

// Copies marked one after the other in a browser: from the key until the next copy stands there with its answers.

const URL_OF = process.env['GAVRIN_URL']!
const CHROMIUM = JSON.parse(process.env['CHROMIUM']!) as LaunchOptions
const TITLE = 'Tides at the quay'
const KEYS = 120

const { demo } = (await (await fetch(`${URL_OF}/api/session`)).json()) as { demo: { password: string } }
const browser = await chromium.launch(CHROMIUM)
try {
  const context = await browser.newContext({ viewport: { width: 1366, height: 768 } })
  const page = await context.newPage()
  await page.request.post(`${URL_OF}/api/session`, {
    headers: { origin: URL_OF },
    data: { email: 'okonjo@fennickquay.example', password: demo.password },
  })
  type Listed = { id: string; name: string }[]
  const classes = (await (await page.request.get(`${URL_OF}/api/classes`)).json()) as Listed
  const heron = classes.find(({ name }) => name === '8 Heron')!
  const handouts = (await (await page.request.get(`${URL_OF}/api/classes/${heron.id}/handouts`)).json()) as {
    id: string
    title: string
  }[]
  const { id } = handouts.find(({ title }) => title === TITLE)!
  await page.goto(`${URL_OF}/class/${heron.id}/handouts/${id}/marking`)
  await page.locator('.sheet-to-mark:visible').waitFor()
  const list = await page.locator('.marking-list button').count()
  await page.evaluate(() => {
    const taken: number[] = []
    Object.assign(window, { taken })
    const shown = () =>
      [...document.querySelectorAll<HTMLElement>('.sheet-to-mark')].find((one) => one.offsetParent !== null)
    addEventListener(
      'keydown',
      (event) => {
        const before = shown()
        const look = () => {
          const now = shown()
          if (now && now !== before && now.textContent !== '') taken.push(performance.now() - event.timeStamp)
          else requestAnimationFrame(look)
        }
        requestAnimationFrame(look)
      },
      true,
    )
  })
  const count = () => page.evaluate(() => (window as unknown as { taken: number[] }).taken.length)
  let isDown = true
  for (let key = 0, at = 0; key < KEYS; key++) {
    if (at === list - 1) isDown = false
    if (at === 0) isDown = true
    at += isDown ? 1 : -1
    await page.keyboard.press(isDown ? 'ArrowDown' : 'ArrowUp')
    while ((await count()) <= key) await page.waitForTimeout(5)
    // A teacher looks at it: what comes after is made ready meanwhile.
    await page.waitForTimeout(400)
  }
  const taken = await page.evaluate(() => (window as unknown as { taken: number[] }).taken)
  for (const [share, name] of [
    [0.5, 'p50'],
    [0.95, 'p95'],
  ] as const)
    print({
      bench: 'markingPage',
      case: `from the key to the next copy with its answers, ${name}`,
      value: quantile(taken, share),
      unit: 'ms',
      ...(share === 0.95 && { limit: 80, limitOf: 'what is asked of it' }),
      samples: taken.length,
      copies: list,
    })
} finally {
  await browser.close()
}
