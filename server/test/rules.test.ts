import { plainNote, plainPeers } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import request from 'supertest'
import { copiesIn } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { TestSchool, fingerprint, openHandout, sessionCookie, statementFor } from './support/school.js'

// Rules of the server that a change of one line could break without anybody seeing it.

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { given } = copiesIn(() => school)

describe('rosters', () => {
  test('an empty cell of a list that is brought in takes nothing away', async () => {
    const { id, teacher, emails } = await school.classOf(1)
    const bring = (row: object) =>
      teacher.http
        .post(`/api/classes/${id}/roster`)
        .send({ rows: [{ last: 'Last0000', first: 'First0', email: emails[0], ...row }] })
        .expect(200)
    await bring({ number: 'S-0071' })
    await bring({ number: '' })
    await bring({})
    const [student] = (await teacher.http.get(`/api/classes/${id}/roster`).expect(200)).body as { number: string }[]
    expect(student!.number).toBe('S-0071')
  })

  test.each([
    ['the one that goes is', true],
    ['the one that is kept is', false],
  ])('two records of one person are in a class if either is: %s there', async (_, keptLeft) => {
    const { id, teacher } = await school.classOf(2)
    const office = await school.person('office', 'Merging')
    const people = (await teacher.http.get(`/api/classes/${id}/roster`).expect(200)).body as { personId: string }[]
    const [keepId, otherId] = people.map(({ personId }) => personId)
    await teacher.http
      .post(`/api/classes/${id}/roster/leave`)
      .send({ personIds: [keptLeft ? keepId : otherId] })
      .expect(200)
    await office.http.post('/api/office/merge').send({ keepId, otherId }).expect(200)
    expect(
      await school.count('class_member', `class_id = '${id}' AND person_id = '${keepId}' AND left_at IS NULL`),
    ).toBe(1)
  })
})

describe('handing out', () => {
  test('what a colleague changed since the teacher looked does not go out unseen', async () => {
    const of = await school.classOf(1)
    const worksheet = await school.worksheet(of.teacher)
    const cover = (text: string) => ({ cover: { text: plainNote(text), by: 'here' as const, staffCopied: false } })
    const statement = statementFor(of.id, worksheet.id, null, {}, cover('Bring your chart.'))
    const { id, version } = await school.draft(of, statement)
    const seen = await fingerprint(of.teacher, id)
    // A note changes no copy: the fingerprint alone would not tell.
    await of.teacher.http
      .put(`/api/handouts/${id}`)
      .send({ title: 'x', statement: { ...statement, ...cover('Bring nothing.') }, version })
      .expect(200)
    const { body } = await of.teacher.http
      .post(`/api/handouts/${id}/hand-out`)
      .send({ version, fingerprint: seen })
      .expect(409)
    expect(body).toMatchObject({ code: expect.any(String) as unknown })
    expect(await school.count('copy', `handout_id = '${id}'`)).toBe(0)
  })

  test('no run begins beside a run', async () => {
    const of = await school.classOf(1)
    const id = await given(of, statementFor(of.id, (await school.worksheet(of.teacher)).id))
    const running = (is: boolean) =>
      school.source.query(`UPDATE hand_out_run SET finished_at = ${is ? 'NULL' : 'now()'} WHERE handout_id = $1`, [id])
    const runs = () => school.count('hand_out_run', `handout_id = '${id}'`)
    await running(true)
    const before = await runs()
    expect(
      (await of.teacher.http.post(`/api/handouts/${id}/undo`).send({ fingerprint: 'x' }).expect(409)).body,
    ).toMatchObject({
      code: 'running',
    })
    const { version } = await openHandout(of.teacher, id)
    await of.teacher.http
      .post(`/api/handouts/${id}/hand-out`)
      .send({ version, fingerprint: await fingerprint(of.teacher, id) })
      .expect(202)
    expect(await runs()).toBe(before)
    await running(false)
    await school.undo(of.teacher, id)
    expect(await runs()).toBe(before + 1)
  })

  test('once a walk-in link has ended its guests have nothing, on the desk and at the address', async () => {
    const of = await school.classOf(1)
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id, null)
    const id = await given(of, statement)
    const { body } = await of.teacher.http
      .put(`/api/handouts/${id}/walk-ins/${statement.items[0]!.id}`)
      .send({ permission: 'edit', open: true, endsAt: null })
      .expect(200)
    const { code } = (body as { code: string }[])[0]!
    const entered = await request(school.url).post(`/api/walk-in/${code}`).send({ name: 'Mika' }).expect(200)
    const cookie = sessionCookie(entered.headers)
    const { copyId } = entered.body as { copyId: string }
    const ask = (path: string) => request(school.url).get(`/api/${path}`).set('cookie', cookie)
    expect((await ask('copies').expect(200)).body).toHaveLength(1)
    const guest = await LiveClient.open(school.url, cookie, copyId)
    await guest.saved(guest.type('in time'))
    // The copy is open, and its end comes by the clock.
    await of.teacher.http
      .put(`/api/handouts/${id}/walk-ins/${statement.items[0]!.id}`)
      .send({ permission: 'edit', open: true, endsAt: Date.now() + 1_500 })
      .expect(200)
    await guest.message(({ type }) => type === 'closed')
    expect((await ask('copies').expect(200)).body).toEqual([])
    await ask(`copies/${copyId}`).expect(404)
    guest.close()
    const again = await LiveClient.connect(school.url, cookie)
    expect((await again.openCopy(copyId)).type).toBe('closed')
    again.close()
  })

  test('what a peer is to read is not listed before it opens', async () => {
    const of = await school.classOf(2)
    const peers = plainPeers(1)
    const id = await given(of, statementFor(of.id, (await school.worksheet(of.teacher)).id, null, { peers }))
    const reader = await school.signInByEmail(of.emails[0]!)
    const listed = async () => (await reader.http.get('/api/copies/reading').expect(200)).body as unknown[]
    expect(await listed()).toHaveLength(1)
    await school.source.query(`UPDATE copy SET opens_at = now() + interval '1 hour' WHERE handout_id = $1`, [id])
    expect(await listed()).toEqual([])
  })
})
