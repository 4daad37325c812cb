import { type HandoutItem, plainItem, withWay } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import request from 'supertest'
import { copiesIn } from './support/copies.js'
import { TestSchool, changesNow, statementFor } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { there, given, write, read } = copiesIn(() => school)

describe('links', () => {
  test('the class link opens each person’s own copy', async () => {
    const of = await school.classOf(2)
    const id = await given(of, statementFor(of.id, (await school.worksheet(of.teacher)).id))
    const copies = await school.copiesByEmail(id)
    for (const email of of.emails) {
      const person = await school.signInByEmail(email)
      expect((await person.http.get(`/api/handouts/${id}/mine`).expect(200)).body).toMatchObject({
        board: false,
        copies: [{ id: copies.get(email) }],
      })
    }
    expect((await of.teacher.http.get(`/api/handouts/${id}/mine`).expect(200)).body).toMatchObject({ board: true })
  })

  test('a walk-in link lets guests in under a name, to its item alone, while it is open', async () => {
    const of = await school.classOf(2)
    const worksheet = await school.worksheet(of.teacher)
    const id = await given(
      of,
      statementFor(
        of.id,
        worksheet.id,
        null,
        {},
        {
          items: [
            withWay(plainItem('each', worksheet.id, 1), 'one each', []),
            withWay(plainItem('shared', worksheet.id, 1), 'one together', []),
          ],
        },
      ),
    )
    const set = (item: string, wish: object) => of.teacher.http.put(`/api/handouts/${id}/walk-ins/${item}`).send(wish)
    const open = { permission: 'edit', open: true, endsAt: null }
    const [link] = (await set('each', open).expect(200)).body as { code: string }[]
    const guest = request.agent(school.url)
    expect((await guest.get(`/api/walk-in/${link!.code.toLowerCase()}`).expect(200)).body).toEqual({
      class: '8 Heron',
      title: 'Tides at the quay',
      permission: 'edit',
    })
    await guest.post(`/api/walk-in/${link!.code}`).send({ name: ' ' }).expect(422)
    const entered = (await guest.post(`/api/walk-in/${link!.code}`).send({ name: 'Mika' }).expect(200)).body as {
      copyId: string
    }
    expect((await guest.get('/api/copies').expect(200)).body).toMatchObject([{ id: entered.copyId }])
    expect((await guest.get(`/api/copies/${entered.copyId}`).expect(200)).body).toMatchObject({ permission: 'edit' })
    // Nothing else of the school is there for a guest.
    const shared = (await there(id)).find(({ way }) => way === 'one together')!
    for (const path of [
      `copies/${shared.id}`,
      `classes/${of.id}`,
      `handouts/${id}/board`,
      `handouts/${id}`,
      'worksheets',
    ])
      expect((await guest.get(`/api/${path}`)).status).toBe(404)

    // Again in this browser: the same. Somebody else of this name: another, with a number. A name of the roster is pointed out.
    expect((await guest.post(`/api/walk-in/${link!.code}`).send({ name: 'mika' }).expect(200)).body).toEqual(entered)
    const twin = request.agent(school.url)
    const other = (await twin.post(`/api/walk-in/${link!.code}`).send({ name: 'Mika' }).expect(200)).body as {
      copyId: string
    }
    expect(other.copyId).not.toBe(entered.copyId)
    await twin.post(`/api/walk-in/${link!.code}`).send({ name: 'First0 Last0000' }).expect(200)
    expect((await there(id)).map(({ title }) => title)).toEqual(
      expect.arrayContaining(['Mika – Reading a tide table', 'Mika (2) – Reading a tide table']),
    )
    const [uses] = (await of.teacher.http.get(`/api/handouts/${id}/walk-ins`).expect(200)).body as {
      uses: { name: string; again: boolean; like: string | null }[]
    }[]
    expect(uses!.uses.map(({ name, again, like }) => [name, again, like])).toEqual([
      ['First0 Last0000', false, 'First0 Last0000'],
      ['Mika', false, null],
      ['mika', true, null],
      ['Mika', false, null],
    ])
    // The proof knows the guests: nothing of theirs is set aside by handing out again.
    expect(await changesNow(of.teacher, id)).toEqual([])

    await set('each', { ...open, open: false }).expect(200)
    await guest.get(`/api/copies/${entered.copyId}`).expect(404)
    expect((await guest.get('/api/copies')).body).toEqual([])
    expect((await twin.get(`/api/walk-in/${link!.code}`).expect(403)).body).toMatchObject({ code: 'walk-in-shut' })
    await set('each', { ...open, endsAt: Date.now() - 1 }).expect(200)
    await twin.get(`/api/walk-in/${link!.code}`).expect(403)
    const renewed = (await set('each', { ...open, newCode: true }).expect(200)).body as { code: string }[]
    await twin.get(`/api/walk-in/${link!.code}`).expect(404)
    await twin.get(`/api/walk-in/${renewed[0]!.code}`).expect(200)
    await guest.get(`/api/copies/${entered.copyId}`).expect(200)
  })

  test('guests of a shared copy have the permission of their link', async () => {
    const of = await school.classOf(1)
    const worksheet = await school.worksheet(of.teacher)
    const together = withWay(plainItem('first', worksheet.id, 1), 'one together', [])
    const id = await given(of, statementFor(of.id, worksheet.id, null, together))
    const set = (permission: string) =>
      of.teacher.http
        .put(`/api/handouts/${id}/walk-ins/first`)
        .send({ permission, open: true, endsAt: null })
        .expect(200)
    const [link] = (await set('view')).body as { code: string }[]
    const guest = request.agent(school.url)
    const { copyId } = (await guest.post(`/api/walk-in/${link!.code}`).send({ name: 'Grandfather' }).expect(200))
      .body as { copyId: string }
    const may = async () => ((await guest.get(`/api/copies/${copyId}`)).body as { permission: string }).permission
    expect(await may()).toBe('view')
    await set('edit')
    expect(await may()).toBe('edit')
  })
})

describe('the shelf', () => {
  test('of a class that is still empty waits for those who come in', async () => {
    const of = await school.classOf(0)
    const worksheet = await school.worksheet(of.teacher)
    const items = [withWay(plainItem('read', worksheet.id, 1), 'to read', [])]
    await of.teacher.http.put(`/api/classes/${of.id}/shelf`).send({ items, version: 0 }).expect(200)
    const email = `${randomUUID()}@fennickquay.example`
    await of.teacher.http
      .post(`/api/classes/${of.id}/roster`)
      .send({ rows: [{ last: 'First', first: 'Fay', email, cells: {} }] })
      .expect(200)
    const fay = await school.signInByEmail(email)
    while (((await fay.http.get('/api/copies').expect(200)).body as object[]).length < 1);
  })

  test('is always out: to read and to work on together; what is taken off is set aside', async () => {
    const of = await school.classOf(2)
    const worksheet = await school.worksheet(of.teacher)
    const items = [
      withWay(plainItem('read', worksheet.id, 1), 'to read', []),
      withWay(plainItem('work', worksheet.id, 1), 'one together', []),
    ]
    const keep = (list: readonly HandoutItem[], version: number) =>
      of.teacher.http.put(`/api/classes/${of.id}/shelf`).send({ items: list, version })
    const made = (await keep(items, 0).expect(200)).body as { version: number; items: { copyId: string }[] }
    expect(made).toMatchObject({ version: 1, mayChange: true })
    expect(made.items).toHaveLength(2)
    const ana = await school.signInByEmail(of.emails[0]!)
    await write(ana, made.items[1]!.copyId, 'line', 'Together')
    expect((await ana.http.get('/api/copies').expect(200)).body).toHaveLength(2)
    // It has no number and is no handout of the list.
    expect((await of.teacher.http.get(`/api/classes/${of.id}/handouts`)).body).toEqual([])
    await keep(items, 0).expect(409)
    await keep([{ ...items[0]!, way: 'one each' }], 1).expect(422)
    // While something is still being put on it, nothing else is: the last to be written would not be the last that was wished.
    await school.source.query(
      `INSERT INTO hand_out_run (school_id, id, handout_id, kind, statement, person_id, total) SELECT school_id, gen_random_uuid(), id, 'hand out', statement, created_by, 2 FROM handout WHERE class_id = $1`,
      [of.id],
    )
    expect((await keep([], 1).expect(409)).body).toMatchObject({ code: 'running' })
    await school.source.query(
      'DELETE FROM hand_out_run WHERE finished_at IS NULL AND handout_id IN (SELECT id FROM handout WHERE class_id = $1)',
      [of.id],
    )
    await keep(items.slice(0, 1), 1).expect(200)
    // What she wrote in is on her desk, kept from before.
    const mine = (await ana.http.get('/api/copies').expect(200)).body as { setAside: boolean }[]
    expect(mine.map(({ setAside }) => setAside).toSorted()).toEqual([false, true])
    const back = (await keep(items, 2).expect(200)).body as { items: { copyId: string }[] }
    expect(back.items[1]!.copyId).toBe(made.items[1]!.copyId)
    expect(await read(ana, back.items[1]!.copyId, 'line')).toBe('Together')
    expect((await ana.http.put(`/api/classes/${of.id}/shelf`).send({ items: [], version: 3 })).status).toBe(404)
  })
})
