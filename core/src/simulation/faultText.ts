import { airPathOf, hasMaf, hasMap, maybeStation, type Vehicle, trimBanksOf } from '../engine/index.js'
import type { SimulatedFaults } from './faults.js'

/** Keys of a fault specification: `unmetered-air:areaMm2=3,bank=2`. */
const KEYS = ['areaMm2', 'site', 'bank', 'cylinder', 'errorPct', 'errorPctHigh', 'offsetKpa', 'severity'] as const
type Key = (typeof KEYS)[number]

export type FaultSpec =
  { readonly ok: true; readonly faults: SimulatedFaults } | { readonly ok: false; readonly message: string }

/** What a row is given: figures by key with a fallback, the place, the engine. */
interface Given {
  readonly n: (key: Key, fallback: number) => number
  /** Severity 0..1. */
  readonly sev: number
  readonly site: string | undefined
  readonly vehicle: Vehicle | undefined
  /** Error at idle and at full flow as fractions, sign as given. */
  readonly error: number
  readonly high: number
}

interface FaultRow {
  readonly id: string
  readonly set: (g: Given) => Partial<SimulatedFaults>
  /** Why an engine cannot have it; undefined when it can. */
  readonly cannot?: (v: Vehicle) => string | undefined
}

const bankOf = (x: number): 0 | 1 | 2 => (x === 1 || x === 2 ? x : 0)
const needs = (has: (v: Vehicle) => boolean, what: string) => (v: Vehicle) =>
  has(v) ? undefined : `this engine has no ${what}`
const gasoline = needs((v) => v.fuel === 'gasoline' && v.metering !== 'none', 'closed-loop fuel control')

/** Air let in at a station acts by the zone that the station stands in. */
function leakAt(g: Given): Partial<SimulatedFaults> {
  const area = g.n('areaMm2', 1 + 7 * g.sev)
  const zone = g.site && g.vehicle ? maybeStation(airPathOf(g.vehicle), g.site)?.zone : undefined
  if (g.site === 'duct' || (zone === 'sensor-to-plate' && g.site !== 'throttle'))
    return { ductLeakMm2: g.n('areaMm2', 60 + 240 * g.sev) }
  if (zone === 'boost' && g.site !== 'throttle') return { boostLeakMm2: area }
  if (zone === 'before-sensor') return { upstreamLeakMm2: area }
  return { leakMm2: area, leakCylinder: g.n('cylinder', 0) }
}

/** One row a fault: what it sets, from its keys or its severity. Sizes are what such a fault looks like in a shop. */
const ROWS: readonly FaultRow[] = [
  { id: 'none', set: () => ({}) },
  { id: 'unmetered-air', set: leakAt },
  {
    id: 'unmetered-air-bank',
    set: (g) => ({
      leakMm2: g.n('areaMm2', 1 + 7 * g.sev),
      leakBank: g.n('bank', 1) === 2 ? 2 : 1,
      leakCylinder: g.n('cylinder', 0),
    }),
  },
  { id: 'unmetered-air-duct', set: (g) => ({ ductLeakMm2: g.n('areaMm2', 60 + 240 * g.sev) }) },
  { id: 'leak-upstream', set: (g) => ({ upstreamLeakMm2: g.n('areaMm2', 20 + 80 * g.sev) }) },
  {
    id: 'boost-leak',
    set: (g) => ({ boostLeakMm2: g.n('areaMm2', 3 + 27 * g.sev) }),
    cannot: needs((v) => v.induction === 'turbo', 'compressor'),
  },
  {
    id: 'maf-under-reads',
    set: (g) => ({ mafErrorIdle: -Math.abs(g.error), mafErrorFull: -Math.abs(g.high) }),
    cannot: needs(hasMaf, 'airflow sensor'),
  },
  {
    id: 'maf-over-reads',
    set: (g) => ({ mafErrorIdle: Math.abs(g.error), mafErrorFull: Math.abs(g.high) }),
    cannot: needs(hasMaf, 'airflow sensor'),
  },
  {
    id: 'map-sensor-offset',
    set: (g) => ({ mapOffsetPa: 1000 * g.n('offsetKpa', -3 - 5 * g.sev) }),
    cannot: needs(hasMap, 'manifold pressure sensor'),
  },
  {
    id: 'map-sensor-slow',
    set: (g) => ({ mapLagS: 0.1 + 0.4 * g.sev }),
    cannot: needs(hasMap, 'manifold pressure sensor'),
  },
  {
    id: 'charge-sensor-bias',
    set: (g) => ({ chargeOffsetPa: 1000 * g.n('offsetKpa', -8 - 12 * g.sev) }),
    cannot: needs((v) => v.chargeSensor === true, 'charge pressure sensor'),
  },
  {
    id: 'temperature-sensor-implausible',
    set: (g) => (g.site === 'coolant' ? { ectOpen: true } : { iatOpen: true }),
  },
  { id: 'intake-restriction', set: (g) => ({ restriction: Math.min(0.97, 0.6 + 0.35 * g.sev) }) },
  {
    id: 'throttle-deposits',
    set: (g) => ({ deposits: Math.min(0.95, Math.max(0, g.sev)) }),
    cannot: needs((v) => v.fuel === 'gasoline', 'throttle that idles'),
  },
  {
    id: 'idle-valve-stuck',
    set: (g) => ({ valveStuckAt: 0.9 * g.sev }),
    cannot: needs((v) => v.idleControl === 'idle-valve', 'idle valve'),
  },
  {
    id: 'egr-open-at-idle',
    // a diesel's valve is many times larger, and so is what holds it open
    set: (g) => ({ egrMm2: g.n('areaMm2', (g.vehicle?.fuel === 'diesel' ? 20 : 1) * (1.5 + 3 * g.sev)) }),
    cannot: needs((v) => v.egr === 'valve', 'EGR valve'),
  },
  {
    id: 'egr-no-flow',
    set: (g) => ({ egrMissing: Math.min(1, 0.5 + 0.5 * g.sev) }),
    cannot: needs((v) => v.egr === 'valve', 'EGR valve'),
  },
  { id: 'pcv-stuck-open', set: (g) => ({ ventExtraMm2: g.n('areaMm2', 3 + 7 * g.sev) }) },
  { id: 'pcv-blocked', set: (g) => ({ ventBlocked: Math.min(1, 0.7 + 0.3 * g.sev) }) },
  {
    id: 'purge-stuck-open',
    // the sign of its trim goes with the load of the canister: `errorPct` 0 empty .. 100 full
    set: (g) => ({ purgeMm2: g.n('areaMm2', 1.5 + 5 * g.sev), canisterLoad: g.n('errorPct', 0) / 100 }),
    cannot: needs((v) => v.purge !== false && v.injection !== 'carburettor', 'purge valve'),
  },
  {
    id: 'flap-stuck',
    set: (g) => ({ flapStuck: 0.08 + 0.2 * g.sev }),
    cannot: needs((v) => v.flaps === true, 'manifold flap'),
  },
  { id: 'valve-deposits', set: (g) => ({ valveDeposits: g.sev }) },
  {
    id: 'runner-restriction',
    set: (g) => ({ runnerCylinder: g.n('cylinder', 1), runnerLoss: 0.15 + 0.45 * g.sev }),
  },
  {
    id: 'narrowed-manifold',
    set: (g) => ({ narrowed: Math.min(0.95, 0.7 + 0.25 * g.sev) }),
    cannot: needs((v) => v.fuel === 'diesel', 'diesel manifold'),
  },
  {
    id: 'fuel-delivery-low',
    set: (g) => ({ fuelErrorIdle: -Math.abs(g.error), fuelErrorFull: -Math.abs(g.high) }),
    cannot: gasoline,
  },
  {
    id: 'fuel-filter-choked',
    set: (g) => ({ fuelChokeKgS: 1e-3 * (g.vehicle?.displacementL ?? 2) * (0.75 - 0.3 * g.sev) }),
    cannot: gasoline,
  },
  {
    id: 'fuel-delivery-high',
    set: (g) => ({ fuelErrorIdle: Math.abs(g.error), fuelErrorFull: Math.abs(g.high) }),
    cannot: gasoline,
  },
  {
    id: 'injector',
    set: (g) => ({ injectorError: g.n('errorPct', -10 - 40 * g.sev) / 100, injectorCylinder: g.n('cylinder', 1) }),
    cannot: gasoline,
  },
  { id: 'injector-dead-time', set: (g) => ({ deadTimeKg: (0.3 + g.sev) * 1e-6 }), cannot: gasoline },
  { id: 'fuel-composition', set: (g) => ({ ethanol: Math.min(0.85, 0.85 * g.sev) }), cannot: gasoline },
  {
    id: 'oxygen-sensor-biased',
    set: (g) => {
      const bias = g.n('errorPct', 3 + 9 * g.sev) / 100
      const bank = bankOf(g.n('bank', 0))
      return { oxygenBias1: bank === 2 ? 0 : bias, oxygenBias2: bank === 1 ? 0 : bias }
    },
    cannot: gasoline,
  },
  {
    id: 'oxygen-sensors-crossed',
    set: () => ({ oxygenCrossed: true }),
    cannot: needs((v) => trimBanksOf(v) === 2 && v.fuel === 'gasoline', 'second bank'),
  },
  {
    id: 'exhaust-leak',
    set: (g) => ({ exhaustLeak: 0.06 + 0.2 * g.sev, exhaustLeakBank: bankOf(g.n('bank', 0)) }),
    cannot: gasoline,
  },
  {
    id: 'exhaust-restriction',
    set: (g) => ({ backPressurePa: 25_000 + 90_000 * g.sev, backPressureBank: bankOf(g.n('bank', 0)) }),
  },
  {
    id: 'valve-timing-late',
    set: (g) => ({ timingLateDeg: 8 + 16 * g.sev, timingLateBank: bankOf(g.n('bank', 0)) }),
  },
  { id: 'weak-cylinder', set: (g) => ({ weakCylinder: g.n('cylinder', 1), weakShare: 0.2 + 0.5 * g.sev }) },
  {
    id: 'throttles-unequal',
    set: (g) => ({ throttleOff: g.n('cylinder', 1), throttleOffShare: g.n('errorPct', -10 - 30 * g.sev) / 100 }),
    cannot: needs((v) => v.throttleBodies >= v.cylinders, 'throttle for each cylinder'),
  },
  { id: 'ignition-misfire', set: (g) => ({ misfireCylinder: g.n('cylinder', 1), misfireShare: 0.1 + 0.9 * g.sev }) },
]

/** Ids of every fault that the simulated engine can carry. */
export const SIMULATED_FAULTS: readonly string[] = ROWS.map((r) => r.id)

/**
 * Adds one textual fault specification to a set. Severity 0..1 picks a size where none is given.
 * @param vehicle - with it, a place acts by its zone and a fault that this engine cannot have is refused
 */
export function addFault(base: SimulatedFaults, spec: string, vehicle?: Vehicle): FaultSpec {
  const [id, rest = ''] = spec.split(':', 2)
  const keys = new Map<Key, string>()
  for (const part of rest.split(',').filter(Boolean)) {
    const [k, value = ''] = part.split('=', 2)
    if (!(KEYS as readonly string[]).includes(k))
      return { ok: false, message: `fault key "${k}" is not one of ${KEYS.join(', ')}` }
    keys.set(k as Key, value)
  }
  const bad = [...keys].find(([k, x]) => k !== 'site' && (x === '' || !Number.isFinite(Number(x))))
  if (bad) return { ok: false, message: `fault key ${bad[0]} = "${bad[1]}" is not a number` }
  const row = ROWS.find((r) => r.id === id)
  if (!row)
    return {
      ok: false,
      message: `fault "${id}" is not one the simulated engine carries: ${SIMULATED_FAULTS.join(', ')}`,
    }
  const why = vehicle && row.cannot?.(vehicle)
  if (why) return { ok: false, message: `fault "${id}": ${why}` }
  const severity = Number(keys.get('severity') ?? 0.5)
  if (!(severity >= 0 && severity <= 1))
    return { ok: false, message: `fault key severity = ${severity}, accepted: 0 to 1` }
  const cylinder = Number(keys.get('cylinder') ?? 1)
  if (vehicle && !(Number.isInteger(cylinder) && cylinder >= 0 && cylinder <= vehicle.cylinders))
    return { ok: false, message: `fault key cylinder = ${cylinder}, accepted: 1 to ${vehicle.cylinders}` }
  const site = keys.get('site')
  if (site && vehicle && !maybeStation(airPathOf(vehicle), site))
    if (site !== 'coolant' && site !== 'intake')
      return {
        ok: false,
        message: `fault key site = "${site}", accepted: ${airPathOf(vehicle)
          .stations.map((s) => s.info.id)
          .join(', ')}`,
      }
  const n = (k: Key, fallback: number): number => (keys.has(k) ? Number(keys.get(k)) : fallback)
  const error = n('errorPct', -6 - 24 * severity) / 100
  const set = row.set({ n, sev: severity, site, vehicle, error, high: n('errorPctHigh', 100 * error) / 100 })
  return { ok: true, faults: { ...base, ...set } }
}
