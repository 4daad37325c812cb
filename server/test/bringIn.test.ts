import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { existsSync, readFileSync } from 'node:fs'
import { readDocument } from '../dist/bringIn/readDocument.js'
import { fontRules } from '../dist/worksheet/out/fonts.js'
import { writeWorksheet } from '../dist/worksheet/out/write.js'
import { type WorksheetContent, answerSpaces, blockWords, readArchive, spacesOfBlock } from '@gavrin/core'
import { type TestPerson, TestSchool } from './support/school.js'

const sample = (name: string) => readFileSync(new URL(`../../samples/worksheets/${name}`, import.meta.url))
const octets = 'application/octet-stream'

/** A block in a few words: its kind, its print, and the spaces in it; `?`: only proposed. */
const inShort = ({ blocks }: Pick<WorksheetContent, 'blocks'>) =>
  blocks.map((block) => {
    const kind = block.kind === 'text' ? block.rich.type : block.kind
    const spaces = spacesOfBlock(block).map((space) => `${space.kind}${space.proposed ? '?' : ''}`)
    return [kind, blockWords(block).replace(/\s+/g, ' ').slice(0, 24).trim(), spaces.join(' ')]
      .filter(Boolean)
      .join(' | ')
  })

const isIn = (ranges: string, letter: number) =>
  ranges.split(',').some((range) => {
    const [first, last = first] = range
      .trim()
      .slice(2)
      .split('-')
      .map((end) => Number.parseInt(end, 16))
    return letter >= first! && letter <= last!
  })

describe('what documents become', () => {
  test.each([
    [
      'docx',
      'tide-table.docx',
      [
        'heading | Reading a tide table',
        'paragraph | Use the table for Fennic',
        'paragraph | Name:',
        'line | line?',
        'paragraph | 1. The first high water | gap? gap?',
        'paragraph | 2. Between which times c',
        'passage | passage?',
        'paragraph | 3. Slack water lasts abo | gap?',
        'picture | The height of the sea ov',
        'heading | Heights',
        'table | Tide Time Height (m) Hig | cell? cell? cell?',
        'page break',
        'paragraph | 4. Why are the two high',
        'line | line?',
      ],
    ],
    [
      'odt',
      'rope-test.odt',
      [
        'heading | Rope strength test',
        'paragraph | Hang weights from each r',
        'orderedList | Measure the rope. Hang o',
        'paragraph | Our rope is ____ cm long | gap?',
        'table | Rope Held (kg) hemp 3 mm | cell? cell?',
        'paragraph | Which rope would you moo',
        'passage | passage?',
      ],
    ],
    [
      'markdown',
      'sea-words.md',
      [
        'heading | Sea-word glossary',
        'paragraph | What is slack water?',
        'line | line?',
        'paragraph | The speed of a boat is v | gap?',
        'bulletList | fairway: the deep way th | gap?',
        'table | Word Means My language e | cell? cell?',
        'page break',
        'paragraph | Your own word:',
        'line | line?',
      ],
    ],
    [
      'html',
      'quayside-safety.html',
      [
        'heading | Quayside safety',
        'paragraph | Read this before we walk',
        'bulletList | Stay behind the yellow l',
        'paragraph | Where are the life jacke | gap?',
        'paragraph | Somebody falls in. What',
        'choice | jump after them shout an | choice?',
        'paragraph | Press here or read the r',
        'paragraph | Say it in your own words',
        'passage | passage?',
      ],
    ],
    [
      'text',
      'lighthouse.txt',
      [
        'heading | Lighthouse sectors',
        'paragraph | From the sea, Fennick li',
        'paragraph | 1. You see white. Are yo',
        'line | line?',
        'paragraph | 2. The white sector is _ | gap?',
        'paragraph | Take with you:',
        'bulletList | a chart a pencil a compa',
      ],
    ],
    [
      'archive',
      'crew-log.gavrin.zip',
      [
        'heading | Crew log',
        'picture | The height of the sea',
        'section | Your watch What did you | passage',
        'drawing | drawing',
      ],
    ],
  ] as const)('%s', async (kind, name, blocks) => {
    const read = await readDocument(kind, new Uint8Array(sample(name)))
    expect(read.ok && inShort(read.value.content)).toEqual(blocks)
  })

  test('what is left out is said, each with its number', async () => {
    const read = await readDocument('html', new Uint8Array(sample('quayside-safety.html')))
    expect(read.ok && read.value.notes).toEqual([
      'Scripts or embedded programs were removed (2).',
      'Pictures on another site were left out (1): save them and put them in.',
      'Links that would run something were removed (1).',
    ])
  })

  test('a document with macros leaves them behind and says so', async () => {
    const files = unzipSync(new Uint8Array(sample('tide-table.docx')))
    const withMacros = zipSync({ ...files, 'word/vbaProject.bin': strToU8('evil') })
    const read = await readDocument('docx', withMacros)
    expect(read.ok && read.value.notes[0]).toContain('macros')
  })

  test('a document that unpacks to more than it may is not opened', async () => {
    const files = unzipSync(new Uint8Array(sample('tide-table.docx')))
    const bomb = zipSync({ ...files, 'word/more.xml': new Uint8Array(130_000_000) }, { level: 9 })
    expect(bomb.length).toBeLessThan(1_000_000)
    const read = await readDocument('docx', bomb)
    expect(read.ok ? '' : read.problems[0]!.code).toBe('file-too-much-inside')
  })

  test('damaged documents are said to be damaged', async () => {
    const files = unzipSync(new Uint8Array(sample('tide-table.docx')))
    for (const broken of [
      { 'word/document.xml': strToU8('<w:document><w:body>') },
      { ...files, 'word/document.xml': strToU8('no xml') },
    ])
      expect((await readDocument('docx', zipSync(broken as Record<string, Uint8Array>))).ok).toBe(false)
  })
})

describe('bringing in', () => {
  let school: TestSchool
  let teacher: TestPerson
  beforeAll(async () => {
    school = await TestSchool.open()
    teacher = await school.person('teacher', 'Bringer')
  })
  afterAll(() => school.close())

  const upload = (name: string, bytes: Buffer = sample(name), who = teacher) =>
    who.http.post('/api/bring-in').query({ name }).set('Content-Type', octets).send(bytes)
  const idOf = async (name: string) => ((await upload(name).expect(201)).body as { id: string }).id
  interface Read {
    readonly title: string
    readonly content: WorksheetContent
    readonly notes: string[]
  }

  test('a file is kept, read, and only put in the library when it is finished; the same file again is told', async () => {
    const id = await idOf('tide-table.docx')
    const read = (await teacher.http.post(`/api/bring-in/${id}/read`).expect(200)).body as Read
    const picture = read.content.blocks.find(({ kind }) => kind === 'picture')
    expect(picture).toMatchObject({ pixelWidth: 640, pixelHeight: 260 })
    await teacher.http.get(`/api/bring-in/${id}/media/${(picture as { media: string }).media}`).expect(200)
    expect((await teacher.http.get('/api/worksheets').expect(200)).body).toEqual([])
    // Read again, as after an interruption, it has its pictures once.
    const again = (await teacher.http.post(`/api/bring-in/${id}/read`).expect(200)).body as Read
    expect(await school.count('medium')).toBe(1)
    const finish = { title: again.title, content: { ...again.content, source: 'Harbour office' }, folderId: null }
    const { worksheetId } = (await teacher.http.post(`/api/bring-in/${id}/finish`).send(finish).expect(200)).body as {
      worksheetId: string
    }
    // A second press, or an answer that was lost, makes no second worksheet.
    await teacher.http.post(`/api/bring-in/${id}/finish`).send(finish).expect(200, { worksheetId })
    const opened = (await teacher.http.get(`/api/worksheets/${worksheetId}`).expect(200)).body as {
      draft: WorksheetContent
    }
    expect(opened.draft.source).toBe('Harbour office')
    await teacher.http
      .get(
        `/api/worksheets/${worksheetId}/media/${(opened.draft.blocks.find(({ kind }) => kind === 'picture') as { media: string }).media}`,
      )
      .expect(200)
    expect((await teacher.http.get('/api/bring-in').expect(200)).body).toEqual([])
    const twice = (await upload('tide-table.docx').expect(201)).body as { before: { worksheetId: string }[] }
    expect(twice.before).toMatchObject([{ worksheetId, title: 'Reading a tide table' }])
  })

  test('what is refused leaves nothing in the library, and the file for another try', async () => {
    const id = await idOf('lighthouse.txt')
    const read = (await teacher.http.post(`/api/bring-in/${id}/read`).expect(200)).body as Read
    const before = await school.count('worksheet')
    await teacher.http
      .post(`/api/bring-in/${id}/finish`)
      .send({ title: ' ', content: read.content, folderId: null })
      .expect(422)
    await teacher.http
      .post(`/api/bring-in/${id}/finish`)
      .send({
        title: 'T',
        content: { ...read.content, blocks: [{ id: 'x', kind: 'drawing', height: 50, ground: 'foreign' }] },
        folderId: null,
      })
      .expect(422)
    expect(await school.count('worksheet')).toBe(before)
    expect((await teacher.http.get('/api/bring-in').expect(200)).body).toMatchObject([
      { name: 'lighthouse.txt' },
      { name: 'tide-table.docx' },
    ])
    await teacher.http.delete(`/api/bring-in/${id}`).expect(204)
    await teacher.http.post(`/api/bring-in/${id}/read`).expect(404)
  })

  test('what cannot become a worksheet is said in a sentence, and nothing is kept', async () => {
    const before = await school.count('bring_in')
    const bad: [string, Buffer, RegExp][] = [
      ['old.doc', Buffer.from([0xd0, 0xcf, 0x11, 0xe0, 1, 2, 3, 4]), /password|old format/],
      ['photo.heic', Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from('ftypheic'), Buffer.alloc(20)]), /HEIC/],
      ['program.exe', Buffer.from([0x4d, 0x5a, 0, 1, 2, 3, 0xff, 0xfe, 0, 0, 0, 0]), /cannot become a worksheet/],
      ['list.xlsx', Buffer.from(zipSync({ 'xl/workbook.xml': strToU8('<x/>') })), /spreadsheet/],
      ['archive.zip', Buffer.from(zipSync({ 'a.txt': strToU8('a') })), /no document/],
      ['empty.md', Buffer.alloc(0), /empty/],
    ]
    for (const [name, bytes, sentence] of bad) {
      const answer = await upload(name, bytes).expect(422)
      expect((answer.body as { detail: string }).detail).toMatch(sentence)
    }
    await upload('large.txt', Buffer.alloc(31_000_000, 'x')).expect(413)
    expect(await school.count('bring_in')).toBe(before)
  })

  test('a file is one’s own', async () => {
    const id = await idOf('sea-words.md')
    const other = await school.person('teacher', 'Other')
    for (const path of [`/api/bring-in/${id}`, `/api/bring-in/${id}/file`]) await other.http.get(path).expect(404)
    await other.http.delete(`/api/bring-in/${id}`).expect(404)
    const file = await teacher.http.get(`/api/bring-in/${id}/file`).expect(200)
    expect(file.headers['content-disposition']).toMatch(/^attachment/)
  })

  test('what was done with photographs lies with the upload, with those that were added', async () => {
    const id = await idOf('knots.png')
    const at = `/api/bring-in/${id}`
    expect((await teacher.http.get(`${at}/work`).expect(200)).body).toEqual({ version: 0, work: null })
    const add = (bytes: Buffer) => teacher.http.post(`${at}/photos`).set('content-type', octets).send(bytes)
    const photo = sample('knots-by-the-lamp.jpg')
    const { id: picture } = (await add(photo).expect(201)).body as { id: string }
    await add(sample('sea-words.md')).expect(422)
    const got = await teacher.http.get(`${at}/photos/${picture}`).buffer().expect(200)
    expect(Buffer.compare(got.body as Buffer, photo)).toBe(0)
    const page = (of: string | null) => ({
      key: of ? 'second' : 'first',
      picture: of,
      width: 100,
      height: 100,
      corners: null,
      found: true,
      even: true,
      turn: 0,
      step: 'text',
      cut: { corners: null, even: true, turn: 0 },
      way: 'text',
      blocks: [{ key: 'b', is: 'heading', text: 'Put right', words: [], box: { x: 0, y: 0, width: 1, height: 0.1 } }],
      figures: [],
      places: [],
    })
    const work = { pages: [page(null), page(picture)] }
    const keep = (version: number, kept: object) => teacher.http.put(`${at}/work`).send({ version, work: kept })
    expect((await keep(0, work).expect(200)).body).toEqual({ version: 1 })
    // A second window that has not seen it is told so.
    expect((await keep(0, { pages: [page(null)] }).expect(409)).body).toMatchObject({ code: 'changed-elsewhere' })
    await keep(1, { pages: [{ ...page(null), turn: 'left' }] }).expect(422)
    expect((await teacher.http.get(`${at}/work`).expect(200)).body).toEqual({ version: 1, work })

    // No more than a worksheet is made of; those that were taken out make room.
    for (let count = 1; count < 19; count++) await add(sample('knots.png')).expect(201)
    await add(sample('knots.png')).expect(201)
    expect(await school.count('bring_in_picture', `bring_in_id = '${id}'`)).toBe(2)
    await teacher.http.get(`${at}/photos/${picture}`).expect(200)

    await teacher.http
      .post(`${at}/finish`)
      .send({ title: 'T', content: { version: 2, page: 'A4', source: '', blocks: [] }, folderId: null })
      .expect(200)
    expect(await school.count('bring_in_picture', `bring_in_id = '${id}'`)).toBe(0)
    expect(await school.count('bring_in', `id = '${id}' AND work IS NOT NULL`)).toBe(0)
    await keep(1, work).expect(404)
  })

  describe('and out again', () => {
    let worksheetId: string
    beforeAll(async () => {
      const id = await idOf('crew-log.gavrin.zip')
      const { title, content } = (await teacher.http.post(`/api/bring-in/${id}/read`).expect(200)).body as Read
      const finished = await teacher.http
        .post(`/api/bring-in/${id}/finish`)
        .send({ title, content, folderId: null })
        .expect(200)
      worksheetId = (finished.body as { worksheetId: string }).worksheetId
    })
    const out = async (format: string, key = false) => {
      const answer = await teacher.http
        .post(`/api/worksheets/${worksheetId}/out/${format}`)
        .send({ edition: null, key })
        .buffer()
        .parse((response, done) => {
          const parts: Buffer[] = []
          response.on('data', (part: Buffer) => parts.push(part))
          response.on('end', () => done(null, Buffer.concat(parts)))
        })
      expect(answer.status).toBe(200)
      return {
        name: decodeURIComponent(/''(.*)$/.exec(answer.headers['content-disposition'] as string)![1]!),
        bytes: answer.body as Buffer,
      }
    }

    test('the archive comes in again without loss', async () => {
      const { name, bytes } = await out('archive')
      expect(name).toBe('Crew log.gavrin.zip')
      const first = readArchive(new Uint8Array(bytes))
      const before = readArchive(new Uint8Array(sample('crew-log.gavrin.zip')))
      expect(
        first.ok && before.ok && [first.value.title, first.value.content.source, inShort(first.value.content)],
      ).toEqual(before.ok && [before.value.title, before.value.content.source, inShort(before.value.content)])
      expect(first.ok && first.value.media.length).toBe(1)
    })
    test('a web page that stands by itself; the key is in it only when wanted', async () => {
      const plain = (await out('html')).bytes.toString()
      expect(plain).toContain('data:image/')
      expect(plain).toContain('Fennick Quay sailing club')
      expect(plain).not.toContain('Buoys')
      const key = await out('html', true)
      expect(key.name).toBe('Crew log – key.html')
      expect(key.bytes.toString()).toContain('Buoys, other boats')
    })
    test.each(['docx', 'odt'] as const)('%s, which can be brought in again', async (format) => {
      const read = await readDocument(format, new Uint8Array((await out(format)).bytes))
      expect(read.ok).toBe(true)
      if (!read.ok) return
      expect(inShort(read.value.content)).toContain('heading | Crew log')
      expect(read.value.pictures.length).toBeGreaterThan(0)
      expect(answerSpaces(read.value.content)).toContainEqual(expect.objectContaining({ kind: 'passage', lines: 4 }))
    })
    const withChromium = existsSync('/usr/bin/chromium') ? test : test.skip
    withChromium('a PDF', async () => {
      const { bytes } = await out('pdf')
      expect(bytes.subarray(0, 5).toString()).toBe('%PDF-')
      expect(bytes.length).toBeGreaterThan(5_000)
    })
    test('as docx, points are said and lists begin at their numbers', async () => {
      const list = (id: string, start: number) => ({
        id,
        kind: 'text' as const,
        rich: {
          type: 'orderedList',
          attrs: { start },
          content: [
            {
              type: 'listItem',
              content: [{ type: 'paragraph', content: [{ type: 'text', text: `question ${start}` }] }],
            },
          ],
        },
      })
      const content: WorksheetContent = {
        version: 2,
        page: 'A4',
        source: '',
        blocks: [
          list('a', 1),
          { id: 'l', kind: 'line', width: 'full', points: 2 },
          list('b', 2),
          { id: 'p', kind: 'passage', lines: 3, points: 1 },
        ],
      }
      const bytes = await writeWorksheet({ format: 'docx', title: 'T', content, media: [], key: false })
      const files = unzipSync(bytes)
      const document = strFromU8(files['word/document.xml']!)
      expect(document).toContain('(2 points)')
      expect(document).toContain('(1 point)')
      expect(strFromU8(files['word/numbering.xml']!)).toMatch(/<w:lvl w:ilvl="0"[^>]*><w:start w:val="2"\/>/)
    })
    test('the letters of a page come with it, from the fonts we ship, and no others', async () => {
      const families = async (text: string) =>
        [...(await fontRules(`<style>x</style>${text}`)).matchAll(/@font-face\{font-family:"([^"]+)"/g)].map(
          ([, family]) => family!.replace(' Variable', ''),
        )
      const usual = ['Zilla Slab', 'Atkinson Hyperlegible Next']
      expect(new Set(await families('Tides'))).toEqual(new Set(usual))
      const scripts: [string, string][] = [
        ['Κύμα', 'Noto Sans'],
        ['Прилив', 'Noto Sans'],
        ['مد', 'Noto Sans Arabic'],
        ['גאות', 'Noto Sans Hebrew'],
        ['ज्वार', 'Noto Sans'],
        ['潮汐', 'Noto Sans SC'],
        ['しお', 'Noto Sans JP'],
        ['조수', 'Noto Sans KR'],
        ['⚓🌊', 'Noto Emoji'],
      ]
      for (const [text, family] of scripts) {
        expect(await families(text)).toContain(family)
        const rules = await fontRules(text)
        // Every letter is in one of the files that come along.
        for (const letter of text)
          expect(
            [...rules.matchAll(/unicode-range:([^;]+);/g)].some(([, ranges]) => isIn(ranges!, letter.codePointAt(0)!)),
          ).toBe(true)
      }
      // A sign that is written in several ways is taken as the text shows.
      expect((await families('港の')).filter((family) => / (SC|JP|KR)$/.test(family))).not.toContain('Noto Sans SC')
    })
  })
})
