// npm start: sets up what is missing, then serves application and API on one port.
import { ensureReady } from './ready.mjs'

await ensureReady()
await import('../server/dist/main.js')
