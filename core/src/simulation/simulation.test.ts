import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { findOperatingPoints, type OperatingPoint } from '../signals/index.js'
import { addFault, HEALTHY, simulateRecording, type SimulatedFaults } from './index.js'

const vehicle = (id: string): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'Simulated',
  altitudeM: 0,
})
const points = (id: string, faults: Partial<SimulatedFaults> = {}, seed = 7): OperatingPoint[] =>
  findOperatingPoints(
    simulateRecording({ vehicle: vehicle(id), faults: { ...HEALTHY, ...faults }, drive: 'shop', seed }),
    vehicle(id),
  )
const at = (list: readonly OperatingPoint[], kind: OperatingPoint['kind'], rpm?: number): OperatingPoint => {
  const found = list.find((p) => p.kind === kind && (rpm === undefined || Math.abs(p.rpm - rpm) < 120))
  if (!found) throw new Error(`no ${kind} ${rpm ?? ''}`)
  return found
}

describe('healthy engines idle where they should, do not stall and need no trim', () => {
  it.each(['four-maf', 'four-map', 'four-valve', 'v6-maf', 'v8-maf', 'six-line'])('%s', (id) => {
    for (const seed of [1, 2, 3]) {
      const list = points(id, {}, seed)
      const idle = at(list, 'idle')
      const { min, max } = vehicle(id).idleSpecRpm
      expect(idle.rpm).toBeGreaterThan(min - 30)
      expect(idle.rpm).toBeLessThan(max + 30)
      expect(Math.abs(idle.means.trim1_pct!)).toBeLessThan(7)
      expect(at(list, 'hold', 2500).rpm).toBeGreaterThan(2300)
    }
  })
})

it('the same seed gives the same recording, bit for bit; another one does not', () => {
  const make = (seed: number): string =>
    JSON.stringify([...simulateRecording({ vehicle: vehicle('four-maf'), drive: 'shop', seed }).columns.maf_gs!])
  expect(make(11)).toBe(make(11))
  expect(make(11)).not.toBe(make(12))
})

describe('faults do what they do on a car', () => {
  it('a leak behind the plate fades with flow', () => {
    const list = points('four-maf', { leakMm2: 2 })
    const [idle, hold] = [at(list, 'idle').means.trim1_pct!, at(list, 'hold', 2500).means.trim1_pct!]
    expect(idle).toBeGreaterThan(12)
    expect(hold).toBeLessThan(idle / 2)
  })
  it('the same leak on a speed-density engine closes the throttle instead of trimming', () => {
    const [sound, leaky] = [at(points('four-map'), 'idle'), at(points('four-map', { leakMm2: 3 }), 'idle')]
    expect(Math.abs(leaky.means.trim1_pct!)).toBeLessThan(5)
    expect(leaky.means.throttle_pct!).toBeLessThan(sound.means.throttle_pct! - 0.4)
  })
  it('a split duct does not fade', () => {
    const list = points('four-maf', { ductLeakMm2: 150 })
    const [idle, hold] = [at(list, 'idle').means.trim1_pct!, at(list, 'hold', 2500).means.trim1_pct!]
    expect(hold).toBeGreaterThan(0.7 * idle)
  })
  it('a leak on one bank leans that bank', () => {
    const m = at(points('v6-maf', { leakMm2: 2, leakBank: 2 }), 'idle').means
    expect(m.trim2_pct!).toBeGreaterThan(m.trim1_pct! + 8)
  })
  it('deposits open the idle valve', () =>
    expect(at(points('four-valve', { deposits: 0.7 }), 'idle').means.idle_valve_pct!).toBeGreaterThan(
      at(points('four-valve'), 'idle').means.idle_valve_pct! + 10,
    ))
  it('too little fuel is trimmed alike everywhere', () => {
    const list = points('four-maf', { fuelErrorIdle: -0.12, fuelErrorFull: -0.12 })
    expect(at(list, 'idle').means.trim1_pct! - at(list, 'hold', 2500).means.trim1_pct!).toBeCloseTo(0, 0)
  })
})

describe('fault text', () => {
  it('several together', () => {
    const a = addFault(HEALTHY, 'unmetered-air:areaMm2=3')
    const b = a.ok ? addFault(a.faults, 'maf-under-reads:errorPct=-5,errorPctHigh=-15') : a
    expect(b).toMatchObject({ ok: true, faults: { leakMm2: 3, mafErrorIdle: -0.05, mafErrorFull: -0.15 } })
  })
  it.each([
    ['gremlins', /not one the simulated engine carries/],
    ['unmetered-air:size=3', /fault key "size" is not one of/],
    ['unmetered-air:areaMm2=big', /is not a number/],
  ])('%s is refused', (text, message) => {
    const r = addFault(HEALTHY, text)
    expect(r.ok ? '' : r.message).toMatch(message)
  })
})
