import type { CautionId } from '../cautions/index.js'
import { gateOf, type Gate } from './gate.js'
import { live, type VisitFile } from './records.js'
import { poolsUnlooked, restartLocked, runningWaits } from './service.js'

/** What must have been seen to before a real engine is run and held at speed in the shop. */
export const LIVE_STOPS: readonly CautionId[] = ['exhaust-gas', 'vehicle-moves']

/**
 * Whether the led points may be driven and recorded: its STOPs seen to, and nothing that forbids the engine to run. What is
 * off on purpose for a test may be off. A simulated car has no exhaust.
 * @param nowMs - the present
 */
export function mayRecordLive(f: VisitFile, simulated: boolean, nowMs: number): Gate {
  const seen = new Set(live(f.ticks).map((t) => t.caution))
  if (simulated) return gateOf([])
  const locked = restartLocked(f)
    ? [{ rule: 'restart-locked', message: 'Stalled while liquid was fed: plugs out and turned by hand comes first.' }]
    : []
  return gateOf([
    ...locked,
    ...runningWaits(f, nowMs),
    ...poolsUnlooked(f),
    ...LIVE_STOPS.filter((id) => !seen.has(id)).map((id) => ({
      rule: id,
      message: 'Tick what stands above, then record: the engine will run and be held at speed.',
    })),
  ])
}

/** Whether what was read live may be kept in a visit: a customer's sheet must not hold figures of a car that is not his. */
export const mayKeepLive = (simulated: boolean, demoShop: boolean): Gate =>
  gateOf(
    simulated && !demoShop
      ? [{ rule: 'simulated', message: 'Practice on a simulated car: its figures are not kept in a customer’s visit.' }]
      : [],
  )
