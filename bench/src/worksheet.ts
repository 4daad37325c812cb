import {
  type Block,
  type WorksheetContent,
  checkContent,
  compareContents,
  readMarkup,
  writeArchive,
} from '@gavrin/core'
import { type Page, chromium } from '@playwright/test'
import { writeDocx } from '../../server/dist/worksheet/out/docx.js'
import { readDocument } from '../../server/dist/bringIn/readDocument.js'
import { median, print, quantile, timed } from './figures.js'

// Worksheets: reading and comparing in this process; typing, bringing in and the library in Chromium against a server with
// the demo school. GAVRIN_URL and CHROMIUM (JSON of its launch options) come from scripts/bench.mjs.

const RUNS = 7
const bench = 'worksheet'

const WORDS =
  'The tide falls twice a day and rises twice, and nobody at the quay minds as long as the boats are afloat.'
/** About so many pages: a heading, eighteen paragraphs and six answer spaces on each. */
function pages(count: number): WorksheetContent {
  const blocks: Block[] = []
  for (let page = 0; page < count; page++) {
    const at = `p${page}`
    blocks.push({
      id: `${at}h`,
      kind: 'text',
      rich: { type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: `Page ${page + 1}` }] },
    })
    for (let line = 0; line < 18; line++) {
      blocks.push({
        id: `${at}t${line}`,
        kind: 'text',
        rich: { type: 'paragraph', content: [{ type: 'text', text: `${WORDS} ${line}` }] },
      })
      if (line % 3 === 0) blocks.push({ id: `${at}s${line}`, kind: 'line', width: 'full' })
    }
  }
  return { version: 2, page: 'A4', source: '', blocks }
}

async function several(name: string, work: () => unknown, limit?: number): Promise<void> {
  const samples: number[] = []
  for (let run = 0; run < RUNS; run++) samples.push(await timed(async () => await work()))
  print({
    bench,
    case: name,
    value: median(samples),
    unit: 'ms',
    p95: quantile(samples, 0.95),
    ...(limit && { limit }),
  })
}

const ten = pages(10)
const forty = pages(40)
const docx = await writeDocx('Ten pages', ten, [], { key: false })
await several('a DOCX of 10 pages read', () => readDocument('docx', docx), 2_000)
await several('40 pages checked', () => checkContent(forty))
await several('two editions of 40 pages compared', () =>
  compareContents(forty, { ...forty, blocks: forty.blocks.toSpliced(100, 1).toReversed() }),
)
await several('an archive of 40 pages written', () => writeArchive({ title: 'T', content: forty, media: [] }))
const html = forty.blocks.map(() => `<p>${WORDS}</p>`).join('')
let count = 0
await several('40 pages of markup read', () => readMarkup(html, { newId: () => `n${++count}`, pictureKey: () => null }))

const url = process.env['GAVRIN_URL']!
const browser = await chromium.launch(JSON.parse(process.env['CHROMIUM']!) as Parameters<typeof chromium.launch>[0])
const context = await browser.newContext({ baseURL: url, viewport: { width: 1280, height: 800 } })
const session = (await (await context.request.get('/api/session')).json()) as {
  demo: { password: string; people: { email: string; role: string }[] }
}
const email = session.demo.people.find(({ email: address }) => address.startsWith('okonjo'))!.email
await context.request.post('/api/session', { data: { email, password: session.demo.password } })
const page = await context.newPage()

/** The longest tasks of the main thread while something is done, by the browser's own account. */
async function longTasks(of: Page, work: () => Promise<void>): Promise<number[]> {
  await of.evaluate(() => {
    const found: number[] = []
    Object.assign(window, { longTasks: found })
    new PerformanceObserver((list) => list.getEntries().forEach(({ duration }) => found.push(duration))).observe({
      type: 'longtask',
    })
  })
  await work()
  return of.evaluate(() => (window as unknown as { longTasks: number[] }).longTasks)
}

async function made(title: string, content: WorksheetContent): Promise<string> {
  const { id } = (await (await context.request.post('/api/worksheets', { data: { title } })).json()) as { id: string }
  await context.request.put(`/api/worksheets/${id}/draft`, { data: { title, content, version: 1 } })
  return id
}

// Typing: what a key keeps the main thread busy, up to the next frame being ready.
const id = await made('Forty pages', forty)
await page.goto(`/worksheets/${id}`)
await page.getByText('Page 20', { exact: true }).click()
await page.keyboard.press('End')
await page.evaluate(() => {
  const samples: number[] = []
  Object.assign(window, { keySamples: samples })
  const paper = document.querySelector('.sheet')!
  paper.addEventListener('keydown', () => Object.assign(window, { keyAt: performance.now() }), { capture: true })
  paper.addEventListener('input', () => {
    const { keyAt } = window as unknown as { keyAt: number }
    // After all that the key set off, before the frame is drawn.
    queueMicrotask(() => samples.push(performance.now() - keyAt))
  })
})
await page.keyboard.type('and the harbour lies still while the tide is slack. '.repeat(3), { delay: 60 })
const keys = await page.evaluate(() => (window as unknown as { keySamples: number[] }).keySamples)
print({ bench, case: 'a key on 40 pages, median', value: median(keys), unit: 'ms', limit: 16, keys: keys.length })
print({ bench, case: 'a key on 40 pages, p95', value: quantile(keys, 0.95), unit: 'ms', limit: 16 })

// The library with 500 worksheets.
for (let at = 0; at < 500; at += 25)
  await Promise.all(Array.from({ length: 25 }, (_, n) => made(`Worksheet ${at + n}`, pages(1))))
await page.goto('/')
const opening: number[] = []
for (let run = 0; run < 5; run++) {
  await page.goto('/')
  await page.getByRole('link', { name: 'Worksheets' }).waitFor()
  opening.push(
    await timed(async () => {
      await page.getByRole('link', { name: 'Worksheets' }).click()
      await page.getByRole('link', { name: 'Worksheet 499' }).waitFor()
    }),
  )
}
print({ bench, case: 'library of 500: click to the list', value: median(opening), unit: 'ms', limit: 1_000 })

// A photographed page, from the click to the text, and what the main thread was busy with.
await page.goto('/worksheets/bring-in')
await page
  .getByLabel('File to bring in')
  .setInputFiles(new URL('../../samples/worksheets/knots-by-the-lamp.jpg', import.meta.url).pathname)
await page.getByText('The corners were found').waitFor()
await page.getByRole('button', { name: 'Straighten' }).click()
await page.getByRole('button', { name: 'Read the text' }).waitFor()
let reading = 0
const tasks = await longTasks(page, async () => {
  reading = await timed(async () => {
    await page.getByRole('button', { name: 'Read the text' }).click()
    await page.getByRole('button', { name: 'Read again' }).waitFor({ timeout: 60_000 })
  })
})
print({ bench, case: 'a photographed page read, in Chromium', value: reading, unit: 'ms', limit: 10_000 })
print({ bench, case: 'longest task of the main thread meanwhile', value: Math.max(0, ...tasks), unit: 'ms', limit: 50 })

// A page of a PDF as a backdrop.
await page.goto('/worksheets/bring-in')
await page
  .getByLabel('File to bring in')
  .setInputFiles(new URL('../../samples/worksheets/front-page.pdf', import.meta.url).pathname)
await page.getByLabel('As pages that stay as they look').check()
let pdf = 0
const pdfTasks = await longTasks(page, async () => {
  pdf = await timed(async () => {
    await page.getByRole('button', { name: 'Take 2 pages' }).click()
    await page.getByRole('button', { name: 'Put in the library' }).waitFor()
  })
})
print({ bench, case: 'a PDF page as backdrop, kept on the server', value: pdf / 2, unit: 'ms', limit: 500 })
print({ bench, case: 'longest task of the main thread for it', value: Math.max(0, ...pdfTasks), unit: 'ms', limit: 50 })
await browser.close()
