import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { CHROMIUM } from './lib/chromium.mjs'
import { needChromium, needPackages } from './lib/needs.mjs'
import { openCluster } from './lib/postgres.mjs'
import { ROOT, Stop, main, run } from './lib/run.mjs'

const BENCHES = [
  'handout',
  'live',
  'board',
  'history',
  'together',
  'roster',
  'likeness',
  'marking',
  'markingPage',
  'worksheet',
  'recognise',
  'web',
]

await main(async () => {
  const name = process.argv[2]
  if (!BENCHES.includes(name))
    throw new Stop(`say which: ${BENCHES.map((bench) => `"npm run bench -- ${bench}"`).join(' or ')}.`)
  needPackages()
  const { build } = await import('./build.mjs')
  await build()
  run(process.execPath, ['node_modules/typescript7/bin/tsc', '-b', 'bench'])
  if (['recognise', 'likeness', 'worksheet', 'web', 'history', 'together', 'markingPage'].includes(name)) {
    const script = join(ROOT, 'bench', 'dist', `${name}.js`)
    if (name === 'recognise' || name === 'likeness') return run(process.execPath, ['--no-warnings', script])
    needChromium()
    const { startApplication } = await import('../e2e/support/server.mjs')
    const application = await startApplication(`bench-${name}`)
    try {
      const { url, databaseUrl } = application
      const env = { ...process.env, GAVRIN_URL: url, DATABASE_URL: databaseUrl, CHROMIUM: JSON.stringify(CHROMIUM) }
      run(process.execPath, ['--no-warnings', script], { env })
    } finally {
      await application.stop()
    }
    return
  }
  if (['marking', 'board'].includes(name)) needChromium()
  // As in a school: what is said to be saved is on the disk.
  const cluster = await openCluster('bench', { fresh: true })
  try {
    cluster.createDatabase('gavrin')
    const { migrate } = await import('../server/dist/database/dataSource.js')
    await migrate(cluster.url('gavrin'))
    const script = join(ROOT, 'bench', 'dist', `${name}.js`)
    if (!existsSync(script)) throw new Stop(`${script} was not built.`)
    run(process.execPath, ['--no-warnings', script], {
      env: { ...process.env, DATABASE_URL: cluster.url('gavrin'), CHROMIUM: JSON.stringify(CHROMIUM) },
    })
  } finally {
    cluster.stop('fast')
  }
})
