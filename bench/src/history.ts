import { type AnswerKind, newAnswerDoc, openRoot } from '@gavrin/core'
import { type LaunchOptions, type Page, chromium } from '@playwright/test'
import pg from 'pg'
import * as Y from 'yjs'
import { median, print, quantile } from './figures.js'

// The history of a copy in which 20,000 changes were made, a letter each: until its page stands, and from moment to moment.

const URL_OF = process.env['GAVRIN_URL']!
const CHROMIUM = JSON.parse(process.env['CHROMIUM']!) as LaunchOptions
const CHANGES = 20_000
const STEPS = 150
const ROUNDS = 5
const WORDS = 'The harbour master waited until noon and then he called the ferry again. '

const browser = await chromium.launch(CHROMIUM)
const database = new pg.Pool({ connectionString: process.env['DATABASE_URL']!, max: 2 })

/** Keeps so many changes of one answer, each by somebody who types, and at times goes back. */
async function write(
  of: { schoolId: string; copyId: string; personId: string },
  space: string,
  kind: AnswerKind,
  changes: number,
): Promise<void> {
  const doc = newAnswerDoc(kind)
  const updates: Buffer[] = []
  doc.on('update', (bytes: Uint8Array) => updates.push(Buffer.from(bytes)))
  const root = openRoot(doc, kind)
  const letters = new Y.XmlText()
  doc.transact(() => {
    const paragraph = new Y.XmlElement('paragraph')
    paragraph.insert(0, [letters])
    ;(root as Y.XmlFragment).insert(0, [paragraph])
  })
  for (let at = 1; at < changes; at++) {
    // One in six is taken out again, as in what people type.
    if (at % 6 === 5) letters.delete(letters.length - 1, 1)
    else letters.insert(at % 40 === 0 ? Math.floor(letters.length / 2) : letters.length, WORDS[at % WORDS.length]!)
  }
  const began = Date.now() - 30 * 86_400_000
  // Three keys a second, and a pause after each twelve.
  const ats = updates.map((_, at) => new Date(began + at * 330 + Math.floor(at / 12) * 4_000))
  await database.query('DELETE FROM live_update WHERE copy_id = $1 AND space = $2', [of.copyId, space])
  await database.query('DELETE FROM live_snapshot WHERE copy_id = $1 AND space = $2', [of.copyId, space])
  await database.query(
    `INSERT INTO live_update (school_id, copy_id, space, seq, person_id, at, bytes)
     SELECT $1, $2, $3, seq, $4, at, bytes FROM unnest($5::int[], $6::timestamptz[], $7::bytea[]) AS u(seq, at, bytes)`,
    [of.schoolId, of.copyId, space, of.personId, updates.map((_, at) => at + 1), ats, updates],
  )
}

/** From the click on "History" until the last state stands on the page and can be gone back from, in milliseconds. */
async function opens(page: Page, copyId: string): Promise<number> {
  await page.goto(`${URL_OF}/copies/${copyId}`)
  await page.getByRole('link', { name: 'History' }).first().waitFor()
  await page.waitForLoadState('networkidle')
  return page.evaluate(async () => {
    const link = [...document.querySelectorAll('a')].find(({ href }) => href.endsWith('/history'))!
    const before = performance.now()
    link.click()
    await new Promise<void>((resolve) => {
      const look = () =>
        document.querySelector('.time-bar input') && document.querySelector('.sheet .answer p')?.textContent
          ? resolve()
          : requestAnimationFrame(look)
      look()
    })
    return performance.now() - before
  })
}

/** How long from a key until the page is drawn, for each of many moments one after the other, in milliseconds. */
const steps = (page: Page, key: 'ArrowLeft' | 'ArrowRight'): Promise<number[]> =>
  page.evaluate(
    async ([pressed, count]) => {
      const taken: number[] = []
      for (let step = 0; step < count; step++) {
        const before = performance.now()
        document.body.dispatchEvent(new KeyboardEvent('keydown', { key: pressed, bubbles: true }))
        // Once React and the browser have drawn it.
        await new Promise<void>((resolve) =>
          requestAnimationFrame(() => {
            const channel = new MessageChannel()
            channel.port1.onmessage = () => resolve()
            channel.port2.postMessage(null)
          }),
        )
        taken.push(performance.now() - before)
      }
      return taken
    },
    [key, STEPS] as const,
  )

try {
  const context = await browser.newContext({ viewport: { width: 1366, height: 768 } })
  const page = await context.newPage()
  await page.request.post(`${URL_OF}/api/session`, {
    data: { email: 'zofia.dabrowska@fennickquay.example', password: 'harbour-wall-26' },
  })
  const mine = (await (await page.request.get(`${URL_OF}/api/copies`)).json()) as {
    id: string
    worksheet: string
    way: string
  }[]
  const { id: copyId } = mine.find(({ worksheet, way }) => worksheet === 'Reading a tide table' && way === 'one each')!
  const { rows } = await database.query<{ schoolId: string; personId: string }>(
    'SELECT school_id AS "schoolId", person_id AS "personId" FROM copy_holder WHERE copy_id = $1',
    [copyId],
  )
  const of = { ...rows[0]!, copyId }
  for (const space of ['t3', 't4', 't9']) await write(of, space, 'passage', Math.ceil(CHANGES / 3))
  const opened: number[] = []
  for (let round = 0; round < ROUNDS; round++) opened.push(await opens(page, copyId))
  print({ bench: 'history', case: `${CHANGES} changes: opened`, value: median(opened), unit: 'ms', limit: 300 })
  await steps(page, 'ArrowLeft')
  for (const [key, words] of [
    ['ArrowLeft', 'a moment back'],
    ['ArrowRight', 'a moment on'],
  ] as const) {
    const taken = await steps(page, key)
    print({ bench: 'history', case: `${words}, median`, value: median(taken), unit: 'ms', limit: 1_000 / 30 })
    print({ bench: 'history', case: `${words}, p95`, value: quantile(taken, 0.95), unit: 'ms', limit: 1_000 / 30 })
  }
} finally {
  await browser.close()
  await database.end()
}
