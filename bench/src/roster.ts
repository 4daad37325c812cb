import {
  type GroupPair,
  checkRoster,
  decodeText,
  makeGroups,
  readOds,
  readTable,
  understandRoster,
  writeOds,
} from '@gavrin/core'
import { median, print, quantile, timed } from './figures.js'

// Lists read, compared, and groups made, in this process. What it is compared with is measured in the same run.

const RUNS = 7
const BANDS = ['A', 'B', 'C']

/** A list as a school exports it, as bytes of CSV. */
function listOf(count: number): Uint8Array {
  const rows = Array.from(
    { length: count },
    (_, at) => `${at + 1};Last${at}-Ödegård;First${at};s${at}@fennickquay.example;FQ-${at};${BANDS[at % 3]}`,
  )
  return new TextEncoder().encode(['No;Surname;Given name;E-mail;Student ID;Reading band', ...rows].join('\r\n'))
}

async function several(work: () => unknown): Promise<number[]> {
  const samples: number[] = []
  for (let run = 0; run < RUNS; run++) samples.push(await timed(() => Promise.resolve(work())))
  return samples
}

for (const count of [1_000, 50_000]) {
  const bytes = listOf(count)
  const alone = await several(() => readTable(decodeText(bytes).text))
  const members = Array.from({ length: Math.min(count, 5_000) }, (_, at) => ({
    personId: `p${at}`,
    first: `First${at}`,
    last: `Last${at}-Ödegård`,
    email: `s${at}@fennickquay.example`,
    number: `FQ-${at}`,
    cells: { 'Reading band': 'A' },
  }))
  const whole = await several(() => {
    const table = readTable(decodeText(bytes).text)
    if (!table.ok) throw new Error(table.problems[0]!.sentence)
    const parsed = understandRoster(table.value.rows)
    if (!parsed.ok) throw new Error(parsed.problems[0]!.sentence)
    const { counts } = checkRoster(parsed.value.entries, members)
    if (counts.new + counts.changed + counts.unchanged !== count) throw new Error('rows were lost')
  })
  print({
    bench: 'roster',
    case: `parse, understand and compare ${count} rows; the limit is parting them into cells alone`,
    value: median(whole),
    unit: 'ms',
    limit: median(alone),
    p90: quantile(whole, 0.9),
  })
}

const sheet = writeOds('School', [
  ['Last name', 'First name', 'E-mail'],
  ...Array.from({ length: 5_000 }, (_, at) => [`Last${at}`, `First${at}`, `s${at}@fennickquay.example`]),
])
print({
  bench: 'roster',
  case: 'read an ODS workbook of 5000 rows',
  value: median(await several(() => readOds(sheet))),
  unit: 'ms',
  kilobytes: Math.round(sheet.length / 1000),
})

for (const count of [28, 300]) {
  const people = Array.from({ length: count }, (_, at) => ({
    id: `p${at}`,
    name: `Person ${at}`,
    values: [BANDS[(at * 7) % 3]!],
  }))
  const pairs = Array.from({ length: Math.floor(count / 6) }, (_, at): GroupPair => ({
    a: `p${(at * 3) % count}`,
    b: `p${(at * 5 + 1) % count}`,
    kind: at % 3 ? 'apart' : 'together',
  }))
  let seed = 0
  let spread = { sizeSpread: 0, valueSpread: 0 }
  const samples = await several(() => {
    const outcome = makeGroups({ people, groups: Math.round(count / 4), pairs, seed: seed++ })
    if (!outcome.ok) throw new Error(outcome.problems[0]!.sentence)
    spread = outcome.value
  })
  print({
    bench: 'roster',
    case: `make groups of four out of ${count}, balanced, with ${pairs.length} pairs`,
    value: median(samples),
    unit: 'ms',
    p90: quantile(samples, 0.9),
    sizeSpread: spread.sizeSpread,
    valueSpread: spread.valueSpread,
  })
}
