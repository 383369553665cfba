import type { CautionId } from '../cautions/index.js'
import { gateOf, type Gate } from './gate.js'
import { LIVE_STOPS } from './liveGates.js'
import { type BalanceRecord } from './balanceRecords.js'
import { live, type VisitFile } from './records.js'
import { linkageBalanced } from './taken.js'

/** STOPs that stand before a balance is taken, by its kind; a file that is read and a needle that was seen need none of their own. */
export const TAKEN_STOPS: Readonly<Record<BalanceRecord['taken']['kind'], readonly CautionId[]>> = {
  throttles: LIVE_STOPS,
  drop: ['test-misfire-count'],
  pump: ['belts-fan-hot-coolant'],
  wave: [],
  needle: [],
  settle: ['exhaust-gas'],
}

/** Why a bypass screw waits for the linkage. */
export const LINKAGE_FIRST =
  'Linkage first: balance at 2500, then the bypass screws, then the mixture. A bypass screw that makes up for a linkage is wrong at every other opening.'

/**
 * Whether a balance may be taken now: its STOPs seen to, and the linkage balanced before the bypass screws are read. What
 * was taken is a fact: the server stores it either way and marks the rule it went against; the screen asks before.
 * @param id - the record's own, when it is there already: it does not speak for itself
 */
export function mayTake(
  f: VisitFile,
  taken: Pick<BalanceRecord['taken'], 'kind'> & { readonly slot?: string; readonly practice?: boolean },
  id?: string,
): Gate {
  const seen = new Set(live(f.ticks).map((t) => t.caution))
  const others = f.balances.filter((b) => b.id !== id)
  return gateOf([
    ...(taken.kind === 'throttles' && taken.slot === 'idle' && !linkageBalanced(others)
      ? [{ rule: 'linkage-first', message: LINKAGE_FIRST }]
      : []),
    // simulated throttles have no exhaust and do not roll away
    ...TAKEN_STOPS[taken.kind]
      .filter((c) => taken.practice !== true && !seen.has(c))
      .map((rule) => ({ rule, message: 'Tick what stands above, then it is taken.' })),
  ])
}
