import { settling, type Settling } from '../procedures/index.js'
import { visitDeposits } from './deposits.js'
import { lastRound } from './points.js'
import type { VisitFile } from './records.js'
import { takenOf } from './taken.js'

/** What the idle watched last says, against this engine's band and the stop that its control is near; undefined where none was watched. */
export function settledOf(f: VisitFile): (Settling & { readonly at: string }) | undefined {
  const newest = takenOf(f.balances, 'settle').at(-1)
  if (!newest) return undefined
  const near = visitDeposits(f, lastRound(f))?.near
  return { ...settling(newest.taken.samples, f.vehicle.spec.idleSpecRpm, near), at: newest.at }
}
