import { STEADY, type ChannelId, type OperatingPoint } from '../signals/index.js'
import { figureText } from '../units/index.js'

/** What may differ between two runs that are compared, and from which difference on it is named. */
const NAMED: readonly {
  readonly channel: ChannelId
  readonly from: number
  /** Beyond these a sensor is off, and the engine was no colder or warmer. */
  readonly within?: { readonly low: number; readonly high: number }
  readonly say: (d: number, before: number, after: number) => string
}[] = [
  {
    channel: 'ect_c',
    from: 8,
    within: STEADY.coolantC,
    say: (_, b, a) =>
      `coolant ${figureText(b, 0)} °C before and ${figureText(a, 0)} °C after: a colder engine takes more fuel`,
  },
  {
    channel: 'iat_c',
    from: 10,
    within: STEADY.intakeC,
    say: (d) =>
      `intake air ${Math.abs(d).toFixed(0)} °C ${d > 0 ? 'warmer' : 'colder'} after: openings and pressures follow it a little`,
  },
  {
    channel: 'baro_kpa',
    from: 0.7,
    say: (d) =>
      `barometer ${Math.abs(d).toFixed(1)} kPa ${d > 0 ? 'higher' : 'lower'} after: a gauge shows as much ${d > 0 ? 'more' : 'less'} vacuum`,
  },
  {
    channel: 'battery_v',
    from: 0.6,
    say: (_, b, a) =>
      `supply ${b.toFixed(1)} V before and ${a.toFixed(1)} V after: another load or another charge, which idle control answers`,
  },
]

/** What was not the same in the two warm idles, named: it can be part of any difference between them. */
export function differsBetween(before: readonly OperatingPoint[], after: readonly OperatingPoint[]): string[] {
  const [b, a] = [before, after].map((points) => points.find((p) => p.kind === 'idle')?.means)
  if (!b || !a) return []
  return NAMED.flatMap(({ channel, from, within, say }) => {
    const [x, y] = [b[channel], a[channel]]
    if (within && [x, y].some((t) => t !== undefined && (t < within.low || t > within.high))) return []
    return x !== undefined && y !== undefined && Math.abs(y - x) >= from ? [say(y - x, x, y)] : []
  })
}
