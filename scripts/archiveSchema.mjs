import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import prettier from 'prettier'
import { ROOT, main, run, say } from './lib/run.mjs'

// docs/archive.schema.json, from the core: `npm test` says if it is old.

await main(async () => {
  run(process.execPath, ['node_modules/typescript7/bin/tsc', '-b', 'core'])
  const { archiveSchema } = await import('../core/dist/formats/archiveSchema.js')
  const path = join(ROOT, 'docs', 'archive.schema.json')
  const options = await prettier.resolveConfig(path)
  writeFileSync(path, await prettier.format(JSON.stringify(archiveSchema, null, 2), { ...options, filepath: path }))
  say('wrote docs/archive.schema.json')
})
