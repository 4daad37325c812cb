import react from '@vitejs/plugin-react'
import { defaultClientConditions, defineConfig } from 'vite'
import { compressed, notices, usedStyles } from './deliver.ts'
import { offlineFiles } from './offlineFiles.ts'
import { recognitionFiles } from './recognitionFiles.ts'

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react(), recognitionFiles(), usedStyles(), offlineFiles(), notices(), compressed()],
  resolve: {
    conditions: ['@gavrin/source', ...defaultClientConditions],
    dedupe: ['yjs', 'y-protocols', 'lib0', '@tiptap/pm', 'react', 'react-dom'],
  },
  build: {
    target: 'es2022',
    // Nothing inline: the content security policy forbids it.
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    // Tells the server what each place loads.
    manifest: true,
    rolldownOptions: {
      input: {
        index: `${import.meta.dirname}/index.html`,
        serviceWorker: `${import.meta.dirname}/src/offline/serviceWorker.ts`,
      },
      output: {
        // Under an address that stays: a browser asks for it anew.
        entryFileNames: ({ name }) => (name === 'serviceWorker' ? 'sw.js' : 'assets/[name]-[hash].js'),
        // Few files, each a way there and back: what everybody loads, what everybody who is signed in does, and what a copy is
        // made of, each with all it rests on. The rest is parted by places.
        codeSplitting: {
          groups: [
            {
              name: 'base',
              test: /node_modules[\\/](react|react-dom|scheduler|react-router|@tanstack[\\/](query-core|react-query))[\\/]|react-bootstrap[\\/]esm[\\/](Button|Form)|web[\\/]src[\\/]((main|App)\.tsx$|ui[\\/](FindField|TextField|Wordmark))|core[\\/]src[\\/](errors|roster[\\/](names|find)\.)/,
              priority: 3,
            },
            {
              name: 'frame',
              test: /web[\\/]src[\\/](ui[\\/](PersonMenu|SheetMark|time|inks|useNow|useStored)|student[\\/]StudentFrame|live[\\/](unsent|connection))|core[\\/]src[\\/](live[\\/]protocol|access|progress[\\/]journal|handout[\\/]note|naming[\\/]pattern)/,
              priority: 2,
            },
            { name: 'copy', test: /web[\\/]src[\\/]copy[\\/]CopyPage\.tsx$/, priority: 1 },
          ],
        },
      },
    },
    chunkSizeWarningLimit: 900,
  },
  server: { proxy: { '/api': { target: 'http://127.0.0.1:4190', ws: true } } },
})
