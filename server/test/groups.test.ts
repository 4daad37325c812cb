import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { type TestPerson, TestSchool } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())

interface Set {
  id: string
  name: string
  version: number
  groups: { id: string; name: string; places: number | null; personIds: string[] }[]
  locked: string[]
  pairs: object[]
}

async function classWithSet(students: number, groups: readonly [name: string, places: number | null, at: number[]][]) {
  const given = await school.classOf(students)
  const people = ((await given.teacher.http.get(`/api/classes/${given.id}/roster`)).body as { personId: string }[]).map(
    ({ personId }) => personId,
  )
  const arrangement = {
    groups: groups.map(([name, places, at]) => ({
      id: randomUUID(),
      name,
      places,
      personIds: at.map((place) => people[place]!),
    })),
    locked: [],
    pairs: [],
  }
  const { body } = await given.teacher.http
    .post(`/api/classes/${given.id}/group-sets`)
    .send({ name: 'Survey crews', balanceColumn: null, arrangement })
    .expect(201)
  const { id: setId } = body as { id: string }
  const list = async (by: TestPerson = given.teacher) =>
    (await by.http.get(`/api/classes/${given.id}/group-sets`).expect(200)).body as Set[]
  return { ...given, people, setId, list, groups: arrangement.groups }
}

const inGroups = ({ groups }: Set, people: readonly string[]) =>
  Object.fromEntries(groups.map(({ name, personIds }) => [name, personIds.map((id) => people.indexOf(id))]))

describe('a group set', () => {
  test('is made, moved in, arranged anew, taken away and brought back', async () => {
    const { id, teacher, people, setId, list, groups } = await classWithSet(4, [
      ['Crane', null, [0, 1]],
      ['Slipway', 3, [2]],
    ])
    const [crane, slipway] = groups
    const { body } = await teacher.http
      .post(`/api/group-sets/${setId}/moves`)
      .send({ personIds: [people[1], people[3], randomUUID()], groupId: slipway!.id })
      .expect(200)
    expect(body).toEqual({ version: 2 })
    expect(inGroups((await list())[0]!, people)).toEqual({ Crane: [0], Slipway: [2, 1, 3] })
    await teacher.http
      .post(`/api/group-sets/${setId}/moves`)
      .send({ personIds: [people[0]], groupId: null })
      .expect(200)
    expect(
      (
        await teacher.http
          .post(`/api/group-sets/${setId}/moves`)
          .send({ personIds: [people[0]], groupId: randomUUID() })
          .expect(409)
      ).body,
    ).toMatchObject({ code: 'group-gone' })

    const arrange = (version: number, input: object) =>
      teacher.http.put(`/api/group-sets/${setId}/arrangement`).send({ version, locked: [], pairs: [], ...input })
    const anew = [
      { ...crane!, name: ' Harbour  crane ', personIds: [people[3], people[2]] },
      { id: randomUUID(), name: 'Pier', places: null, personIds: [people[0]] },
    ]
    expect((await arrange(2, { groups: anew }).expect(409)).body).toMatchObject({ code: 'groups-changed', version: 3 })
    expect(
      (await arrange(3, { groups: [anew[0], { ...anew[1], name: 'HARBOUR crane' }] }).expect(422)).body,
    ).toMatchObject({
      errors: [{ field: 'groups.1.name' }],
    })
    await arrange(3, {
      groups: anew,
      locked: [people[3]],
      pairs: [{ a: people[1], b: people[0], kind: 'apart' }],
    }).expect(200, { version: 4 })
    const [set] = await list()
    expect(inGroups(set!, people)).toEqual({ 'Harbour crane': [3, 2], Pier: [0] })
    expect(set).toMatchObject({ locked: [people[3]], pairs: [{ kind: 'apart' }] })

    await teacher.http.delete(`/api/group-sets/${setId}`).expect(204)
    expect(await list()).toEqual([])
    await teacher.http
      .post(`/api/classes/${id}/group-sets`)
      .send({ name: 'survey CREWS', balanceColumn: null })
      .expect(201)
    await teacher.http.post(`/api/group-sets/${setId}/return`).expect(422)
    const [other] = await list()
    await teacher.http
      .put(`/api/group-sets/${other!.id}`)
      .send({ name: 'Others', balanceColumn: null, signUp: { open: false, opensAt: null, closesAt: null } })
      .expect(204)
    await teacher.http.post(`/api/group-sets/${setId}/return`).expect(204)
    expect((await list()).map(({ name }) => name)).toEqual(['Survey crews', 'Others'])
  })

  test('that two groups of names that look alike are two is remembered, and asked again when wanted', async () => {
    const { teacher, setId, list, groups } = await classWithSet(2, [
      ['Crane', null, [0]],
      ['Cranes', null, [1]],
    ])
    const [one, two] = groups.map(({ id }) => id)
    const tell = (pair: object) => teacher.http.post(`/api/group-sets/${setId}/different`).send(pair)
    await tell({ one, two }).expect(204)
    await tell({ one: two, two: one }).expect(204)
    await tell({ one, two: randomUUID() }).expect(409)
    expect((await list())[0]).toMatchObject({ different: [[one, two].sort()], version: 1 })
    await teacher.http.delete(`/api/group-sets/${setId}/different`).expect(204)
    expect((await list())[0]).toMatchObject({ different: [] })
  })
  test('a group of another set cannot be taken over by its id', async () => {
    const one = await classWithSet(1, [['Crane', null, [0]]])
    const two = await classWithSet(1, [['Pier', null, []]])
    const stolen = { ...one.groups[0]!, name: 'Mine now', personIds: [two.people[0]] }
    const answer = await two.teacher.http
      .put(`/api/group-sets/${two.setId}/arrangement`)
      .send({ version: 1, groups: [stolen], locked: [], pairs: [] })
    expect(answer.status).toBe(409)
    expect((await one.list())[0]!.groups[0]!.name).toBe('Crane')
    expect((await two.list())[0]!.groups[0]!.name).toBe('Pier')
  })

  test('a student who leaves and comes back is in the group as before', async () => {
    const { id, teacher, people, list } = await classWithSet(2, [['Crane', null, [0, 1]]])
    const go = (way: string) =>
      teacher.http
        .post(`/api/classes/${id}/roster/${way}`)
        .send({ personIds: [people[0]] })
        .expect(200)
    await go('leave')
    await go('return')
    expect(inGroups((await list())[0]!, people)).toEqual({ Crane: [0, 1] })
  })
})

describe('a sign-up', () => {
  const open = (teacher: TestPerson, setId: string, signUp: object = {}) =>
    teacher.http
      .put(`/api/group-sets/${setId}`)
      .send({
        name: 'Survey crews',
        balanceColumn: null,
        signUp: { open: true, opensAt: null, closesAt: null, ...signUp },
      })
      .expect(204)

  test('how many may sign up is set whoever signs up meanwhile, and what cannot be is said at its group', async () => {
    const { teacher, emails, setId, list, groups } = await classWithSet(2, [
      ['Crane', 5, []],
      ['Pier', 2, []],
    ])
    const [crane, pier] = groups
    await open(teacher, setId)
    const [before] = await list()
    const [student] = await Promise.all(emails.map((email) => school.signInByEmail(email)))
    await student!.http.post(`/api/sign-ups/${setId}`).send({ groupId: crane!.id }).expect(200)
    const change = (...places: object[]) =>
      teacher.http.put(`/api/group-sets/${setId}`).send({
        name: 'Survey crews',
        balanceColumn: null,
        signUp: { open: true, opensAt: null, closesAt: null },
        places,
      })
    await change({ groupId: crane!.id, places: 1 }, { groupId: pier!.id, places: null }).expect(204)
    const [after] = await list()
    expect(after!.groups).toMatchObject([
      { name: 'Crane', places: 1, personIds: [expect.any(String)] },
      { name: 'Pier', places: null },
    ])
    expect(after!.version).toBeGreaterThan(before!.version)
    for (const places of [0, 2.5, 501])
      expect((await change({ groupId: pier!.id, places }).expect(422)).body).toMatchObject({
        errors: [{ field: `places.${pier!.id}`, sentence: 'A group has 1 to 500 places.' }],
      })
    await change({ groupId: randomUUID(), places: 3 }).expect(409)
    expect((await list())[0]!.groups).toEqual(after!.groups)
  })

  test('a student chooses, changes, and leaves while it is open, and stays where the teacher keeps them', async () => {
    const { teacher, emails, setId, groups, people } = await classWithSet(2, [
      ['Crane', 1, []],
      ['Pier', null, []],
    ])
    const [one, two] = await Promise.all(emails.map((email) => school.signInByEmail(email)))
    const choose = (by: TestPerson, groupId: string | null) => by.http.post(`/api/sign-ups/${setId}`).send({ groupId })
    expect((await choose(one!, groups[0]!.id).expect(409)).body).toMatchObject({ code: 'sign-up-closed' })
    expect((await one!.http.get('/api/sign-ups').expect(200)).body).toEqual([])
    await open(teacher, setId)
    expect((await one!.http.get('/api/sign-ups').expect(200)).body).toMatchObject([
      { id: setId, state: 'open', group: null },
    ])
    expect((await choose(one!, groups[0]!.id).expect(200)).body).toMatchObject({
      mine: groups[0]!.id,
      groups: [{ name: 'Crane', people: [{ first: 'First0' }] }, { name: 'Pier' }],
    })
    expect((await choose(two!, groups[0]!.id).expect(409)).body).toMatchObject({
      code: 'group-full',
      detail: 'Crane is full. Choose another group; your place so far is kept.',
    })
    await choose(one!, groups[1]!.id).expect(200)
    await choose(two!, groups[0]!.id).expect(200)
    await choose(one!, null).expect(200)
    const { body } = await teacher.http.get(`/api/classes/${(await classOf(setId))!}/group-sets`).expect(200)
    const [set] = body as Set[]
    await teacher.http
      .put(`/api/group-sets/${setId}/arrangement`)
      .send({ version: set!.version, groups: set!.groups, locked: [people[1]], pairs: [] })
      .expect(200)
    expect((await choose(two!, null).expect(409)).body).toMatchObject({ code: 'kept' })
    await open(teacher, setId, { closesAt: Date.now() - 1 })
    expect((await choose(one!, groups[1]!.id).expect(409)).body).toMatchObject({ detail: 'This sign-up is over.' })
  })

  const classOf = async (setId: string) =>
    (await school.source.query<{ class_id: string }[]>('SELECT class_id FROM group_set WHERE id = $1', [setId]))[0]
      ?.class_id

  test('200 students rush for 30 places: exactly 30 get one, and the others are told', async () => {
    const { teacher, id, emails, setId, groups } = await classWithSet(200, [
      ['Crane', 10, []],
      ['Slipway', 10, []],
      ['Pier', 10, []],
    ])
    await open(teacher, setId)
    const students: TestPerson[] = []
    for (const email of emails) students.push(await school.signInByEmail(email))
    const answers = await Promise.all(
      students.map((student, at) => student.http.post(`/api/sign-ups/${setId}`).send({ groupId: groups[at % 3]!.id })),
    )
    const statuses = answers.map(({ status }) => status)
    expect(statuses.filter((status) => status === 200)).toHaveLength(30)
    expect(statuses.filter((status) => status === 409)).toHaveLength(170)
    const [set] = (await teacher.http.get(`/api/classes/${id}/group-sets`).expect(200)).body as Set[]
    expect(set!.groups.map(({ personIds }) => personIds.length)).toEqual([10, 10, 10])
  })
})
