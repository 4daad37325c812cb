import react from '@vitejs/plugin-react'
import { defaultClientConditions, defineConfig } from 'vite'
import { recognitionFiles } from './recognitionFiles.ts'

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react(), recognitionFiles()],
  resolve: {
    conditions: ['@gavrin/source', ...defaultClientConditions],
    dedupe: ['yjs', 'y-protocols', 'lib0', '@tiptap/pm', 'react', 'react-dom'],
  },
  build: {
    target: 'es2022',
    // Nothing inline: the content security policy forbids it.
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    chunkSizeWarningLimit: 900,
  },
  server: { proxy: { '/api': { target: 'http://127.0.0.1:4190', ws: true } } },
})
