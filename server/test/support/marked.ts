import type { MarkChange } from '@gavrin/core'
import { randomUUID } from 'node:crypto'
import type { Answers } from '../../../web/src/contract.js'
import { LINE, QUESTION, copiesIn } from './copies.js'
import { type TestClass, type TestPerson, type TestSchool, statementFor } from './school.js'

export type Marks = Answers['GET handouts/{handoutId}/marks']
export type Changed = Answers['PUT handouts/{handoutId}/marks']
export type Proof = Answers['POST handouts/{handoutId}/hand-back/proof']

export const RUBRIC = [
  {
    ...{ id: 'why', name: 'Reasons', points: 3 },
    levels: [
      { id: 'none', name: 'none', points: 0 },
      { id: 'all', name: 'from the table to the boat', points: 3 },
    ],
  },
]

export interface Handed {
  readonly of: TestClass
  readonly id: string
  readonly copyIds: string[]
}

export const space = (to: number | null, was: number | null = null, of = 'line'): MarkChange => ({
  of: 'space',
  space: of,
  was,
  to,
})
export const WHOLE: readonly MarkChange[] = [
  space(150),
  space(400, null, 'passage'),
  { of: 'criterion', criterion: 'why', was: null, to: { points: 300, level: 'all' } },
  { of: 'remark', was: '', to: 'Surely read.' },
]
export const MESSAGE = 'Dear {first name}: {mark}.'
export const remark = (person: TestPerson, copyId: string, text: string, anchor: object = { is: 'copy' }) =>
  person.http
    .put(`/api/copies/${copyId}/comments/${randomUUID()}`)
    .send({ text, threadId: randomUUID(), begins: { kind: 'remark', staffOnly: false, anchor } })
export const codeOf = ({ body }: { body: unknown }) => (body as { code: string }).code

/** Marking and handing back in a school. */
export function markingIn(schoolNow: () => TestSchool) {
  const { given } = copiesIn(schoolNow)
  /** A handout that is marked by the points of its two answers and a rubric. */
  async function handed(students: number, more: object = {}, item: object = {}): Promise<Handed> {
    const of = await schoolNow().classOf(students)
    const worksheetId = await schoolNow().worksheetOf(of.teacher, 'Tides', [
      QUESTION('q', 'When is high water?'),
      { ...LINE('line'), points: 2, accepted: ['05:48'] },
      { id: 'passage', kind: 'passage', lines: 4, points: 5 },
    ])
    const marking = { marking: { kind: 'spaces' as const }, rubric: RUBRIC, ...more }
    const id = await given(of, statementFor(of.id, worksheetId, null, item, marking))
    const copies = await schoolNow().copiesByEmail(id)
    return { of, id, copyIds: of.emails.map((email) => copies.get(email)!) }
  }
  const student = ({ of }: Handed, at = 0) => schoolNow().signInByEmail(of.emails[at]!)
  const submit = async (handedOut: Handed, at = 0) => {
    const person = await student(handedOut, at)
    await person.http.post(`/api/copies/${handedOut.copyIds[at]!}/submit`).expect(200)
    return person
  }
  const page = async ({ of, id }: Handed, person: TestPerson = of.teacher) =>
    (await person.http.get(`/api/handouts/${id}/marks`).expect(200)).body as Marks
  const put = ({ of, id }: Handed, marks: readonly object[], person: TestPerson = of.teacher) =>
    person.http.put(`/api/handouts/${id}/marks`).send({ marks })
  const markWhole = (handedOut: Handed, at = 0, changes: readonly MarkChange[] = WHOLE) =>
    put(handedOut, [{ copyId: handedOut.copyIds[at], personId: null, changes, done: true }]).expect(200)
  const proof = async ({ of, id }: Handed, more: object = {}) =>
    (
      await of.teacher.http
        .post(`/api/handouts/${id}/hand-back/proof`)
        .send({ message: MESSAGE, byMail: false, ...more })
        .expect(200)
    ).body as Proof
  const handBack = ({ of, id }: Handed, fingerprint: string, more: object = {}) =>
    of.teacher.http
      .post(`/api/handouts/${id}/hand-back`)
      .send({ message: MESSAGE, byMail: false, fingerprint, ...more })
  const handAllBack = async (handedOut: Handed, more: object = {}) =>
    handBack(handedOut, (await proof(handedOut, more)).fingerprint, more).expect(200)
  return { handed, student, submit, page, put, markWhole, proof, handBack, handAllBack }
}
