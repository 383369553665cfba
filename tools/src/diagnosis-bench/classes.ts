// What the cars of the bench can have: classes of fault by the simulated engine's own figures.
import type { FaultId, SimulatedFaults, Vehicle } from '@uvula/core'

export type Spec = Omit<Vehicle, 'name' | 'altitudeM'>

/** A class of fault, in one of the ways it shows. */
export interface FaultClass {
  readonly fault: FaultId
  readonly variant: string
  /** What an engine carries at a severity of 0 to 1. */
  readonly set: (severity: number, v: Spec) => Partial<SimulatedFaults>
  /** Whether a kind of vehicle can have it; any can when left out. */
  readonly can?: (v: Spec) => boolean
  /** Its plate was wiped after its idle had been learnt to what was on it. */
  readonly wiped?: boolean
  /** A sensor of air that tells nothing of the running engine. */
  readonly dead?: 'maf_gs' | 'map_kpa'
}

/**
 * One way a class of fault shows: severity 0..1 becomes what the simulated engine carries, from where a driver or a lamp
 * first complains to the worst that still drives in. L is its displacement.
 */
const between = (a: number, b: number) => (s: number) => a * (b / a) ** s
const row = (fault: FaultId, variants: Readonly<Record<string, FaultClass['set']>>): FaultClass[] =>
  Object.entries(variants).map(([variant, set]) => ({ fault, variant, set }))
const maf = (v: Spec): boolean => v.metering.startsWith('maf')
/** Whether pressure meters the air, alone or beside its flow. */
export const hasPressure = (v: Spec): boolean => v.metering !== 'maf'
const only = (can: NonNullable<FaultClass['can']>, rows: readonly FaultClass[]): FaultClass[] =>
  rows.map((r) => ({ ...r, can }))
const leak = between(0.5, 4)
const CLASSES: readonly FaultClass[] = [
  ...row('unmetered-air', { any: (s, v) => ({ leakMm2: v.displacementL * leak(s) }) }),
  ...only(
    (v) => maf(v) && v.banks === 2,
    row('unmetered-air-bank', {
      one: (s, v) => ({ leakMm2: 0.8 * v.displacementL * leak(s), leakBank: 1, leakCylinder: 1 }),
      two: (s, v) => ({ leakMm2: 0.8 * v.displacementL * leak(s), leakBank: 2, leakCylinder: 2 }),
    }),
  ),
  ...only(
    maf,
    row('unmetered-air-duct', { any: (s, v) => ({ ductLeakMm2: 0.5 * v.displacementL * between(100, 320)(s) }) }),
  ),
  ...row('pcv-stuck-open', { any: (s, v) => ({ ventExtraMm2: v.displacementL * between(0.8, 3)(s) }) }),
  ...row('purge-stuck-open', {
    empty: (s) => ({ purgeMm2: 1.5 + 5 * s, canisterLoad: 0 }),
    loaded: (s) => ({ purgeMm2: 1.5 + 5 * s, canisterLoad: 0.9 }),
  }),
  ...only((v) => v.induction === 'turbo', row('boost-leak', { any: (s) => ({ boostLeakMm2: between(10, 45)(s) }) })),
  ...only(maf, [
    ...row('maf-under-reads', {
      film: (s) => ({ mafErrorIdle: -0.15 * (0.08 + 0.22 * s), mafErrorFull: -(0.08 + 0.22 * s) }),
      flat: (s) => ({ mafErrorIdle: -(0.08 + 0.19 * s), mafErrorFull: -(0.08 + 0.19 * s) }),
    }),
    ...row('maf-over-reads', {
      growing: (s) => ({ mafErrorIdle: 0.25 * (0.08 + 0.22 * s), mafErrorFull: 0.08 + 0.22 * s }),
      flat: (s) => ({ mafErrorIdle: 0.08 + 0.17 * s, mafErrorFull: 0.08 + 0.17 * s }),
    }),
  ]),
  ...only(
    hasPressure,
    row('map-sensor-offset', {
      low: (s) => ({ mapOffsetPa: -1000 * between(2.5, 8)(s) }),
      high: (s) => ({ mapOffsetPa: 1000 * between(2.5, 8)(s) }),
    }),
  ),
  ...row('temperature-sensor-implausible', { intake: () => ({ iatOpen: true }), coolant: () => ({ ectOpen: true }) }),
  ...row('throttle-deposits', { any: (s) => ({ deposits: 0.6 + 0.33 * s }) }),
  ...only(
    (v) => v.idleControl === 'idle-valve',
    row('idle-valve-stuck', { any: (s) => ({ valveStuckAt: 0.04 + 0.7 * s }) }),
  ),
  ...row('intake-restriction', { any: (s) => ({ restriction: 0.85 + 0.11 * s }) }),
  ...only(
    (v) => v.egr === 'valve',
    [
      ...row('egr-open-at-idle', { any: (s, v) => ({ egrMm2: v.displacementL * between(1.2, 4)(s) }) }),
      ...row('egr-no-flow', { any: (s) => ({ egrMissing: 0.6 + 0.4 * s }) }),
    ],
  ),
  ...row('pcv-blocked', { any: (s) => ({ ventBlocked: 0.7 + 0.3 * s }) }),
  ...row('valve-deposits', { any: (s) => ({ valveDeposits: 0.6 + 0.4 * s }) }),
  ...row('runner-restriction', { any: (s) => ({ runnerCylinder: 1, runnerLoss: 0.4 + 0.45 * s }) }),
  ...row('fuel-delivery-low', {
    flat: (s) => ({ fuelErrorIdle: -between(0.09, 0.28)(s), fuelErrorFull: -between(0.09, 0.28)(s) }),
    falling: (s) => ({ fuelErrorIdle: -between(0.09, 0.2)(s), fuelErrorFull: -between(0.09, 0.2)(s) - 0.12 }),
  }),
  ...row('fuel-delivery-high', {
    flat: (s) => ({ fuelErrorIdle: between(0.09, 0.35)(s), fuelErrorFull: between(0.09, 0.35)(s) }),
    dripping: (s) => ({ fuelErrorIdle: between(0.1, 0.3)(s), fuelErrorFull: 0 }),
  }),
  ...row('oxygen-sensor-biased', {
    lean: (s) => ({ oxygenBias1: between(0.04, 0.1)(s), oxygenBias2: between(0.04, 0.1)(s) }),
    rich: (s) => ({ oxygenBias1: -between(0.04, 0.1)(s), oxygenBias2: -between(0.04, 0.1)(s) }),
  }),
  ...row('exhaust-leak', { any: (s) => ({ exhaustLeak: between(0.09, 0.25)(s) }) }),
  ...row('exhaust-restriction', { both: (s) => ({ backPressurePa: 60_000 + 110_000 * s }) }),
  ...only(
    (v) => v.banks === 2,
    row('exhaust-restriction', { one: (s) => ({ backPressurePa: 60_000 + 110_000 * s, backPressureBank: 1 }) }),
  ),
  ...row('valve-timing-late', { both: (s) => ({ timingLateDeg: 14 + 18 * s }) }),
  ...row('weak-cylinder', { any: (s) => ({ weakCylinder: 1, weakShare: 0.5 + 0.45 * s }) }),
  ...row('ignition-misfire', { any: (s) => ({ misfireCylinder: 1, misfireShare: between(0.25, 1)(s) }) }),
]
/** What a kind of vehicle can have. */
export const classesOf = (v: Spec): FaultClass[] => CLASSES.filter((c) => (c.can ? c.can(v) : true))

/** Beside the classes: an idle learnt to what is gone, a vent wider than its orifice, a choked fuel filter, a dead sensor. */
const BEYOND: readonly FaultClass[] = [
  ...only(
    (v) => v.idleControl === 'electronic-throttle',
    row('idle-learnt-past', { wiped: (s) => ({ deposits: 0.7 + 0.23 * s }) }).map((c) => ({ ...c, wiped: true })),
  ),
  ...row('pcv-stuck-open', { torn: (s, v) => ({ ventExtraMm2: v.displacementL * between(4, 9)(s) }) }),
  ...row('fuel-delivery-low', {
    choked: (s, v) => ({ fuelChokeKgS: 1e-3 * v.displacementL * between(0.72, 0.46)(s) }),
  }),
  ...only(
    maf,
    row('none', { 'no airflow': () => ({}) }).map((c): FaultClass => ({ ...c, dead: 'maf_gs' })),
  ),
  ...only(
    hasPressure,
    row('none', { 'no vacuum': () => ({}) }).map((c): FaultClass => ({ ...c, dead: 'map_kpa' })),
  ),
]
export const classesBeyond = (v: Spec): FaultClass[] => BEYOND.filter((c) => (c.can ? c.can(v) : true))
