import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { SCOPES } from '@gavrin/core'
import { readFileSync } from 'node:fs'
import request from 'supertest'
import { TestSchool } from './support/school.js'

// The examples of docs/api.md, one after the other, as a program would ask: what they say is so.

interface Example {
  readonly asked: string
  readonly method: string
  readonly path: string
  readonly body: string
  readonly status: number
  readonly answer: string
}

const EXAMPLES: readonly Example[] = [
  ...readFileSync(new URL('../../docs/api.md', import.meta.url), 'utf8').matchAll(/```http\n([^]*?)```/g),
].map(([, block]) => {
  const [, method, path, body, status, answer] = /^(\S+) (\S+)\n([^]*?)\n?\n(\d+)\s*([^]*)$/.exec(block!.trim())!
  return {
    asked: `${method!} ${path!}`,
    method: method!,
    path: path!,
    body: body!,
    status: Number(status),
    answer: answer!,
  }
})

let school: TestSchool
let token: string
const known = new Map<string, unknown>()
beforeAll(async () => {
  school = await TestSchool.open()
  const teacher = await school.person('teacher', 'Ada')
  const { body } = await teacher.http
    .post('/api/tokens')
    .send({ name: 'Examples', scopes: SCOPES, days: 1 })
    .expect(201)
  ;({ token } = body as { token: string })
})
afterAll(() => school.close())

/** With what was taken from answers in its place. */
const filled = (text: string) =>
  text
    .replace(/"\{(\w+)\}"/g, (whole, name: string) => (known.has(name) ? JSON.stringify(known.get(name)) : whole))
    .replace(/\{(\w+)\}/g, (whole, name: string) => (known.has(name) ? String(known.get(name)) : whole))

/** Whether an answer is as an example says, which may say less; takes what stands in braces. */
function holds(is: unknown, said: unknown, place = 'answer'): void {
  const name = typeof said === 'string' ? /^\{(\w+)\}$/.exec(said)?.[1] : undefined
  if (name !== undefined) {
    expect([place, is]).not.toEqual([place, undefined])
    known.set(name, is)
  } else if (Array.isArray(said)) {
    expect([place, (is as unknown[]).length]).toEqual([place, said.length])
    for (const [at, one] of said.entries()) holds((is as unknown[])[at], one, `${place}[${at}]`)
  } else if (typeof said === 'object' && said !== null)
    for (const [key, one] of Object.entries(said)) holds((is as Record<string, unknown>)[key], one, `${place}.${key}`)
  else expect([place, is]).toEqual([place, said])
}

test('there are examples', () => expect(EXAMPLES.length).toBeGreaterThan(10))

test.each(EXAMPLES.map((example, at) => [`${at + 1}. ${example.asked}`, example] as const))(
  '%s',
  async (_, example) => {
    const path = filled(example.path)
    const method = example.method.toLowerCase() as 'get' | 'post' | 'put'
    const api = request(school.url)
    const asking = api[method](path).set('authorization', `Bearer ${token}`)
    const { status, body } = await (example.body ? asking.send(JSON.parse(filled(example.body)) as object) : asking)
    expect([status, status === example.status ? null : body]).toEqual([example.status, null])
    if (example.answer) holds(body, JSON.parse(filled(example.answer)))
  },
)
