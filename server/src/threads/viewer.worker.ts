import { evidenceFromRecording, thinned, type Recording } from '@uvula/core'
import { unpackColumns } from '../recordings/columns.js'
import { answerEach } from './question-thread.js'
import type { OfRecording, Viewing } from './viewer.js'

/** So long a recording stays unpacked after it was last asked for [ms]. */
const STAYS_MS = 60_000

let last: { readonly key: string; readonly recording: Recording } | undefined
let timer: NodeJS.Timeout | undefined

/** The recording that is asked for: the one at hand, or opened from its columns; undefined where it is neither. */
async function opened({ key, columns }: OfRecording): Promise<Recording | undefined> {
  clearTimeout(timer)
  timer = setTimeout(() => (last = undefined), STAYS_MS)
  timer.unref()
  if (last?.key === key) return last.recording
  if (!columns) return undefined
  const recording = await unpackColumns(Buffer.from(columns))
  last = { key, recording }
  return recording
}

answerEach<Viewing>({
  trace: async ({ channels, rows, span, ...which }) => {
    const recording = await opened(which)
    return recording ? thinned(recording, channels, rows, span) : 'shut'
  },
  points: async ({ vehicle, stretches, ...which }) => {
    const recording = await opened(which)
    if (!recording) return 'shut'
    try {
      return { points: evidenceFromRecording(recording, vehicle, stretches).points }
    } catch (e) {
      if (e instanceof RangeError) return { stretches: e.message }
      throw e
    }
  },
})
