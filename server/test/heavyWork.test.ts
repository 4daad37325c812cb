import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { strToU8, zipSync } from 'fflate'
import sharp from 'sharp'
import { Turns } from '../dist/common/turns.js'
import { type TestPerson, TestSchool } from './support/school.js'

// What costs much is done in turns and within limits, whoever sends it; what cannot be read is said, never "broken".

let school: TestSchool
let teacher: TestPerson
beforeAll(async () => {
  school = await TestSchool.open()
  teacher = await school.person('teacher', 'Heavy')
})
afterAll(() => school.close())

const upload = (path: string, bytes: Uint8Array) =>
  teacher.http.post(path).set('content-type', 'application/octet-stream').send(Buffer.from(bytes))
const json = (path: string, body: string, method: 'post' | 'put' = 'post') =>
  teacher.http[method](path).set('content-type', 'application/json').send(body)

describe('turns', () => {
  const who = (personId: string, schoolId = 'school') => ({ schoolId, personId })
  /** Work that ends when it is told to. */
  function works(turns: Turns) {
    const order: string[] = []
    const ends: (() => void)[] = []
    return {
      order,
      put: (name: string, of: ReturnType<typeof who>) =>
        turns.take(of, async () => {
          order.push(name)
          await new Promise<void>((resolve) => ends.push(resolve))
        }),
      endOne: async () => {
        await new Promise((resolve) => setImmediate(resolve))
        ends.shift()!()
      },
    }
  }

  test('who had theirs longest ago is next, first by school, whatever one person puts in the line', async () => {
    const { order, put, endOne } = works(new Turns({ atOnce: 1, ofPerson: 10, inAll: 100 }))
    const all = [
      ...['a1', 'a2', 'a3', 'a4'].map((name) => put(name, who('ada'))),
      put('b1', who('bo')),
      put('c1', who('cy', 'other')),
    ]
    for (let more = 0; more < 6; more++) await endOne()
    await Promise.all(all)
    expect(order).toEqual(['a1', 'c1', 'b1', 'a2', 'a3', 'a4'])
  })

  test('one person never takes all places at once; who has too much waiting is told to come again', async () => {
    const { order, put, endOne } = works(new Turns({ atOnce: 2, ofPerson: 2, inAll: 100 }))
    const all = ['a1', 'a2', 'a3'].map((name) => put(name, who('ada')))
    await expect(put('a4', who('ada'))).rejects.toMatchObject({
      code: 'wait-your-turn',
      more: { retryAfter: expect.any(Number) as unknown },
    })
    all.push(put('b1', who('bo')))
    await new Promise((resolve) => setImmediate(resolve))
    expect(order).toEqual(['a1', 'b1'])
    for (let more = 0; more < 4; more++) await endOne()
    await Promise.all(all)
    expect(order).toEqual(['a1', 'b1', 'a2', 'a3'])
  })

  test('work that fails gives its place back', async () => {
    const turns = new Turns({ atOnce: 1, ofPerson: 5, inAll: 5 })
    await expect(turns.take(who('ada'), () => Promise.reject(new Error('no')))).rejects.toThrow('no')
    expect(await turns.take(who('bo'), () => Promise.resolve(1))).toBe(1)
  })
})

describe('pictures', () => {
  test('have a limit of pixels by what they are; those that wait are all answered, each its own', async () => {
    const { id } = await school.worksheet(teacher)
    const large = await sharp({ create: { width: 8_000, height: 5_200, channels: 3, background: '#fff' } })
      .png({ compressionLevel: 9 })
      .toBuffer()
    expect((await upload(`/api/worksheets/${id}/media`, large).expect(422)).body).toMatchObject({
      errors: [{ code: 'picture-too-large', sentence: expect.stringContaining('40 megapixels') as unknown }],
    })
    const made = await Promise.all(
      Array.from({ length: 6 }, async (_, at) => {
        const bytes = await sharp({ create: { width: 100 + at, height: 50, channels: 3, background: '#234' } })
          .png()
          .toBuffer()
        return (await upload(`/api/worksheets/${id}/media`, bytes).expect(201)).body as { width: number }
      }),
    )
    expect(made.map(({ width }) => width)).toEqual([100, 101, 102, 103, 104, 105])
  })
})

describe('lists', () => {
  const ods = (table: string) =>
    zipSync({
      mimetype: strToU8('application/vnd.oasis.opendocument.spreadsheet'),
      'content.xml': strToU8(
        `<office:document-content xmlns:office="o" xmlns:table="t" xmlns:text="x"><office:body><office:spreadsheet><table:table table:name="A">${table}</table:table></office:spreadsheet></office:body></office:document-content>`,
      ),
    })

  test('a few bytes that stand for a milliard cells are refused', async () => {
    const bytes = ods(
      '<table:table-row table:number-rows-repeated="1000000"><table:table-cell table:number-columns-repeated="1000"><text:p>x</text:p></table:table-cell></table:table-row>',
    )
    expect(bytes.length).toBeLessThan(700)
    expect((await upload('/api/lists/read', bytes).expect(422)).body).toMatchObject({
      errors: [{ code: 'file-too-much' }],
    })
  })

  test('a long list is answered by pages, to whoever brought it in alone', async () => {
    const bytes = ods(
      Array.from(
        { length: 4_500 },
        (_, at) => `<table:table-row><table:table-cell><text:p>row ${at}</text:p></table:table-cell></table:table-row>`,
      ).join(''),
    )
    const { body } = await upload('/api/lists/read', bytes).expect(200)
    const answer = body as { id: string; tables: { rows: string[][]; count: number }[] }
    expect(answer.tables[0]!.count).toBe(4_500)
    const rows = [...answer.tables[0]!.rows]
    expect(rows).toHaveLength(2_000)
    for (const page of [1, 2])
      rows.push(
        ...((await teacher.http.get(`/api/lists/${answer.id}/tables/0/pages/${page}`).expect(200)).body as string[][]),
      )
    expect(rows).toEqual(Array.from({ length: 4_500 }, (_, at) => [`row ${at}`]))
    await teacher.http.get(`/api/lists/${answer.id}/tables/0/pages/3`).expect(404)
    const other = await school.person('teacher', 'Other')
    await other.http.get(`/api/lists/${answer.id}/tables/0/pages/1`).expect(404)
  })
})

describe('what cannot be read is said', () => {
  const nested = (depth: number) => `${'['.repeat(depth)}${']'.repeat(depth)}`

  test('JSON nested without end', async () => {
    expect((await json('/api/classes', `{"name":${nested(100_000)}}`).expect(400)).body).toMatchObject({
      code: 'not-understood',
    })
    // Brackets in a text are none.
    await json('/api/session', JSON.stringify({ email: '['.repeat(150), password: 'x' })).expect(401)
  })

  test('a draft with lists nested 700 deep', async () => {
    const { id } = await school.worksheet(teacher)
    let rich: object = { type: 'paragraph', content: [{ type: 'text', text: 'x' }] }
    for (let depth = 0; depth < 700; depth++)
      rich = { type: 'bulletList', content: [{ type: 'listItem', content: [rich] }] }
    const content = { version: 2, page: 'A4', source: '', blocks: [{ id: 'a', kind: 'text', rich }] }
    const { status, body } = await json(
      `/api/worksheets/${id}`,
      JSON.stringify({ title: 'x', content, version: 1 }),
      'put',
    )
    expect([400, 422]).toContain(status)
    expect(body).toMatchObject({ detail: expect.any(String) as unknown })
  })

  test.each(['/api/session', '/api/account/forgotten'])('a NUL in the e-mail of %s', async (path) => {
    const { status } = await teacher.http.post(path).send({ email: 'a\u0000b@fennickquay.example', password: 'x' })
    expect(status).toBeGreaterThanOrEqual(400)
    expect(status).toBeLessThan(500)
  })
})
