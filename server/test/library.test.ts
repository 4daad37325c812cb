import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import sharp from 'sharp'
import { type TestClass, type TestPerson, TestSchool } from './support/school.js'

let school: TestSchool
let teacher: TestPerson
let colleague: TestPerson

beforeAll(async () => {
  school = await TestSchool.open()
  teacher = await school.person('teacher', 'Owner')
  colleague = await school.person('teacher', 'Colleague')
})
afterAll(() => school.close())

const octets = 'application/octet-stream'
const content = (...blocks: object[]) => ({ version: 2, page: 'A4', source: '', blocks })
const paragraph = (id: string, text: string) => ({
  id,
  kind: 'text',
  rich: { type: 'paragraph', content: [{ type: 'text', text }] },
})

async function begun(title: string, ...blocks: object[]): Promise<string> {
  const { body } = await teacher.http.post('/api/worksheets').send({ title }).expect(201)
  const { id } = body as { id: string }
  if (blocks.length)
    await teacher.http
      .put(`/api/worksheets/${id}/draft`)
      .send({ title, content: content(...blocks), version: 1 })
      .expect(200)
  return id
}

interface Listed {
  readonly id: string
  readonly title: string
  readonly folderId: string | null
  readonly archived: boolean
  readonly pinned: boolean
  readonly may: string
}
const listed = async (who: TestPerson, id: string) =>
  ((await who.http.get('/api/worksheets').expect(200)).body as Listed[]).find((one) => one.id === id)

describe('folders', () => {
  test('hold worksheets and each other, and leave what was in them when they go', async () => {
    const outer = (await teacher.http.post('/api/folders').send({ name: ' Tides  and harbours ' }).expect(201))
      .body as { id: string }
    const inner = (await teacher.http.post('/api/folders').send({ name: 'Ropes', parentId: outer.id }).expect(201))
      .body as { id: string }
    const id = await begun('Rope test')
    await teacher.http
      .post('/api/worksheets/move')
      .send({ ids: [id], folderId: inner.id })
      .expect(200, { moved: 1 })
    expect((await listed(teacher, id))?.folderId).toBe(inner.id)
    await teacher.http.delete(`/api/folders/${inner.id}`).expect(204)
    expect((await listed(teacher, id))?.folderId).toBe(outer.id)
    expect((await teacher.http.get('/api/folders').expect(200)).body).toEqual([
      { id: outer.id, parentId: null, name: 'Tides and harbours' },
    ])
  })
  test('have names that differ, and never lie in themselves', async () => {
    const one = (await teacher.http.post('/api/folders').send({ name: 'Lights' }).expect(201)).body as { id: string }
    const two = (await teacher.http.post('/api/folders').send({ name: 'Marks', parentId: one.id }).expect(201))
      .body as { id: string }
    const same = await teacher.http.post('/api/folders').send({ name: 'LIGHTS' }).expect(422)
    expect((same.body as { errors: { field: string }[] }).errors[0]!.field).toBe('name')
    await teacher.http.put(`/api/folders/${one.id}`).send({ name: 'Lights', parentId: two.id }).expect(422)
  })
  test('are one’s own: nobody puts worksheets in another’s', async () => {
    const own = (await teacher.http.post('/api/folders').send({ name: 'Mine' }).expect(201)).body as { id: string }
    await colleague.http.post('/api/worksheets/move').send({ ids: [], folderId: own.id }).expect(404)
    await colleague.http.put(`/api/folders/${own.id}`).send({ name: 'Theirs' }).expect(404)
  })
})

test('worksheets are found by their title and their print, in any form', async () => {
  const id = await begun('Lighthouse sectors', paragraph('p', 'From the sea, Fénnick light shows red.'))
  const find = async (words: string) =>
    ((await teacher.http.get('/api/worksheets/find').query({ words }).expect(200)).body as { ids: string[] }).ids
  expect(await find('fennick LIGHT')).toContain(id)
  expect(await find('sectors red')).toContain(id)
  expect(await find('green')).not.toContain(id)
  expect(await find('100%')).toEqual([])
  expect(await find('')).toEqual([])
  expect(
    (
      (await colleague.http.get('/api/worksheets/find').query({ words: 'fennick' }).expect(200)).body as {
        ids: string[]
      }
    ).ids,
  ).toEqual([])
})

test('archived, a worksheet stands still and leaves the slip until it is brought back', async () => {
  const id = await begun('Old one', paragraph('p', 'x'))
  await teacher.http
    .post('/api/worksheets/archive')
    .send({ ids: [id], archived: true })
    .expect(200, { changed: 1 })
  expect((await listed(teacher, id))?.archived).toBe(true)
  await teacher.http.put(`/api/worksheets/${id}/draft`).send({ title: 'X', content: content(), version: 2 }).expect(409)
  await teacher.http
    .post('/api/worksheets/archive')
    .send({ ids: [id], archived: false })
    .expect(200)
  await teacher.http.put(`/api/worksheets/${id}/draft`).send({ title: 'X', content: content(), version: 2 }).expect(200)
})

test('renaming several does all or none, and is no change of the edition', async () => {
  const [one, two] = [await begun('One', paragraph('p', 'x')), await begun('Two')]
  await teacher.http.post(`/api/worksheets/${one}/editions`).send({ version: 2 }).expect(200)
  await teacher.http
    .post('/api/worksheets/rename')
    .send({
      titles: [
        { id: one, title: 'First' },
        { id: two, title: '  ' },
      ],
    })
    .expect(422)
  expect((await listed(teacher, one))?.title).toBe('One')
  await teacher.http
    .post('/api/worksheets/rename')
    .send({
      titles: [
        { id: one, title: 'First' },
        { id: two, title: 'Second' },
      ],
    })
    .expect(204)
  expect(await listed(teacher, one)).toMatchObject({ title: 'First', version: 3, keptVersion: 3 })
  // Found by the new title and by what is printed on it, no longer by the old title.
  const found = async (words: string) =>
    (
      (await teacher.http.get(`/api/worksheets/find?words=${words}`).expect(200)).body as { ids: string[] }
    ).ids.includes(one)
  expect(await Promise.all([found('first'), found('one'), found('x')])).toEqual([true, false, true])
})

describe('colleagues', () => {
  test('see, give out and copy what is shared with them to view; they do not change it', async () => {
    const id = await begun('Shared to view', paragraph('p', 'x'))
    await colleague.http.get(`/api/worksheets/${id}`).expect(404)
    await teacher.http
      .put(`/api/worksheets/${id}/shares`)
      .send({ schoolMay: 'none', people: [{ personId: colleague.viewer.personId, may: 'view' }] })
      .expect(204)
    expect((await colleague.http.get(`/api/worksheets/${id}`).expect(200)).body).toMatchObject({
      mayChange: false,
      isOwner: false,
    })
    expect((await listed(colleague, id))?.may).toBe('view')
    await colleague.http
      .put(`/api/worksheets/${id}/draft`)
      .send({ title: 'X', content: content(), version: 2 })
      .expect(403)
    await colleague.http.put(`/api/worksheets/${id}/shares`).send({ schoolMay: 'edit', people: [] }).expect(403)
    const copy = (await colleague.http.post(`/api/worksheets/${id}/duplicate`).expect(201)).body as { id: string }
    expect(await listed(colleague, copy.id)).toMatchObject({ title: 'Shared to view (copy)', may: 'edit' })
    await teacher.http.put(`/api/worksheets/${id}/shares`).send({ schoolMay: 'none', people: [] }).expect(204)
    await colleague.http.get(`/api/worksheets/${id}`).expect(404)
  })
  test('change what is shared with them to edit, and neither archive nor move it', async () => {
    const id = await begun('Shared to edit')
    await teacher.http.put(`/api/worksheets/${id}/shares`).send({ schoolMay: 'edit', people: [] }).expect(204)
    await colleague.http
      .put(`/api/worksheets/${id}/draft`)
      .send({ title: 'Ours', content: content(), version: 1 })
      .expect(200)
    await colleague.http
      .post('/api/worksheets/archive')
      .send({ ids: [id], archived: true })
      .expect(200, { changed: 0 })
    await school.person('office', 'Desk').then(({ http }) => http.get(`/api/worksheets/${id}`).expect(404))
  })
  test('pins are one’s own', async () => {
    const id = await begun('Pinned')
    await teacher.http
      .post('/api/worksheets/pin')
      .send({ ids: [id], pinned: true })
      .expect(204)
    expect((await listed(teacher, id))?.pinned).toBe(true)
    await colleague.http
      .post('/api/worksheets/pin')
      .send({ ids: [id], pinned: true })
      .expect(204)
    expect(await school.count('worksheet_mark', `worksheet_id = '${id}'`)).toBe(1)
  })
})

describe('pictures', () => {
  const picture = () =>
    sharp({ create: { width: 40, height: 20, channels: 3, background: '#1d6b5f' } }).withExif({
      IFD0: { Copyright: 'a person' },
    })
  const send = (id: string, bytes: Buffer, who = teacher) =>
    who.http.post(`/api/worksheets/${id}/media`).set('Content-Type', octets).send(bytes)

  test('are made anew from their pixels and shown to those who see the worksheet', async () => {
    const id = await begun('With a picture')
    const kept = (await send(id, await picture().jpeg().toBuffer()).expect(201)).body as { id: string }
    expect(kept).toMatchObject({ type: 'image/jpeg', width: 40, height: 20 })
    const shown = await teacher.http.get(`/api/worksheets/${id}/media/${kept.id}`).expect(200)
    expect(shown.headers['content-type']).toBe('image/jpeg')
    expect(shown.headers['x-content-type-options']).toBe('nosniff')
    expect((await sharp(shown.body as Buffer).metadata()).exif).toBeUndefined()
    await colleague.http.get(`/api/worksheets/${id}/media/${kept.id}`).expect(404)
    await send(id, await picture().png().toBuffer(), colleague).expect(404)
  })
  test('that are none, broken or too large are refused in a sentence', async () => {
    const id = await begun('Bad pictures')
    const png = await picture().png().toBuffer()
    const svg = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><script>1</script></svg>')
    // The head of a picture of 30,000 by 30,000 pixels: it would unpack to gigabytes.
    const bomb = Buffer.from(png)
    bomb.writeUInt32BE(30_000, 16)
    bomb.writeUInt32BE(30_000, 20)
    for (const bytes of [Buffer.from('hello'), png.subarray(0, 60), svg, bomb]) {
      const answer = await send(id, bytes).expect(422)
      expect((answer.body as { detail: string }).detail).toMatch(/picture/)
    }
  })
  test('cannot be shown by a worksheet that was not given them', async () => {
    const id = await begun('Foreign picture')
    const block = (media: string) => ({
      id: 'p',
      kind: 'picture',
      media,
      alt: '',
      pixelWidth: 1,
      pixelHeight: 1,
      width: 50,
      turn: 0,
      crop: null,
      place: 'start',
    })
    const answer = await teacher.http
      .put(`/api/worksheets/${id}/draft`)
      .send({ title: 'T', content: content(block('no-such-medium')), version: 1 })
      .expect(422)
    expect((answer.body as { code: string; detail: string }).detail).toContain('put it in again')
    // From a worksheet that its author sees, it can be put in.
    const other = await begun('Where it comes from')
    const kept = (await send(other, await picture().png().toBuffer()).expect(201)).body as { id: string }
    await teacher.http
      .put(`/api/worksheets/${id}/draft`)
      .send({ title: 'T', content: content(block(kept.id)), version: 1 })
      .expect(200)
    await teacher.http.get(`/api/worksheets/${id}/media/${kept.id}`).expect(200)
  })
})

describe('as students have it', () => {
  let given: TestClass
  let copyId: string
  let student: TestPerson
  let mediumId: string

  beforeAll(async () => {
    given = await school.classOf(2, teacher)
    const id = await begun('Everything')
    const bytes = await sharp({ create: { width: 30, height: 30, channels: 3, background: '#fff' } })
      .png()
      .toBuffer()
    mediumId = (
      (await teacher.http.post(`/api/worksheets/${id}/media`).set('Content-Type', octets).send(bytes).expect(201))
        .body as { id: string }
    ).id
    const blocks = [
      {
        id: 'b',
        kind: 'backdrop',
        media: mediumId,
        alt: '',
        width: 210,
        height: 297,
        spaces: [
          {
            box: { x: 0.1, y: 0.1, width: 0.4, height: 0.1 },
            space: { id: 'l', kind: 'line', width: 'full', accepted: ['secret word'], model: 'secret too' },
          },
        ],
      },
      { id: 'f', kind: 'file', most: 2 },
      {
        id: 's',
        kind: 'section',
        title: 'Your part',
        whose: { is: 'each member' },
        blocks: [{ id: 'own', kind: 'passage', lines: 3 }],
      },
    ]
    await teacher.http
      .put(`/api/worksheets/${id}/draft`)
      .send({ title: 'Everything', content: content(...blocks), version: 1 })
      .expect(200)
    await teacher.http.post(`/api/worksheets/${id}/editions`).send({ version: 2 }).expect(200)
    const { statementFor, fingerprint } = await import('./support/school.js')
    const draft = await school.draft(given, statementFor(given.id, id))
    await given.teacher.http
      .post(`/api/handouts/${draft.id}/hand-out`)
      .send({ version: draft.version, fingerprint: await fingerprint(given.teacher, draft.id) })
      .expect(202)
    await school.finished(given.teacher, draft.id)
    student = await school.signInByEmail(given.emails[0]!)
    copyId = (await school.copiesByEmail(draft.id)).get(given.emails[0]!)!
  })

  test('nothing tells the answers; sections are laid open for the holder; the teacher has the key', async () => {
    const own = JSON.stringify((await student.http.get(`/api/copies/${copyId}`).expect(200)).body)
    expect(own).not.toContain('secret')
    expect(own).toContain(`own_${student.viewer.personId.replaceAll('-', '')}`)
    expect(JSON.stringify((await given.teacher.http.get(`/api/copies/${copyId}`).expect(200)).body)).toContain(
      'secret word',
    )
  })
  test('pictures of the copy are shown to its holder, not to a classmate', async () => {
    await student.http.get(`/api/copies/${copyId}/media/${mediumId}`).expect(200)
    const classmate = await school.signInByEmail(given.emails[1]!)
    await classmate.http.get(`/api/copies/${copyId}/media/${mediumId}`).expect(404)
  })
  test('a file is handed in, seen by holder and teacher, and never shown as a page', async () => {
    const send = (bytes: Buffer, name: string, space = 'f') =>
      student.http.post(`/api/copies/${copyId}/files`).query({ space, name }).set('Content-Type', octets).send(bytes)
    const page = (await send(Buffer.from('<script>alert(1)</script>'), '../../evil\u0000.html').expect(201)).body as {
      id: string
      name: string
    }
    expect(page.name).toBe('.. .. evil .html')
    const got = await given.teacher.http.get(`/api/copies/${copyId}/files/${page.id}`).expect(200)
    expect(got.headers['content-disposition']).toMatch(/^attachment/)
    expect(got.headers['content-type']).toBe('application/octet-stream')
    const photo = (
      await send(
        await sharp({ create: { width: 9, height: 9, channels: 3, background: '#000' } })
          .png()
          .toBuffer(),
        'photo.png',
      ).expect(201)
    ).body as { id: string }
    expect(
      (await student.http.get(`/api/copies/${copyId}/files/${photo.id}`).expect(200)).headers['content-type'],
    ).toBe('image/png')
    await send(Buffer.from('x'), 'x.txt', 'l').expect(404)
    await send(Buffer.alloc(0), 'empty').expect(422)
    const classmate = await school.signInByEmail(given.emails[1]!)
    await classmate.http.get(`/api/copies/${copyId}/files/${photo.id}`).expect(404)
    await student.http.post(`/api/copies/${copyId}/submit`).expect(200)
    await send(Buffer.from('late'), 'late.txt').expect(403)
  })
})
