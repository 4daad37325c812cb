import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import 'reflect-metadata'
import { firstValueFrom, of } from 'rxjs'
import request from 'supertest'
import { ContractHeld } from './support/contractHeld.js'
import { TestSchool } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())

interface Operation {
  readonly responses: Record<string, { content?: Record<string, { schema?: object }> }>
}

/** Every operation of the description of the API, as `GET /api/…`. */
async function described(): Promise<{ operations: Map<string, Operation>; schemas: Record<string, object> }> {
  const { body } = await request(school.url).get('/api/openapi.json').expect(200)
  const { paths, components } = body as {
    paths: Record<string, Record<string, Operation>>
    components: { schemas: Record<string, object> }
  }
  return {
    operations: new Map(
      Object.entries(paths).flatMap(([path, ways]) =>
        Object.entries(ways).map(([way, operation]): [string, Operation] => [
          `${way.toUpperCase()} ${path}`,
          operation,
        ]),
      ),
    ),
    schemas: components.schemas,
  }
}

test('every route says what it answers, and what when it refuses', async () => {
  const { operations } = await described()
  expect(operations.size).toBeGreaterThan(120)
  const silent = [...operations].filter(([, { responses }]) => {
    const success = Object.entries(responses).find(([status]) => status.startsWith('2'))
    const content = Object.values(success?.[1].content ?? {})
    return (
      !success || content.some(({ schema }) => !schema) || !responses['default']?.content?.['application/problem+json']
    )
  })
  expect(silent.map(([name]) => name)).toEqual([])
})

test('only files and what is done without an answer have no JSON', async () => {
  const { operations } = await described()
  const without = [...operations].filter(
    ([, { responses }]) => !Object.values(responses).some(({ content }) => content?.['application/json']),
  )
  const files = without.filter(([, { responses }]) =>
    Object.values(responses).some(({ content }) => content?.['application/octet-stream']),
  )
  expect(files.map(([name]) => name).sort()).toEqual([
    'GET /api/bring-in/{bringInId}/file',
    'GET /api/bring-in/{bringInId}/media/{mediumId}',
    'GET /api/bring-in/{bringInId}/photos/{pictureId}',
    'GET /api/calendar/{file}',
    'GET /api/copies/{copyId}/files/{fileId}',
    'GET /api/copies/{copyId}/history/log',
    'GET /api/copies/{copyId}/media/{mediumId}',
    // JSON, but as it was put by: the further rows of a list.
    'GET /api/lists/{listId}/tables/{table}/pages/{page}',
    'GET /api/saved-copies/{savedId}/file',
    'GET /api/worksheets/{worksheetId}/media/{mediumId}',
    'POST /api/classes/{classId}/mark-book/out/{format}',
    'POST /api/classes/{classId}/overview/out/{format}',
    'POST /api/classes/{classId}/roster/out/{format}',
    'POST /api/copies/{copyId}/out/{format}',
    'POST /api/handouts/{handoutId}/board/out/{format}',
    'POST /api/rubrics/out/{format}',
    'POST /api/worksheets/{worksheetId}/out/{format}',
  ])
  expect(without.filter(([name]) => name.startsWith('GET ')).length).toBe(10)
})

test('a schema is only pointed to if it is there', async () => {
  const { operations, schemas } = await described()
  const pointed = [...JSON.stringify([...operations, schemas]).matchAll(/"#\/components\/schemas\/([^"]+)"/g)]
  expect(pointed.length).toBeGreaterThan(100)
  expect(pointed.filter(([, name]) => !schemas[name!])).toEqual([])
})

describe('holding answers against the contract', () => {
  /** What comes of an answer of the list of classes, or of another route. */
  const held = (answer: unknown, path = 'classes') => {
    class Controller {}
    const handler = () => undefined
    Reflect.defineMetadata('path', path, Controller)
    Reflect.defineMetadata('path', '/', handler)
    Reflect.defineMetadata('method', 0, handler)
    const context = { getHandler: () => handler, getClass: () => Controller }
    return firstValueFrom(new ContractHeld().intercept(context, { handle: () => of(answer) }))
  }
  const named = { id: 'k', name: '8 Heron', subject: 'Geography', year: '2026/27', ink: 'plum' }
  const whole = { ...named, role: 'lead', archived: false, students: 28 }

  test('what is as its type says goes through', async () => {
    await expect(held([whole])).resolves.toEqual([whole])
  })

  test.each<[string, object]>([
    ['a field is missing', named],
    ['a field is of another type', { ...whole, students: '28' }],
    ['a field is one that no type speaks of', { ...whole, schoolId: 's' }],
    ['a time is no number', { ...whole, archived: new Date(0) }],
  ])('%s: an error', async (_, row) => {
    await expect(held([row])).rejects.toThrow('get classes answers against the contract')
  })

  test('a route that the contract does not know is an error too', () => {
    expect(() => held([], 'nowhere')).toThrow('get nowhere is not in the contract.')
  })
})
