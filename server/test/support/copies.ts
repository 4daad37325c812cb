import { type HandoutItem, type Statement, withWay } from '@gavrin/core'
import request from 'supertest'
import { LiveClient } from './liveClient.js'
import { type TestClass, type TestPerson, type TestSchool, sessionCookie, statementFor } from './school.js'

export const HOUR = 3_600_000

export const QUESTION = (id: string, text: string) => ({
  id,
  kind: 'text',
  rich: { type: 'paragraph', content: [{ type: 'text', text }] },
})
export const LINE = (id: string) => ({ id, kind: 'line', width: 'full' })
export const section = (
  id: string,
  is: 'each member' | 'each group' | readonly string[],
  blocks: readonly object[],
) => ({
  id,
  kind: 'section',
  title: 'Part',
  whose: typeof is === 'string' ? { is } : { is: 'named', people: is.map((of) => ({ id: of, name: 'Somebody' })) },
  blocks,
})

/** The address of an answer space in the part of one person or group. */
export const part = (space: string, id: string) => `${space}_${id.replaceAll('-', '')}`

interface CopyRow {
  readonly id: string
  readonly slot_key: string
  readonly title: string
  readonly way: string
  readonly edition: number
  readonly set_aside: boolean
  readonly due_at: Date | null
  readonly people: string[]
}

/** Handing out in a school, and what there is of it. */
export function copiesIn(school: () => TestSchool) {
  const rowsOf = (handoutId: string) =>
    school().source.query<CopyRow[]>(
      `SELECT c.id, c.slot_key, c.title, c.way, c.edition, c.set_aside, c.due_at,
              (SELECT coalesce(json_agg(o.person_id ORDER BY o.person_id), '[]') FROM copy_holder o WHERE o.copy_id = c.id) AS people
         FROM copy c WHERE c.handout_id = $1 ORDER BY c.title`,
      [handoutId],
    )
  return {
    rowsOf,
    there: async (handoutId: string) => (await rowsOf(handoutId)).filter((row) => !row.set_aside),

    /** Draws up a handout and hands it out. */
    given: async (of: TestClass, statement: Statement): Promise<string> => {
      const { id } = await school().draft(of, statement)
      await school().handOut(of.teacher, id)
      return id
    },

    /** A copy that a class shares: of a worksheet of these blocks, with what a slip says otherwise. */
    shared: async (
      of: TestClass,
      item: Partial<HandoutItem> = {},
      blocks?: readonly object[],
    ): Promise<{ handoutId: string; copyId: string }> => {
      const worksheetId = blocks
        ? await school().worksheetOf(of.teacher, 'Front page', blocks)
        : (await school().worksheet(of.teacher)).id
      const statement = statementFor(of.id, worksheetId)
      const items = [{ ...withWay(statement.items[0]!, 'one together', []), ...item }]
      const { id } = await school().draft(of, { ...statement, items })
      await school().handOut(of.teacher, id)
      const [copy] = await rowsOf(id)
      return { handoutId: id, copyId: copy!.id }
    },

    /** Somebody without an account comes in by a link to the first item. */
    walksIn: async (
      of: TestClass,
      handoutId: string,
      name: string,
      permission: 'view' | 'comment' | 'edit',
    ): Promise<TestPerson> => {
      const { body } = await of.teacher.http
        .put(`/api/handouts/${handoutId}/walk-ins/first`)
        .send({ permission, open: true, endsAt: null })
        .expect(200)
      const http = request.agent(school().url)
      const { headers } = await http.post(`/api/walk-in/${(body as { code: string }[])[0]!.code}`).send({ name })
      const { person } = (await http.get('/api/session').expect(200)).body as { person: { id: string } }
      const viewer = { schoolId: school().schoolId, personId: person.id, role: 'guest' } as const
      return { viewer, email: '', cookie: sessionCookie(headers), http }
    },

    /** Somebody writes a text in an answer space, and it is saved. */
    write: async (person: TestPerson, copyId: string, space: string, text: string): Promise<void> => {
      const client = await LiveClient.open(school().url, person.cookie, copyId)
      await client.saved(client.type(text, space))
      client.close()
    },

    read: async (person: TestPerson, copyId: string, space: string): Promise<string> => {
      const client = await LiveClient.open(school().url, person.cookie, copyId)
      const text = client.text(space)
      client.close()
      return text
    },
  }
}
