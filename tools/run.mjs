// Every command of package.json: sets up what is missing, then runs the tool of that name.
import { existsSync } from 'node:fs'
import { ensureReady } from './ready.mjs'

/** Commands that are rooms of their own; every other is a file of tools/src. */
const ROOMS = { start: '../server/dist/main.js', uvula: '../cli/dist/main.js' }
const name = process.argv.splice(2, 1)[0]
const file = new URL(ROOMS[name] ?? `./dist/${name}.js`, import.meta.url)

// the command is called again and again, by scripts that read what it prints: built once is built
if (name !== 'uvula' || !existsSync(file)) await ensureReady({ quiet: name === 'uvula' || name.startsWith('bench') })
// build is done with that
if (name !== 'build') await import(file.href)
