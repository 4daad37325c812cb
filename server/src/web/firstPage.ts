import type { Request, RequestHandler, Response } from 'express'
import { createHash } from 'node:crypto'
import { existsSync, readFileSync } from 'node:fs'
import { type Server, get } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { cookieOf } from '../common/cookies.js'
import type { Drawings } from './drawing.js'

// A page comes drawn, with the data it shows first, and says which files it will need: otherwise a browser finds out one after
// the other, each a way there and back, before anything can be read.

interface ManifestEntry {
  readonly file: string
  readonly css?: readonly string[]
  readonly imports?: readonly string[]
}
type Manifest = Readonly<Record<string, ManifestEntry>>

/** Something that is asked of the API on behalf of whoever opens the page, and the name under which the page looks for it. */
interface Part {
  readonly key: readonly unknown[]
  readonly path: string
}

interface Place {
  /** The files it is made of, by their sources; `_name` is the file that several parts were put together in. */
  readonly sources: readonly string[]
  readonly parts: readonly Part[]
  /** Whether its first picture can be drawn without a browser. */
  readonly isDrawn?: boolean
}

interface Person {
  readonly id: string
  readonly role: string
}

/** A page that is slower with its data than without is sent without, in milliseconds. */
const PATIENCE = 1_500
const CLASSES = 8
const UUID = '[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}'
const COPY = new RegExp(`^/copies/(${UUID})$`)
const BOARD = new RegExp(`^/class/(${UUID})/handouts/(${UUID})$`)

const TEACHERS = 'src/TeacherPlaces.tsx'

/** What a place shows first. What is not listed here is asked for by the page itself. */
function placeOf(path: string, person: Person | null): Place {
  if (!person)
    return path === '/'
      ? { sources: ['src/signin/SignInPage.tsx'], parts: [], isDrawn: true }
      : { sources: [], parts: [] }
  const learns = person.role === 'student' || person.role === 'guest'
  const copy = COPY.exec(path)?.[1]
  if (copy)
    return {
      sources: ['_copy'],
      isDrawn: true,
      parts: [
        { key: ['copy', copy], path: `copies/${copy}` },
        { key: ['late', copy], path: `copies/${copy}/late-writing` },
      ],
    }
  if (learns)
    return path === '/'
      ? {
          sources: ['src/student/StudentDesk.tsx'],
          isDrawn: true,
          parts: [
            { key: ['mine'], path: 'copies' },
            { key: ['reading'], path: 'copies/reading' },
            ...(person.role === 'student' ? [{ key: ['sign-ups'], path: 'sign-ups' }] : []),
          ],
        }
      : { sources: [], parts: [] }
  const classes = { key: ['classes'], path: 'classes' }
  if (path === '/')
    return person.role === 'office'
      ? { sources: [TEACHERS, 'src/people/OfficePage.tsx'], parts: [classes] }
      : {
          sources: [TEACHERS, 'src/desk/TeacherDesk.tsx'],
          isDrawn: true,
          parts: [classes, { key: ['desk', 'needs'], path: 'desk/needs' }],
        }
  const board = BOARD.exec(path)
  if (board)
    return {
      sources: [TEACHERS, 'src/board/BoardPage.tsx'],
      isDrawn: true,
      parts: [
        classes,
        { key: ['class', board[1]], path: `classes/${board[1]}` },
        { key: ['board', board[2]], path: `handouts/${board[2]}/board` },
      ],
    }
  return { sources: [TEACHERS], parts: [classes] }
}

/** Serves the page of every place. */
export function firstPages(root: string, server: () => Server, drawings: Drawings): RequestHandler {
  const page = readFileSync(join(root, 'index.html'), 'utf8')
  const manifestFile = join(root, '.vite', 'manifest.json')
  const manifest = existsSync(manifestFile) ? (JSON.parse(readFileSync(manifestFile, 'utf8')) as Manifest) : {}
  return (request, response, next) => {
    // What is sent along is one person's.
    response.setHeader('Cache-Control', 'private, no-cache')
    response.type('html')
    first(request, server())
      .then(async ({ place, data, person }) => {
        // Whose it is, for what keeps it in their browser.
        if (person) response.setHeader('Gavrin-For', person.id)
        const whole = withData(withFonts(withFiles(page, filesOf(manifest, place.sources)), manifest, request), data)
        response.send(place.isDrawn ? await drawn(whole, data, drawings, request, response) : whole)
      })
      .catch(() => response.send(page))
      .catch(next)
  }
}

/** With its first picture in it, if that is there in time. */
async function drawn(
  page: string,
  data: string,
  drawings: Drawings,
  request: Request,
  response: Response,
): Promise<string> {
  const now = Date.now()
  const seen = cookieOf(request, 'gavrin.class')
  const html = await drawings.draw({
    path: request.path,
    first: data,
    cookies: seen && seen.length < 100 ? `gavrin.class=${encodeURIComponent(seen)}` : '',
    now,
    zone: zoneOf(request),
  })
  if (html === null || !allowStyles(response, html)) return page
  // What is seen first does not wait for what makes it work.
  const later = page
    .replaceAll('<link rel="modulepreload" ', '<link rel="modulepreload" fetchpriority="low" ')
    .replaceAll('<script type="module" ', '<script type="module" fetchpriority="low" ')
  return later.replace(ROOT, () => `<div id="root" data-drawn="${now}">${html}</div>`)
}

const ROOT = /<div id="root">.*?<\/div>/s

/** The zone that this browser was in the last time; null if it did not say, or nobody knows it. */
function zoneOf(request: Request): string | null {
  const zone = cookieOf(request, 'gavrin.zone')
  if (!zone || zone.length > 60 || !/^[A-Z]/i.test(zone)) return null
  try {
    return new Intl.DateTimeFormat('en', { timeZone: zone }).resolvedOptions().timeZone
  } catch {
    return null
  }
}

const ENTITIES: Readonly<Record<string, string>> = { quot: '"', amp: '&', lt: '<', gt: '>', '#x27': "'" }

/**
 * Allows just the styles that stand in what was drawn, by their digests: nothing else that comes into a page may style it.
 * @returns false if they are too many
 */
function allowStyles(response: Response, html: string): boolean {
  const styles = new Set([...html.matchAll(/ style="([^"]*)"/g)].map(([, style]) => style!))
  if (styles.size === 0) return true
  if (styles.size > MOST_STYLES) return false
  const digests = [...styles].map((style) => {
    const text = style.replace(/&(quot|amp|lt|gt|#x27);/g, (_all, name: string) => ENTITIES[name]!)
    return `'sha256-${createHash('sha256').update(text).digest('base64')}'`
  })
  const policy = String(response.getHeader('Content-Security-Policy') ?? '')
  response.setHeader('Content-Security-Policy', `${policy};style-src-attr 'unsafe-hashes' ${digests.join(' ')}`)
  return true
}

/** Each is fifty bytes of a header. */
const MOST_STYLES = 60

async function first(request: Request, server: Server): Promise<{ place: Place; data: string; person: Person | null }> {
  const ask = asking(request, server, Date.now() + PATIENCE)
  const session = await ask({ key: ['session'], path: 'session' })
  const person = (parsed(session) as { person?: Person | null } | undefined)?.person ?? null
  const place = placeOf(request.path, person)
  const found = await Promise.all(place.parts.map(ask))
  const more = await Promise.all(handoutsOfClasses(place, found).map(ask))
  const all = [session, ...found, ...more].flatMap((one) =>
    one ? [`{"key":${JSON.stringify(one.key)},"data":${one.text}}`] : [],
  )
  return { place, data: `[${all.join(',')}]`, person }
}

/** The lanes of a teacher's desk, a lane a class. */
function handoutsOfClasses({ sources }: Place, found: readonly (Found | null)[]): Part[] {
  if (!sources.includes('src/desk/TeacherDesk.tsx')) return []
  const classes = parsed(found.find((one) => one?.key[0] === 'classes')) as
    | { id: string; archived: boolean }[]
    | undefined
  return (classes ?? [])
    .filter(({ archived }) => !archived)
    .slice(0, CLASSES)
    .map(({ id }) => ({ key: ['class', id, 'handouts'], path: `classes/${id}/handouts` }))
}

interface Found {
  readonly key: readonly unknown[]
  /** The answer, as JSON. */
  readonly text: string
}

const parsed = (found: Found | null | undefined): unknown => (found ? JSON.parse(found.text) : undefined)

/** Asks our own API as the person who opens the page, by the same door as their browser: one place decides who sees what. */
function asking(request: Request, server: Server, end: number): (part: Part) => Promise<Found | null> {
  const { address, port } = server.address() as AddressInfo
  const host = address === '::' || address === '0.0.0.0' ? '127.0.0.1' : address
  const { cookie } = request.headers
  return ({ key, path }) =>
    new Promise((resolve) => {
      const asked = get({ host, port, path: `/api/${path}`, headers: cookie ? { cookie } : {} }, (answer) => {
        if (answer.statusCode !== 200) {
          answer.resume()
          return resolve(null)
        }
        const parts: Buffer[] = []
        answer.on('data', (part: Buffer) => parts.push(part))
        answer.on('end', () => resolve({ key, text: Buffer.concat(parts).toString('utf8') || 'null' }))
        answer.on('error', () => resolve(null))
      })
      asked.setTimeout(Math.max(1, end - Date.now()), () => asked.destroy())
      asked.on('error', () => resolve(null))
    })
}

/** All files of these parts of the application, with what they rest on. */
function filesOf(manifest: Manifest, sources: readonly string[]): { scripts: string[]; styles: string[] } {
  const scripts = new Set<string>()
  const styles = new Set<string>()
  const names = Object.keys(manifest)
  const add = (name: string) => {
    const key =
      name.startsWith('_') && !manifest[name]
        ? names.find((one) => one.startsWith(`${name}-`) && one.endsWith('.js'))
        : name
    const entry = manifest[key ?? name]
    if (!entry || scripts.has(entry.file)) return
    scripts.add(entry.file)
    for (const style of entry.css ?? []) styles.add(style)
    entry.imports?.forEach(add)
  }
  sources.forEach(add)
  return { scripts: [...scripts], styles: [...styles] }
}

function withFiles(
  page: string,
  { scripts, styles }: { scripts: readonly string[]; styles: readonly string[] },
): string {
  const links = [
    ...styles.map((file) => `<link rel="stylesheet" crossorigin href="/${file}">`),
    ...scripts.map((file) => `<link rel="modulepreload" crossorigin href="/${file}">`),
  ].filter((link) => !page.includes(link))
  return page.replace('</head>', () => `${links.join('')}</head>`)
}

/** The fonts that every page begins with; a browser that is known to have them sets them in from the first picture. */
const FONTS =
  /(atkinson-hyperlegible-next-latin-wght-normal|zilla-slab-latin-600-normal|zilla-slab-latin-700-normal)\.woff2$/

function withFonts(page: string, manifest: Manifest, request: Request): string {
  const files = Object.entries(manifest).flatMap(([source, { file }]) => (FONTS.test(source) ? [`/${file}`] : []))
  if (cookieOf(request, 'gavrin.fonts') !== 'here')
    return page.replace('</head>', () => `<meta name="fonts" content="${files.join(' ')}"></head>`)
  const links = files.map((file) => `<link rel="preload" as="font" type="font/woff2" crossorigin href="${file}">`)
  return page.replace('<html ', '<html class="own-fonts" ').replace('</head>', () => `${links.join('')}</head>`)
}

/** As data, that no browser runs: nothing in it can end the element it stands in. */
function withData(page: string, data: string): string {
  const json = data.replaceAll('<', '\\u003c')
  return page.replace('</body>', () => `<script type="application/json" id="first">${json}</script></body>`)
}
