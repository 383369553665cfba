import { expect, it } from '@jest/globals'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { HEALTHY, simulateRecording } from '../simulation/index.js'
import { findOperatingPoints } from './operatingPoints.js'

it('the lowest reading of a plate is looked for once, however many points a recording has', () => {
  const vehicle = { ...ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle, name: 'made up', altitudeM: 200 }
  const once = simulateRecording({ vehicle, faults: HEALTHY, drive: 'shop', seed: 4 })
  const looks = (times: number): { points: number; looks: number } => {
    const span = once.columns.time_s!.at(-1)! + 1
    const again = (xs: Float64Array, stepS: number): Float64Array =>
      Float64Array.from({ length: xs.length * times }, (_, i) => xs[i % xs.length] + Math.floor(i / xs.length) * stepS)
    const columns = Object.fromEntries(
      Object.entries(once.columns).map(([id, xs]) => [id, again(xs!, id === 'time_s' ? span : 0)]),
    ) as typeof once.columns
    // a loop over it asks for its length at every step
    const { length } = columns.throttle_pct!
    let looks = 0
    Object.defineProperty(columns.throttle_pct, 'length', { get: () => (looks++, length) })
    const points = findOperatingPoints({ ...once, columns, rows: once.rows * times }, vehicle).length
    return { points, looks }
  }
  const [short, long] = [looks(1), looks(8)]
  expect(long.points).toBeGreaterThan(4 * short.points)
  expect(short.looks).toBeGreaterThan(once.rows)
  expect(long.looks).toBeLessThan(8.5 * short.looks)
})

it('a diesel’s idle with a load on is a point of its own, though air and speed hardly move', () => {
  const vehicle = { ...ENGINE_PATTERNS.find((p) => p.id === 'diesel-four')!.vehicle, name: 'made up', altitudeM: 500 }
  const points = findOperatingPoints(simulateRecording({ vehicle, faults: HEALTHY, drive: 'shop', seed: 2 }), vehicle)
  const idles = points.filter((p) => p.kind.startsWith('idle'))
  expect(new Set(idles.map((p) => p.kind))).toEqual(new Set(['idle', 'idle-load']))
  for (const p of idles) {
    // no point reaches over the moment at which the load comes on or goes
    expect(p.sds.load_pct! / p.means.load_pct!).toBeLessThan(0.12)
    for (const q of idles) if (q !== p) expect(q.endS <= p.startS || q.startS >= p.endS).toBe(true)
  }
})
