import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { formatted } from './lib/formatted.mjs'
import { ROOT, main, run, say } from './lib/run.mjs'

// docs/archive.schema.json, from the core: `npm test` says if it is old.

await main(async () => {
  run(process.execPath, ['node_modules/typescript7/bin/tsc', '-b', 'core'])
  const { archiveSchema } = await import('../core/dist/formats/archiveSchema.js')
  const path = join(ROOT, 'docs', 'archive.schema.json')
  writeFileSync(path, await formatted(path, JSON.stringify(archiveSchema, null, 2)))
  say('wrote docs/archive.schema.json')
})
