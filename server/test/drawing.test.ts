import { afterAll, afterEach, describe, expect, test } from '@jest/globals'
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Drawings, type DrawingLimits } from '../dist/web/drawing.js'

// First pictures are drawn in a process of their own. Whatever becomes of it, pages go out.

const folder = await mkdtemp(join(tmpdir(), 'gavrin-drawing-'))
afterAll(() => rm(folder, { recursive: true }))
const open: Drawings[] = []
afterEach(() => open.splice(0).forEach((drawings) => drawings.end()))

const PATIENT: DrawingLimits = { patience: 60_000, longest: 60_000, waiting: 20, html: 1_000, pause: 1 }

/** Draws with this in place of the application. */
async function drawingsWith(body: string, limits: Partial<DrawingLimits> = {}): Promise<Drawings> {
  const program = join(folder, `${Math.random().toString(36).slice(2)}.mjs`)
  await writeFile(program, `export async function drawFirst({ path, first, cookies, now, zone }) { ${body} }`)
  const drawings = new Drawings(program, { ...PATIENT, ...limits })
  open.push(drawings)
  return drawings
}

const drawing = (path: string, zone: string | null = null) => ({ path, first: '[1]', cookies: 'c=1', now: 5, zone })

/** Asks until the process is there (again): before that nobody is kept waiting. */
async function drawn(drawings: Drawings, path: string, zone: string | null = null): Promise<string> {
  for (;;) {
    const html = await drawings.draw(drawing(path, zone))
    if (html !== null) return html
    await new Promise((resolve) => setImmediate(resolve))
  }
}

describe('first pictures', () => {
  test('are drawn from what they are given', async () => {
    const drawings = await drawingsWith('return [path, first, cookies, now].join("|")')
    expect(await drawn(drawings, '/')).toBe('/|[1]|c=1|5')
  })

  test('are drawn for the zone of whoever reads, and for none where it is not known', async () => {
    const drawings = await drawingsWith('return String(zone)')
    expect(await drawn(drawings, '/', 'Asia/Tokyo')).toBe('Asia/Tokyo')
    expect(await drawn(drawings, '/', null)).toBe('null')
  })

  test('one that fails is left out, and the next is drawn', async () => {
    const drawings = await drawingsWith('if (path === "/bad") throw new Error("no"); return path')
    await drawn(drawings, '/')
    expect(await drawings.draw(drawing('/bad'))).toBeNull()
    expect(await drawings.draw(drawing('/good'))).toBe('/good')
  })

  test('one that is too large is left out', async () => {
    const drawings = await drawingsWith('return "x".repeat(Number(path))')
    expect((await drawn(drawings, '1000')).length).toBe(1_000)
    expect(await drawings.draw(drawing('1001'))).toBeNull()
  })

  test('nobody waits for one that is late', async () => {
    const drawings = await drawingsWith('if (path === "/late") await new Promise(() => undefined); return path', {
      patience: 200,
    })
    await drawn(drawings, '/')
    expect(await drawings.draw(drawing('/late'))).toBeNull()
  })

  test('one that never ends does not keep the others from theirs: its process is ended, and another begun', async () => {
    const drawings = await drawingsWith('while (path === "/endless"); return path', { longest: 300 })
    await drawn(drawings, '/')
    const [endless, behind] = await Promise.all([drawings.draw(drawing('/endless')), drawings.draw(drawing('/behind'))])
    expect([endless, behind]).toEqual([null, null])
    expect(await drawn(drawings, '/again')).toBe('/again')
  })

  test('a process that ends is begun again', async () => {
    const drawings = await drawingsWith('if (path === "/end") process.exit(3); return path')
    await drawn(drawings, '/')
    expect(await drawings.draw(drawing('/end'))).toBeNull()
    expect(await drawn(drawings, '/again')).toBe('/again')
  })

  test('more than some do not wait', async () => {
    const drawings = await drawingsWith('if (path === "/held") await new Promise(() => undefined); return path', {
      waiting: 3,
    })
    await drawn(drawings, '/')
    const kept = [1, 2, 3].map(() => drawings.draw(drawing('/held')))
    expect(await drawings.draw(drawing('/'))).toBeNull()
    drawings.end()
    expect(await Promise.all(kept)).toEqual([null, null, null])
  })

  test('where the application was not built for it, nothing is drawn', async () => {
    const drawings = new Drawings(join(folder, 'is-not-there.mjs'))
    expect(await drawings.draw(drawing('/'))).toBeNull()
  })
})
