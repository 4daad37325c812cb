import type { OthersPlaces } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { LINE, QUESTION, copiesIn, part, section } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { type TestPerson, TestSchool } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { shared, write, walksIn } = copiesIn(() => school)

/** A copy of three with a part for each, of which the first two have written; the third looks. */
async function begin(othersPlaces: OthersPlaces, dueAt: number | null = null) {
  const of = await school.classOf(3)
  const { handoutId, copyId } = await shared(of, { othersPlaces }, [
    LINE('all'),
    section('s', 'each member', [QUESTION('q', 'What did you see?'), LINE('note')]),
  ])
  if (dueAt !== null) await school.source.query('UPDATE copy SET due_at = $2 WHERE id = $1', [copyId, new Date(dueAt)])
  const [one, two] = await Promise.all(of.emails.map((email) => school.signInByEmail(email)))
  const noteOf = ({ viewer }: TestPerson) => part('note', viewer.personId)
  await write(one!, copyId, noteOf(one!), 'Terns by the mole')
  await write(two!, copyId, noteOf(two!), 'A seal')
  await write(two!, copyId, 'all', 'On Friday')
  return { of, handoutId, copyId, one: one!, two: two!, noteOf }
}

interface Page {
  content: object
  places: { name: string; isOwn: boolean; spaces: string[] }[]
}
const pageOf = async (person: TestPerson, copyId: string) =>
  (await person.http.get(`/api/copies/${copyId}`).expect(200)).body as Page
const logOf = async (person: TestPerson, copyId: string) =>
  String((await person.http.get(`/api/copies/${copyId}/history/log?space=&seq=0`).buffer(true).expect(200)).body)
const say = (person: TestPerson, copyId: string, anchor: object, text: string) =>
  person.http.put(`/api/copies/${copyId}/comments/${randomUUID()}`).send({
    text,
    threadId: randomUUID(),
    begins: { kind: 'comment', staffOnly: false, anchor },
  })
const saidTo = async (person: TestPerson, copyId: string) =>
  JSON.stringify((await person.http.get(`/api/copies/${copyId}/comments`).expect(200)).body)

describe('the places of others', () => {
  test('can be read, and jumped to', async () => {
    const { copyId, one, two, noteOf } = await begin('read')
    const { places, content } = await pageOf(one, copyId)
    expect(places.map(({ isOwn, spaces }) => [isOwn, spaces.length])).toEqual([
      [true, 1],
      [false, 1],
      [false, 1],
    ])
    expect(JSON.stringify(content)).toContain(noteOf(two))
    const client = await LiveClient.open(school.url, one.cookie, copyId)
    expect(client.text(noteOf(two))).toBe('A seal')
    client.close()
  })

  test('stay hidden: from the page, the live connection, the history, the comments, where others are, and guests', async () => {
    const { of, handoutId, copyId, one, two, noteOf } = await begin('hidden')
    for (const [person, seen, hidden] of [
      [one, noteOf(one), noteOf(two)],
      [two, noteOf(two), noteOf(one)],
    ] as const) {
      const { places, content } = await pageOf(person, copyId)
      expect(places).toMatchObject([{ isOwn: true, spaces: [seen] }])
      expect(JSON.stringify(content)).not.toContain(hidden)
      expect(await logOf(person, copyId)).not.toContain(hidden)
      expect(await logOf(person, copyId)).toContain(seen)
    }
    const staff = JSON.stringify((await pageOf(of.teacher, copyId)).content)
    expect(staff).toContain(noteOf(one))
    expect(staff).toContain(noteOf(two))
    expect(await logOf(of.teacher, copyId)).toContain(noteOf(two))

    const [first, second, teacher] = await Promise.all(
      [one, two, of.teacher].map(({ cookie }) => LiveClient.open(school.url, cookie, copyId)),
    )
    expect(first!.text(noteOf(two))).toBe('')
    expect(first!.text(noteOf(one))).toBe('Terns by the mole')
    expect(teacher!.text(noteOf(two))).toBe('A seal')
    second!.send({ type: 'here', channel: 1, space: noteOf(two), at: null, away: false })
    await second!.saved(second!.type(' and gulls', noteOf(two)))
    await second!.saved(second!.type(', at noon', 'all'))
    await first!.until(() => first!.text('all').includes('noon'))
    expect(first!.text(noteOf(two))).toBe('')
    await teacher!.until(() => teacher!.text(noteOf(two)).includes('gulls'))
    await teacher!.until(() => JSON.stringify(teacher!.messages).includes(noteOf(two)))
    expect(JSON.stringify(first!.messages)).not.toContain(noteOf(two))
    for (const client of [first, second, teacher]) client!.close()

    await say(two, copyId, { is: 'space', space: noteOf(two) }, 'Is this enough?').expect(200)
    expect(await saidTo(of.teacher, copyId)).toContain('Is this enough?')
    expect(await saidTo(one, copyId)).not.toContain('Is this enough?')
    // What is not shown cannot be spoken of.
    await say(one, copyId, { is: 'space', space: noteOf(two) }, 'What is it?').expect(422)

    const guest = await walksIn(of, handoutId, 'Mika', 'comment')
    expect(JSON.stringify((await pageOf(guest, copyId)).content)).not.toContain(noteOf(two))
  })

  test('are shown from the due time on, in open windows too', async () => {
    const { copyId, one, two, noteOf } = await begin('hidden until due', Date.now() + 86_400_000)
    const client = await LiveClient.open(school.url, one.cookie, copyId)
    expect(client.text(noteOf(two))).toBe('')
    expect(JSON.stringify((await pageOf(one, copyId)).content)).not.toContain(noteOf(two))
    client.close()
    await school.source.query(`UPDATE copy SET due_at = now() - interval '1 second' WHERE id = $1`, [copyId])
    const { content, places } = await pageOf(one, copyId)
    expect(JSON.stringify(content)).toContain(noteOf(two))
    expect(places).toHaveLength(3)
    expect(await logOf(one, copyId)).toContain(noteOf(two))
  })

  test('are hidden by handing out anew: who has the copy open opens it again, without them', async () => {
    const { of, handoutId, copyId, one, two, noteOf } = await begin('read')
    const client = await LiveClient.open(school.url, one.cookie, copyId)
    expect(client.text(noteOf(two))).toBe('A seal')
    const { body } = await of.teacher.http.get(`/api/handouts/${handoutId}`).expect(200)
    const { statement } = body as { statement: { items: object[] } }
    await school.mend(of.teacher, handoutId, {
      ...statement,
      items: [{ ...statement.items[0]!, othersPlaces: 'hidden' }],
    } as never)
    await client.until(() => JSON.stringify(client.messages).includes('"closed"'))
    client.close()
    expect(JSON.stringify((await pageOf(one, copyId)).content)).not.toContain(noteOf(two))
  })
})
