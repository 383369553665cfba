import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants } from 'node:zlib'
import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig, type Plugin } from 'vite'

/** Writes a compressed copy beside each script and style, so that the server does not compress at every request. */
const compressed = (): Plugin => ({
  name: 'compressed',
  apply: 'build',
  writeBundle({ dir }, bundle) {
    for (const name of Object.keys(bundle).filter((n) => /\.(js|css)$/.test(n))) {
      const file = join(dir!, name)
      const params = { [constants.BROTLI_PARAM_QUALITY]: 10 }
      writeFileSync(`${file}.br`, brotliCompressSync(readFileSync(file), { params }))
    }
  },
})

export default defineConfig({
  root: import.meta.dirname,
  // the server puts the nonce of each answer in its place
  html: { cspNonce: 'CSP_NONCE' },
  plugins: [tailwindcss(), react(), compressed()],
  build: {
    outDir: 'dist',
    emptyOutDir: true,
    target: 'es2022',
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    // what several screens share comes in one piece: each further request costs the first screen
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            // charts are for the screens that draw them
            { name: 'charts', test: /echarts|zrender/, priority: 3 },
            // forms are filled in on few screens, and not on the first
            {
              name: 'forms',
              test: /react-hook-form|hookform|class-validator|class-transformer|[\\/]validator[\\/]|contract[\\/]dist[\\/]forms/,
              priority: 2,
            },
            { name: 'shared', minShareCount: 2, priority: 1 },
          ],
        },
      },
    },
  },
  worker: { format: 'es' },
})
