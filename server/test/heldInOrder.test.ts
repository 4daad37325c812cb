import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { DataSource } from 'typeorm'
import { dataSourceOptions } from '../dist/database/dataSource.js'
import { ENTITIES } from '../dist/entities.js'
import { writeProgress } from '../dist/live/live.queries.js'
import { movePens } from '../dist/pens/pens.queries.js'
import { markingIn } from './support/marked.js'
import { TestSchool } from './support/school.js'

// Whoever changes several copies in one statement takes them by id, one after the other. Else two who do, each with what the other
// waits for, wait for ever, and the database turns one of them away.

let school: TestSchool
let source: DataSource
beforeAll(async () => {
  school = await TestSchool.open()
  source = await new DataSource({ ...dataSourceOptions(school.databaseUrl, 3), entities: ENTITIES }).initialize()
})
afterAll(async () => {
  await source.destroy()
  await school.close()
})
const { handed } = markingIn(() => school)

/** What changes two copies that are named in the wrong order, and words of its statement. */
const CHANGES = [
  {
    what: 'progress',
    words: 'progress = r.progress',
    change: (ids: readonly string[]) =>
      writeProgress(source, {
        schoolIds: ids.map(() => school.schoolId),
        ids,
        progress: ids.map(() => '{}'),
        answered: ids.map(() => 0),
        words: ids.map(() => 0),
        ats: ids.map(() => new Date()),
        editions: ids.map(() => 1),
      }),
  },
  {
    what: 'pens',
    words: 'pens_down = m.down',
    change: (ids: readonly string[]) =>
      movePens(
        source,
        school.schoolId,
        ids.map((copyId) => ({ copyId, before: { down: false, from: null }, after: { down: true, from: null } })),
        { personId: null as unknown as string, at: Date.now() },
      ),
  },
]

test.each(CHANGES)(
  '$what of copies waits for the first of them and holds none that comes later',
  async ({ words, change }) => {
    const { id: handoutId } = await handed(8)
    // The later one is named first and stands first in the table, however the database goes through them.
    const rows = await source.query<{ id: string }[]>('SELECT id FROM copy WHERE handout_id = $1 ORDER BY ctid', [
      handoutId,
    ])
    const ids = rows.map(({ id }) => id)
    const at = ids.findIndex((id, place) => place < ids.length - 1 && id > ids[place + 1]!)
    const [second, first] = [ids[at]!, ids[at + 1]!]
    const hold = (id: string, how = '') => `SELECT 1 FROM copy WHERE id = '${id}' FOR NO KEY UPDATE ${how}`
    const other = source.createQueryRunner()
    await other.startTransaction()
    try {
      await other.query(hold(first))
      const changing = change([second, first])
      const waiting = `SELECT 1 FROM pg_stat_activity WHERE wait_event_type = 'Lock' AND query LIKE '%${words}%' AND pid <> pg_backend_pid()`
      while ((await source.query<object[]>(waiting)).length === 0);
      await other.query(hold(second, 'NOWAIT'))
      await other.commitTransaction()
      expect(await changing).toBe(2)
    } finally {
      if (other.isTransactionActive) await other.rollbackTransaction()
      await other.release()
    }
  },
)
