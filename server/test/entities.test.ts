import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { DataSource } from 'typeorm'
import { dataSourceOptions } from '../dist/database/dataSource.js'
import { ENTITIES } from '../dist/entities.js'
import { newDatabase } from './support/school.js'

let source: DataSource

beforeAll(async () => {
  source = await new DataSource({ ...dataSourceOptions(await newDatabase(), 2), entities: ENTITIES }).initialize()
})
afterAll(() => source.destroy())

/** What the package that keeps tables of its own makes: the migrations that were run. */
const NOT_OURS = ['migrations']

test('every table of the database has an entity', async () => {
  const tables = await source.query<{ name: string }[]>(
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = 'public' ORDER BY table_name",
  )
  const told = source.entityMetadatas.map(({ tableName }) => tableName)
  expect([...told, ...NOT_OURS].sort()).toEqual(tables.map(({ name }) => name))
})

test('the migrated database and the entities agree: there is nothing to do', async () => {
  const { upQueries } = await source.driver.createSchemaBuilder().log()
  expect(upQueries.map(({ query }) => query)).toEqual([])
})

test('every column is there as its entity says, of the table of sessions too', async () => {
  const columns = await source.query<{ name: string; isNull: boolean }[]>(
    `SELECT table_name || '.' || column_name AS name, is_nullable = 'YES' AS "isNull" FROM information_schema.columns
      WHERE table_schema = 'public' AND table_name <> ALL ($1) ORDER BY 1`,
    [NOT_OURS],
  )
  const told = source.entityMetadatas.flatMap(({ tableName, columns: own }) =>
    own.map(({ databaseName, isNullable }) => ({ name: `${tableName}.${databaseName}`, isNull: isNullable })),
  )
  const byName = (rows: typeof columns) => [...rows].sort((one, other) => (one.name < other.name ? -1 : 1))
  expect(byName(told)).toEqual(byName(columns))
})

test('what is of a school is named within the school: its key begins with it', () => {
  const others = source.entityMetadatas.filter(({ primaryColumns }) => primaryColumns[0]?.databaseName !== 'school_id')
  expect(others.map(({ tableName }) => tableName).sort()).toEqual([
    // Before anybody is known to be of a school, and what the packages of sessions and of trying mail keep.
    'school',
    'session',
    'sign_in_failure',
    'stand_in_mail',
    'stranger_attempt',
  ])
})
