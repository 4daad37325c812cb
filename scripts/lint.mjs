import { main, runKeeping, say } from './lib/run.mjs'

// One process a part, one after the other, each with the types of its part alone: together they would need the memory of all.
const TESTS = ['core/src/**/*.test.ts', 'core/src/**/testing/**', 'server/test/**', 'web/test/**']
const without = TESTS.flatMap((pattern) => ['--ignore-pattern', pattern])
const PARTS = [
  ['core', ...without],
  ['server', 'bench', ...without],
  ['web', ...without],
  [...TESTS, 'e2e', 'scripts', '*.js', '*.ts'],
]

await main(async () => {
  for (const part of PARTS) {
    say(`lint: ${part[0]} ...`)
    const eslint = ['node_modules/eslint/bin/eslint.js', ...part, '--max-warnings', '0']
    const { ok } = await runKeeping(process.execPath, eslint)
    if (!ok) process.exitCode = 1
  }
})
