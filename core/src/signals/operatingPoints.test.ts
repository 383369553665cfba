import { expect, it, jest } from '@jest/globals'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { HEALTHY, simulateRecording } from '../simulation/index.js'
import { findOperatingPoints } from './operatingPoints.js'

it('the lowest reading of a plate is looked for once, however many points a recording has', () => {
  const vehicle = { ...ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle, name: 'made up', altitudeM: 200 }
  const once = simulateRecording({ vehicle, faults: HEALTHY, drive: 'shop', seed: 4 })
  const passes = (times: number): { points: number; passes: number } => {
    const span = once.columns.time_s!.at(-1)! + 1
    const again = (xs: Float64Array, stepS: number): Float64Array =>
      Float64Array.from({ length: xs.length * times }, (_, i) => xs[i % xs.length] + Math.floor(i / xs.length) * stepS)
    const columns = Object.fromEntries(
      Object.entries(once.columns).map(([id, xs]) => [id, again(xs!, id === 'time_s' ? span : 0)]),
    ) as typeof once.columns
    const watched = jest.spyOn(columns.throttle_pct!, 'reduce')
    const points = findOperatingPoints({ ...once, columns, rows: once.rows * times }, vehicle).length
    return { points, passes: watched.mock.calls.length }
  }
  const [short, long] = [passes(1), passes(8)]
  expect(long.points).toBeGreaterThan(4 * short.points)
  expect(long.passes).toBe(short.passes)
})
