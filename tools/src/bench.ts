// npm run bench [-- NAME]: one JSON object a line; ratios are against a reference timed in the same run.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Papa from 'papaparse'
import {
  diagnose,
  drivenEngine,
  ENGINE_PATTERNS,
  evidenceFromRecording,
  findOperatingPoints,
  HEALTHY,
  ownShare,
  pointsFromTyped,
  PulseLayer,
  randomFeed,
  readRecording,
  refereed,
  ROAD_DRIVE,
  seededRandom,
  simulateRecording,
  take,
  writeRecordingCsv,
  type Evidence,
  type Recording,
  type SimulatedFaults,
  type Vehicle,
} from '@uvula/core'
import { ensureReady, root } from '../ready.mjs'
import { besideRun } from './beside-bench.js'
import { crashRun } from './crash-bench.js'
import { liveRun } from './live-bench.js'
import { offlineRun } from './offline-bench.js'
import { proofRates } from './proof-bench.js'
import { scaleRun } from './scale-bench.js'
import { tabletRun } from './tablet-bench.js'

// the benches in a browser need the built interface too
if (['live', 'offline', 'tablet'].includes(process.argv[2])) await ensureReady()

/** One figure of a bench; with a bar it says whether that is met. */
interface Figure {
  readonly value: number
  readonly unit: string
  readonly bar?: number
  readonly met?: boolean
}
type Named = Figure & { readonly bench: string }

const median = (xs: readonly number[]): number => [...xs].sort((a, b) => a - b)[Math.floor(xs.length / 2)]
/** Middle time of a piece of work [ms]; the first run is not counted. */
function time(work: () => unknown, times = 9): number {
  work()
  return median(
    Array.from({ length: times }, () => {
      const began = performance.now()
      work()
      return performance.now() - began
    }),
  )
}
const vehicle = (id: string): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'bench',
  altitudeM: 0,
})
/** @throws Error with the reader's words for a file that is no recording */
function recordingOf(bytes: Uint8Array): Recording {
  const read = readRecording(bytes)
  if (!read.ok) throw new Error(read.error.message)
  return read.recording
}

/** A large shop asked by one client, kept in a file or on PostgreSQL. */
async function* scaleBench(onPostgres: boolean): AsyncGenerator<Named> {
  const visits = Number(process.argv[3] ?? 100_000)
  const r = await scaleRun(visits, (words) => process.stderr.write(`${words}\n`), onPostgres)
  const of = `ms, 99 % of 2000 mixed requests of one client, ${r.made.visits} visits, ${r.gigabytes.toFixed(2)} GB`
  yield { bench: 'scale-all', value: r.p99, unit: of, bar: 15, met: r.p99 < 15 }
  for (const [kind, [middle, most]] of Object.entries(r.kinds))
    yield { bench: `scale: ${kind}`, value: middle, unit: `ms, middle; 99 % ${most.toFixed(1)}` }
}

const DIESEL: Partial<Vehicle> = {
  displacementL: 2.2,
  compressionRatio: 16.5,
  metering: 'maf+map',
  induction: 'turbo',
  injection: 'direct',
  fuel: 'diesel',
  egr: 'valve',
  pcvJoins: 'duct',
  purge: false,
  idleSpecRpm: { min: 750, max: 850 },
}

/** Ten minutes of an engine that is driven, at a step of 1 ms. */
function simulated(kind: string, bar: number): Figure {
  const v = kind === 'diesel' ? { ...vehicle('four-maf'), ...DIESEL } : vehicle(kind)
  const e = drivenEngine({ vehicle: v, seed: 1 })
  const ms = time(() => {
    for (const s of ROAD_DRIVE) {
      take(e, s)
      e.advance(s.seconds)
    }
  }, 5)
  const value = (1000 * ROAD_DRIVE.reduce((t, s) => t + s.seconds, 0)) / ms
  return { value, unit: 'times real time', bar, met: value >= bar }
}

/** A recording of half an hour at 10 Hz with 18 channels, from a shorter one repeated. */
function longLog(): string {
  const v: Vehicle = { ...vehicle('v6-maf'), metering: 'maf+map' }
  const lines = writeRecordingCsv(simulateRecording({ vehicle: v, drive: 'road', seed: 3 }))
    .trim()
    .split('\n')
  const head = lines[0].split(',')
  const body = lines.slice(1).map((l) => l.split(','))
  const rows: string[] = []
  for (let i = 0; i < 18_000; i++)
    rows.push([(i / 10).toFixed(3), ...body[Math.floor(i / 4) % body.length].slice(1), '1'].join(','))
  return [[...head, 'purge_pct'].join(','), ...rows].join('\n')
}

/** A million rows with 18 channels: read in a process of its own, beside the reference on the same text. */
let million:
  | {
      readonly ms: number
      readonly rows: number
      readonly extra: number
      readonly size: number
      readonly reference: number
    }
  | undefined
function millionRows(): NonNullable<typeof million> {
  if (million) return million
  const [head, ...lines] = longLog().split('\n')
  const parts = [head]
  for (let i = 0; i < 1_000_000; i++) {
    const line = lines[i % lines.length]
    parts.push((i / 10).toFixed(1) + line.slice(line.indexOf(',')))
  }
  const text = parts.join('\n')
  const path = join(mkdtempSync(join(tmpdir(), 'uvula-')), 'million.csv')
  writeFileSync(path, text)
  const said = execFileSync(process.execPath, [join(root, 'tools/dist/million.js'), path], { encoding: 'utf8' })
  rmSync(path)
  const began = performance.now()
  Papa.parse(text, { header: false, dynamicTyping: false })
  return (million = { ...JSON.parse(said), reference: performance.now() - began } as NonNullable<typeof million>)
}

/** Faults that move what is steady in a sound engine: a leak, deposits, a dirty sensor, inert gas at idle, a weak cylinder. */
const FAULTY: readonly ((v: Pick<Vehicle, 'displacementL'>) => Partial<SimulatedFaults>)[] = [
  // in proportion to the engine: more would hold 1500 with the foot off
  (v) => ({ leakMm2: 4 * v.displacementL }),
  () => ({ deposits: 0.7, valveDeposits: 0.5 }),
  () => ({ mafErrorIdle: -0.15, mafErrorFull: -0.3, ductLeakMm2: 40 }),
  () => ({ egrMm2: 4, purgeMm2: 2 }),
  () => ({ weakCylinder: 1, weakShare: 0.4, misfireCylinder: 2, misfireShare: 0.05 }),
]

/** Drives of every architecture, sound and faulty, polled fast and slowly, with gaps: what the script says against what is found. */
let drives: { wanted: number; found: number; accepted: number; inTransients: number } | undefined
function scriptedDrives(): NonNullable<typeof drives> {
  if (drives) return drives
  const counts = { wanted: 0, found: 0, accepted: 0, inTransients: 0 }
  const random = seededRandom(23)
  for (const pattern of ENGINE_PATTERNS) {
    if (pattern.vehicle.metering === 'none') continue
    const polled = [
      ...[0.1, 0.4, 1].map((pollS) => ({ pollS, fault: (): Partial<SimulatedFaults> => ({}) })),
      ...FAULTY.map((fault) => ({ pollS: 0.4, fault })),
    ]
    for (const { pollS, fault } of polled) {
      const v = { ...pattern.vehicle, name: 'bench', altitudeM: 2000 * random() }
      const seed = 1 + Math.floor(1e6 * random())
      const faults = { ...HEALTHY, ...fault(v) }
      const full = simulateRecording({ vehicle: v, faults, drive: 'road', seed, pollS })
      // one hole of four seconds somewhere on the road
      const hole = 300 + 120 * random()
      const clock = full.columns.time_s!
      const rows = [...clock.keys()].filter((i) => clock[i] < hole || clock[i] > hole + 4)
      const columns = Object.fromEntries(
        Object.entries(full.columns).map(([id, xs]) => [id, Float64Array.from(rows, (i) => xs[i])]),
      )
      const points = findOperatingPoints({ rows: rows.length, columns, warnings: [] }, v)
      let at = 0
      for (const { seconds, controls } of ROAD_DRIVE) {
        const [from, to] = [at, at + seconds]
        at = to
        const steady = ['idle', 'speed', 'road'].includes(controls.mode)
        if (steady && seconds >= 25 && !(hole > from - 5 && hole < to + 5)) {
          counts.wanted++
          const kind =
            controls.mode === 'road'
              ? 'cruise'
              : controls.mode === 'speed'
                ? 'hold'
                : controls.accessoryNm > 0
                  ? 'idle-load'
                  : 'idle'
          if (points.some((p) => p.kind === kind && p.endS > from + 5 && p.startS < to)) counts.found++
        }
        for (const p of points) {
          // points that are not steady by their nature
          if (['pull', 'snap', 'deceleration', 'key-on'].includes(p.kind)) continue
          const within = (a: number, b: number): number => Math.max(0, Math.min(p.endS, b) - Math.max(p.startS, a))
          counts.accepted += within(from, to)
          // the first seconds after a change, and whatever is no steady stretch at all
          counts.inTransients += steady
            ? within(from, from + Math.min(3, seconds)) * (from > 0 ? 1 : 0)
            : within(from, to)
        }
      }
    }
  }
  return (drives = counts)
}

const BENCHES: Readonly<Record<string, () => Figure>> = {
  'points-found': () => {
    const { wanted, found } = scriptedDrives()
    return { value: found / wanted, unit: `of ${wanted} scripted stretches`, bar: 0.98, met: found / wanted >= 0.98 }
  },
  'points-in-transients': () => {
    const { accepted, inTransients } = scriptedDrives()
    const value = inTransients / accepted
    return { value, unit: `of ${accepted.toFixed(0)} accepted seconds`, bar: 0.01, met: value <= 0.01 }
  },
  'read-30-minutes': () => {
    const text = longLog()
    const bytes = new TextEncoder().encode(text)
    const v: Vehicle = { ...vehicle('v6-maf'), metering: 'maf+map' }
    const ours = time(() => findOperatingPoints(recordingOf(bytes), v), 15)
    const reference = time(() => Papa.parse(text, { header: false, dynamicTyping: false }), 15)
    return { value: ours / reference, unit: 'of the reference', bar: 0.3, met: ours / reference <= 0.3 }
  },
  'read-million-rows': () => {
    const { ms, reference, rows } = millionRows()
    return { value: ms / reference, unit: `of the reference, ${rows} rows`, bar: 0.2, met: ms / reference <= 0.2 }
  },
  'million-rows-memory': () => {
    const { extra, size } = millionRows()
    return { value: extra / size, unit: 'times the file', bar: 4, met: extra / size < 4 }
  },
  'diagnose-recording': () => {
    const v = JSON.parse(readFileSync(join(root, 'cli/fixtures/c010/vehicle.json'), 'utf8')) as Vehicle
    const evidence: Evidence = {
      intent: 'not-stated',
      signs: [],
      findings: [],
      ...evidenceFromRecording(recordingOf(readFileSync(join(root, 'cli/fixtures/c010/log.csv'))), v),
    }
    const value = time(() => diagnose(v, evidence))
    return { value, unit: 'ms', bar: 150, met: value <= 150 }
  },
  'diagnose-typed': () => {
    const points = pointsFromTyped([
      { kind: 'idle', values: { rpm: 700, maf_gs: 2.4, stft1_pct: 2, ltft1_pct: 16 } },
      { kind: 'hold', values: { rpm: 2500, maf_gs: 8, stft1_pct: 1, ltft1_pct: 4 } },
    ])
    const value = time(() =>
      diagnose(vehicle('four-maf'), { intent: 'complaint', points, signs: ['hiss'], findings: [] }),
    )
    return { value, unit: 'ms', bar: 50, met: value <= 50 }
  },
  'feeds-inside-limits': () => {
    // ten thousand random engines, ways and slips, each worked by a hand and followed by the referee
    const random = seededRandom(11)
    let [over, planned] = [0, 0]
    for (let i = 0; i < 10_000; i++) {
      const { request, slips } = randomFeed(random)
      const w = refereed(request, ownShare(request, i), slips, random)
      if (!w) continue
      planned++
      if (Math.max(w.tenSeconds, w.oneSecond, w.film) > 1 || w.label > 1 + 1e-9) over++
    }
    return { value: over, unit: `of ${planned} feeds over a limit, of 10,000 engines`, bar: 0, met: over === 0 }
  },
  'simulate-four': () => simulated('four-maf', 2000),
  ...Object.fromEntries(
    ['four-map', 'four-valve', 'six-line', 'v6-maf', 'v8-maf', 'turbo-di', 'four-bodies', 'diesel'].map((kind) => [
      `simulate-${kind}`,
      () => simulated(kind, 1000),
    ]),
  ),
  'simulate-pulses': () => {
    // a sample at each degree, at the idle of a four
    const e = drivenEngine({ vehicle: vehicle('four-maf'), seed: 1 })
    const ms = time(() => new PulseLayer(e).record({ seconds: 20, sampleHz: 6 * e.rpm }), 5)
    const value = 20_000 / ms
    return { value, unit: 'times real time', bar: 100, met: value >= 100 }
  },
}

/** Real minutes of the live bench: `npm run bench -- live 2` for a short look. */
const LIVE_MINUTES = Number(process.argv[3] ?? 30)

/** Benches that run in real time and only when they are named. */
const LONG: Readonly<Record<string, () => AsyncGenerator<Named>>> = {
  crash: async function* () {
    for (const [name, options] of [
      ['crash', { kills: Number(process.argv[3] ?? 200), seed: 1 }],
      ['crash-full-disk', { kills: 20, seed: 2, fullDisk: true }],
    ] as const) {
      const r = await crashRun(options)
      const of = `of ${r.acknowledged} acknowledged, ${r.kills} kills${'fullDisk' in options ? `, ${r.noRoom} answered "no room"` : ''}`
      const wrong = r.unlike + r.unexpected.length + r.stray + (r.integrity === 'ok' ? 0 : 1)
      yield { bench: `${name}-lost`, value: r.lost, unit: `writes ${of}`, bar: 0, met: r.lost === 0 }
      yield { bench: `${name}-doubled`, value: r.doubled, unit: 'records', bar: 0, met: r.doubled === 0 }
      yield {
        bench: `${name}-else`,
        value: wrong,
        unit: 'answers unlike, unexpected, or a file that is damaged',
        bar: 0,
        met: wrong === 0,
      }
    }
  },
  offline: async function* () {
    const minutes = Number(process.argv[3] ?? 10)
    const r = await offlineRun({ minutes })
    const of = `of ${r.made} entries, the server away for ${minutes} min, the page loaded anew, closed and opened again`
    yield { bench: 'offline-lost', value: r.lost, unit: `fields ${of}`, bar: 0, met: r.lost === 0 }
    yield { bench: 'offline-doubled', value: r.versions - r.made, unit: of, bar: 0, met: r.versions === r.made }
    yield { bench: 'offline-not-kept', value: r.made - r.waiting, unit: of, bar: 0, met: r.waiting === r.made }
  },
  scale: () => scaleBench(false),
  'scale-postgres': () => scaleBench(true),
  proof: async function* () {
    const count = Number(process.argv[3] ?? 200)
    for (const [how, r] of Object.entries(proofRates(count))) {
      const of = `of ${count} visits${how === 'stated' ? ', every point off by the stated variation' : ''}`
      const low = (share: number): Pick<Figure, 'value' | 'bar' | 'met'> => ({
        value: share,
        bar: 0.05,
        met: share <= 0.05,
      })
      yield { bench: `proof-${how}-false-better`, unit: `${of} without a remedy`, ...low(r.falseBetter) }
      yield { bench: `proof-${how}-false-row`, unit: `${of} without a remedy, any row`, ...low(r.falseRow) }
      yield {
        bench: `proof-${how}-seen`,
        value: r.seen,
        unit: `${of} with 3 points of trim`,
        bar: 0.9,
        met: r.seen >= 0.9,
      }
    }
  },
  beside: async function* () {
    for (const [kind, { longest, work }] of Object.entries(await besideRun()))
      yield {
        bench: `beside ${kind}`,
        value: longest,
        unit: `ms, longest wait of another request; it took ${work.toFixed(0)} ms`,
        bar: 100,
        met: longest < 100,
      }
  },
  tablet: async function* () {
    const { taps, screens, besideLog } = await tabletRun()
    const tap = taps[Math.floor(0.95 * taps.length)]
    const of = `ms, 95 % of ${taps.length} taps on a look to their paint, middle ${median(taps)}, longest ${taps.at(-1)}`
    yield { bench: 'tablet-tap', value: tap, unit: `${of}; a quarter of the speed`, bar: 100, met: tap < 100 }
    const beside = 'ms of tasks over 50 ms over twelve taps beside a log of 28 MB that waits for its server; full speed'
    yield { bench: 'tablet-beside-log', value: besideLog, unit: beside, bar: 0, met: besideLog === 0 }
    const screen = median(screens)
    const at = `ms, largest paint, middle of ${screens.map((s) => s.toFixed(0)).join(', ')}; 31 cars, 1.6 Mbit/s`
    yield { bench: 'tablet-first-screen', value: screen, unit: at, bar: 2500, met: screen < 2500 }
  },
  live: async function* () {
    for (const [name, link, minutes] of [
      ['live', 'none', LIVE_MINUTES],
      ['live-usual', 'usual', LIVE_MINUTES / 10],
    ] as const) {
      const r = await liveRun({ minutes, link })
      const at = `${r.rows} rows at ${r.rate.toFixed(1)} Hz, ${r.channels} channels, ${minutes} min`
      const taps = `ms, middle ${r.middleTap.toFixed(0)}; ${at}`
      yield { bench: `${name}-longest-tap`, value: r.longestTap, unit: taps, bar: 100, met: r.longestTap < 100 }
      const long = r.longFrames / r.frames
      const frames = `of ${r.frames} frames came over 50 ms after the one before`
      yield { bench: `${name}-long-frames`, value: long, unit: frames, bar: 0.01, met: long <= 0.01 }
      yield { bench: `${name}-dropped`, value: r.missing, unit: `samples; ${at}`, bar: 0, met: r.missing === 0 }
    }
  },
}

const print = (r: Named): boolean =>
  process.stdout.write(JSON.stringify({ ...r, value: Number(r.value.toPrecision(4)) }) + '\n')
const only = process.argv[2]
for (const [bench, work] of Object.entries(BENCHES)) {
  if (only && only !== bench) continue
  print({ bench, ...work() })
}
if (only in LONG) for await (const r of LONG[only]()) print(r)
