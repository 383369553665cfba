// One reading of a file given by its path, alone in its process: how long, and what memory it took beyond its start.
import { readFileSync } from 'node:fs'
import { readRecording } from '@uvula/core'

const bytes = readFileSync(process.argv[2])
// what the file itself and the program take is no cost of the reading
const before = process.memoryUsage().rss
const began = performance.now()
const result = readRecording(bytes)
if (!result.ok) throw new Error(result.error.message)
const ms = performance.now() - began
const peak = process.resourceUsage().maxRSS * 1024
process.stdout.write(JSON.stringify({ ms, rows: result.recording.rows, extra: peak - before, size: bytes.length }))
