import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '@uvula/core'
import { drawAirLine } from './airLineLayout.js'

const vehicle = (id: string, part: Partial<Vehicle> = {}): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'x',
  altitudeM: 0,
  ...part,
})
const widths = [390, 800, 1280, 1920]

/** Width of a label at 16 px of the semi-condensed face, generous [px]. */
const labelWidth = (text: string): number => text.length * 7.4

describe.each(ENGINE_PATTERNS.map((p) => p.id))('the air line of %s', (id) => {
  it.each(widths)('draws every station once, in order, inside its width, at %d px', (width) => {
    const d = drawAirLine(vehicle(id), width)
    expect(d.stations).toHaveLength(d.path.stations.length)
    expect(d.width).toBeGreaterThanOrEqual(width)
    for (const s of d.stations) {
      expect(s.x).toBeGreaterThan(20)
      expect(s.x).toBeLessThan(d.width - 20)
      expect(s.y).toBeGreaterThan(10)
      expect(s.y).toBeLessThan(d.height - 10)
    }
    const trunk = d.stations.filter((s) => s.placed.lane === 'trunk').map((s) => s.x)
    expect([...trunk].sort((a, b) => a - b)).toEqual(trunk)
  })
  it.each(widths)('lets no two labels of one row touch, at %d px', (width) => {
    const d = drawAirLine(vehicle(id, { egr: 'valve' }), width)
    for (const side of ['above', 'below'] as const) {
      const rows = new Map<number, { x: number; half: number }[]>()
      for (const s of d.stations.filter((x) => x.side === side))
        rows.set(s.y, [...(rows.get(s.y) ?? []), { x: s.x, half: labelWidth(s.placed.info.label) / 2 }])
      for (const row of rows.values()) {
        const sorted = row.sort((a, b) => a.x - b.x)
        for (let i = 1; i < sorted.length; i++)
          expect(sorted[i].x - sorted[i].half).toBeGreaterThan(sorted[i - 1].x + sorted[i - 1].half - 8)
      }
    }
  })
  it('hangs every branch where it joins, behind its trunk station', () => {
    const d = drawAirLine(vehicle(id), 1280)
    const x = new Map(d.stations.map((s) => [s.placed.info.id, s.x]))
    for (const s of d.stations.filter((b) => b.placed.lane === 'branch'))
      expect(s.x).toBeGreaterThan(x.get(s.placed.joins!)! - 1)
  })
})

it('a phone gets a lower strip that scrolls', () => {
  const [phone, desk] = [drawAirLine(vehicle('v6-maf'), 390), drawAirLine(vehicle('v6-maf'), 1280)]
  expect(phone.height).toBeLessThan(desk.height)
  expect(phone.width).toBeGreaterThan(390)
})
