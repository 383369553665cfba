import { evidenceFromRecording, thinned, type Recording } from '@uvula/core'
import { unpackColumns } from '../recordings/columns.js'
import { answerEach } from './question-thread.js'
import type { Viewing } from './viewer.js'

/** So long a recording stays unpacked after it was last asked for [ms]. */
const STAYS_MS = 60_000

let last: { readonly key: string; readonly recording: Recording } | undefined
let timer: NodeJS.Timeout | undefined

/** The recording at hand, if it is the one that is asked for. */
function atHand(key: string): Recording | undefined {
  clearTimeout(timer)
  timer = setTimeout(() => (last = undefined), STAYS_MS)
  timer.unref()
  return last?.key === key ? last.recording : undefined
}

answerEach<Viewing>({
  open: async ({ key, columns }) => {
    last = { key, recording: await unpackColumns(Buffer.from(columns)) }
  },
  trace: ({ key, channels, rows, span }) => {
    const recording = atHand(key)
    return recording ? thinned(recording, channels, rows, span) : 'shut'
  },
  points: ({ key, vehicle, stretches }) => {
    const recording = atHand(key)
    if (!recording) return 'shut'
    try {
      return { points: evidenceFromRecording(recording, vehicle, stretches).points }
    } catch (e) {
      if (e instanceof RangeError) return { stretches: e.message }
      throw e
    }
  },
})
