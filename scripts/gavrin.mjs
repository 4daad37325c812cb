// A command line client over the HTTP API, for schools that script their routine. It does nothing that the API does not.
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import { parseArgs } from 'node:util'
import { needPackages } from './lib/needs.mjs'
import { ROOT, Stop, main, run } from './lib/run.mjs'

const HELP = `gavrin: a client for scripts. It needs
  GAVRIN_TOKEN  a token (in Gavrin: your name, “Own programs”)
  GAVRIN_URL    where Gavrin is; left out: http://127.0.0.1:4180

  npm run gavrin -- classes
  npm run gavrin -- roster <class> <list.csv> [--yes]
  npm run gavrin -- hand-out <class> --worksheet <title> [--recipe <name>] [--title <title>] [--due 2026-12-04T16:00] [--yes]
  npm run gavrin -- states <class> [<No.>]
  npm run gavrin -- export <class> [<No.>] [--format pdf|docx|odt|html] [--to <file.zip>]
  npm run gavrin -- events [--after <number>]

A class is its name or its id. What changes something says what it would do, and does it with --yes.`

/** Asks the API; a problem ends the program with its sentence. */
function apiOf(address, token) {
  return async (method, path, body) => {
    const answer = await fetch(`${address}/api/${path}`, {
      method,
      headers: { authorization: `Bearer ${token}`, ...(body && { 'content-type': 'application/json' }) },
      ...(body && { body: JSON.stringify(body) }),
    }).catch(() => {
      throw new Stop(`${address} cannot be reached.`)
    })
    if (answer.ok) return answer.status === 204 ? null : answer
    const problem = await answer.json().catch(() => ({}))
    const about = (problem.errors ?? []).map(({ sentence }) => sentence)
    throw new Stop([problem.detail ?? `It answered ${answer.status}.`, ...about.slice(0, 10)].join('\n'))
  }
}

/** Rows of words, in columns. */
function table(rows) {
  const widths = []
  for (const row of rows) row.forEach((cell, at) => (widths[at] = Math.max(widths[at] ?? 0, String(cell).length)))
  for (const row of rows)
    console.log(
      row
        .map((cell, at) => String(cell).padEnd(widths[at]))
        .join('  ')
        .trimEnd(),
    )
}

const pause = (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds))

/** The one of these that is meant by its name, or its id. */
function meant(all, wanted, nameOf, what) {
  if (!wanted) throw new Stop(`Say which ${what}.`)
  const fold = (text) => text.normalize('NFC').toLowerCase()
  const found = all.filter((one) => one.id === wanted || fold(nameOf(one)) === fold(wanted))
  if (found.length === 1) return found[0]
  const names = all.map(nameOf).join(', ')
  throw new Stop(
    found.length > 1
      ? `Several are called “${wanted}”: give the id.`
      : `There is no ${what} “${wanted}”. There are: ${names || 'none'}.`,
  )
}

const classOf = async ({ json, args }) => meant(await json('GET', 'classes'), args[0], ({ name }) => name, 'class')

async function handoutOf({ json, args }, classId) {
  const handouts = await json('GET', `classes/${classId}/handouts`)
  const number = Number(args[1])
  const found = handouts.find((handout) => handout.number === number)
  if (!found) throw new Stop(`There is no handout No. ${args[1]}.`)
  return found
}

async function classes({ json }) {
  const all = await json('GET', 'classes')
  table([
    ['Class', 'Subject', 'Year', 'Students', 'Id'],
    ...all.filter(({ archived }) => !archived).map((one) => [one.name, one.subject, one.year, one.students, one.id]),
  ])
}

async function roster(given) {
  const { json, core, values, args } = given
  const of = await classOf(given)
  const file = args[1]
  if (!file || !existsSync(file)) throw new Stop('Say which list: a file of CSV or text.')
  const bytes = readFileSync(file)
  const read = core.readTable(core.decodeText(new Uint8Array(bytes)).text)
  if (!read.ok) throw new Stop(read.problems[0].sentence)
  const understood = core.understandRoster(read.value.rows)
  if (!understood.ok) throw new Stop(understood.problems[0].sentence)
  const { entries } = understood.value
  const students = await json('GET', `classes/${of.id}/roster`)
  const { columns } = await json('GET', `classes/${of.id}`)
  const { counts } = core.checkRoster(entries, core.rosterMembers(students, columns))
  console.log(
    `${basename(file)}: ${entries.length} students for ${of.name}: ${counts.new} new, ${counts.changed} changed, ${counts.unchanged} as they are.`,
  )
  if (!values.yes) return void console.log('Nothing was changed: say --yes to save them.')
  const rows = entries.map(({ first, last, email, number, line, cells }) => ({
    first,
    last,
    email,
    number,
    line,
    cells,
  }))
  await json('POST', `classes/${of.id}/roster`, { rows })
  console.log('Saved.')
}

async function handOut(given) {
  const { json, core, values } = given
  const of = await classOf(given)
  const sheets = await json('GET', 'worksheets')
  const sheet = meant(sheets, values.worksheet, ({ title }) => title, 'worksheet')
  const { editions } = await json('GET', `worksheets/${sheet.id}`)
  const edition = editions.reduce((most, { number }) => Math.max(most, number), 0)
  if (edition === 0) throw new Stop(`“${sheet.title}” has no edition yet: keep one first.`)
  const dueAt = values.due === undefined ? null : Date.parse(values.due)
  if (Number.isNaN(dueAt)) throw new Stop('Say when it is due like this: --due 2026-12-04T16:00')
  const plain = core.plainStatement(
    [core.plainItem('first', sheet.id, edition)],
    [{ classId: of.id, opensAt: null, dueAt }],
  )
  const recipe = values.recipe && meant(await json('GET', 'recipes'), values.recipe, ({ name }) => name, 'recipe')
  const statement = recipe ? core.withRecipe(plain, recipe.statement, of.id) : plain
  const { id } = await json('POST', `classes/${of.id}/handouts`, { title: values.title ?? sheet.title, statement })
  const slip = await json('GET', `handouts/${id}`)
  const proof = core.proofOf(slip.statement, slip.worksheets, slip.parts, Date.now())
  const counts = core.countChanges(proof.changes)
  for (const { plan } of proof.parts) for (const { sentence } of plan.findings) console.log(`  ${sentence}`)
  console.log(`No. ${slip.number} ${slip.title}: ${counts.create} copies, ${counts.notify} messages.`)
  if (!values.yes)
    return void console.log('Nothing was handed out: the slip is kept as a draft. Say --yes to hand it out.')
  await json('POST', `handouts/${id}/hand-out`, {
    version: slip.version,
    fingerprint: core.fingerprintChanges(proof.changes),
  })
  for (;;) {
    const run = await json('GET', `handouts/${id}/hand-out`)
    if (run.finished) {
      console.log(
        `Handed out: ${run.done} of ${run.total}${run.failures.length > 0 ? `, ${run.failures.length} failed` : ''}.`,
      )
      return
    }
    await pause(500)
  }
}

async function states(given) {
  const { json, args, core } = given
  const of = await classOf(given)
  if (args[1] === undefined) {
    const handouts = await json('GET', `classes/${of.id}/handouts`)
    const words = (counts) =>
      Object.entries(counts)
        .map(([state, count]) => `${count} ${state}`)
        .join(', ')
    return table([
      ['No.', 'Handout', 'Copies'],
      ...handouts.map(({ number, title, states: all, handedOutAt }) => [
        number,
        title,
        handedOutAt === null ? 'draft' : words(all),
      ]),
    ])
  }
  const { rows } = await json('GET', `handouts/${(await handoutOf(given, of.id)).id}/board`)
  table([
    ['Copy', 'State', 'Answered', 'Words'],
    ...rows
      .filter(({ setAside }) => !setAside)
      .map((row) => [
        row.title,
        row.state + (core.isOverdue(row, Date.now()) ? ', overdue' : ''),
        `${row.answered} of ${row.spaces}`,
        row.words,
      ]),
  ])
}

async function exported(given) {
  const { json, ask, args, values } = given
  const of = await classOf(given)
  const which = args[1] === undefined ? { classId: of.id } : { handoutId: (await handoutOf(given, of.id)).id }
  const { id, total } = await json('POST', 'saved-copies', { ...which, format: values.format ?? 'pdf' })
  let told = -1
  for (;;) {
    const one = (await json('GET', 'saved-copies')).find((saved) => saved.id === id)
    if (!one) throw new Stop('It was stopped elsewhere.')
    if (one.done !== told) console.log(`${(told = one.done)} of ${total}`)
    if (one.finishedAt !== null) {
      for (const { name, why } of one.failed) console.log(`  ${name}: ${why}`)
      const file = values.to ?? `${one.title.replace(/[^\p{L}\p{N} .-]/gu, ' ').trim()}.zip`
      writeFileSync(file, Buffer.from(await (await ask('GET', `saved-copies/${id}/file`)).arrayBuffer()))
      console.log(`Written to ${file}.`)
      return
    }
    await pause(500)
  }
}

async function events({ json, values }) {
  let after = Number(values.after ?? 0)
  for (;;) {
    const page = await json('GET', `events?after=${after}`)
    for (const event of page.events) console.log(JSON.stringify(event))
    after = page.next
    if (page.events.length === 0) return void console.error(`next: ${after}`)
  }
}

await main(async () => {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      ...{ yes: { type: 'boolean' }, worksheet: { type: 'string' }, recipe: { type: 'string' } },
      ...{ title: { type: 'string' }, due: { type: 'string' }, format: { type: 'string' }, to: { type: 'string' } },
      after: { type: 'string' },
    },
  })
  const [command, ...args] = positionals
  const commands = { classes, roster, 'hand-out': handOut, states, export: exported, events }
  if (!command || !Object.hasOwn(commands, command)) {
    console.log(HELP)
    if (command) throw new Stop(`"${command}" is no command.`)
    return
  }
  const token = process.env.GAVRIN_TOKEN
  if (!token) throw new Stop('Set GAVRIN_TOKEN to a token of yours.')
  needPackages()
  if (!existsSync(join(ROOT, 'core/dist/index.js')))
    run(process.execPath, ['node_modules/typescript7/bin/tsc', '-b', 'core'])
  const core = await import('@gavrin/core')
  const ask = apiOf((process.env.GAVRIN_URL ?? 'http://127.0.0.1:4180').replace(/\/+$/, ''), token)
  const json = async (method, path, body) => (await ask(method, path, body))?.json()
  await commands[command]({ json, ask, core, values, args })
})
