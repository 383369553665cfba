import type { SoundOf, SoundPoints } from '../diagnosis/index.js'
import { bandOf, type Band, type BandPlace } from '../expectation/index.js'
import { maybeChannel, type ChannelId } from '../signals/index.js'

/** How a reading of one car differs from day to day, and between cars of one model: one standard deviation [log]. */
const SCATTER: Readonly<Partial<Record<ChannelId, Readonly<Record<SoundOf, number>>>>> = {
  // consumers of the day; friction and breathing of each car
  maf_gs: { 'same-car': 0.04, 'same-model': 0.055 },
  map_kpa: { 'same-car': 0.03, 'same-model': 0.05 },
  idle_valve_pct: { 'same-car': 0.08, 'same-model': 0.18 },
}
/** Points at another speed than this share say nothing of this one. */
const SAME_SPEED = 0.12
/** A band holds so many standard deviations to either side: 95 % of sound cars. */
const WIDE = 1.96

/**
 * Where a reading should stand by this car's own record when it was sound, or by sound cars of its model; undefined where
 * none of them has it at this point.
 */
export function soundBand(
  channel: ChannelId,
  place: BandPlace,
  records: readonly SoundPoints[],
  other: Band | undefined,
): Band | undefined {
  const scatter = SCATTER[channel]
  const { kind, rpm } = place
  if (!scatter || (kind !== 'idle' && kind !== 'hold')) return undefined
  const of = (whose: SoundOf): number[] =>
    records
      .filter((r) => r.of === whose)
      .flatMap((r) => {
        const p = r.points.find((x) => x.kind === kind && (rpm === undefined || Math.abs(x.rpm / rpm - 1) < SAME_SPEED))
        const x = p?.means[channel]
        if (!p || x === undefined || !(x > 0)) return []
        // air goes with speed
        return [Math.log(channel === 'maf_gs' && rpm !== undefined && p.rpm > 0 ? (x * rpm) / p.rpm : x)]
      })
  const own = of('same-car')
  const whose: SoundOf = own.length ? 'same-car' : 'same-model'
  const logs = own.length ? own : of('same-model')
  if (!logs.length) return undefined
  const mean = logs.reduce((s, x) => s + x, 0) / logs.length
  const half = WIDE * scatter[whose] * Math.sqrt(1 + 1 / logs.length)
  const [low, high] = [Math.exp(mean - half), Math.exp(mean + half)]
  if (other && high - low >= other.high - other.low) return undefined
  return {
    low,
    high,
    scaleMin: other?.scaleMin ?? 0,
    scaleMax: Math.max(other?.scaleMax ?? Math.min(maybeChannel(channel)!.max, 1.6 * high), high),
    bySound: true,
    from:
      whose === 'same-car'
        ? 'this car when it was sound'
        : `from ${logs.length} ${logs.length === 1 ? 'car' : 'cars'} like it`,
  }
}

/** The narrowest band that is known for a reading: by sound cars where there are any, else that of any engine of its kind. */
export function narrowestBand(channel: ChannelId, place: BandPlace, records: readonly SoundPoints[]): Band | undefined {
  const other = bandOf(channel, place)
  return soundBand(channel, place, records, other) ?? other
}
