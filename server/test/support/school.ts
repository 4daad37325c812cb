import {
  type HandoutItem,
  type PlanFacts,
  type ProofPart,
  type Statement,
  type Viewer,
  emailKey,
  fingerprintChanges,
  plainItem,
  plainNote,
  plainStatement,
  proofOf,
} from '@gavrin/core'
import type { INestApplication } from '@nestjs/common'
import { hash } from '@node-rs/argon2'
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import request from 'supertest'
import { settingsFor } from './settings.js'

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

/** An application that answers at an address. */
interface Application {
  readonly url: string
  close(): Promise<unknown>
}

interface Opening {
  readonly databaseUrl: string
  readonly demo: boolean
  readonly smtpUrl: string | null
}

/** An application in the process that the test files of this worker share. */
async function openBeside(opening: Opening): Promise<Application> {
  const hosts = process.env['GAVRIN_TEST_HOSTS']!.split(' ')
  const host = hosts[Number(process.env['JEST_WORKER_ID']) % hosts.length]!
  const ask = async (method: string, path: string, body?: string) => {
    const answer = await fetch(`${host}/${path}`, { method, ...(body && { body }) })
    const found = (await answer.json()) as { key: string; url: string; message: string }
    if (!answer.ok) throw new Error(found.message)
    return found
  }
  const { key, url } = await ask('POST', '', JSON.stringify(opening))
  return { url, close: () => ask('DELETE', key) }
}

/** An application in the test's own process, for tests that reach into it. */
export async function openHere({
  databaseUrl,
  demo,
  smtpUrl,
}: Opening): Promise<Application & { app: INestApplication }> {
  const { createApp } = await import('../../dist/app.js')
  const settings = settingsFor(databaseUrl, demo)
  const app = await createApp({ ...settings, mail: { ...settings.mail, smtpUrl } })
  await app.listen(0, '127.0.0.1')
  return { app, url: (await app.getUrl()).replace('[::1]', '127.0.0.1'), close: () => app.close() }
}

/** The database of a test school, asked directly. */
export class TestDatabase {
  private readonly pool: pg.Pool

  constructor(databaseUrl: string) {
    this.pool = new pg.Pool({ connectionString: databaseUrl, max: 4 })
    // A test may stop the database.
    this.pool.on('error', () => undefined)
  }

  async query<Rows>(sql: string, values?: unknown[]): Promise<Rows> {
    return (await this.pool.query(sql, values)).rows as Rows
  }

  /** A transaction of its own, which holds what it takes until it is ended. */
  async transaction() {
    const client = await this.pool.connect()
    await client.query('BEGIN')
    return {
      query: async <Rows>(sql: string, values?: unknown[]) => (await client.query(sql, values)).rows as Rows,
      end: async (how: 'COMMIT' | 'ROLLBACK') => {
        await client.query(how)
        client.release()
      },
    }
  }

  close(): Promise<void> {
    return this.pool.end()
  }
}

/** A person of a test school, with a signed-in agent. */
export interface TestPerson {
  readonly viewer: Viewer
  readonly email: string
  readonly cookie: string
  readonly http: ReturnType<typeof request.agent>
}

/** The cookie of the session that an answer began. */
export const sessionCookie = (headers: Record<string, unknown>): string =>
  (headers['set-cookie'] as string[]).find((one) => one.startsWith('gavrin.session='))!.split(';')[0]!

/** A running server with a database of its own, and the means to make what a test needs. */
export class TestSchool {
  readonly url: string
  readonly source: TestDatabase

  private constructor(
    private readonly application: Application,
    readonly databaseUrl: string,
    readonly schoolId: string,
  ) {
    this.url = application.url
    this.source = new TestDatabase(databaseUrl)
  }

  static async open({
    demo = false,
    databaseUrl,
    smtpUrl = 'stand-in',
    by = openBeside,
  }: {
    demo?: boolean
    databaseUrl?: string
    smtpUrl?: string | null
    by?: (opening: Opening) => Promise<Application>
  } = {}): Promise<TestSchool> {
    const database = databaseUrl ?? (await newDatabase())
    const school = new TestSchool(await by({ databaseUrl: database, demo, smtpUrl }), database, randomUUID())
    await school.addSchool(school.schoolId)
    return school
  }

  async close(): Promise<void> {
    await this.application.close()
    await this.source.close()
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
    const [person] = await this.source.query<{ school_id: string; id: string; role: Viewer['role'] }[]>(
      'UPDATE person SET password_hash = $2 WHERE email_key = $1 RETURNING school_id, id, role',
      [emailKey(email), await passwordHash],
    )
    return this.signIn({ schoolId: person!.school_id, personId: person!.id, role: person!.role }, email)
  }

  private async signIn(viewer: Viewer, email: string): Promise<TestPerson> {
    const http = request.agent(this.url)
    const answer = await http.post('/api/session').send({ email, password: PASSWORD }).expect(204)
    const cookie = sessionCookie(answer.headers)
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
    const title = 'Reading a tide table'
    const id = await this.worksheetOf(teacher, title, [
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
    ])
    return { id, title }
  }

  /** A worksheet of these blocks with a kept edition. */
  async worksheetOf(teacher: TestPerson, title: string, blocks: readonly object[]): Promise<string> {
    const { body } = await teacher.http.post('/api/worksheets').send({ title }).expect(201)
    const { id } = body as { id: string }
    await this.keepEdition(teacher, id, title, blocks)
    return id
  }

  /** Keeps another edition of a worksheet. */
  async keepEdition(teacher: TestPerson, id: string, title: string, blocks: readonly object[]): Promise<void> {
    const of = `/api/worksheets/${id}`
    const { body: opened } = await teacher.http.get(of).expect(200)
    const { version } = opened as { version: number }
    const content = { version: 2, page: 'A4', source: '', blocks }
    const { body: kept } = await teacher.http.put(`${of}/draft`).send({ title, content, version }).expect(200)
    await teacher.http
      .post(`${of}/editions`)
      .send({ version: (kept as { version: number }).version })
      .expect(200)
  }

  /** A group set of a class, its groups given as places in the list of students. */
  async groupSet(given: TestClass, name: string, groups: Readonly<Record<string, readonly number[]>>) {
    const people = await this.peopleOf(given)
    const made = Object.entries(groups).map(([group, members]) => ({
      id: randomUUID(),
      name: group,
      places: null,
      personIds: members.map((at) => people[at]!),
    }))
    const { body } = await given.teacher.http
      .post(`/api/classes/${given.id}/group-sets`)
      .send({ name, balanceColumn: null, arrangement: { groups: made, locked: [], pairs: [] } })
      .expect(201)
    return { id: (body as { id: string }).id, name, groups: made }
  }

  /** The ids of the students of a class, in the order of their e-mails. */
  async peopleOf(given: TestClass): Promise<string[]> {
    const { body } = await given.teacher.http.get(`/api/classes/${given.id}/roster`).expect(200)
    const byEmail = new Map(
      (body as { personId: string; email: string }[]).map(({ email, personId }) => [email, personId]),
    )
    return given.emails.map((email) => byEmail.get(email)!)
  }

  /** A handout of a new worksheet to a class, handed out; its copies by the holder's e-mail. */
  async handedOut(given: TestClass, dueAt: number | null = Date.now() + 3_600_000): Promise<TestHandout> {
    const worksheet = await this.worksheet(given.teacher)
    const statement = statementFor(given.id, worksheet.id, dueAt)
    const { id, version } = await this.draft(given, statement)
    await this.handOut(given.teacher, id)
    return { id, version, statement, copies: await this.copiesByEmail(id) }
  }

  /** A handout to a new class with a cover note by mail, handed out. */
  async mailedTo(students: number): Promise<TestClass> {
    const given = await this.classOf(students)
    const worksheet = await this.worksheet(given.teacher)
    const cover = { text: plainNote('Bring your chart.'), by: 'mail' as const, staffCopied: false }
    const { id } = await this.draft(given, statementFor(given.id, worksheet.id, null, {}, { cover }))
    await this.handOut(given.teacher, id)
    return given
  }

  /** Resolves once something waits for a lock of the database; false if `done` before. */
  async someoneWaits(done: () => boolean = () => false): Promise<boolean> {
    while (!done()) {
      const waiting = await this.source.query<unknown[]>(
        `SELECT 1 FROM pg_stat_activity WHERE datname = current_database() AND wait_event_type = 'Lock'`,
      )
      if (waiting.length > 0) return true
    }
    return false
  }

  /** Hands out what the proof of a handout says now, and resolves when that is done. */
  async handOut(teacher: TestPerson, handoutId: string): Promise<void> {
    const { version } = await openHandout(teacher, handoutId)
    await teacher.http
      .post(`/api/handouts/${handoutId}/hand-out`)
      .send({ version, fingerprint: await fingerprint(teacher, handoutId) })
      .expect(202)
    await this.finished(teacher, handoutId)
  }

  /** Keeps another statement of a handout and hands it out. */
  async mend(teacher: TestPerson, handoutId: string, statement: Statement): Promise<void> {
    const { version } = await openHandout(teacher, handoutId)
    await teacher.http
      .put(`/api/handouts/${handoutId}`)
      .send({ title: 'Tides at the quay', statement, version })
      .expect(200)
    await this.handOut(teacher, handoutId)
  }

  /** Undoes the last hand-out, as its proof shows it. */
  async undo(teacher: TestPerson, handoutId: string): Promise<void> {
    const { body } = await teacher.http.get(`/api/handouts/${handoutId}/undo`).expect(200)
    const { fingerprint: seen } = body as { fingerprint: string }
    await teacher.http.post(`/api/handouts/${handoutId}/undo`).send({ fingerprint: seen }).expect(202)
    await this.finished(teacher, handoutId)
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

/** Cheaper to check than those that Gavrin makes: somebody signs in before every test. */
const passwordHash = hash(PASSWORD, { memoryCost: 64, timeCost: 1, parallelism: 1 })

export const statementFor = (
  classId: string,
  worksheetId: string,
  dueAt: number | null = null,
  item: Partial<HandoutItem> = {},
  more: Partial<Statement> = {},
): Statement => ({
  ...plainStatement([{ ...plainItem('first', worksheetId, 1), ...item }], [{ classId, opensAt: null, dueAt }]),
  ...more,
})

/** A handout as it is opened. */
export interface OpenedHandout {
  readonly id: string
  readonly number: number
  readonly version: number
  readonly statement: Statement
  readonly handedOutAt: number | null
  readonly undoable: number | null
  readonly mayHandOut: boolean
  readonly worksheets: PlanFacts['worksheets']
  readonly parts: readonly (ProofPart & { readonly id: string; readonly number: number })[]
}

export async function openHandout(person: TestPerson, handoutId: string): Promise<OpenedHandout> {
  const { body } = await person.http.get(`/api/handouts/${handoutId}`).expect(200)
  return body as OpenedHandout
}

/** The changes in the proof as the person sees it now. */
export async function changesNow(person: TestPerson, handoutId: string) {
  const { statement, worksheets, parts } = await openHandout(person, handoutId)
  return proofOf(statement, worksheets, parts, Date.now()).changes
}

/** Their fingerprint. */
export const fingerprint = async (person: TestPerson, handoutId: string): Promise<string> =>
  fingerprintChanges(await changesNow(person, handoutId))
