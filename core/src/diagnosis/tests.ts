import type { StationId, Vehicle } from '../engine/index.js'
import { hasMaf } from '../engine/index.js'
import type { FaultId } from './faults.js'

/** A test of the catalogue: what it costs, what it needs and how far its answer can be trusted. */
export interface TestInfo {
  readonly id: string
  readonly label: string
  /** One sentence: what to do and what to watch. */
  readonly how: string
  readonly minutes: number
  readonly needs?: string
  /** Station that it belongs to; left out when the technician says where. */
  readonly at?: StationId
  /** Caution that stands at the test; a STOP one needs its tick. */
  readonly caution?: { readonly stop: boolean; readonly text: string; readonly ifHappened: string }
  readonly admissible: (v: Vehicle) => boolean
  /** P(the test finds something | this fault); `otherwise` for every other fault and for none. */
  readonly finds: Readonly<Partial<Record<FaultId, number>>>
  readonly otherwise: number
}

const leaks = { 'unmetered-air': 0.85, 'unmetered-air-bank': 0.8 } as const

/** Detection shares are ours, from what each test can see; a look is weak evidence either way. */
export const TESTS: readonly TestInfo[] = [
  {
    id: 'look',
    label: 'Look along the path',
    how: 'Hoses, clamps, clips and caps from the inlet to the head.',
    minutes: 6,
    admissible: () => true,
    finds: { 'unmetered-air': 0.45, 'unmetered-air-bank': 0.2, 'unmetered-air-duct': 0.65 },
    otherwise: 0.04,
  },
  {
    id: 'flex-duct',
    label: 'Flex the duct, watch the trim',
    how: 'Bend and lift the duct at idle; a split moves the trim as it opens.',
    at: 'duct',
    minutes: 2,
    caution: {
      stop: true,
      text: 'Belts and fan: sleeves clear, hands on the duct only.',
      ifHappened: 'Engine off before reaching for anything dropped.',
    },
    admissible: hasMaf,
    finds: { 'unmetered-air-duct': 0.85 },
    otherwise: 0.05,
  },
  {
    id: 'pinch',
    label: 'Pinch or cap each rubber branch',
    how: 'Pinch supple hoses one by one at idle, never a hardened one; watch the trim fall.',
    minutes: 5,
    admissible: () => true,
    finds: { 'unmetered-air': 0.6, 'unmetered-air-bank': 0.1 },
    otherwise: 0.03,
  },
  {
    id: 'smoke',
    label: 'Smoke at low pressure',
    how: 'Fill the intake with smoke at 3.5 kPa at most, engine off and cool; look for the wisp.',
    minutes: 10,
    needs: 'smoke machine',
    caution: {
      stop: false,
      text: 'Low regulated pressure; not into a hot or running engine.',
      ifHappened: 'Stop the supply, open the filter box, let it clear.',
    },
    admissible: () => true,
    finds: { ...leaks, 'unmetered-air-duct': 0.9 },
    otherwise: 0.05,
  },
  {
    id: 'maf-key-on',
    label: 'Airflow with the engine off',
    how: 'Key on, engine off: the airflow must read its zero.',
    at: 'airflow-sensor',
    minutes: 1,
    admissible: hasMaf,
    finds: { 'maf-under-reads': 0.25, 'maf-over-reads': 0.3 },
    otherwise: 0.03,
  },
  {
    id: 'maf-look',
    label: 'Airflow sensor out and looked at',
    how: 'Filter out, sensor out, element under the lamp: film, hair, dust. Do not touch it.',
    at: 'airflow-sensor',
    minutes: 6,
    admissible: hasMaf,
    finds: { 'maf-under-reads': 0.6, 'maf-over-reads': 0.4 },
    otherwise: 0.15,
  },
  {
    id: 'map-key-on',
    label: 'Manifold pressure at key-on',
    how: 'Key on, engine off: it must read the barometer of this place.',
    at: 'map-sensor',
    minutes: 1,
    admissible: (v) => v.metering === 'map' || v.metering === 'maf+map',
    finds: { 'map-sensor-offset': 0.95 },
    otherwise: 0.04,
  },
  {
    id: 'fuel-pressure',
    label: 'Fuel pressure at idle and under load',
    how: 'Gauge on the rail, at idle and held at 2500; compare with the stated figure.',
    at: 'runners-1',
    minutes: 15,
    needs: 'fuel gauge',
    caution: {
      stop: true,
      text: 'Fuel line: depressurise, cool, extinguisher at hand; never crack a high-pressure line.',
      ifHappened: 'Engine off, ignition off, soak up, air the bay before anything electrical.',
    },
    admissible: (v) => v.injection !== 'carburettor',
    finds: { 'fuel-delivery-low': 0.8, 'fuel-delivery-high': 0.55 },
    otherwise: 0.05,
  },
  {
    id: 'egr-hand-pump',
    label: 'Hand pump on the EGR valve',
    how: 'Lift the valve by hand pump at idle, where its type allows: the engine must stumble, and recover when it closes.',
    at: 'egr',
    minutes: 4,
    needs: 'hand pump',
    caution: {
      stop: true,
      text: 'Hot parts, belts and fan: engine warm and running, sleeves clear.',
      ifHappened: 'Engine off; cool a burn under water.',
    },
    admissible: (v) => v.egr === 'valve' && v.egrControl !== 'electric',
    finds: { 'egr-open-at-idle': 0.7 },
    otherwise: 0.05,
  },
  {
    id: 'throttle-look',
    label: 'Throttle edge under the lamp',
    how: 'Duct off, engine off, key out: ring of deposit at the plate edge and in the seat.',
    at: 'throttle',
    minutes: 8,
    caution: {
      stop: true,
      text: 'The plate can drive shut on fingers: key out, connector off.',
      ifHappened: 'Never force the plate back; command it or take the throttle off.',
    },
    admissible: (v) => v.idleControl !== 'none',
    finds: { 'throttle-deposits': 0.9 },
    otherwise: 0.25,
  },
]

/** A test by id. @throws RangeError on an unknown id */
export function testInfo(id: string): TestInfo {
  const found = TESTS.find((t) => t.id === id)
  if (!found) throw new RangeError(`no test "${id}"`)
  return found
}

/** P(the test finds something | these faults together): either may be what it finds. */
export function findChance(test: TestInfo, faults: readonly FaultId[]): number {
  let missed = 1 - test.otherwise
  for (const f of faults) missed *= 1 - (test.finds[f] ?? 0)
  return 1 - missed
}
