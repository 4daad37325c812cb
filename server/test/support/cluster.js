import { fork } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { openCluster } from '../../../scripts/lib/postgres.mjs'
import { migrate } from '../../dist/database/dataSource.js'

/** A process that opens applications; its address. */
function startHost() {
  const child = fork(fileURLToPath(new URL('appHost.js', import.meta.url)), { execArgv: [] })
  return new Promise((resolve, reject) => {
    child.once('message', ({ url }) => resolve({ child, url }))
    child.once('exit', (code) => reject(new Error(`the process of the applications ended with ${code}`)))
  })
}

/**
 * A PostgreSQL for the tests, with a template that every test file copies its own database from, and a process for each
 * worker that opens their applications.
 */
export default async function clusterUp({ maxWorkers }) {
  const hosts = Promise.all(Array.from({ length: maxWorkers }, startHost))
  const cluster = await openCluster('test', {
    // A crash of this server would lose a test's data and nothing else.
    settings: { fsync: 'off', synchronous_commit: 'off', full_page_writes: 'off' },
  })
  for (const { name } of JSON.parse(
    cluster.psql(
      'postgres',
      "SELECT coalesce(json_agg(json_build_object('name', datname)), '[]') FROM pg_database WHERE datname LIKE 'gavrin_test%'",
    ).text,
  ))
    cluster.psql('postgres', `DROP DATABASE "${name}" WITH (FORCE)`)
  cluster.createDatabase('gavrin_test_template')
  await migrate(cluster.url('gavrin_test_template'))
  const opened = await hosts
  process.env.GAVRIN_TEST_DATABASES = cluster.url('')
  process.env.GAVRIN_TEST_HOSTS = opened.map(({ url }) => url).join(' ')
  globalThis.gavrinTest = { cluster, hosts: opened.map(({ child }) => child) }
}
