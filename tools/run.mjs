// Every command of package.json: sets up what is missing, then runs the tool of that name.
import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { ensureReady } from './ready.mjs'

/** Commands that are rooms of their own; every other is a file of tools/src. */
const ROOMS = { start: '../server/bundle/main.js', uvula: '../cli/dist/main.js' }
const name = process.argv[2]
const file = fileURLToPath(new URL(ROOMS[name] ?? `./dist/${name}.js`, import.meta.url))

// the command is called again and again, by scripts that read what it prints: built once is built
if (name !== 'uvula' || !existsSync(file)) await ensureReady({ quiet: name === 'uvula' || name.startsWith('bench') })
// as if it had been called itself: a file that is a tool and a part of others knows by that which it is
process.argv.splice(1, 2, file)
// build is done with setting up
if (name !== 'build') await import(file)
