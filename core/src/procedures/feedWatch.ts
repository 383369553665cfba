import type { ChannelId } from '../signals/index.js'
import { FEED } from '../cleaning/index.js'
import type { HazardKind } from './feedRun.js'

/** What is read live, oldest first. */
export interface WatchedSample {
  /** Seconds since the link began. */
  readonly t: number
  readonly values: Readonly<Partial<Record<ChannelId, number>>>
}

/** What live data say of a feed that goes on. */
export interface FeedWatch {
  /** It ends now. */
  readonly end?: HazardKind
  /** The next shot waits, and why. */
  readonly waits?: string
}

/** Speed that is lost, below what is held [rpm], and for how long it may be [s]; more than this is an engine that runs [rpm]. */
const LOST_RPM = 200
const LOST_S = 6
const RUNS_RPM = 250
const OVER_RPM = 1500
/** Trim comes back to within this before the next shot [% points]. */
const TRIM_BACK = 3

/**
 * What live data say of a feed: the engine stands, runs away or does not get its speed back, the coolant leaves its band; or
 * the trim and the mixture have not come back yet. Nothing read says nothing.
 *
 * @param held - speed that is held, and total trim before the first shot [%] where it is known
 */
export function feedWatch(
  samples: readonly WatchedSample[],
  held: { readonly rpm: number; readonly trimPct?: number },
): FeedWatch {
  const newest = (id: ChannelId): number | undefined => {
    for (let k = samples.length - 1; k >= 0 && samples.at(-1)!.t - samples[k].t <= 5; k--)
      if (samples[k].values[id] !== undefined) return samples[k].values[id]
    return undefined
  }
  const rpm = newest('rpm')
  const ran = samples.some((s) => (s.values.rpm ?? 0) > RUNS_RPM)
  if (rpm !== undefined && rpm <= RUNS_RPM && ran) return { end: 'stall' }
  if (rpm !== undefined && rpm > held.rpm + OVER_RPM) return { end: 'ran-away' }
  const lately = samples.filter((s) => s.values.rpm !== undefined && samples.at(-1)!.t - s.t <= LOST_S)
  const whole = lately.length > 2 && samples.at(-1)!.t - samples[0].t >= LOST_S
  if (whole && lately.every((s) => s.values.rpm! < held.rpm - LOST_RPM)) return { end: 'speed' }
  const coolantC = newest('ect_c')
  if (coolantC !== undefined && coolantC > FEED.coolantMaxC) return { end: 'hot' }
  if (coolantC !== undefined && coolantC < FEED.coolantMinC)
    return { waits: `coolant ${coolantC.toFixed(0)} °C: below ${FEED.coolantMinC} the film does not burn off` }
  if (rpm !== undefined && rpm < held.rpm - LOST_RPM)
    return { waits: `${rpm.toFixed(0)} rpm: the speed comes back first` }
  const [short, long] = [newest('stft1_pct'), newest('ltft1_pct')]
  if (held.trimPct !== undefined && short !== undefined && long !== undefined) {
    const off = short + long - held.trimPct
    if (Math.abs(off) > TRIM_BACK)
      return { waits: `trim ${Math.abs(off).toFixed(0)} points off: it comes back within ${TRIM_BACK} first` }
  }
  const lambda = newest('lambda1')
  if (lambda !== undefined && lambda < FEED.lambdaMin) return { waits: `λ ${lambda.toFixed(2)}: too rich yet` }
  return {}
}
