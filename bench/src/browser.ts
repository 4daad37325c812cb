import { type Browser, type LaunchOptions, type Page, chromium } from '@playwright/test'
import { quantile } from './figures.js'

/** Opens a browser on a server, signed in by a cookie, and closes it after. */
export async function inBrowser(address: string, cookie: string, work: (page: Page) => Promise<void>): Promise<void> {
  const browser: Browser = await chromium.launch(JSON.parse(process.env['CHROMIUM']!) as LaunchOptions)
  try {
    const context = await browser.newContext({ viewport: { width: 1366, height: 768 } })
    const [name, value] = cookie.split('=') as [string, string]
    await context.addCookies([{ name, value, url: address }])
    await work(await context.newPage())
  } finally {
    await browser.close()
  }
}

/** Scrolls something down and to the right for some seconds: how many pictures a second that made. */
export async function scrolled(page: Page, what: string): Promise<{ value: number; p95: number; longest: number }> {
  const frames = await page.evaluate(
    (selector) =>
      new Promise<number[]>((resolve) => {
        const scroller = document.querySelector(selector)!
        const times: number[] = []
        const until = performance.now() + 6_000
        const look = (now: number) => {
          times.push(now)
          scroller.scrollTop += 30
          scroller.scrollLeft += 20
          if (now < until) requestAnimationFrame(look)
          else resolve(times.slice(1).map((time, at) => time - times[at]!))
        }
        requestAnimationFrame(look)
      }),
    what,
  )
  return {
    value: (frames.length * 1_000) / frames.reduce((sum, frame) => sum + frame, 0),
    p95: Math.round(quantile(frames, 0.95)),
    longest: Math.round(Math.max(...frames)),
  }
}

/** When something stands in the page, by the clock of this machine. */
export const standing = (page: Page, selector: string, words: string): Promise<number> =>
  page.evaluate(
    ([where, what]) =>
      new Promise<number>((resolve) => {
        const look = () =>
          document.querySelector(where!)?.textContent?.includes(what!)
            ? resolve(performance.timeOrigin + performance.now())
            : requestAnimationFrame(look)
        look()
      }),
    [selector, words],
  )
export const clock = (): number => performance.timeOrigin + performance.now()
