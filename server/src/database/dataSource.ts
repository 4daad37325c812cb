import { DataSource, type DataSourceOptions } from 'typeorm'
import { Person } from '../account/person.entity.js'
import { School } from '../account/school.entity.js'
import { HandOutRun, Handout } from '../handout/handout.entity.js'
import { Class, ClassMember } from '../roster/class.entity.js'
import { Edition, Worksheet } from '../worksheet/worksheet.entity.js'
import { FirstLight1764000000000 } from './migrations/1764000000000-FirstLight.js'

export const ENTITIES = [School, Person, Class, ClassMember, Worksheet, Edition, Handout, HandOutRun]

/** Copies, their journal and what is written in them are reached by set-based SQL only, so they have no entity. */
export function dataSourceOptions(url: string, poolSize: number): DataSourceOptions {
  return {
    type: 'postgres',
    url,
    entities: ENTITIES,
    migrations: [FirstLight1764000000000],
    synchronize: false,
    migrationsTransactionMode: 'all',
    poolSize,
    // A database that is away is said to be away within seconds, not when the browser gives up.
    extra: {
      connectionTimeoutMillis: 3_000,
      statement_timeout: 30_000,
      idle_in_transaction_session_timeout: 60_000,
    },
    poolErrorHandler: () => undefined,
  }
}

/** Brings a database to the newest form; safe to run from several processes at once. */
export async function migrate(url: string): Promise<string[]> {
  const source = await new DataSource(dataSourceOptions(url, 1)).initialize()
  try {
    await source.query('SELECT pg_advisory_lock(7341001)')
    return (await source.runMigrations()).map(({ name }) => name)
  } finally {
    await source.destroy()
  }
}
