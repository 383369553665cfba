import { settling, type IdleSample, type Settling } from '../procedures/index.js'
import { visitDeposits } from './deposits.js'
import { lastRound } from './points.js'
import type { VisitFile } from './records.js'
import { takenOf } from './taken.js'

/** What a watched idle says, against this engine's band and the stop that its control is near. */
export const settlingOf = (f: VisitFile, samples: readonly IdleSample[]): Settling =>
  settling(samples, f.vehicle.spec.idleSpecRpm, visitDeposits(f, lastRound(f))?.near)

/** What the idle watched last says; undefined where none was watched. */
export function settledOf(f: VisitFile): (Settling & { readonly at: string }) | undefined {
  const newest = takenOf(f.balances, 'settle').at(-1)
  return newest && { ...settlingOf(f, newest.taken.samples), at: newest.at }
}
