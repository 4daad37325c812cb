import type { Plugin, Rollup } from 'vite'

/** What the pages of students are made of; all that these load is kept with them. */
const BEGIN = /src\/(copy\/CopyPage|student\/StudentDesk)\.tsx$/
const PLACE = /["'`]__FILES_OF_PAGES__["'`]/

type Chunk = Rollup.OutputChunk & { readonly viteMetadata?: { readonly importedCss: ReadonlySet<string> } }

/** Tells the service worker which files the pages are made of that open without a network. */
export function offlineFiles(): Plugin {
  return {
    name: 'gavrin-offline-files',
    apply: 'build',
    generateBundle(_, bundle) {
      const chunks = Object.values(bundle).filter((one): one is Chunk => one.type === 'chunk')
      const byFile = new Map(chunks.map((chunk) => [chunk.fileName, chunk]))
      const files = new Set<string>()
      const take = (file: string, withLater: boolean) => {
        const chunk = byFile.get(file)
        if (!chunk || files.has(file)) return
        files.add(file)
        for (const css of chunk.viteMetadata?.importedCss ?? []) files.add(css)
        for (const other of chunk.imports) take(other, false)
        if (withLater) for (const later of chunk.dynamicImports) take(later, true)
      }
      // What the entry loads later are the places of others.
      for (const { isEntry, fileName, name } of chunks) if (isEntry && name !== 'serviceWorker') take(fileName, false)
      for (const { moduleIds, fileName } of chunks)
        if (moduleIds.some((id) => BEGIN.test(id))) {
          files.delete(fileName)
          take(fileName, true)
        }
      const worker = bundle['sw.js']
      if (worker?.type !== 'chunk' || !PLACE.test(worker.code)) return this.error('The service worker knows no files.')
      worker.code = worker.code.replace(
        PLACE,
        [...files]
          .sort()
          .map((file) => JSON.stringify(`/${file}`))
          .join(','),
      )
    },
  }
}
