import { existsSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { brotliCompress, constants, gzip } from 'node:zlib'
import { PurgeCSS } from 'purgecss'
import type { Plugin } from 'vite'

const HERE = import.meta.dirname
const BOOTSTRAP = /bootstrap\/dist\/css\/bootstrap\.min\.css$/

function* filesIn(folder: string, ending: RegExp): Generator<string> {
  for (const name of readdirSync(folder)) {
    const path = join(folder, name)
    if (statSync(path).isDirectory()) yield* filesIn(path, ending)
    else if (ending.test(name)) yield path
  }
}

// What comes after a legend, whatever it be, stands below it. Because of “whatever” a browser reckons the styles of all that is around
// anew when anything is put into a page: 18 ms in a table of 60 rows by 16, 0.4 where it is said what may come after one.
const AFTER_LEGEND = /legend ?\+ ?\* ?\{ ?clear: ?left;? ?\}/
const BY_NAME = `${['div', 'label', 'input', 'select', 'button', 'span', 'p', 'ul', 'ol', 'table'].map((name) => `legend+${name}`).join()}{clear:left}`

/** Of Bootstrap's styles, those for parts and words that stand somewhere in the code. */
export function usedStyles(): Plugin {
  const parts = join(createRequire(import.meta.url).resolve('react-bootstrap/package.json'), '..', 'esm')
  const used = [...filesIn(join(HERE, 'src'), /\.tsx?$/)].map((path) => readFileSync(path, 'utf8'))
  const wanted = new Set(
    used.flatMap((code) => [
      ...[...code.matchAll(/from 'react-bootstrap\/(\w+)'/g)].map(([, name]) => name!),
      ...[...code.matchAll(/import \{([^}]+)\} from 'react-bootstrap'/g)].flatMap(([, names]) =>
        names!.split(',').map((name) => name.trim()),
      ),
    ]),
  )
  return {
    name: 'gavrin-used-styles',
    enforce: 'pre',
    async transform(css, id) {
      if (!BOOTSTRAP.test(id.split('?')[0]!)) return null
      const content = [
        ...used,
        // A part is made of others of its name: Modal of ModalHeader, Form of FormControl.
        ...[...filesIn(parts, /\.js$/)]
          .filter((path) => [...wanted].some((name) => path.slice(parts.length + 1).startsWith(name)))
          .map((path) => readFileSync(path, 'utf8')),
      ].map((raw) => ({ raw, extension: 'js' }))
      const [purged] = await new PurgeCSS().purge({
        content,
        css: [{ raw: css }],
        // Named in pieces: `btn-${variant}`, and what the parts put on while they move.
        safelist: {
          standard: ['html', 'body', 'show', 'fade', 'active', 'disabled'],
          greedy: [/^btn/, /modal/, /^form-/, /invalid/],
        },
        variables: false,
      })
      const quick = purged!.css.replace(AFTER_LEGEND, BY_NAME)
      if (quick === purged!.css) throw new Error('Bootstrap has nothing that clears a legend any more.')
      return { code: quick, map: null }
    },
  }
}

const brotli = promisify(brotliCompress)
const gzipped = promisify(gzip)

/** Every text that is delivered, compressed as well as can be, once. */
export function compressed(): Plugin {
  return {
    name: 'gavrin-compressed',
    apply: 'build',
    async writeBundle({ dir }) {
      await Promise.all(
        [...filesIn(dir!, /\.(js|mjs|css|svg|json|wasm)$/)].map(async (path) => {
          const bytes = readFileSync(path)
          if (bytes.length < 500) return
          const params = {
            [constants.BROTLI_PARAM_QUALITY]: bytes.length > 2_000_000 ? 9 : 11,
            [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length,
          }
          writeFileSync(`${path}.br`, await brotli(bytes, { params }))
          writeFileSync(`${path}.gz`, await gzipped(bytes, { level: 9 }))
        }),
      )
    },
  }
}

interface Locked {
  readonly dev?: boolean
  readonly link?: boolean
  readonly optional?: boolean
  readonly version?: string
  readonly license?: string
}

const LICENCE_FILE = /^(licen[cs]e|copying|notice|ofl)([.-].*)?$/i

/** The notices of everything that Gavrin is shipped with, in the browser and on the server, for the page "About". */
export function notices(): Plugin {
  const root = join(HERE, '..')
  const { packages } = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8')) as {
    packages: Record<string, Locked>
  }
  return {
    name: 'gavrin-notices',
    apply: 'build',
    generateBundle() {
      const found = Object.entries(packages).flatMap(([path, { dev, link, version = '', license }]) => {
        const folder = join(root, path)
        // What is for another kind of machine is not there, and not shipped.
        if (dev || link || !path.includes('node_modules/') || !existsSync(folder)) return []
        const texts = readdirSync(folder)
          .filter((name) => LICENCE_FILE.test(name) && statSync(join(folder, name)).isFile())
          .map((name) => readFileSync(join(folder, name), 'utf8').trim())
        const name = path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length)
        return [{ name, version, license: license ?? 'see its text', text: texts.join('\n\n') }]
      })
      const once = new Map(found.map((one) => [`${one.name} ${one.version}`, one]))
      const list = [...once.values()].sort((one, other) => (one.name < other.name ? -1 : 1))
      this.emitFile({ type: 'asset', fileName: 'assets/notices.json', source: JSON.stringify(list) })
    },
  }
}
