import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { writeXlsx } from '@gavrin/core'
import { strToU8, zipSync } from 'fflate'
import { readFileSync } from 'node:fs'
import { type TestPerson, TestSchool } from './support/school.js'

let school: TestSchool
let teacher: TestPerson
beforeAll(async () => {
  school = await TestSchool.open()
  teacher = await school.person('teacher', 'Files')
})
afterAll(() => school.close())

const read = (bytes: Uint8Array) =>
  teacher.http.post('/api/lists/read').set('content-type', 'application/octet-stream').send(Buffer.from(bytes))

const refused = async (bytes: Uint8Array, status = 422) =>
  (await read(bytes).expect(status)).body as { detail: string; code: string; errors?: { code: string }[] }

/** A workbook as another program saved it. */
const saved = (name: string): Uint8Array => readFileSync(new URL(`support/workbooks/${name}.xlsx`, import.meta.url))

describe('reading a workbook', () => {
  test('cells are what they showed: dates, links, rich text, formulas and merged ones', async () => {
    const bytes = saved('cells')
    const { body } = await read(bytes).expect(200)
    expect(body).toMatchObject({
      kind: 'tables',
      format: 'XLSX',
      tables: [
        {
          name: '9 Curlew',
          rows: [
            ['Last name', 'E-mail', 'Born', 'Sum', 'Note'],
            ['Øverby', 'sunniva@fennickquay.example', '2014-05-03', '3', 'bold and plain'],
            [],
            ['Bąk', 'true', '0.5', '', 'merged'],
            ['Cole', '', '', '', 'merged'],
          ],
        },
      ],
    })
    expect((body as { notes: string[] }).notes.toSorted()).toEqual([
      'Cells with a formula were taken as what they showed when saved.',
      'Hidden sheets were passed over.',
      'Merged cells were taken for every row they cover.',
    ])
  })

  test('addresses behind links, times, leading noughts and formulas without a value, as in the other format', async () => {
    const bytes = saved('links')
    const { body } = await read(bytes).expect(200)
    const found = body as { tables: { rows: string[][] }[]; notes: string[] }
    expect(found.tables[0]!.rows).toEqual([
      ['Name', 'No', 'Seen', 'Contact', 'Sum', 'Name e-mail'],
      ['Øverby, Sunniva', '007', '2014-05-03 08:30', 'home1@fennickquay.example', '', 'sunniva@fennickquay.example'],
      ['Bąk, Jan', '012', '08:30', 'home2@fennickquay.example', '', 'jan@fennickquay.example'],
      ['Cole, Ada', '123', '', '', '', 'ada@fennickquay.example'],
    ])
    expect(found.notes.toSorted()).toEqual([
      'Cells with a formula were taken as what they showed when saved.',
      'One cell has a formula without a saved result and is empty here (E2): open the file in a spreadsheet program, save it there, and bring it in again.',
      'The addresses behind the linked cells of column A stand in column F.',
    ])
  })

  test('5,000 rows come back whole', async () => {
    const rows = Array.from({ length: 5_000 }, (_, at) => [`Last${at}`, `First${at}`, `s${at}@fennickquay.example`])
    const bytes = writeXlsx('School', rows)
    const { body } = await read(bytes).expect(200)
    expect((body as { tables: { count: number }[] }).tables[0]!.count).toBe(5_000)
  })
})

describe('what is no list', () => {
  test.each<[string, Uint8Array, string]>([
    ['text', strToU8('a,b'), 'file-is-text'],
    ['a locked or old workbook', Uint8Array.from([0xd0, 0xcf, 0x11, 0xe0, 1, 2]), 'file-kind'],
    ['a picture', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 1, 2]), 'file-kind'],
    ['an archive of something else', zipSync({ 'readme.txt': strToU8('x') }), 'file-kind'],
    ['a broken archive', strToU8('PK\u0003\u0004 and no more'), 'file-broken'],
    ['a workbook with a broken sheet', zipSync({ 'xl/workbook.xml': strToU8('<workbook') }), 'file-broken'],
    [
      'an empty workbook',
      zipSync({ 'content.xml': strToU8('<office:document-content xmlns:office="o"/>') }),
      'file-empty',
    ],
    ['nothing', new Uint8Array(0), 'file-is-text'],
  ])('%s gets one sentence', async (_, bytes, code) => {
    const problem = await refused(bytes)
    expect(problem.errors![0]!.code).toBe(code)
    expect(problem.detail).toMatch(/\.$/)
  })

  test('what unpacks to too much is refused before it is unpacked', async () => {
    const bomb = zipSync({ 'xl/workbook.xml': strToU8('<workbook/>') })
    // What it states in its directory is what would be set aside for it.
    const view = new DataView(bomb.buffer, bomb.byteOffset)
    for (let at = 0; at < bomb.length - 30; at++)
      if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 130_000_000, true)
    expect((await refused(bomb)).errors![0]!.code).toBe('file-too-much-inside')
  })

  test('more than 10 MB is refused, and the server goes on', async () => {
    expect((await refused(new Uint8Array(10_000_001), 413)).code).toBe('file-too-large')
    expect((await refused(strToU8('a,b'))).errors![0]!.code).toBe('file-is-text')
  })

  test('bytes changed at random are a list or a sentence, never a broken server', async () => {
    const good = writeXlsx('One', [['Abara', 'Chidi']])
    // The same ones every time, so that what is found can be looked at.
    let state = 7
    const next = (below: number) => (state = (state * 48_271) % 2_147_483_647) % below
    for (let round = 0; round < 6; round++) {
      const bytes = good.slice()
      for (let at = 0; at < 1 + 2 * round; at++) bytes[next(bytes.length)] = next(256)
      expect([200, 422]).toContain((await read(bytes)).status)
    }
  })
})
