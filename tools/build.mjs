// npm run build: everything the command, the server and the benchmarks run from.
import { ensureReady } from './ready.mjs'

await ensureReady()
