import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { CHROMIUM } from './lib/chromium.mjs'
import { needChromium, needPackages } from './lib/needs.mjs'
import { ROOT, main, say } from './lib/run.mjs'

const OUT = join(ROOT, 'samples')
const HEAD = ['No', 'Surname', 'Given name', 'E-mail', 'Student ID', 'Reading band', 'House']
const AT = '@fennickquay.example'
const AUTUMN = [
  ['Amundsen-Rowe', 'Kit', `kit.amundsen${AT}`, 'FQ-9101', 'A', 'Quay'],
  ['Bąk', 'Lena', `lena.bak${AT}`, 'FQ-9102', 'B', 'Pier'],
  ['Castro Vidal', 'Íñigo', `inigo.castro${AT}`, 'FQ-9103', 'B', 'Quay'],
  ['D’Souza', 'Maren', `maren.dsouza${AT}`, 'FQ-9104', 'C', 'Lock'],
  ['', 'Thant', `thant${AT}`, 'FQ-9105', 'A', 'Lock'],
  ['Øverby', 'Sunniva', `sunniva.overby${AT}`, 'FQ-9106', 'C', 'Pier'],
]
// The list of the spring term: one renamed, one with a new e-mail, one gone, two new.
const SPRING = [
  ['Amundsen', 'Kit', `kit.amundsen${AT}`, 'FQ-9101', 'A', 'Quay'],
  ['Bąk', 'Lena', `lena.bak${AT}`, 'FQ-9102', 'A', 'Pier'],
  ['Castro Vidal', 'Íñigo', `castro.vidal${AT}`, 'FQ-9103', 'B', 'Quay'],
  ['', 'Thant', `thant${AT}`, 'FQ-9105', 'A', 'Lock'],
  ['Øverby', 'Sunniva', `sunniva.overby${AT}`, 'FQ-9106', 'C', 'Pier'],
  ['Pereira', 'Beatriz', `beatriz.pereira${AT}`, 'FQ-9107', 'B', 'Lock'],
  ['قاسم', 'يوسف', `yusuf.qasim${AT}`, 'FQ-9108', 'A', 'Quay'],
]
const table = (rows) => [HEAD, ...rows.map((row, at) => [String(at + 1), ...row])]
const joined = (rows, delimiter) => rows.map((row) => row.join(delimiter)).join('\r\n') + '\r\n'
// Letters of Windows-1252 that are not those of Latin-1.
const HIGH = { '’': 0x92, Š: 0x8a, š: 0x9a }
const windows1252 = (text) =>
  Buffer.from([...text].map((letter) => HIGH[letter] ?? (letter.charCodeAt(0) < 256 ? letter.charCodeAt(0) : 0x3f)))

/** Writes the samples of docs/rosters.md and docs/bring-in.md anew, each in one format that a school may have. */
await main(async () => {
  needPackages()
  const { build } = await import('./build.mjs')
  await build()
  const { writeArchive, writeBundle, writeCsv, writeOds, writeXlsx } = await import('../core/dist/index.js')
  mkdirSync(OUT, { recursive: true })
  const write = (name, bytes) => {
    writeFileSync(join(OUT, name), bytes)
    say(`wrote samples/${name}`)
  }
  const western = AUTUMN.filter((row) => row.every((cell) => !/[ą]/.test(cell)))
  write('autumn.csv', writeCsv(table(AUTUMN)))
  write('autumn-windows-1252.csv', windows1252(joined(table(western), ';')))
  write('autumn-utf-16.tsv', Buffer.from(`\uFEFF${joined(table(AUTUMN), '\t')}`, 'utf16le'))
  write('autumn.xlsx', writeXlsx('9 Curlew', table(AUTUMN)))
  write('spring.xlsx', writeXlsx('9 Curlew', table(SPRING)))
  write('autumn.ods', writeOds('9 Curlew', table(AUTUMN)))
  const person = ([last, first, email, number]) => ({ id: `s-${number}`, first, last, email, number })
  const staff = [{ id: 't1', first: 'Birgit', last: 'Sandvik', email: `sandvik${AT}`, number: '' }]
  write(
    'rostering-bundle.zip',
    writeBundle(
      { id: 'fennick-quay', name: 'Fennick Quay School' },
      [
        {
          id: 'c1',
          name: '9 Curlew',
          subject: 'Science',
          year: '2026/27',
          students: AUTUMN.slice(0, 4).map(person),
          staff,
        },
        {
          id: 'c2',
          name: '9 Plover',
          subject: 'Science',
          year: '2026/27',
          students: AUTUMN.slice(3).map(person),
          staff,
        },
      ],
      '2026-11-25',
    ),
  )
  write(
    'groups.txt',
    'Crane: Kit Amundsen-Rowe, Lena Bak\r\nLock gate: Íñigo Castro Vidal\r\nLock gates: Maren D’Souza, Thant\r\n',
  )

  needChromium()
  const { chromium } = await import('@playwright/test')
  const { worksheetSamples } = await import('./lib/worksheetSamples.mjs')
  const browser = await chromium.launch(CHROMIUM)
  try {
    mkdirSync(join(OUT, 'worksheets'), { recursive: true })
    for (const [name, bytes] of Object.entries(await worksheetSamples(browser, { writeArchive })))
      write(join('worksheets', name), bytes)
  } finally {
    await browser.close()
  }
})
