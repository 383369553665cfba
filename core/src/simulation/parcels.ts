import type { Vehicle } from '../engine/index.js'
import { characterOf } from './character.js'
import { seededRandom } from '../statistics/index.js'

/** Parcels of liquid that are followed one by one through the plenum of one simulated engine. */
export interface ParcelRequest {
  readonly vehicle: Vehicle
  readonly seed: number
  /** Place along the plenum where they are let in, 0 nearest to the first inflow. */
  readonly at: number
  readonly inflow: 'one-end' | 'both-ends'
  readonly parcels: number
}

/** Back-and-forth of the pulses between neighbouring places, in flows of one place [–]. */
const PULSES = 4

/**
 * Where parcels end up in this engine: each is carried on by the air, thrown back and forth by the pulses, and drawn in by a
 * runner as that cylinder breathes. Shares of the cylinders times their number; the mean is 1.
 */
export function parcelShares(q: ParcelRequest): number[] {
  const { vehicle: v } = q
  const random = seededRandom(q.seed)
  const { cylinderShare } = characterOf(v, random, q.seed)
  const places = Math.ceil(v.cylinders / v.banks)
  // cylinders of one place stand opposite each other
  const at = (place: number): number[] =>
    Array.from({ length: v.cylinders }, (_, k) => k).filter((k) => k % places === place)
  const drawn = Array.from({ length: places }, (_, i) => at(i).reduce((s, k) => s + cylinderShare[k], 0))
  const total = drawn.reduce((a, b) => a + b, 0)
  const fromLeft = q.inflow === 'one-end' ? total : total / 2
  const passed: number[] = []
  let taken = 0
  for (const d of drawn) passed.push(fromLeft - (taken += d))
  const pulses = (PULSES * total) / places
  const got = new Array<number>(v.cylinders).fill(0)
  for (let n = 0; n < q.parcels; n++) {
    let i = q.at
    for (;;) {
      const right = i + 1 < places ? Math.max(0, passed[i]) + pulses : 0
      const left = i > 0 ? Math.max(0, -passed[i - 1]) + pulses : 0
      const x = random() * (drawn[i] + right + left)
      if (x < right) i++
      else if (x < right + left) i--
      else {
        let into = random() * drawn[i]
        const cylinder = at(i).find((k) => (into -= cylinderShare[k]) <= 0) ?? at(i)[0]
        got[cylinder]++
        break
      }
    }
  }
  return got.map((c) => (c * v.cylinders) / q.parcels)
}
