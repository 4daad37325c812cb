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

test('whoever is on the staff is shown the classes, the handouts and the people that open for them; a student the sign-ups', async () => {
  const other = await school.classOf(2, teachers[1])
  const classes = [given, other]
  const { id: elsewhere } = await school.draft(
    other,
    statementFor(other.id, worksheets.find(({ owner }) => owner === teachers[1])!.id),
  )
  await school.handOut(teachers[1]!, elsewhere)
  const all = [...handouts.map((id) => ({ id, classId: given.id })), { id: elsewhere, classId: other.id }]
  await school.source.query(`UPDATE handout SET title = 'Shore ' || title WHERE id = ANY($1)`, [
    all.map(({ id }) => id),
  ])
  const people = [...(await school.peopleOf(given)), ...(await school.peopleOf(other))]
  const sets = [
    await school.groupSet(given, 'Trades', { Pilots: [], Smiths: [0] }),
    await school.groupSet(other, 'Watches', { Port: [1] }),
  ]
  const ROLES = ['co-teacher', 'helper', 'named helper', 'named helper', null, null]
  const arrange = async (roll: ReturnType<typeof dice>) => {
    const gone = () => (roll(4) === 0 ? new Date() : null)
    await school.source.query('DELETE FROM helped_student')
    for (const { id } of classes) {
      await school.source.query('UPDATE class SET archived_at = $2 WHERE id = $1', [id, gone()])
      for (const { viewer } of teachers.slice(1)) {
        await school.source.query(`DELETE FROM class_member WHERE class_id = $1 AND person_id = $2`, [
          id,
          viewer.personId,
        ])
        const role = ROLES[roll(ROLES.length)]
        if (!role) continue
        await school.source.query(
          'INSERT INTO class_member (school_id, class_id, person_id, role, left_at) VALUES ($1, $2, $3, $4, $5)',
          [viewer.schoolId, id, viewer.personId, role, gone()],
        )
        for (const student of people)
          if (role === 'named helper' && roll(2) === 0)
            await school.source.query(
              `INSERT INTO helped_student (school_id, class_id, helper_id, student_id)
               SELECT school_id, class_id, $3, person_id FROM class_member WHERE class_id = $1 AND person_id = $2 AND role = 'student'`,
              [id, student, viewer.personId],
            )
      }
    }
    for (const student of people)
      await school.source.query(`UPDATE class_member SET left_at = $2 WHERE person_id = $1`, [student, gone()])
    for (const { id } of sets)
      await school.source.query('UPDATE group_set SET sign_up_open = $2 WHERE id = $1', [id, roll(3) > 0])
  }
  await fc.assert(
    fc.asyncProperty(fc.nat(), async (seed) => {
      await arrange(dice(seed))
      for (const teacher of teachers) {
        const listed = await idsAt(teacher, '/api/classes')
        const found = (await teacher.http.get('/api/find?typed=shore').expect(200)).body as {
          handouts: { id: string }[]
        }
        const met = (await teacher.http.get('/api/find?typed=last0').expect(200)).body as {
          people: { personId: string }[]
        }
        for (const { id } of classes) {
          const isOpen = await opens(teacher, `/api/classes/${id}`)
          expect([id, listed.includes(id)]).toEqual([id, isOpen])
          const own = isOpen ? await idsAt(teacher, `/api/classes/${id}/handouts`) : []
          for (const handout of all)
            if (handout.classId === id) {
              const isThere = await opens(teacher, `/api/handouts/${handout.id}/board`)
              expect([
                handout.id,
                own.includes(handout.id),
                found.handouts.some((one) => one.id === handout.id),
              ]).toEqual([handout.id, isThere, isThere])
            }
        }
        for (const id of people)
          expect([id, met.people.some(({ personId }) => personId === id)]).toEqual([
            id,
            await opens(teacher, `/api/people/${id}`),
          ])
      }
      for (const student of students) {
        const offered = await idsAt(student, '/api/sign-ups')
        for (const { id } of sets) {
          // One that was closed can be looked at still.
          const { status, body } = await student.http.get(`/api/sign-ups/${id}`)
          const isOpen = status === 200 && (body as { state: string }).state === 'open'
          expect([id, offered.includes(id)]).toEqual([id, isOpen])
        }
      }
    }),
    { numRuns: runs(6, 60) },
  )
})
