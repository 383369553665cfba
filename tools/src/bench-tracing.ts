// npm run bench:tracing [-- CASES]: engines with leaks in known places against what the account and the trace say of them; one
// JSON object a line. Two leaks: one is found and sized by smoke, does the remainder's interval hold the other? One leak: is its
// place named when the tests that are proposed are answered truthfully, three of them at most?
import {
  airPathOf,
  diagnoseVisit,
  emptyVisit,
  ENGINE_PATTERNS,
  findOperatingPoints,
  HEALTHY,
  nextPlaces,
  simulateRecording,
  siteShares,
  smokeAreaMm2,
  trimBanksOf,
  visitLedger,
  type OperatingPoint,
  type SimulatedFaults,
  type Vehicle,
  type VisitFile,
} from '@uvula/core'

const cases = Number(process.argv[2] ?? 150)
function line(bench: string, value: number, unit: string, low: number, high?: number): void {
  process.stdout.write(
    JSON.stringify({
      bench,
      value: Number(value.toFixed(3)),
      unit,
      bar: high === undefined ? low : [low, high],
      met: value >= low && (high === undefined || value <= high),
    }) + '\n',
  )
}

/** A stream of numbers in 0..1, the same for the same seed. */
function randomOf(seed: number): () => number {
  let a = (seed * 2654435761) >>> 0
  return () => {
    a = (a + 0x6d2b79f5) >>> 0
    let t = Math.imul(a ^ (a >>> 15), 1 | a)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}
const normal = (r: () => number): number => Math.sqrt(-2 * Math.log(1 - r())) * Math.cos(2 * Math.PI * r())

const meta = { version: 1, by: 'bench', at: '2026-01-01T09:00:00Z' }
function visitOf(spec: Vehicle, parts: Partial<VisitFile>): VisitFile {
  const vehicle = { ...meta, id: 'car', plate: 'B', customer: '', spec }
  const own = {
    vehicleId: 'car',
    openedAt: meta.at,
    state: 'open' as const,
    intent: 'complaint' as const,
    complaint: '',
    signs: [],
    conditions: [],
    altitudeM: spec.altitudeM,
    ambientC: 15,
  }
  return { ...emptyVisit(vehicle, { ...meta, id: 'v', ...own }), ...parts }
}

const CHANNELS = [
  'rpm',
  'maf_gs',
  'map_kpa',
  'stft1_pct',
  'ltft1_pct',
  'stft2_pct',
  'ltft2_pct',
  'throttle_pct',
] as const
/** Readings as they would be typed off a drive of the simulated engine. */
function readings(spec: Vehicle, faults: Partial<SimulatedFaults>, seed: number): VisitFile['readings'] {
  const r = simulateRecording({
    vehicle: spec,
    faults: { ...HEALTHY, ...faults },
    drive: 'shop',
    seed,
    ambientC: 15,
  })
  const points = findOperatingPoints(r, spec)
  const slots = [
    ['idle', (p: OperatingPoint) => p.kind === 'idle'],
    ['hold-2500', (p: OperatingPoint) => p.kind === 'hold' && p.rpm > 2200],
  ] as const
  return slots.flatMap(([slot, is]) => {
    const p = points.find(is)
    return p
      ? CHANNELS.filter((c) => p.means[c] !== undefined).map((channel) => ({
          ...meta,
          id: `${slot}:${channel}`,
          visitId: 'v',
          round: 0,
          slot,
          channel,
          value: p.means[channel]!,
          typed: '',
        }))
      : []
  })
}

const PATTERNS = ['four-maf', 'six-line', 'v6-maf', 'v8-maf', 'v8-twin', 'v10-maf', 'flat-four']
const specOf = (k: number, r: () => number): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === PATTERNS[k % PATTERNS.length])!.vehicle,
  name: 'bench',
  altitudeM: Math.round(1800 * r()),
})

let held = 0
let asked = 0
let shownDone = 0
for (let k = 0; k < cases; k++) {
  const r = randomOf(k + 1)
  const spec = specOf(k, r)
  const litres = spec.displacementL
  // both large enough to be seen beside a sound engine's scatter; a trim that ends at its stop among them
  const first = litres * (0.3 + 0.9 * r())
  const second = litres * (0.3 + 0.7 * r())
  const truth = readings(spec, { leakMm2: first + second }, 500 + k)
  // the tester's own error and the way its area is quoted at idle
  const shown = (first * Math.exp(0.15 * normal(r)) * 3) / smokeAreaMm2(3, 3500)
  const smoke = {
    ...meta,
    id: 's',
    visitId: 'v',
    test: 'smoke',
    station: 'booster' as const,
    outcome: 'fail' as const,
    value: shown,
    unit: 'mm²' as const,
  }
  const f = visitOf(spec, { readings: truth, findings: [smoke] })
  const account = visitLedger(f)
  if (!account) continue
  asked++
  const { low, high } = account.ledger.remaining
  if (second >= low && second <= high) held++
  if (account.accounted) shownDone++
}
line('two-leaks-remainder-held', held / asked, `of ${asked} engines with two leaks, one found`, 0.85, 0.95)
line('two-leaks-not-shown-done', 1 - shownDone / asked, `of ${asked}: the account stays open after one is found`, 1)

const LETS_IN = ['behind-plate', 'runner', 'sensor-to-plate']
let named = 0
let single = 0
let tests = 0
for (let k = 0; k < cases; k++) {
  const r = randomOf(9000 + k)
  const spec = specOf(k, r)
  const path = airPathOf(spec)
  const places = path.stations.filter((s) => LETS_IN.includes(s.zone) && s.info.leakWeight > 0)
  let pick = r() * places.reduce((s, p) => s + p.info.leakWeight, 0)
  const at = places.find((p) => (pick -= p.info.leakWeight) <= 0) ?? places[0]
  const area = spec.displacementL * (0.8 + 1.6 * r())
  const faults =
    at.zone === 'sensor-to-plate' && at.info.id !== 'throttle'
      ? { ductLeakMm2: 40 * spec.displacementL * (0.6 + r()) }
      : { leakMm2: area, ...(at.bank && trimBanksOf(spec) === 2 ? { leakBank: at.bank } : {}) }
  const truth = readings(spec, faults, 900 + k)
  const findings: VisitFile['findings'][number][] = []
  single++
  let found = false
  for (let n = 0; n < 3 && !found; n++) {
    const f = visitOf(spec, { readings: truth, findings })
    const sites = siteShares(path, diagnoseVisit(f, 0).ranking, findings)
    const [next] = nextPlaces(path, sites, findings)
    if (!next) break
    tests++
    const here = next.station === undefined || next.station === at.info.id
    const station = next.station ?? at.info.id
    findings.push({ ...meta, id: `t${n}`, visitId: 'v', test: next.test, station, outcome: here ? 'fail' : 'pass' })
    const after = siteShares(path, diagnoseVisit(visitOf(spec, { readings: truth, findings }), 0).ranking, findings)
    const top = [...after].sort((a, b) => b.probability - a.probability)[0]
    found = top !== undefined && top.station === at.info.id && top.probability > 0.5
  }
  if (found) named++
}
line(
  'single-leak-site-named',
  named / single,
  `of ${single} single leaks within three tests, ${(tests / single).toFixed(1)} on average`,
  0.9,
)
