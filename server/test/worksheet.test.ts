import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { type TestPerson, TestSchool } from './support/school.js'

let school: TestSchool
let teacher: TestPerson
beforeAll(async () => {
  school = await TestSchool.open()
  teacher = await school.person('teacher', 'Author')
})
afterAll(() => school.close())

const content = (text: string) => ({
  version: 2,
  page: 'A4',
  source: '',
  blocks: [
    { id: 'q', kind: 'text', rich: { type: 'paragraph', content: [{ type: 'text', text }] } },
    { id: 'a', kind: 'line', width: 'full' },
  ],
})
async function begun(): Promise<string> {
  const { body } = await teacher.http.post('/api/worksheets').send({ title: 'Tides' }).expect(201)
  return (body as { id: string }).id
}

test('a kept edition never changes; editing makes the next one; the same draft is kept once', async () => {
  const id = await begun()
  await teacher.http
    .put(`/api/worksheets/${id}/draft`)
    .send({ title: 'Tides', content: content('first'), version: 1 })
    .expect(200)
  expect((await teacher.http.post(`/api/worksheets/${id}/editions`).send({ version: 2 }).expect(200)).body).toEqual({
    number: 1,
    isNew: true,
  })
  expect((await teacher.http.post(`/api/worksheets/${id}/editions`).send({ version: 2 }).expect(200)).body).toEqual({
    number: 1,
    isNew: false,
  })
  await teacher.http
    .put(`/api/worksheets/${id}/draft`)
    .send({ title: 'Tides again', content: content('second'), version: 2 })
    .expect(200)
  expect((await teacher.http.get(`/api/worksheets/${id}/editions/1`).expect(200)).body).toMatchObject({
    title: 'Tides',
    content: content('first'),
  })
  expect((await teacher.http.post(`/api/worksheets/${id}/editions`).send({ version: 3 }).expect(200)).body).toEqual({
    number: 2,
    isNew: true,
  })
  await expect(school.source.query(`UPDATE edition SET title = 'x' WHERE worksheet_id = $1`, [id])).rejects.toThrow(
    'never change',
  )
})

test('one formula that cannot be worked out keeps nothing from being kept but an edition, which says where', async () => {
  const id = await begun()
  const cell = (formula: string | null) => ({ across: 1, down: 1, head: false, rich: [], space: null, formula })
  const table = (...formulas: string[]) => ({ id: 't', kind: 'table', rows: [formulas.map(cell)] })
  const draft = (version: number, ...formulas: string[]) => {
    const { blocks, ...page } = content(`words of version ${version}`)
    return teacher.http
      .put(`/api/worksheets/${id}/draft`)
      .send({ title: 'Tides', content: { ...page, blocks: [...blocks, table(...formulas)] }, version })
      .expect(200)
  }
  await draft(1, 'sum(B1', '3')
  await draft(2, 'B1 + 1', 'A1')
  const opened = async () =>
    (await teacher.http.get(`/api/worksheets/${id}`).expect(200)).body as { draft: { blocks: unknown[] } }
  expect(JSON.stringify((await opened()).draft.blocks)).toContain('words of version 2')
  const refused = await teacher.http.post(`/api/worksheets/${id}/editions`).send({ version: 3 }).expect(422)
  expect((refused.body as { detail: string }).detail).toMatch(/^A1: .*goes in a circle\.$/)
  await teacher.http.post(`/api/worksheets/${id}/out/docx`).send({ edition: null, key: false }).expect(200)
  await draft(3, 'B1 + 1', '2')
  await teacher.http.post(`/api/worksheets/${id}/editions`).send({ version: 4 }).expect(200)
})

test('two windows: the second to save is told, and overwrites nothing', async () => {
  const id = await begun()
  await teacher.http
    .put(`/api/worksheets/${id}/draft`)
    .send({ title: 'Mine', content: content('mine'), version: 1 })
    .expect(200)
  const { body } = await teacher.http
    .put(`/api/worksheets/${id}/draft`)
    .send({ title: 'Theirs', content: content('theirs'), version: 1 })
    .expect(409)
  expect(body).toMatchObject({ code: 'changed-meanwhile', version: 2 })
  expect((await teacher.http.get(`/api/worksheets/${id}`).expect(200)).body).toMatchObject({
    title: 'Mine',
    draft: content('mine'),
  })
})

test('what a worksheet cannot hold is said at its place, and the draft stays', async () => {
  const id = await begun()
  const bad = {
    version: 2,
    blocks: [{ id: 'c', kind: 'choice', many: false, options: [{ id: 'o', text: 'only one' }] }],
  }
  expect(
    (await teacher.http.put(`/api/worksheets/${id}/draft`).send({ title: 'T', content: bad, version: 1 }).expect(422))
      .body,
  ).toMatchObject({ errors: [{ field: 'blocks.0.options' }] })
  expect(
    (
      await teacher.http
        .put(`/api/worksheets/${id}/draft`)
        .send({ title: '  ', content: content('x'), version: 1 })
        .expect(422)
    ).body,
  ).toMatchObject({ errors: [{ field: 'title' }] })
  expect(
    (await teacher.http.post(`/api/worksheets/${id}/editions`).send({ version: 1 }).expect(422)).body,
  ).toMatchObject({ errors: [{ code: 'worksheet-empty' }] })
})
