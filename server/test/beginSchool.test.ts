import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import request from 'supertest'
import { DataSource } from 'typeorm'
import { beginSchool } from '../dist/beginSchool.js'
import { dataSourceOptions } from '../dist/database/dataSource.js'
import { ENTITIES } from '../dist/entities.js'
import { TestSchool } from './support/school.js'

const NEW_PASSWORD = 'another password of the tests'

let school: TestSchool
let source: DataSource
beforeAll(async () => {
  school = await TestSchool.open()
  source = await new DataSource({ ...dataSourceOptions(school.databaseUrl, 1), entities: ENTITIES }).initialize()
})
afterAll(async () => {
  await source.destroy()
  await school.close()
})

test('a new school begins with the first person of its office, who chooses a password by a link', async () => {
  const email = `first.${randomUUID().slice(0, 6)}@fennickquay.example`
  const entry = {
    school: 'Skerry Lane School',
    timeZone: 'Atlantic/Azores',
    locale: 'pt-PT',
    first: 'Rui',
    last: '',
    email,
  }
  const token = await beginSchool(source, entry)
  const http = request.agent(school.url)
  await http.post('/api/account/password-by-link').send({ token, password: NEW_PASSWORD }).expect(204)
  expect((await http.get('/api/office/people').expect(200)).body).toMatchObject({
    people: [{ first: 'Rui', role: 'office' }],
    total: 1,
    everybody: 1,
  })
  for (const [wrong, sentence] of [
    [{ email: 'nobody' }, 'not an e-mail'],
    [{ timeZone: 'Quay/Side' }, 'no time zone'],
    [{ school: ' ' }, 'Give the school a name'],
  ] as const)
    await expect(beginSchool(source, { ...entry, ...wrong })).rejects.toThrow(sentence)
})
