import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { DataSource } from 'typeorm'
import { dataSourceOptions } from '../dist/database/dataSource.js'
import { ENTITIES } from '../dist/entities.js'
import { ClassLooks } from '../dist/handOut/classLooks.js'
import { newDatabase } from './support/school.js'

let source: DataSource
beforeAll(async () => {
  source = await new DataSource({ ...dataSourceOptions(await newDatabase(), 4), entities: ENTITIES }).initialize()
})
afterAll(() => source.destroy())

test('a class is looked at until the look is done, whatever goes wrong meanwhile', async () => {
  const [schoolId, classId] = [randomUUID(), randomUUID()]
  const put = () => source.query('INSERT INTO class_look (school_id, class_id) VALUES ($1, $2)', [schoolId, classId])
  const left = () => source.query<unknown[]>('SELECT 1 FROM class_look')
  let seen = 0
  const outcomes: (() => Promise<boolean>)[] = [
    () => Promise.reject(Object.assign(new Error('away'), { code: '57P01' })),
    // A hand-out runs at the moment.
    () => Promise.resolve(false),
    // Wished again while it is looked at.
    () => source.query(`UPDATE class_look SET number = nextval('class_look_number')`).then(() => true),
  ]
  const looks = new ClassLooks(source, () => {
    seen++
    return outcomes.shift()?.() ?? Promise.resolve(true)
  })
  try {
    await put()
    await looks.start()
    while ((await left()).length > 0) await new Promise((resolve) => setImmediate(resolve))
    expect(seen).toBe(4)
  } finally {
    await looks.stop()
  }
})

test('what is told while the database is away is put down once it is back', async () => {
  const [schoolId, classId] = [randomUUID(), randomUUID()]
  let away = 2
  const asked = {
    query: (sql: string, values: unknown[]) =>
      away-- > 0
        ? Promise.reject(Object.assign(new Error('away'), { code: '57P01' }))
        : source.query<unknown>(sql, values),
  } as unknown as DataSource
  let looks!: ClassLooks
  const looked = new Promise<string[]>((resolve) => {
    looks = new ClassLooks(asked, (...of) => {
      resolve(of)
      return Promise.resolve(true)
    })
  })
  looks.tell(schoolId, classId)
  try {
    expect(await looked).toEqual([schoolId, classId])
  } finally {
    await looks.stop()
  }
})
