// npm run bench [-- NAME]: one JSON object a line; ratios are against a reference timed in the same run.
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import Papa from 'papaparse'
import { ensureReady, root } from './ready.mjs'

await ensureReady({ quiet: true })
const core = await import('@uvula/core')

const median = (xs) => [...xs].sort((a, b) => a - b)[Math.floor(xs.length / 2)]
function time(work, times = 9) {
  work()
  return median(
    Array.from({ length: times }, () => {
      const began = performance.now()
      work()
      return performance.now() - began
    }),
  )
}
const vehicle = (id) => ({ ...core.ENGINE_PATTERNS.find((p) => p.id === id).vehicle, name: 'bench', altitudeM: 0 })

/** A recording of half an hour at 10 Hz with 18 channels, from a shorter one repeated. */
function longLog() {
  const lines = core
    .writeRecordingCsv(
      core.simulateRecording({ vehicle: { ...vehicle('v6-maf'), metering: 'maf+map' }, drive: 'road', seed: 3 }),
    )
    .trim()
    .split('\n')
  const head = lines[0].split(',')
  const body = lines.slice(1).map((l) => l.split(','))
  const rows = []
  for (let i = 0; i < 18_000; i++)
    rows.push([(i / 10).toFixed(3), ...body[Math.floor(i / 4) % body.length].slice(1), '1'].join(','))
  return [[...head, 'purge_pct'].join(','), ...rows].join('\n')
}

const BENCHES = {
  'read-30-minutes': () => {
    const text = longLog()
    const v = { ...vehicle('v6-maf'), metering: 'maf+map' }
    const ours = time(() => core.findOperatingPoints(core.readRecordingCsv(text).recording, v), 5)
    const reference = time(() => Papa.parse(text, { header: false, dynamicTyping: false }), 5)
    return { value: ours / reference, unit: 'of the reference', bar: 0.3, met: ours / reference <= 0.3 }
  },
  'diagnose-recording': () => {
    const text = readFileSync(join(root, 'cli/fixtures/c010/log.csv'), 'utf8')
    const v = JSON.parse(readFileSync(join(root, 'cli/fixtures/c010/vehicle.json'), 'utf8'))
    const evidence = {
      intent: 'not-stated',
      signs: [],
      findings: [],
      ...core.evidenceFromRecording(core.readRecordingCsv(text).recording, v),
    }
    const value = time(() => core.diagnose(v, evidence))
    return { value, unit: 'ms', bar: 150, met: value <= 150 }
  },
  'diagnose-typed': () => {
    const points = core.pointsFromTyped([
      { kind: 'idle', values: { rpm: 700, maf_gs: 2.4, stft1_pct: 2, ltft1_pct: 16 } },
      { kind: 'hold', values: { rpm: 2500, maf_gs: 8, stft1_pct: 1, ltft1_pct: 4 } },
    ])
    const value = time(() =>
      core.diagnose(vehicle('four-maf'), { intent: 'complaint', points, signs: ['hiss'], findings: [] }),
    )
    return { value, unit: 'ms', bar: 50, met: value <= 50 }
  },
  'simulate-four': () => {
    const ms = time(() => core.simulateRecording({ vehicle: vehicle('four-maf'), drive: 'shop', seed: 1 }), 5)
    // the recorded drive and the warm-up before it
    const value = ((273 + 150) * 1000) / ms
    return { value, unit: 'times real time', bar: 2000, met: value >= 2000 }
  },
}

const only = process.argv[2]
for (const [bench, work] of Object.entries(BENCHES)) {
  if (only && only !== bench) continue
  const r = work()
  process.stdout.write(JSON.stringify({ bench, ...r, value: Number(r.value.toPrecision(4)) }) + '\n')
}
