import type { Vehicle } from '../engine/index.js'
import { BEYOND_THE_INTAKE } from './faultsBeyond.js'
import { INTAKE_FAULTS } from './faultsIntake.js'
import type { Fault, FaultId } from './faultKit.js'

export type { Fault, FaultId } from './faultKit.js'
export * from './effect.js'

/** Every cause that is weighed: none, those of the intake, and those that must be recognised so that the intake is left alone. */
export const FAULTS: readonly Fault[] = [
  {
    id: 'none',
    label: 'Nothing wrong in what was measured',
    weight: 0,
    admissible: () => true,
    grid: () => [[]],
    effect: () => ({}),
  },
  ...INTAKE_FAULTS,
  ...BEYOND_THE_INTAKE,
]

/** A fault by id. @throws RangeError on an id this diagnosis does not weigh */
export function faultOf(id: string): Fault {
  const found = FAULTS.find((f) => f.id === id)
  if (!found) throw new RangeError(`no fault "${id}"`)
  return found
}

/** Pairs that readings alone cannot part: to be said, and parted by a test. Source: the equations of docs/diagnosis.md. */
export function confounded(v: Vehicle): readonly (readonly [FaultId, FaultId])[] {
  const pressure = v.metering !== 'maf'
  return [
    ['fuel-delivery-low', 'oxygen-sensor-biased'],
    ['fuel-delivery-high', 'oxygen-sensor-biased'],
    ['fuel-delivery-high', 'purge-stuck-open'],
    ['maf-under-reads', 'unmetered-air-duct'],
    ...(pressure
      ? []
      : ([
          ['maf-under-reads', 'fuel-delivery-low'],
          ['maf-over-reads', 'fuel-delivery-high'],
        ] as const)),
    ['throttle-deposits', 'pcv-blocked'],
    ['unmetered-air', 'exhaust-leak'],
    ['unmetered-air', 'purge-stuck-open'],
    ...(v.metering === 'map' ? ([['unmetered-air', 'pcv-stuck-open']] as const) : []),
  ]
}

/** Prior shares [–]: by how the car came. Source: ours, stated in docs/diagnosis.md. */
export const PRIOR = {
  none: { complaint: 0.2, 'check-up': 0.7, 'not-stated': 0.38 },
  /** The same of an engine that dies: nobody’s does without a reason. */
  noneOfDying: 0.01,
  pairs: 0.1,
  /** Something this list does not hold. */
  unexplained: 0.03,
} as const
