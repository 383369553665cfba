// Error rates of the proof on simulated visits: measured, perhaps worked on, measured again on another day.
import {
  compareRuns,
  CHANGE_RULES,
  ENGINE_PATTERNS,
  findOperatingPoints,
  HEALTHY,
  mergePoints,
  normalFrom,
  proofVerdict,
  seededRandom,
  simulateRecording,
  type OperatingPoint,
  type Vehicle,
} from '@uvula/core'

const KINDS = ['four-maf', 'v6-maf', 'v8-maf', 'six-line', 'four-map']
/** Air between the two runs differs by about this [°C]. */
const WEATHER_C = 5

/** A car read before and after, and the numbers that disturb it. */
interface Read {
  readonly vehicle: Vehicle
  readonly before: OperatingPoint[]
  readonly after: OperatingPoint[]
  readonly normal: () => number
}

/** How many visits, or which share of them, were told what. */
interface Rates {
  falseBetter: number
  falseRow: number
  seen: number
}

/** One car, read twice. @param gainPct - how much nearer to zero its trim really comes */
function visit(seed: number, gainPct: number): Read {
  const random = seededRandom(Math.imul(seed + 1, 0x9e3779b1))
  random()
  const kind = KINDS[Math.floor(random() * (gainPct ? KINDS.length - 1 : KINDS.length))]
  const vehicle: Vehicle = { ...ENGINE_PATTERNS.find((p) => p.id === kind)!.vehicle, name: 'bench', altitudeM: 0 }
  const normal = normalFrom(random)
  const ambientC = 18 + 6 * normal()
  // trim that a sensor which reads low asks for: 1/(1+e) − 1
  const trim = gainPct ? 4 + 8 * random() : 12 * random()
  const error = (pct: number): number => 1 / (1 + pct / 100) - 1
  const read = (pct: number, day: number): OperatingPoint[] =>
    mergePoints(
      findOperatingPoints(
        simulateRecording({
          vehicle,
          drive: 'shop',
          seed,
          day,
          ambientC: ambientC + (day ? WEATHER_C * normal() : 0),
          faults: { ...HEALTHY, mafErrorIdle: error(pct), mafErrorFull: error(pct) },
          pollS: 0.5,
        }),
        vehicle,
      ),
    )
  const before = read(trim, 0)
  const after = read(trim - gainPct, 1)
  return { vehicle, before, after, normal }
}

/** What two runs of one car differ by, as the rules state it, drawn for each point by itself and laid over what the simulator gives. */
const disturbed = (points: readonly OperatingPoint[], normal: () => number): OperatingPoint[] =>
  points.map((p) => ({
    ...p,
    means: Object.fromEntries(
      Object.entries(p.means).map(([id, x]) => {
        const rule = CHANGE_RULES.find((r) => r.quantity === id)
        return [id, rule ? x + normal() * rule.betweenRuns * (rule.relative ? Math.abs(x) : 1) : x]
      }),
    ),
  }))

/** Visits of each sort, and how many were told what. */
export function proofRates(count: number): Record<'natural' | 'stated', Rates> {
  const none = (): Rates => ({ falseBetter: 0, falseRow: 0, seen: 0 })
  const rates = { natural: none(), stated: none() }
  const tell = (v: Read, b: OperatingPoint[], a: OperatingPoint[]): ReturnType<typeof proofVerdict> =>
    proofVerdict(compareRuns(b, a, v.vehicle.idleSpecRpm))
  for (let i = 0; i < count; i++) {
    for (const gain of [0, 3]) {
      const v = visit(2 * i + (gain ? 1 : 0), gain)
      for (const [how, b, a] of [
        ['natural', v.before, v.after],
        ['stated', disturbed(v.before, v.normal), disturbed(v.after, v.normal)],
      ] as const) {
        const told = tell(v, b, a)
        const r = rates[how]
        if (gain) r.seen += told.verdict === 'better' ? 1 : 0
        else {
          r.falseBetter += told.pooled.some((p) => p.verdict === 'better') ? 1 : 0
          r.falseRow += told.changes.some((c) => c.verdict === 'better') ? 1 : 0
        }
      }
    }
  }
  const shares = (r: Rates): Rates => ({
    falseBetter: r.falseBetter / count,
    falseRow: r.falseRow / count,
    seen: r.seen / count,
  })
  return { natural: shares(rates.natural), stated: shares(rates.stated) }
}
