import type { Vehicle } from '../engine/index.js'
import { STEADY, type ChannelId, type LiveRow, type OperatingPoint } from '../signals/index.js'
import { SLOTS, type Slot } from './records.js'

/** A point that a technician is led to, standing in the shop. */
export type LedSlot = Extract<Slot, 'idle' | 'hold-1500' | 'hold-2500' | 'idle-load'>

/** The order they are driven in: what can be compared first. */
export const LED_SLOTS: readonly LedSlot[] = ['idle', 'hold-1500', 'hold-2500', 'idle-load']

/** How far from a held speed it still counts, share; more than that is another point. */
const HOLD_SHARE = 0.08
/** Beyond the idle's own band it is not an idle any more [rev/min]: a fault may have moved it. */
const IDLE_SLACK_RPM = 350

/** Above this opening of the purge valve the trims are not the engine's own [%]. */
const PURGE_PCT = 5

/** How the present stretch stands to the point that is wanted. */
export interface LedHint {
  readonly state:
    'no-speed' | 'stopped' | 'moving' | 'cold' | 'open-loop' | 'away' | 'settling' | 'holding' | 'drifting'
  /** Sentence for the technician. */
  readonly say: string
  /** Seconds held so far, and how many it takes. */
  readonly heldS: number
  readonly needS: number
}

/** Speeds at which a point counts [rev/min]. */
export function ledBand(slot: LedSlot, v: Vehicle): { readonly low: number; readonly high: number } {
  const rpm = SLOTS[slot].rpm
  if (rpm !== undefined) return { low: rpm * (1 - HOLD_SHARE), high: rpm * (1 + HOLD_SHARE) }
  return { low: Math.max(300, v.idleSpecRpm.min - IDLE_SLACK_RPM), high: v.idleSpecRpm.max + IDLE_SLACK_RPM }
}

/** The led point that an operating point is, or undefined. */
export function ledSlotOf(p: OperatingPoint, v: Vehicle): LedSlot | undefined {
  if (p.kind === 'idle' || p.kind === 'idle-load') return p.kind
  if (p.kind !== 'hold') return undefined
  return LED_SLOTS.find((s) => {
    const { low, high } = ledBand(s, v)
    return SLOTS[s].kind === 'hold' && p.rpm >= low && p.rpm <= high
  })
}

/** Newest value of a channel among rows, not older than it may stand. */
function newest(rows: readonly LiveRow[], id: ChannelId): number | undefined {
  const last = rows.at(-1)?.t ?? 0
  for (let i = rows.length - 1; i >= 0 && last - rows[i].t <= STEADY.heldS; i--) {
    const x = rows[i].values[id]
    if (x !== undefined) return x
  }
  return undefined
}

/** Since when the newest rows have been inside a band of speed without a gap [s]. */
function heldFor(rows: readonly LiveRow[], low: number, high: number): number {
  const last = rows.at(-1)
  if (!last) return 0
  let from = last.t
  let before = last.t
  for (let i = rows.length - 1; i >= 0; i--) {
    const { t, values } = rows[i]
    if (before - t > STEADY.gapS) break
    before = t
    if (values.rpm === undefined) continue
    if (!(values.rpm >= low && values.rpm <= high)) return last.t - from
    from = t
  }
  return last.t - from
}

/**
 * What to do to get a point, from the newest rows (half a minute is enough). A point counts when it has settled and then
 * been held, by the rules by which points are found.
 */
export function ledHint(slot: LedSlot, v: Vehicle, rows: readonly LiveRow[]): LedHint {
  const needS = STEADY.settleS + STEADY.minimumS
  const { low, high } = ledBand(slot, v)
  const heldS = Math.min(99, heldFor(rows, low, high))
  const hint = (state: LedHint['state'], say: string): LedHint => ({ state, say, needS, heldS })
  const rpm = newest(rows, 'rpm')
  const target = SLOTS[slot].rpm
  if (rpm === undefined) return hint('no-speed', 'No engine speed comes over the link.')
  if (rpm < 250) return hint('stopped', 'The engine stands: start it.')
  if ((newest(rows, 'speed_kph') ?? 0) > 3) return hint('moving', 'Stop the car: this point is taken standing.')
  const coolant = newest(rows, 'ect_c')
  if (coolant !== undefined && coolant < STEADY.warmC)
    return hint('cold', `Let it warm up: ${Math.round(coolant)} of ${STEADY.warmC} °C.`)
  if (!(rpm >= low && rpm <= high))
    return hint(
      'away',
      target === undefined
        ? rpm > high
          ? 'Take the foot off and let it idle.'
          : 'It idles far below its band: hold it just alive.'
        : rpm < low
          ? `Bring it up to ${target} and hold.`
          : `Let it down to ${target} and hold.`,
    )
  if (newest(rows, 'fuel_status') === 0) return hint('open-loop', 'Hold: the mixture is not under control yet.')
  if (heldS < STEADY.settleS) return hint('settling', `Hold it: settling.`)
  if (heldS < needS) return hint('holding', 'Hold it there.')
  if ((newest(rows, 'purge_pct') ?? 0) > PURGE_PCT)
    return hint('drifting', 'Hold on: vapour is being purged, and the trims with it.')
  return hint(
    'drifting',
    slot === 'idle-load' ? 'Switch the A/C and the lights on, and hold.' : 'Keep holding: it still drifts or hunts.',
  )
}
