import { createHash } from 'node:crypto'
import { existsSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { contract } from './contract.mjs'
import { ROOT, Stop, main, run, runKeeping, say } from './lib/run.mjs'

const SOURCES = [
  'core/src',
  'scripts/contract.mjs',
  'server/src',
  'web/src',
  'web/index.html',
  'web/vite.config.ts',
  'web/vite.drawn.config.ts',
  'web/deliver.ts',
  'web/recognitionFiles.ts',
  'package-lock.json',
  'tsconfig.base.json',
]

function* files(path) {
  if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) yield* files(join(path, name))
  else yield path
}

/** A digest of all that goes into the build. */
function digest() {
  const hash = createHash('sha256')
  for (const source of SOURCES)
    for (const file of files(join(ROOT, source))) hash.update(file.slice(ROOT.length)).update(readFileSync(file))
  return hash.digest('hex')
}

/** Builds the core, the server and the web application, unless nothing has changed since. */
export async function build() {
  const mark = join(ROOT, 'node_modules', '.gavrin-build')
  const now = digest()
  const made = [
    'core/dist/index.js',
    'server/dist/main.js',
    'server/dist/contract.json',
    'web/dist/index.html',
    'web/drawn/drawFirst.js',
  ].every((file) => existsSync(join(ROOT, file)))
  if (made && existsSync(mark) && readFileSync(mark, 'utf8') === now) return
  say('building ...')
  for (const part of ['core', 'server']) {
    rmSync(join(ROOT, part, 'dist'), { recursive: true, force: true })
    rmSync(join(ROOT, part, 'tsconfig.tsbuildinfo'), { force: true })
  }
  run(process.execPath, ['node_modules/typescript7/bin/tsc', '-b', 'server'])
  // The browser's part needs nothing of the contract but types.
  const vite = ['node_modules/vite/bin/vite.js', 'build', 'web', '--logLevel', 'warn']
  const [{ ok }] = await Promise.all([runKeeping(process.execPath, vite), contract()])
  if (!ok) throw new Stop('The web application could not be built.')
  run(process.execPath, [
    'node_modules/vite/bin/vite.js',
    'build',
    'web',
    '--config',
    'web/vite.drawn.config.ts',
    '--logLevel',
    'warn',
  ])
  writeFileSync(mark, now)
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) await main(build)
