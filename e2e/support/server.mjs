import { spawn } from 'node:child_process'
import { ROOT } from '../../scripts/lib/run.mjs'
import { freePort, openCluster } from '../../scripts/lib/postgres.mjs'

/** Starts the application with the demo school on a database of its own; what stops it, and its address. */
export async function startApplication(name) {
  const cluster = await openCluster(name, {
    fresh: true,
    settings: { fsync: 'off', synchronous_commit: 'off', full_page_writes: 'off' },
  })
  cluster.createDatabase('gavrin')
  const port = await freePort()
  const child = spawn(process.execPath, ['--enable-source-maps', 'server/dist/main.js'], {
    cwd: ROOT,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      // The zone of the demo's school.
      TZ: 'Europe/Lisbon',
      GAVRIN_MODE: 'demo',
      PORT: String(port),
      DATABASE_URL: cluster.url('gavrin'),
      SESSION_SECRET: 'a secret of the browser tests, long enough',
    },
  })
  await new Promise((resolve, reject) => {
    child.stdout.on('data', (data) => String(data).includes('listens on') && resolve())
    child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)))
  })
  return {
    url: `http://127.0.0.1:${port}`,
    async stop() {
      const ended = new Promise((resolve) => child.once('exit', resolve))
      child.kill('SIGTERM')
      await ended
      cluster.stop('immediate')
    },
  }
}
