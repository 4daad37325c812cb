import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { WAYS, plainItem, withWay } from '@gavrin/core'
import fc from 'fast-check'
import { runs } from '../../scripts/lib/runs.mjs'
import { LINE } from './support/copies.js'
import { type TestClass, type TestPerson, TestSchool, statementFor } from './support/school.js'

// What a list shows is chosen by SQL, what opens by `core/access`: both must say the same of whatever a school holds.

let school: TestSchool
let given: TestClass
let students: TestPerson[]
let handouts: string[]
let worksheets: { id: string; owner: TestPerson }[]
let teachers: TestPerson[]
beforeAll(async () => {
  school = await TestSchool.open()
  given = await school.classOf(3)
  students = await Promise.all(given.emails.map((email) => school.signInByEmail(email)))
  const worksheet = (await school.worksheet(given.teacher)).id
  const set = await school.groupSet(given, 'Crews', { Crane: [0, 1], Lock: [2] })
  handouts = []
  for (const way of WAYS) {
    const item = withWay(plainItem('first', worksheet, 1), way, [{ id: set.id, name: set.name }])
    const { id } = await school.draft(given, statementFor(given.id, worksheet, null, item))
    await school.handOut(given.teacher, id)
    handouts.push(id)
  }
  teachers = [given.teacher, await school.person('teacher', 'Other'), await school.person('teacher', 'Third')]
  worksheets = []
  for (const owner of teachers)
    for (let made = 0; made < 2; made++)
      worksheets.push({ id: await school.worksheetOf(owner, `Tides ${made}`, [LINE('a')]), owner })
})
afterAll(() => school.close())

/** A number below a limit that a seed decides, so that a case is the same whenever it is tried again. */
function dice(seed: number) {
  let state = (seed % 2_147_483_646) + 1
  return (below: number) => (state = (state * 48_271) % 2_147_483_647) % below
}

const opens = async (person: TestPerson, path: string) => (await person.http.get(path)).status === 200
const idsAt = async (person: TestPerson, path: string) =>
  ((await person.http.get(path).expect(200)).body as { id: string }[]).map(({ id }) => id)

test('a student is shown the copies that open for them, and no others', async () => {
  const copies = await school.source.query<{ id: string; way: string }[]>('SELECT id, way FROM copy')
  expect(copies.length).toBeGreaterThan(6)
  const PERMISSIONS = ['none', 'view', 'comment', 'edit']
  const arrange = async (roll: ReturnType<typeof dice>) => {
    await school.source.query('DELETE FROM copy_reader')
    for (const student of students)
      await school.source.query('UPDATE class_member SET left_at = $2 WHERE person_id = $1', [
        student.viewer.personId,
        roll(4) === 0 ? new Date() : null,
      ])
    for (const { id, way } of copies) {
      // What is given to read is given to all alike; who holds a copy may at least what their classmates may.
      const classmates = way === 'to read' ? 'none' : PERMISSIONS[roll(4)]!
      await school.source.query(
        `UPDATE copy SET set_aside = $2, opens_at = now() + $3 * interval '1 day', classmates_may = $4, may_invite = $5 WHERE id = $1`,
        [id, roll(4) === 0, [null, -1, 1][roll(3)], classmates, roll(2) === 0],
      )
      const holders = await school.source.query<{ person_id: string }[]>(
        'SELECT person_id FROM copy_holder WHERE copy_id = $1',
        [id],
      )
      for (const { person_id } of holders)
        await school.source.query('UPDATE copy_holder SET permission = $3 WHERE copy_id = $1 AND person_id = $2', [
          id,
          person_id,
          PERMISSIONS[classmates === 'none' ? roll(4) : 1 + roll(3)],
        ])
      for (const { viewer } of students)
        if (roll(3) === 0 && holders.every(({ person_id }) => person_id !== viewer.personId))
          await school.source.query(
            'INSERT INTO copy_reader (school_id, copy_id, person_id, permission, invited_by) VALUES ($1, $2, $3, $4, $5)',
            [viewer.schoolId, id, viewer.personId, PERMISSIONS[1 + roll(3)], [null, holders[0]?.person_id][roll(2)]],
          )
    }
  }
  await fc.assert(
    fc.asyncProperty(fc.nat(), async (seed) => {
      await arrange(dice(seed))
      for (const student of students) {
        const own = await idsAt(student, '/api/copies')
        const reading = await idsAt(student, '/api/copies/reading')
        const linked: string[] = []
        for (const handout of handouts) {
          const answer = await student.http.get(`/api/handouts/${handout}/mine`)
          const { copies: mine = [], others = [] } = answer.body as Record<'copies' | 'others', { id: string }[]>
          linked.push(...[...mine, ...others].map(({ id }) => id))
        }
        const shown = new Set([...own, ...reading, ...linked])
        for (const { id } of copies) {
          const isOpen = await opens(student, `/api/copies/${id}`)
          // Set aside without a word in it, a copy is no student's concern any more: it opens, and is not shown.
          const [facts] = await school.source.query<{ aside: boolean }[]>(
            'SELECT set_aside AS aside FROM copy WHERE id = $1',
            [id],
          )
          if (isOpen && facts!.aside) continue
          expect({ id, shown: shown.has(id) }).toEqual({ id, shown: isOpen })
        }
      }
    }),
    { numRuns: runs(6, 60) },
  )
})

test('a teacher is shown the worksheets that open for them, and no others', async () => {
  const arrange = async (roll: ReturnType<typeof dice>) => {
    await school.source.query('DELETE FROM worksheet_share')
    for (const { id, owner } of worksheets) {
      await school.source.query('UPDATE worksheet SET school_may = $2 WHERE id = $1', [
        id,
        ['none', 'none', 'view', 'edit'][roll(4)],
      ])
      for (const { viewer } of teachers)
        if (viewer.personId !== owner.viewer.personId && roll(2) === 0)
          await school.source.query(
            'INSERT INTO worksheet_share (school_id, worksheet_id, person_id, may) VALUES ($1, $2, $3, $4)',
            [viewer.schoolId, id, viewer.personId, ['view', 'edit'][roll(2)]],
          )
    }
  }
  await fc.assert(
    fc.asyncProperty(fc.nat(), async (seed) => {
      await arrange(dice(seed))
      for (const teacher of teachers) {
        const listed = await idsAt(teacher, '/api/worksheets')
        const found = (await teacher.http.get('/api/worksheets/find?words=tides').expect(200)).body as { ids: string[] }
        for (const { id } of worksheets) {
          const isOpen = await opens(teacher, `/api/worksheets/${id}`)
          expect([id, listed.includes(id), found.ids.includes(id)]).toEqual([id, isOpen, isOpen])
        }
      }
    }),
    { numRuns: runs(6, 60) },
  )
})
