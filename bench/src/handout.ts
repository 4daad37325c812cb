import { fingerprintChanges, proofOf } from '@gavrin/core'
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import { createApp } from '../../server/dist/app.js'
import { HandOutRuns } from '../../server/dist/handOut/handOutRuns.js'
import { HandoutService } from '../../server/dist/handout/handout.service.js'
import { median, print, timed } from './figures.js'
import { SECRET, makeSchool, statementFor } from './school.js'

// Handing out to 30, 1,000 and 10,000 students, from the click to all copies openable, beside one bare statement that writes
// the same rows; and the proof of 1,000 copies recomputed.

const databaseUrl = process.env['DATABASE_URL']!
const database = new pg.Pool({ connectionString: databaseUrl, max: 4 })
const app = await createApp({
  host: '127.0.0.1',
  port: 0,
  databaseUrl,
  sessionSecret: SECRET,
  demo: false,
  trustedProxies: 'loopback',
  webRoot: null,
  poolSize: 10,
  logs: 'text',
  webhooksAnywhere: false,
  mail: { smtpUrl: null, from: 'gavrin@bench.example', publicUrl: 'https://bench.example' },
})
const handouts = app.get(HandoutService)
const runs = app.get(HandOutRuns)

for (const [students, rounds, warmUp] of [
  [30, 25, 10],
  [1_000, 7, 1],
  [10_000, 3, 0],
] as const) {
  const school = await makeSchool(database, students)
  const viewer = { schoolId: school.schoolId, personId: school.teacherId, role: 'teacher' as const }
  const ours: number[] = []
  const bare: number[] = []
  for (let round = -warmUp; round < rounds; round++) {
    const statement = statementFor(school)
    const { id, version } = await handouts.create(viewer, school.classId, { title: 'Bench', statement })
    const { worksheets, parts } = await handouts.open(viewer, id)
    const fingerprint = fingerprintChanges(proofOf(statement, worksheets, parts, Date.now()).changes)
    ours.push(
      await timed(async () => {
        let run = await runs.handOut(viewer, id, { version, fingerprint })
        while (!run.finished) run = await runs.run(viewer, id)
      }),
    )
    const { rows } = await database.query<{ n: number }>('SELECT count(*)::int AS n FROM copy WHERE handout_id = $1', [
      id,
    ])
    if (rows[0]!.n !== students) throw new Error(`${rows[0]!.n} copies instead of ${students}`)

    const bareId = randomUUID()
    await database.query(
      `INSERT INTO handout (school_id, id, class_id, number, title, statement, created_by) SELECT school_id, $2, class_id, number + 100000, title, statement, created_by FROM handout WHERE id = $1`,
      [id, bareId],
    )
    bare.push(
      await timed(() =>
        database.query(
          `WITH made AS (
             INSERT INTO copy (school_id, handout_id, slot_key, item_id, way, title, worksheet_id, edition, link, classmates_may, may_invite, places, opens_at, due_at, pens_down_at_due, late_work, counted_edition)
             SELECT school_id, $2, slot_key, item_id, way, title, worksheet_id, edition, link, classmates_may, may_invite, places, opens_at, due_at, pens_down_at_due, late_work, edition
               FROM copy WHERE school_id = $3 AND handout_id = $1
             RETURNING school_id, id, slot_key
           ), held AS (
             INSERT INTO copy_holder (school_id, copy_id, person_id, permission) SELECT $3, id, split_part(slot_key, ':', 3)::uuid, 'edit' FROM made
           )
           INSERT INTO copy_journal (school_id, copy_id, kind, person_id) SELECT $3, id, 'given', $4 FROM made`,
          [id, bareId, school.schoolId, school.teacherId],
        ),
      ),
    )
  }
  print({
    bench: 'handout',
    case: `${students} copies, click to all openable`,
    value: median(ours.slice(warmUp)),
    unit: 'ms',
    limit: median(bare.slice(warmUp)),
    limitOf: 'one bare statement writing the same rows',
    rounds,
    worst: Math.round(Math.max(...ours.slice(warmUp))),
  })
}

const school = await makeSchool(database, 1_000)
const viewer = { schoolId: school.schoolId, personId: school.teacherId, role: 'teacher' as const }
const statement = statementFor(school)
const { id } = await handouts.create(viewer, school.classId, { title: 'Proof', statement })
const { worksheets, parts } = await handouts.open(viewer, id)
const proofs: number[] = []
for (let round = 0; round < 60; round++)
  proofs.push(await timed(() => Promise.resolve(proofOf(statement, worksheets, parts, Date.now()))))
print({
  bench: 'handout',
  case: 'proof recomputed, 1000 copies',
  value: median(proofs.slice(10)),
  unit: 'ms',
  goal: 50,
})

await app.close()
await database.end()
