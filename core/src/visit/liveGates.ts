import type { StopId } from './cautions.js'
import { gateOf, type Gate } from './gate.js'
import { live, type VisitFile } from './records.js'

/** What must have been seen to before a real engine is run and held at speed in the shop. */
export const LIVE_STOPS: readonly StopId[] = ['exhaust-gas', 'vehicle-moves']

/** Whether the led points may be driven and recorded; a simulated car has no exhaust. */
export function mayRecordLive(f: VisitFile, simulated: boolean): Gate {
  const seen = new Set(live(f.ticks).map((t) => t.caution))
  return gateOf(
    simulated
      ? []
      : LIVE_STOPS.filter((id) => !seen.has(id)).map((id) => ({
          rule: id,
          message: 'Tick what stands above, then record: the engine will run and be held at speed.',
        })),
  )
}

/** Whether what was read live may be kept in a visit: a customer's sheet must not hold figures of a car that is not his. */
export const mayKeepLive = (simulated: boolean, demoShop: boolean): Gate =>
  gateOf(
    simulated && !demoShop
      ? [{ rule: 'simulated', message: 'Practice on a simulated car: its figures are not kept in a customer’s visit.' }]
      : [],
  )
