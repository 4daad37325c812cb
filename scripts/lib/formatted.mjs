import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { format } from 'oxfmt'
import { ROOT } from './run.mjs'

/** The text of a file that a script writes, set as `npm run format` would set it. */
export async function formatted(file, text) {
  const options = JSON.parse(readFileSync(join(ROOT, '.oxfmtrc.json'), 'utf8'))
  delete options.$schema
  delete options.ignorePatterns
  const { code, errors } = await format(file, text, options)
  if (errors.length > 0) throw new Error(`${file}: ${errors.map(({ message }) => message).join('; ')}`)
  return code
}
