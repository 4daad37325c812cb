import { heapsOf, joinNear } from '@gavrin/core'
import type { Page } from '@playwright/test'
import { clock, inBrowser, scrolled, standing } from './browser.js'
import { median, print, quantile, timed } from './figures.js'
import { begin, database } from './liveSchool.js'

// Marking: a mark typed until it is kept, all copies of a handout handed back beside a bare statement of the same rows, the mark book
// of a large class, alike answers gathered.

const COPIES = 1_000
const STUDENTS = 500
const HANDOUTS = 100

const { address, cookies, school, child, call, id, rows } = await begin(COPIES, 'one each')
await database.query(
  `UPDATE handout SET given = jsonb_set(given, '{marking}', '{"kind":"points","points":20}'), statement = jsonb_set(statement, '{marking}', '{"kind":"points","points":20}') WHERE id = $1`,
  [id],
)
await database.query('ANALYZE')
const total = (to: number, was: number | null = null) => [{ of: 'total', was, to }]

const typed: number[] = []
for (let round = 0; round < 4; round++)
  for (const [at, row] of rows.slice(0, 60).entries())
    typed.push(
      await timed(() =>
        call('PUT', `handouts/${id}/marks`, {
          marks: [
            {
              copyId: row.id,
              personId: null,
              changes: total(100 * round + at, round === 0 ? null : 100 * (round - 1) + at),
            },
          ],
        }),
      ),
    )
print({
  bench: 'marking',
  case: 'a mark typed until it is kept, p95',
  value: quantile(typed, 0.95),
  unit: 'ms',
  limit: 50,
  limitOf: 'what is asked of it',
  samples: typed.length,
})

await call('PUT', `handouts/${id}/marks`, {
  marks: rows.slice(0, 60).map((row, at) => ({ copyId: row.id, personId: null, changes: [], done: at >= 0 })),
})
await call('PUT', `handouts/${id}/marks`, {
  marks: rows.slice(60).map((row) => ({ copyId: row.id, personId: null, changes: total(1_450), done: true })),
})
const wish = { message: 'Dear {first name}: {mark}.', byMail: false }
const { fingerprint } = await call<{ fingerprint: string }>('POST', `handouts/${id}/hand-back/proof`, wish)
// The same rows, bare: written and taken back.
const client = await database.connect()
await client.query('BEGIN')
const bare = await timed(async () => {
  await client.query(
    `INSERT INTO handed_back (school_id, copy_id, person_id, mark, message, at, handed_by)
     SELECT c.school_id, c.id, o.person_id, '{"total":1450,"most":2000,"spaces":{},"rubric":[]}', 'Dear First: 14½ of 20.', now(), $2
       FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id WHERE c.handout_id = $1`,
    [id, school.teacherId],
  )
  await client.query(
    `WITH entry AS (INSERT INTO copy_journal (school_id, copy_id, kind, at, person_id) SELECT school_id, id, 'handed back', now(), $2 FROM copy WHERE handout_id = $1)
     UPDATE copy SET state = 'handed back', last_activity_at = now() WHERE handout_id = $1`,
    [id, school.teacherId],
  )
})
await client.query('ROLLBACK')
client.release()
let done = { handedBack: 0 }
const handedBack = await timed(async () => {
  done = await call<typeof done>('POST', `handouts/${id}/hand-back`, { ...wish, fingerprint })
})
if (done.handedBack !== COPIES) throw new Error(`${done.handedBack} were handed back`)
print({
  bench: 'marking',
  case: `${COPIES} copies handed back`,
  value: handedBack,
  unit: 'ms',
  limit: 1_500,
  limitOf: 'what is asked of it',
  bare: Number(bare.toPrecision(4)),
  timesBare: Number((handedBack / bare).toPrecision(3)),
})

// A class of 500 with 100 handouts: the first one's copies again and again.
const clean = await database.connect()
// Without looking at what points to them.
await clean.query('SET session_replication_role = replica')
await clean.query('DELETE FROM handed_back')
await clean.query(`DELETE FROM copy WHERE id IN (SELECT id FROM copy ORDER BY id OFFSET ${STUDENTS})`)
for (const table of ['mark', 'copy_holder', 'copy_journal'])
  await clean.query(`DELETE FROM ${table} WHERE copy_id NOT IN (SELECT id FROM copy)`)
await clean.query(
  `DELETE FROM class_member WHERE role = 'student' AND person_id NOT IN (SELECT person_id FROM copy_holder)`,
)
clean.release(true)
for (let number = 2; number <= HANDOUTS; number++) {
  const { rows: made } = await database.query<{ id: string }>(
    `INSERT INTO handout (school_id, id, class_id, number, title, statement, given, created_by, handed_out_at)
     SELECT school_id, gen_random_uuid(), class_id, $2::int, title, statement, given, created_by, handed_out_at FROM handout WHERE id = $1 RETURNING id`,
    [id, number],
  )
  await database.query(
    `WITH made AS (
       INSERT INTO copy (school_id, handout_id, slot_key, item_id, title, worksheet_id, edition, classmates_may, state)
       SELECT school_id, $2, slot_key, item_id, title, worksheet_id, edition, classmates_may, 'submitted' FROM copy WHERE handout_id = $1 RETURNING school_id, id, slot_key
     ), held AS (
       INSERT INTO copy_holder (school_id, copy_id, person_id, permission)
       SELECT m.school_id, m.id, o.person_id, o.permission FROM made m JOIN copy c ON c.handout_id = $1 AND c.slot_key = m.slot_key JOIN copy_holder o ON o.copy_id = c.id
     )
     INSERT INTO mark (school_id, copy_id, person_id, parts, counted_by, total, most, done_at, changed_at, changed_by)
     SELECT m.school_id, m.id, k.person_id, k.parts, k.counted_by, k.total, k.most, k.done_at, k.changed_at, k.changed_by
       FROM made m JOIN copy c ON c.handout_id = $1 AND c.slot_key = m.slot_key JOIN mark k ON k.copy_id = c.id`,
    [id, made[0]!.id],
  )
}
await database.query('ANALYZE')
const answered: number[] = []
let marks = 0
for (let round = 0; round < 6; round++)
  answered.push(
    await timed(async () => {
      marks = (await call<{ copies: unknown[] }>('GET', `classes/${school.classId}/mark-book`)).copies.length
    }),
  )
print({
  bench: 'marking',
  case: `the mark book of ${STUDENTS} by ${HANDOUTS} answered, median of 6`,
  value: median(answered),
  unit: 'ms',
  limit: 150,
  limitOf: 'what is asked of it',
  marks,
})
await inBrowser(address, cookies[0]!, showBook)
child.kill('SIGTERM')
await database.end()

/** The same book in a browser: how long until a mark given elsewhere stands in it, and how evenly it is scrolled. */
async function showBook(page: Page): Promise<void> {
  const opened = await timed(async () => {
    await page.goto(`${address}/class/${school.classId}/marks`)
    await page.locator('.sheet-grid tbody td').first().waitFor()
  })
  print({
    bench: 'marking',
    case: `the mark book of ${STUDENTS} by ${HANDOUTS} opened, until its cells stand there`,
    value: opened,
    unit: 'ms',
  })
  // Of the first row that is shown, in the first column.
  const first = await page.locator('.sheet-grid tbody td .book-name').first().textContent()
  const { rows: found } = await database.query<{ id: string; total: number }>(
    `SELECT c.id, m.total FROM copy c JOIN copy_holder o ON o.copy_id = c.id JOIN person p ON p.id = o.person_id JOIN mark m ON m.copy_id = c.id
      WHERE c.handout_id = $1 AND p.last_name || ', ' || p.first_name = $2`,
    [id, first],
  )
  const copy = found[0]!
  const told: number[] = []
  for (let round = 0, was = copy.total; round < 15; round++) {
    const to = 500 + round * 100
    const stands = standing(page, '.sheet-grid tbody tr[aria-rowindex="2"] td:nth-child(2)', String(to / 100))
    const before = clock()
    await call('PUT', `handouts/${id}/marks`, {
      marks: [{ copyId: copy.id, personId: null, changes: [{ of: 'total', was, to }] }],
    })
    told.push((await stands) - before)
    was = to
  }
  print({
    bench: 'marking',
    case: 'a mark given until it stands in an open mark book, p95',
    value: quantile(told, 0.95),
    unit: 'ms',
    limit: 300,
    limitOf: 'what is asked of it',
    samples: told.length,
    median: Math.round(median(told)),
  })
  print({
    bench: 'marking',
    case: 'the mark book scrolled, pictures a second',
    ...(await scrolled(page, '.sheet-grid')),
    unit: '1/s',
    asked: 60,
  })
}

const WORDS =
  'moon sun tide water sill harbour boat quay rope wind high low first second because therefore when while over under'.split(
    ' ',
  )
let state = 7
const next = () => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32
const sentence = () => Array.from({ length: 60 }, () => WORDS[Math.floor(next() * WORDS.length)]!)
const patterns = Array.from({ length: 40 }, sentence)
const answers = Array.from({ length: 500 }, (_, at) => {
  const words = [...patterns[at % patterns.length]!]
  if (at % 3 === 0) words[Math.floor(next() * 60)] = 'otherwise'
  return { text: words.join(' '), right: null }
})
const gathering: number[] = []
let heaps = 0
for (let round = 0; round < 7; round++)
  gathering.push(
    await timed(() => {
      heaps = joinNear(heapsOf(answers)).length
      return Promise.resolve()
    }),
  )
print({
  bench: 'marking',
  case: '500 answers of 60 words gathered, median of 7',
  value: median(gathering),
  unit: 'ms',
  limit: 150,
  limitOf: 'what is asked of it',
  heaps,
  planted: patterns.length,
})
