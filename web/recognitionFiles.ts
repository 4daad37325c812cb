import { createReadStream, readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import type { Plugin } from 'vite'

const resolve = createRequire(import.meta.url).resolve
const folderOf = (name: string) => dirname(resolve(`${name}/package.json`))

/** The files that text recognition loads by their names, from us and from nowhere else. */
const FILES: Readonly<Record<string, string>> = {
  'worker.min.js': join(folderOf('tesseract.js'), 'dist', 'worker.min.js'),
  'core.wasm.js': join(folderOf('tesseract.js-core'), 'tesseract-core-simd-lstm.wasm.js'),
  'eng.traineddata.gz': join(folderOf('@tesseract.js-data/eng'), '4.0.0_best_int', 'eng.traineddata.gz'),
}

/** Ships the recognition of text with the application, under /recognise/. */
export function recognitionFiles(): Plugin {
  return {
    name: 'recognition-files',
    generateBundle() {
      for (const [name, path] of Object.entries(FILES))
        this.emitFile({ type: 'asset', fileName: `recognise/${name}`, source: readFileSync(path) })
    },
    configureServer(server) {
      server.middlewares.use('/recognise', (request, response, next) => {
        const path = FILES[(request.url ?? '').slice(1).split('?')[0]!]
        if (!path) return next()
        if (path.endsWith('.js')) response.setHeader('Content-Type', 'text/javascript')
        createReadStream(path).pipe(response)
      })
    },
  }
}
