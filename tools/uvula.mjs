// Runs the command from the build, building first when something is missing.
import { existsSync } from 'node:fs'
import { ensureReady } from './ready.mjs'

if (!existsSync(new URL('../cli/dist/main.js', import.meta.url))) await ensureReady({ quiet: true })
await import('../cli/dist/main.js')
