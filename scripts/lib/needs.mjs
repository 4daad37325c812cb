import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { CHROMIUM } from './chromium.mjs'
import { ROOT, Stop, ask, run, say } from './run.mjs'

/** Installs the npm packages if they are missing or the lock file has changed since. */
export function needPackages() {
  const mark = join(ROOT, 'node_modules', '.gavrin-lock')
  const lock = readFileSync(join(ROOT, 'package-lock.json'), 'utf8')
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return
  say('installing the npm packages (npm ci) ...')
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'])
  writeFileSync(mark, lock)
}

let listsFresh = false

/** Installs a Debian package. */
function installDebian(name) {
  const root = process.getuid?.() === 0
  const sudo = !root && ask('sudo', ['-n', 'true']).ok
  if (!ask('apt-get', ['--version']).ok || (!root && !sudo))
    throw new Stop(
      `${name} is missing and cannot be installed from here: run "apt-get install ${name}" as root, then try again.`,
    )
  const apt = (args) =>
    run(root ? 'apt-get' : 'sudo', root ? args : ['apt-get', ...args], {
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
      stdio: ['ignore', 'ignore', 'inherit'],
    })
  if (!listsFresh) apt(['update', '-qq'])
  listsFresh = true
  say(`installing Debian's ${name} ...`)
  apt(['install', '-y', '-qq', '--no-install-recommends', name])
}

/** The folder of PostgreSQL's programs, the newest if there are several. */
export function needPostgres() {
  const find = () => {
    const home = '/usr/lib/postgresql'
    const versions = existsSync(home) ? readdirSync(home) : []
    const best = versions.filter((version) => existsSync(join(home, version, 'bin', 'initdb'))).sort((a, b) => b - a)[0]
    return best ? join(home, best, 'bin') : null
  }
  if (!find()) installDebian('postgresql')
  const found = find()
  if (!found) throw new Stop('PostgreSQL was installed but its programs were not found under /usr/lib/postgresql.')
  return found
}

/** The path of Chromium. */
export function needChromium() {
  const path = CHROMIUM.executablePath
  if (!existsSync(path)) installDebian('chromium')
  if (!existsSync(path)) throw new Stop('Chromium was installed but was not found at its usual place.')
  return path
}
