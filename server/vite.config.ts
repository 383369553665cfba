import { defineConfig } from 'vite'

const built = (path: string): string => `${import.meta.dirname}/dist/${path}`

/** Compiled code of a machine, packages that read their own files, and what Nest looks up for itself: there must be one of each. */
const AS_INSTALLED = [
  'better-sqlite3',
  'pg',
  'pdfmake',
  '@fontsource/barlow-semi-condensed',
  'typeorm',
  'class-validator',
  'class-transformer',
  'reflect-metadata',
]

/**
 * Gathers the built server and its packages into a few files: hundreds of modules looked up one by one are most of what a start
 * takes. Threads stand beside it, where what starts them looks.
 */
export default defineConfig({
  root: import.meta.dirname,
  ssr: { noExternal: true, external: AS_INSTALLED },
  build: {
    ssr: true,
    outDir: 'bundle',
    emptyOutDir: true,
    target: 'node20',
    minify: false,
    rolldownOptions: {
      input: {
        main: built('main.js'),
        'weigher.worker': built('threads/weigher.worker.js'),
        'clerk.worker': built('threads/clerk.worker.js'),
        'viewer.worker': built('threads/viewer.worker.js'),
        'backup.worker': built('backup/backup.worker.js'),
      },
      output: { entryFileNames: '[name].js', chunkFileNames: '[name].js' },
    },
  },
})
