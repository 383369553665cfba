import type { OperatingPoint } from '../signals/index.js'
import type { FaultId } from './faults.js'

/** A short-term trim within this of nothing has settled: the long-term one has taken up what it asked for [%]. */
const SETTLED_PCT = 6
const STEADY: readonly OperatingPoint['kind'][] = ['idle', 'idle-load', 'hold', 'cruise']

/** Whether both banks are seen corrected and at rest, at any load: a control that hears the right sensor settles; one that is switched off shows nothing at all. */
export const areBanksSettled = (points: readonly OperatingPoint[]): boolean =>
  points.some(
    ({ kind, means: { stft1_pct: one, stft2_pct: two } }) =>
      STEADY.includes(kind) &&
      one !== undefined &&
      two !== undefined &&
      (one !== 0 || two !== 0) &&
      Math.max(Math.abs(one), Math.abs(two)) < SETTLED_PCT,
  )

/** P(seen at rest | sensors crossed): read in the first seconds, before they ran apart; ours. */
const AT_REST_CROSSED = 1e-4

/** Chance that both banks are seen at rest with these causes. */
export const settledChance = (faults: readonly FaultId[]): number =>
  faults.includes('oxygen-sensors-crossed') ? AT_REST_CROSSED : 1
