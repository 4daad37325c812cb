import { spawn } from 'node:child_process'
import { existsSync } from 'node:fs'
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { ProblemException } from '../../common/problemDetails.js'

const PRINTERS = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome']
const DEADLINE = 60_000
const WAITING = 12

let last: Promise<unknown> = Promise.resolve()
let waiting = 0

/** Prints a page of ours as a PDF, with the browser that is installed beside the server; one page at a time. */
export async function printPdf(html: string): Promise<Uint8Array> {
  const program = PRINTERS.find((path) => existsSync(path))
  if (!program)
    throw new ProblemException(
      503,
      'no-printer',
      'This server has no program to make PDFs with: use Print and save as PDF there, or ask whoever runs it to install Chromium.',
    )
  if (waiting >= WAITING)
    throw new ProblemException(503, 'busy', 'Many PDFs are being made at the moment: try again in a minute.')
  waiting++
  const mine = last.then(() => print(program, html))
  last = mine.catch(() => undefined)
  try {
    return await mine
  } finally {
    waiting--
  }
}

async function print(program: string, html: string): Promise<Uint8Array> {
  const folder = await mkdtemp(join(tmpdir(), 'gavrin-print-'))
  try {
    const page = join(folder, 'page.html')
    const out = join(folder, 'page.pdf')
    await writeFile(page, html)
    const isDone = await run(program, [
      '--headless',
      // The page is ours; its own policy lets no script run and nothing be fetched; without a sandbox it runs as root in a container too.
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--host-resolver-rules=MAP * ~NOTFOUND',
      `--user-data-dir=${join(folder, 'profile')}`,
      '--no-pdf-header-footer',
      `--print-to-pdf=${out}`,
      pathToFileURL(page).href,
    ])
    if (!isDone || !existsSync(out))
      throw new ProblemException(503, 'print-failed', 'The PDF could not be made this time: try again in a moment.')
    return new Uint8Array(await readFile(out))
  } finally {
    await rm(folder, { recursive: true, force: true, maxRetries: 3 })
  }
}

function run(program: string, args: readonly string[]): Promise<boolean> {
  return new Promise((resolve) => {
    const child = spawn(program, args, { stdio: 'ignore', detached: true })
    const timer = setTimeout(() => {
      // With all that it started.
      if (child.pid) process.kill(-child.pid, 'SIGKILL')
    }, DEADLINE)
    child.once('error', () => {
      clearTimeout(timer)
      resolve(false)
    })
    child.once('exit', (code) => {
      clearTimeout(timer)
      resolve(code === 0)
    })
  })
}
