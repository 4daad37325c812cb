import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { needChromium, needPackages, needPostgres } from './lib/needs.mjs'
import { ROOT, main, runKeeping, say } from './lib/run.mjs'

const RESULTS = join(ROOT, 'test-results')
const node = process.execPath
const bin = (name) => join('node_modules', name)

/** The counts of a Jest run, from its JSON; a run that ended without one has failed. */
function jestCounts(file) {
  if (!existsSync(file)) return { passed: 0, failed: 1 }
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(file, 'utf8'))
  return { passed: numPassedTests, failed: numFailedTests + numRuntimeErrorTestSuites }
}

/** The counts of a Playwright run. */
function browserCounts(file) {
  if (!existsSync(file)) return { passed: 0, failed: 1 }
  const { stats, errors } = JSON.parse(readFileSync(file, 'utf8'))
  return { passed: stats.expected + stats.flaky, failed: stats.unexpected + stats.skipped + errors.length }
}

// The properties and the tests that kill something at random, in many more rounds.
const isLong = process.argv.includes('long')
if (isLong) process.env.GAVRIN_LONG = '1'

await main(async () => {
  needPackages()
  needPostgres()
  needChromium()
  rmSync(RESULTS, { recursive: true, force: true })
  mkdirSync(RESULTS, { recursive: true })
  let passed = 0
  let failed = 0
  const count = (counts) => {
    passed += counts.passed
    failed += counts.failed
  }
  // With what the tests leave of the cores: they wait for each other, for databases and for pages.
  const check = async (what, script) => {
    const { ok } = await runKeeping('nice', ['-n', '10', 'npm', 'run', '-s', script], { later: true })
    say(`${what}: ${ok ? 'in order' : 'not in order'}`)
    count(ok ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 })
  }
  await check('format', 'format:check')
  const contract = () => readFileSync(join(ROOT, 'web/src/contract.ts'), 'utf8')
  const before = contract()
  const { build } = await import('./build.mjs')
  await build()

  if (contract() !== before) {
    say('web/src/contract.ts was not what the server answers: it has been made anew. Commit it.')
    count({ passed: 0, failed: 1 })
  }
  say('checking types and lint meanwhile ...')
  const checked = check('types', 'typecheck:built').then(() => check('lint', 'lint'))
  // What the browser tests begin with is made meanwhile: much of it waits for the database.
  const school = import('../e2e/support/server.mjs')
    .then(({ makeSchool }) => makeSchool())
    .then(
      () => ({ GAVRIN_SCHOOL: 'made' }),
      // They say themselves what is wrong with it.
      () => ({}),
    )
  say('running the tests of the core, the web and the server ...')
  const jest = join(RESULTS, 'jest.json')
  const jestRun = await runKeeping(
    node,
    [
      '--experimental-vm-modules',
      '--no-warnings',
      bin('jest/bin/jest.js'),
      '--maxWorkers=3',
      '--json',
      `--outputFile=${jest}`,
    ],
    {
      env: { ...process.env, NODE_OPTIONS: '' },
      ...(isLong && { limit: 300 }),
    },
  )
  const jestFound = jestCounts(jest)
  count(jestRun.ok || jestFound.failed ? jestFound : { ...jestFound, failed: 1 })

  say('running the browser tests ...')
  const browser = await runKeeping(node, [bin('@playwright/test/cli.js'), 'test'], {
    env: { ...process.env, ...(await school) },
  })
  const browserFound = browserCounts(join(RESULTS, 'browser.json'))
  count(browser.ok || browserFound.failed ? browserFound : { ...browserFound, failed: 1 })

  await checked
  console.log(`${passed} passed, ${failed} failed`)
  process.exitCode = failed === 0 && passed > 0 ? 0 : 1
})
