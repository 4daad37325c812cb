import react from '@vitejs/plugin-react'
import { defaultServerConditions, defineConfig } from 'vite'

/** The same application, built for the process of the server that draws first pictures (see src/drawFirst.tsx). */
export default defineConfig({
  root: import.meta.dirname,
  plugins: [react()],
  publicDir: false,
  resolve: { conditions: ['@gavrin/source', ...defaultServerConditions] },
  // All in it: nothing is looked for among the packages of the server.
  define: { 'process.env.NODE_ENV': '"production"' },
  ssr: { noExternal: true },
  build: { target: 'node20', ssr: 'src/drawFirst.tsx', outDir: 'drawn', emptyOutDir: true },
})
