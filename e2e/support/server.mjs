import { spawn } from 'node:child_process'
import { ROOT } from '../../scripts/lib/run.mjs'
import { freePort, openCluster } from '../../scripts/lib/postgres.mjs'

/** The data folder of the demo school that the application of each worker begins with. */
const SCHOOL = 'e2e-school'

/** Loads the demo school once, for all workers of a run: it takes half a minute of a busy machine. */
export async function makeSchool() {
  const application = await startApplication(SCHOOL)
  await application.stop('fast')
}

/** Starts the application on a copy of the school that was made. */
export const startOnSchool = (name) => startApplication(name, SCHOOL)

/**
 * Starts the application with the demo school on a database of its own; what stops it, and its address.
 * @param from the name of a folder whose database it begins with a copy of; otherwise the school is loaded
 */
export async function startApplication(name, from = null) {
  const cluster = await openCluster(name, {
    fresh: true,
    from,
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
    databaseUrl: cluster.url('gavrin'),
    async stop(how = 'immediate') {
      const ended = new Promise((resolve) => child.once('exit', resolve))
      child.kill('SIGTERM')
      await ended
      cluster.stop(how)
    },
  }
}
