import { describe, expect, it } from '@jest/globals'
import { findEvents } from './events.js'
import type { Recording } from './recording.js'
import { snapFigures } from './moments.js'

/** A snap at 10 s: plate opens within 0.2 s, speed follows `delay` later, rises to 3500, falls to `low`, is at idle again `back` after the peak. */
function snapped({
  stepS = 0.1,
  delay = 0.3,
  low = 620,
  back = 4,
  rest = 720,
  plate = true,
  pedal = false,
} = {}): Recording {
  const rows = Math.round(40 / stepS)
  const t = Float64Array.from({ length: rows }, (_, i) => i * stepS)
  const ramp = (x: number, from: number, to: number): number => Math.min(1, Math.max(0, (x - from) / (to - from)))
  const begins = 10 + delay
  const rpm = t.map((x) => {
    const peak = begins + 1
    if (x <= peak) return 720 + 2780 * ramp(x, begins, peak)
    if (x <= peak + back / 2) return 3500 + (low - 3500) * ramp(x, peak, peak + back / 2)
    return low + (rest - low) * ramp(x, peak + back / 2, peak + back)
  })
  const throttle = t.map((x) => 4 + 76 * (ramp(x, 10, 10.2) - ramp(x, 11, 11.2)))
  return {
    rows,
    columns: {
      time_s: t,
      rpm,
      ...(plate ? { throttle_pct: throttle } : {}),
      ...(pedal ? { pedal_pct: throttle } : {}),
    },
    warnings: [],
  } as never
}
const figures = (r: Recording) => findEvents(r, []).find((p) => p.kind === 'snap')!

describe('what a snap tells', () => {
  it('delay from half of the pedal to a tenth of the speed, settling from the peak, fall below the idle', () => {
    const { means, sds } = figures(snapped())
    // half of the pedal at 10.1 s, a tenth of the rise at 10.4 s
    expect(means.plate_delay_s).toBeCloseTo(0.3, 1)
    expect(means.dip_rpm).toBeCloseTo(100, -1)
    // within 50 of the idle from half of the way up on
    expect(means.settle_s).toBeCloseTo(3.1, 0)
    expect(sds.plate_delay_s).toBeCloseTo(Math.hypot(0.1, 0.1) / Math.sqrt(12), 3)
  })
  it('a later engine has a longer delay by as much', () =>
    expect(figures(snapped({ delay: 0.8 })).means.plate_delay_s).toBeCloseTo(0.8, 1))
  it('is the pedal’s where that was recorded, and never both', () => {
    const { means } = figures(snapped({ pedal: true }))
    expect(means.pedal_delay_s).toBeCloseTo(0.3, 1)
    expect(means).not.toHaveProperty('plate_delay_s')
  })
  it('rows too far apart tell no delay, a missing plate none either; settling is told all the same', () => {
    for (const r of [snapped({ plate: false }), snapped({ stepS: 0.7 })]) {
      const peak = r.columns.rpm!.indexOf(Math.max(...r.columns.rpm!))
      const { means } = snapFigures(
        r,
        r.columns.time_s!.findIndex((x) => x > 10.25),
        peak,
      )
      expect(means.plate_delay_s).toBeUndefined()
      expect(means.settle_s).toBeGreaterThan(1)
    }
  })
  it('an idle that is not reached again within the time has no settling time', () =>
    expect(figures(snapped({ low: 900, rest: 900 })).means).not.toHaveProperty('settle_s'))
})
