import { describe, expect, it } from '@jest/globals'
import { evidenceFromRecording } from '../diagnosis/index.js'
import { ENGINE_PATTERNS, hasMaf, hasMap, type Vehicle } from '../engine/index.js'
import { addFault, HEALTHY, simulateRecording, type DriveName } from '../simulation/index.js'
import type { ChannelId, OperatingPoint, Recording } from '../signals/index.js'
import { fileDoubts, scaleDoubts } from './scale.js'

const cars: readonly Vehicle[] = ENGINE_PATTERNS.map((p) => ({ ...p.vehicle, name: p.id, altitudeM: 1180 }))
const maf = cars.find((v) => v.name === 'four-maf')!
const record = (v: Vehicle, fault?: string, drive: DriveName = 'road'): Recording => {
  const f = fault === undefined ? undefined : addFault(HEALTHY, fault, v)
  if (f && !f.ok) throw new Error(fault)
  return simulateRecording({ vehicle: v, faults: f?.faults ?? HEALTHY, drive, seed: 5 })
}
const scaled = (r: Recording, id: ChannelId, by: number): Recording => ({
  ...r,
  columns: { ...r.columns, [id]: r.columns[id]!.map((x) => x * by) },
})
const said = (r: Recording, v: Vehicle): string =>
  scaleDoubts(r, v)
    .map((d) => `${d.channel}: ${d.message}`)
    .join()

describe('a channel in another unit or scale', () => {
  it('of the airflow is found and named: pounds a minute and kilograms an hour for grams a second', () => {
    const r = record(maf)
    expect(said(scaled(r, 'maf_gs', 60 / 453.59237), maf)).toMatch(
      /^maf_gs: .*one part in .*as if lb\/min stood there as g\/s/,
    )
    expect(said(scaled(r, 'maf_gs', 3.6), maf)).toMatch(
      /^maf_gs: .*times what it can be, as if kg\/h stood there as g\/s/,
    )
    expect(said(scaled(record(maf, undefined, 'shop'), 'maf_gs', 3.6), maf)).toMatch(/kg\/h/)
  })
  it('none where half of the air comes in past the sensor: the trims ask for it', () => {
    const v = { ...cars.find((c) => c.name === 'turbo-di')!, altitudeM: 200 }
    const faults = { ...HEALTHY, leakMm2: 12 * v.displacementL }
    const r = simulateRecording({ vehicle: v, faults, drive: 'shop', seed: 4 })
    expect(scaleDoubts(r, v)).toEqual([])
    expect(said(scaled(r, 'maf_gs', 60 / 453.59237), v)).toMatch(/as if lb\/min|one part in/)
  })
  it('of the manifold pressure: inches of mercury and pounds for kilopascal', () => {
    const v = cars.find((c) => hasMap(c) && c.induction === 'natural')!
    const r = record(v)
    expect(said(scaled(r, 'map_kpa', 1 / 3.386389), v)).toMatch(/^map_kpa: .*as if inHg stood there as kPa/)
    expect(said(scaled(r, 'map_kpa', 1 / 6.894757), v)).toMatch(/^map_kpa: .*as if psi stood there as kPa/)
  })
  it('of the speed: a pick-up that counts half', () =>
    expect(said(scaled(record(maf), 'rpm', 0.5), maf)).toMatch(
      /^rpm: The speed reads one part in 2\.\d of what it should be at idle/,
    ))
  it('of an engine that does idle at half its idle it is not said: by its air, by a held speed, by its highest', () => {
    const valve = cars.find((c) => c.name === 'four-valve')!
    for (const drive of ['shop', 'road'] as const) {
      const r = simulateRecording({ vehicle: valve, faults: { ...HEALTHY, valveStuckAt: 0.11 }, drive, seed: 5 })
      expect(said(r, valve)).toBe('')
      const idle = evidenceFromRecording(r, valve).points.find((p) => p.kind === 'idle')!
      expect(idle.rpm).toBeLessThan(0.6 * valve.idleSpecRpm.max)
    }
  })
  it('is never said of a sound car, of any architecture, in the shop or on the road', () => {
    for (const v of cars)
      for (const drive of ['shop', 'road'] as const)
        expect([v.name, scaleDoubts(record(v, undefined, drive), v)]).toEqual([v.name, []])
  })
  it.each([
    'maf-under-reads:errorPct=-30',
    'maf-over-reads:errorPct=30',
    'unmetered-air:areaMm2=25',
    'unmetered-air-duct:areaMm2=200',
    'intake-restriction',
    'exhaust-restriction',
    'throttle-deposits',
    'map-sensor-offset',
  ])('nor of a fault: %s', (fault) => {
    let had = 0
    for (const v of cars.filter((c) => hasMaf(c) || hasMap(c)).slice(0, 5)) {
      const f = addFault(HEALTHY, fault, v)
      if (!f.ok) continue
      had++
      const r = simulateRecording({ vehicle: v, faults: f.faults, drive: 'road', seed: 7 })
      expect([v.name, scaleDoubts(r, v)]).toEqual([v.name, []])
    }
    expect(had).toBeGreaterThan(0)
  })
  it('is kept out of the evidence, so that no fault is made of it', () => {
    const points = (r: Recording): readonly OperatingPoint[] => evidenceFromRecording(r, maf).points
    const r = record(maf)
    expect(points(r).every((p) => p.means.maf_gs !== undefined)).toBe(true)
    expect(points(scaled(r, 'maf_gs', 3.6)).every((p) => p.means.maf_gs === undefined)).toBe(true)
    expect(points(scaled(r, 'maf_gs', 3.6)).length).toBeGreaterThan(3)
  })
  it('stands among all that speaks against a recording', () =>
    expect(fileDoubts(scaled(record(maf), 'maf_gs', 3.6), maf).map((d) => d.code)).toContain('scale'))
})
