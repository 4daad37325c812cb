import { spawn } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ROOT, Stop, main, say } from './lib/run.mjs'
import { needPackages } from './lib/needs.mjs'
import { openCluster } from './lib/postgres.mjs'

/** Signed cookies stay good from one start to the next. */
function sessionSecret() {
  const file = join(ROOT, '.data', 'session-secret')
  mkdirSync(join(ROOT, '.data'), { recursive: true })
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 })
  return readFileSync(file, 'utf8')
}

await main(async () => {
  const fresh = process.argv.includes('--fresh')
  const port = Number(process.env.PORT ?? 4180)
  if (!Number.isInteger(port) || port < 0 || port > 65535) throw new Stop('PORT must be a number from 0 to 65535.')
  needPackages()
  const { build } = await import('./build.mjs')
  await build()
  say(fresh ? 'starting PostgreSQL with an empty data folder ...' : 'starting PostgreSQL ...')
  const cluster = await openCluster('demo', { fresh })
  cluster.createDatabase('gavrin')

  const server = spawn(process.execPath, ['--enable-source-maps', 'server/dist/main.js'], {
    cwd: ROOT,
    // A group of its own: Ctrl-C reaches this script, which stops things in order.
    detached: true,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      NODE_ENV: 'production',
      GAVRIN_MODE: 'demo',
      PORT: String(port),
      DATABASE_URL: cluster.url('gavrin'),
      SESSION_SECRET: sessionSecret(),
    },
  })
  let stopping = false
  const stop = () => {
    if (stopping) return
    stopping = true
    say('stopping ...')
    server.kill('SIGTERM')
    setTimeout(() => server.kill('SIGKILL'), 8_000).unref()
  }
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, stop)

  let told = false
  server.stdout.on('data', (data) => {
    const text = String(data)
    const address = /listens on (http\S+)/.exec(text)?.[1]
    if (!address) return void process.stdout.write(text)
    if (told) return
    told = true
    say(`open ${address.replace('[::1]', '127.0.0.1')}`)
    say('teachers   okonjo@fennickquay.example (8 Heron, 8 Tern), sandvik@fennickquay.example (7 Dunlin)')
    say(
      'students   chidi.abara@fennickquay.example, zofia.dabrowska@fennickquay.example and all others, by name on the sign-in page',
    )
    say('password   harbour-wall-26')
    say('Ctrl-C stops it and keeps the data.')
  })
  const code = await new Promise((resolve) => server.on('close', resolve))
  if (cluster.started) cluster.stop('fast')
  if (!stopping && code !== 0)
    throw new Stop(`the server ended by itself; is port ${port} taken? "PORT=4181 npm run demo" uses another.`)
  say('stopped.')
})
