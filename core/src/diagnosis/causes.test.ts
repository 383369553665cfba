import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { CAUSES, FAULTS, LOOKS, TESTS, observe, pointFromTyped, type FaultId } from './index.js'
import { totalTrimPct } from '../signals/index.js'

const DIESEL: Vehicle = {
  ...ENGINE_PATTERNS.find((p) => p.vehicle.induction === 'turbo')!.vehicle,
  name: 'diesel',
  altitudeM: 0,
  fuel: 'diesel',
  egr: 'valve',
  metering: 'maf+map',
}
const CARS: readonly Vehicle[] = [...ENGINE_PATTERNS.map((p) => ({ ...p.vehicle, name: p.id, altitudeM: 0 })), DIESEL]

/** Idle, held and full load of a car, as the causes see them. */
const contextsOf = (v: Vehicle): ReturnType<typeof observe>['contexts'] =>
  observe(
    (
      [
        ['idle', 700, 3, 32],
        ['hold', 2500, 9, 40],
        ['pull', 5000, 80, 98],
      ] as const
    ).map(([kind, rpm, maf_gs, map_kpa]) =>
      pointFromTyped({ kind, values: { rpm, maf_gs, map_kpa, stft1_pct: 0, ltft1_pct: 0 } }, totalTrimPct),
    ),
    v,
  ).contexts

it('every cause has its facts, and every fact its cause', () =>
  expect(Object.keys(CAUSES).sort()).toEqual(FAULTS.map((f) => f.id).sort()))

describe.each(FAULTS.filter((f) => f.id !== 'none'))('$id', (fault) => {
  const cars = CARS.filter((v) => fault.admissible(v))
  it('is a cause that some engine can have, with sizes to be tried', () => {
    expect(cars.length).toBeGreaterThan(0)
    expect(fault.grid(cars[0]).length).toBeGreaterThan(0)
  })
  it('does something to what is measured, within bounds; else a test, a look or a code tells it', () => {
    const [v] = cars
    const effects = contextsOf(v).flatMap((c) => fault.grid(v).map((p) => fault.effect(p, c)))
    const figures = effects.flatMap((e) => Object.values(e))
    const told = [...TESTS, ...Object.values(LOOKS)].some((t) => (t.finds[fault.id as FaultId] ?? 0) > t.otherwise)
    expect(figures.some((x) => x !== 0) || told).toBe(true)
    expect(figures.every(Number.isFinite)).toBe(true)
  })
  it('asks for something, is told in a sentence, and costs time when it is wrong', () => {
    const { act, plain, wrongRemedyMinutes } = CAUSES[fault.id as FaultId]
    expect(act).toMatch(/^[A-Z]/)
    expect(plain).toMatch(/^(Your engine|One |Air |The |A |Charged |Deposits |Exhaust )/)
    // the customer's sentence has no word of the trade
    expect(plain).not.toMatch(/trim|MAF|MAP|EGR|lambda|throttle plate/i)
    expect(wrongRemedyMinutes).toBeGreaterThan(0)
  })
})
