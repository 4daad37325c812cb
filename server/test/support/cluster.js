import { openCluster } from '../../../scripts/lib/postgres.mjs'
import { migrate } from '../../dist/database/dataSource.js'

/** A PostgreSQL for the tests, with a template that every test file copies its own database from. */
export default async function clusterUp() {
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
  process.env.GAVRIN_TEST_DATABASES = cluster.url('')
  globalThis.gavrinTestCluster = cluster
}
