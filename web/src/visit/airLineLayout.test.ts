import { describe, expect, it } from '@jest/globals'
import { airPathProblems, ENGINE_PATTERNS, EXTRA_BRANCHES, type Vehicle } from '@uvula/core'
import fc from 'fast-check'
import { drawAirLine, halfLabel, type AirLineDrawing } from './airLineLayout.js'

const vehicle = (id: string, part: Partial<Vehicle> = {}): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'x',
  altitudeM: 0,
  ...part,
})
const widths = [390, 800, 1280, 1920]

/** Every fault of a drawing that an eye would see. */
function collisions(d: AirLineDrawing): string[] {
  const out: string[] = []
  const label = (s: AirLineDrawing['stations'][number]): string => s.placed.info.label
  for (const side of ['above', 'below'] as const) {
    const mine = d.stations.filter((s) => s.side === side)
    for (const y of new Set(mine.map((s) => s.y))) {
      const sorted = mine.filter((s) => s.y === y).sort((a, b) => a.x - b.x)
      for (let i = 1; i < sorted.length; i++)
        if (sorted[i].x - halfLabel(label(sorted[i])) < sorted[i - 1].x + halfLabel(label(sorted[i - 1])))
          out.push(`${label(sorted[i - 1])} touches ${label(sorted[i])}`)
    }
  }
  // a line up from the pipe passes between the labels of the pipe
  const pipe = d.stations.filter((s) => s.placed.lane === 'trunk')
  for (const b of d.stations.filter((s) => s.join && s.side === 'above' && s.join.x === s.x))
    for (const t of pipe)
      if (Math.abs(b.x - t.x) < halfLabel(label(t))) out.push(`the line of ${label(b)} cuts ${label(t)}`)
  for (const s of d.stations)
    if (!(s.x > 20 && s.x < d.width - 20 && s.y > 10 && s.y < d.height - 10)) out.push(`${label(s)} outside`)
  return out
}

const anyEngine = fc.record({
  pattern: fc.constantFrom(...ENGINE_PATTERNS.map((p) => p.id)),
  banks: fc.constantFrom(1, 2),
  inlets: fc.constantFrom(1, 2),
  throttleBodies: fc.constantFrom(1, 2),
  egr: fc.constantFrom('none' as const, 'valve' as const),
  egrCooler: fc.boolean(),
  pcvJoins: fc.constantFrom('plenum' as const, 'duct' as const, 'throttle' as const),
  separator: fc.constantFrom('none' as const, 'open' as const, 'under-manifold' as const),
  flaps: fc.boolean(),
  resonator: fc.boolean(),
  chargeSensor: fc.boolean(),
  intakeTemperature: fc.boolean(),
  idleValveToo: fc.boolean(),
  extra: fc.subarray([...EXTRA_BRANCHES]),
})

describe.each(ENGINE_PATTERNS.map((p) => p.id))('the air line of %s', (id) => {
  it.each(widths)('draws every station once, in order, nothing touching, at %d px', (width) => {
    const d = drawAirLine(vehicle(id), width)
    expect(d.stations).toHaveLength(d.path.stations.length)
    expect(d.width).toBeGreaterThanOrEqual(width)
    expect(collisions(d)).toEqual([])
    const trunk = d.stations.filter((s) => s.placed.lane === 'trunk').map((s) => s.x)
    expect([...trunk].sort((a, b) => a - b)).toEqual(trunk)
  })
})

it('no label touches another on any engine, whatever hangs on it, and it is laid out at once', () => {
  const worst: number[] = []
  fc.assert(
    fc.property(anyEngine, fc.constantFrom(...widths), ({ pattern, extra, ...part }, width) => {
      const v = vehicle(pattern, {
        ...part,
        branches: { joins: Object.fromEntries(extra.map((id) => [id, 'filter'])) },
      })
      expect(airPathProblems(v)).toEqual([])
      const from = performance.now()
      const d = drawAirLine(v, width)
      worst.push(performance.now() - from)
      expect(collisions(d)).toEqual([])
    }),
    { numRuns: 300 },
  )
  expect(worst.sort((a, b) => a - b)[Math.floor(0.95 * worst.length)]).toBeLessThan(30)
})

it('branches that reach over the banks stay inside on the widest screen', () => {
  const v = vehicle('four-bodies', {
    banks: 2,
    throttleBodies: 1,
    egr: 'valve',
    egrCooler: true,
    pcvJoins: 'throttle',
    separator: 'under-manifold',
  })
  for (const width of widths) expect(collisions(drawAirLine(v, width))).toEqual([])
})

it('a phone gets a lower strip that scrolls', () => {
  const [phone, desk] = [drawAirLine(vehicle('v6-maf'), 390), drawAirLine(vehicle('v6-maf'), 1280)]
  expect(phone.height).toBeLessThan(desk.height)
  expect(phone.width).toBeGreaterThan(390)
})

it('a second inlet is a row of its own that turns into the first', () => {
  const d = drawAirLine(vehicle('v8-twin'), 1280)
  expect(d.second!.meetsX).toBeGreaterThan(d.second!.turnX)
  const row = d.stations.filter((s) => s.placed.lane === 'second')
  expect(row.map((s) => s.placed.info.id)).toEqual(['inlet-2', 'filter-2', 'airflow-sensor-2', 'duct-2', 'throttle-2'])
  expect(new Set(row.map((s) => s.y)).size).toBe(1)
})
