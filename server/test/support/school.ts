import { type Statement, type Viewer, plainItem, emailKey } from '@gavrin/core'
import type { INestApplication } from '@nestjs/common'
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import request from 'supertest'
import { DataSource } from 'typeorm'
import { hashPassword } from '../../dist/account/signIn.service.js'
import { createApp } from '../../dist/app.js'
import { WorksheetService } from '../../dist/worksheet/worksheet.service.js'

const SECRET = 'a secret of the tests, long enough to pass'
export const PASSWORD = 'a password of the tests'

/** A new database, copied from the migrated template. */
export async function newDatabase(): Promise<string> {
  const base = process.env['GAVRIN_TEST_DATABASES']!
  const name = `gavrin_test_${randomUUID().slice(0, 8)}`
  const client = new pg.Client({ connectionString: `${base}postgres` })
  await client.connect()
  // A template can be copied by one at a time.
  await client.query('SELECT pg_advisory_lock(1)')
  await client.query(`CREATE DATABASE "${name}" TEMPLATE gavrin_test_template`)
  await client.end()
  return base + name
}

export const settingsFor = (databaseUrl: string, demo = false) => ({
  host: '127.0.0.1',
  port: 0,
  databaseUrl,
  sessionSecret: SECRET,
  demo,
  secureCookie: false,
  webRoot: null,
  poolSize: 10,
  mail: {
    smtpUrl: 'stand-in' as string | null,
    from: 'gavrin@fennickquay.example',
    publicUrl: 'https://gavrin.fennickquay.example',
  },
})

/** A person of a test school, with a signed-in agent. */
export interface TestPerson {
  readonly viewer: Viewer
  readonly email: string
  readonly cookie: string
  readonly http: ReturnType<typeof request.agent>
}

/** A running server with a database of its own, and the means to make what a test needs. */
export class TestSchool {
  private constructor(
    readonly app: INestApplication,
    readonly url: string,
    readonly databaseUrl: string,
    readonly source: DataSource,
    readonly schoolId: string,
  ) {}

  static async open({
    demo = false,
    databaseUrl,
    smtpUrl = 'stand-in',
  }: { demo?: boolean; databaseUrl?: string; smtpUrl?: string | null } = {}): Promise<TestSchool> {
    const database = databaseUrl ?? (await newDatabase())
    const settings = settingsFor(database, demo)
    const app = await createApp({ ...settings, mail: { ...settings.mail, smtpUrl } })
    await app.listen(0, '127.0.0.1')
    const source = app.get(DataSource)
    const school = new TestSchool(
      app,
      (await app.getUrl()).replace('[::1]', '127.0.0.1'),
      database,
      source,
      randomUUID(),
    )
    await school.addSchool(school.schoolId)
    return school
  }

  async close(): Promise<void> {
    await this.app.close()
  }

  async addSchool(id: string): Promise<void> {
    await this.source.query(
      `INSERT INTO school (id, name, time_zone, locale) VALUES ($1, 'Test School', 'UTC', 'en-GB')`,
      [id],
    )
  }

  /** Somebody who can sign in, signed in. */
  async person(role: Viewer['role'], first: string, schoolId = this.schoolId): Promise<TestPerson> {
    const id = randomUUID()
    const email = `${first.toLowerCase().replace(/[^a-z]/g, '')}.${id.slice(0, 6)}@fennickquay.example`
    await this.source.query(
      `INSERT INTO person (school_id, id, role, first_name, last_name, email, email_key, password_hash) VALUES ($1, $2, $3, $4, 'Tester', $5, $6, $7)`,
      [schoolId, id, role, first, email, emailKey(email), await passwordHash],
    )
    return this.signIn({ schoolId, personId: id, role }, email)
  }

  /** Somebody of the roster, given a password and signed in. */
  async signInByEmail(email: string): Promise<TestPerson> {
    const [person] = await this.source
      .query<{ school_id: string; id: string; role: Viewer['role'] }[]>(
        'UPDATE person SET password_hash = $2 WHERE email_key = $1 RETURNING school_id, id, role',
        [emailKey(email), await passwordHash],
      )
      .then((answer) => answer[0] as unknown as { school_id: string; id: string; role: Viewer['role'] }[])
    return this.signIn({ schoolId: person!.school_id, personId: person!.id, role: person!.role }, email)
  }

  private async signIn(viewer: Viewer, email: string): Promise<TestPerson> {
    const http = request.agent(this.url)
    const answer = await http.post('/api/session').send({ email, password: PASSWORD }).expect(204)
    const cookie = (answer.headers['set-cookie'] as unknown as string[])[0]!.split(';')[0]!
    return { viewer, email, cookie, http }
  }

  /** A class with a roster `s0@…`, `s1@…` of this many students, led by a new teacher. */
  async classOf(students: number, lead?: TestPerson): Promise<TestClass> {
    const teacher = lead ?? (await this.person('teacher', 'Lead'))
    const created = await teacher.http
      .post('/api/classes')
      .send({ name: '8 Heron', subject: 'Geography', year: '2026/27', ink: 'deep blue' })
      .expect(201)
    const { id } = created.body as { id: string }
    const mark = id.slice(0, 6)
    const rows = Array.from({ length: students }, (_, at) => ({
      last: `Last${String(at).padStart(4, '0')}`,
      first: `First${at}`,
      email: `s${at}.${mark}@fennickquay.example`,
    }))
    if (students) await teacher.http.post(`/api/classes/${id}/roster`).send({ rows }).expect(200)
    return { id, teacher, emails: rows.map(({ email }) => email) }
  }

  /** A worksheet with a kept edition: one space of each kind, of these ids. */
  async worksheet(teacher: TestPerson): Promise<{ id: string; title: string }> {
    const service = this.app.get(WorksheetService)
    const title = 'Reading a tide table'
    const { id } = await service.create(teacher.viewer, title)
    const content = {
      version: 2,
      page: 'A4',
      source: '',
      blocks: [
        {
          id: 'q',
          kind: 'text',
          rich: { type: 'paragraph', content: [{ type: 'text', text: 'When is high water?' }] },
        },
        { id: 'line', kind: 'line', width: 'full' },
        { id: 'passage', kind: 'passage', lines: 4 },
        {
          id: 'choice',
          kind: 'choice',
          many: false,
          options: [
            { id: 'a', text: 'A' },
            { id: 'b', text: 'B' },
          ],
        },
        { id: 'number', kind: 'number', unit: 'm' },
      ],
    }
    const { version } = await service.keepDraft(teacher.viewer, id, { title, content, version: 1 })
    await service.keepEdition(teacher.viewer, id, version)
    return { id, title }
  }

  /** A handout of a new worksheet to a class, handed out; its copies by the holder's e-mail. */
  async handedOut(given: TestClass, dueAt: number | null = Date.now() + 3_600_000): Promise<TestHandout> {
    const worksheet = await this.worksheet(given.teacher)
    const statement = statementFor(worksheet.id, dueAt)
    const { id, version } = await this.draft(given, statement)
    await given.teacher.http
      .post(`/api/handouts/${id}/hand-out`)
      .send({ version, fingerprint: await fingerprint(given.teacher, id) })
      .expect(202)
    await this.finished(given.teacher, id)
    return { id, version, statement, copies: await this.copiesByEmail(id) }
  }

  async draft(given: TestClass, statement: Statement): Promise<{ id: string; version: number }> {
    const created = await given.teacher.http
      .post(`/api/classes/${given.id}/handouts`)
      .send({ title: 'Tides at the quay', statement })
      .expect(201)
    return created.body as { id: string; version: number }
  }

  /** Resolves when a hand-out is done. */
  async finished(person: TestPerson, handoutId: string): Promise<void> {
    for (;;) {
      const { body } = await person.http.get(`/api/handouts/${handoutId}/hand-out`).expect(200)
      if ((body as { finished: boolean }).finished) return
    }
  }

  async copiesByEmail(handoutId: string): Promise<Map<string, string>> {
    const rows = await this.source.query<{ id: string; email: string }[]>(
      `SELECT c.id, p.email FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
         JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id WHERE c.handout_id = $1 ORDER BY c.title`,
      [handoutId],
    )
    return new Map(rows.map(({ id, email }) => [email, id]))
  }

  async count(table: string, where = 'true'): Promise<number> {
    const [row] = await this.source.query<{ n: number }[]>(`SELECT count(*)::int AS n FROM ${table} WHERE ${where}`)
    return row!.n
  }
}

export interface TestClass {
  readonly id: string
  readonly teacher: TestPerson
  readonly emails: readonly string[]
}

export interface TestHandout {
  readonly id: string
  readonly version: number
  readonly statement: Statement
  readonly copies: Map<string, string>
}

const passwordHash = hashPassword(PASSWORD)

export const statementFor = (worksheetId: string, dueAt: number | null = null): Statement => ({
  items: [plainItem('first', worksheetId, 1)],
  dueAt,
})

/** The fingerprint of the changes in the proof as the person sees it now. */
export async function fingerprint(person: TestPerson, handoutId: string): Promise<string> {
  const { changesToPlan, fingerprintChanges, planHandout } = await import('@gavrin/core')
  const { body } = await person.http.get(`/api/handouts/${handoutId}`).expect(200)
  const opened = body as {
    statement: Statement
    facts: Parameters<typeof planHandout>[1]
    existing: Parameters<typeof changesToPlan>[1]
  }
  return fingerprintChanges(
    changesToPlan(planHandout(opened.statement, opened.facts, Date.now()).copies, opened.existing),
  )
}
