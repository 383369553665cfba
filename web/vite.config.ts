import { createHash } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants } from 'node:zlib'
import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig, transformWithOxc, type Plugin } from 'vite'

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

/** Writes the worker that opens the application without the server, with the list of what it keeps. */
const offline = (): Plugin => ({
  name: 'offline',
  apply: 'build',
  async writeBundle({ dir }, bundle) {
    const source = join(import.meta.dirname, 'src/offline/worker.ts')
    const { code } = await transformWithOxc(readFileSync(source, 'utf8'), source)
    const files = Object.keys(bundle).filter((n) => /\.(js|css|woff2)$/.test(n))
    const shell = [...files.map((n) => `/${n}`), '/icon.svg', '/'].sort()
    const build = createHash('sha256')
      .update(shell.join())
      .update(readFileSync(join(dir!, 'index.html')))
      .update(code)
      .digest('hex')
      .slice(0, 16)
    const head = `const SHELL = ${JSON.stringify(shell)}, BUILD = ${JSON.stringify(build)}\n`
    writeFileSync(join(dir!, 'offline.js'), head + code)
  },
})

export default defineConfig({
  root: import.meta.dirname,
  // the server puts the nonce of each answer in its place
  html: { cspNonce: 'CSP_NONCE' },
  plugins: [tailwindcss(), react(), compressed(), offline()],
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
            // what every screen stands on, by itself: a group takes along what its members import
            {
              name: 'base',
              test: /node_modules[/](react|react-dom|scheduler|react-router|@tanstack|idb|date-fns|get-nonce|comlink|react-hotkeys-hook|tslib)[/]/,
              priority: 5,
            },
            // what the bay needs of ours
            {
              name: 'first',
              test: /lucide-react|[/]src[/](store|words|bay|workers)[/](?!.*worker)|parts[/](Ring|LittleLine|States|Delivery|Shortcuts)\.|kit[/](nonce|hotkeys|useLater)/,
              priority: 5,
            },
            { name: 'core', test: /[/](core|contract)[/]dist[/](?!forms)/, minShareCount: 2, priority: 4 },
            // charts are for the screens that draw them
            { name: 'charts', test: /echarts|zrender/, priority: 3 },
            // forms are filled in on few screens, and not on the first
            {
              name: 'forms',
              test: /react-hook-form|hookform|class-validator|class-transformer|[/]validator[/]|contract[/]dist[/]forms/,
              priority: 2,
            },
            // what dialogs, lists and ends are made of comes with the first screen that has one
            {
              name: 'behaviour',
              test: /@radix-ui|radix-ui|@floating-ui|react-remove-scroll|react-style-singleton|use-sidecar|aria-hidden|react-dropzone|[/]web[/]src[/]kit[/][A-Z]/,
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
