import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { maybeChannel } from '../signals/index.js'
import {
  diagnoseVisit,
  historyRow,
  lastRound,
  measuredForFeed,
  nowAct,
  sheetOf,
  slotChannels,
  SLOTS,
  trimSheet,
  visitLedger,
  type Slot,
} from './index.js'
import { reading, repairAt, visitOf } from './remedies.fixture.js'

/** Whatever a sheet says of a visit in which one figure stands at an end of what may be typed, before and after some work. */
function saidOf(spec: Vehicle, slot: Slot, channel: Parameters<typeof reading>[2], value: number): string {
  const rpm = SLOTS[slot].rpm ?? spec.idleSpecRpm.min + 50
  const both = [0, 1].flatMap((round) => [
    reading(round, 'idle', 'rpm', spec.idleSpecRpm.min + 50),
    ...(channel === 'rpm' ? [] : [reading(round, slot, 'rpm', rpm)]),
    reading(round, slot, channel, value),
  ])
  const f = visitOf({ readings: both, repairs: [repairAt('throttle', 0, { kind: 'clean' })] }, spec)
  const [came, stands] = [diagnoseVisit(f, 0), diagnoseVisit(f, lastRound(f))]
  const s = sheetOf(f, came, 60, stands)
  for (const d of [came, stands])
    expect(d.ranking.reduce((sum, r) => sum + r.probability, d.unexplained)).toBeGreaterThan(0.99)
  const rest = [historyRow(f), measuredForFeed(f, Date.parse(f.visit.openedAt)), visitLedger(f), trimSheet(f, 0)]
  const now = nowAct(f, stands)
  return [
    s.plain,
    ...s.found,
    ...s.done,
    ...s.left,
    ...(s.judged ?? []),
    now.title,
    now.why,
    JSON.stringify(rest),
  ].join('\n')
}

describe('a figure at an end of what may be typed', () => {
  it.each(['four-maf', 'four-map', 'turbo-di', 'diesel-four', 'four-bodies'])('%s: said, whatever it is', (id) => {
    const spec = { ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle, name: id, altitudeM: 0 }
    for (const slot of Object.keys(SLOTS) as Slot[])
      for (const id of slotChannels(slot, spec)) {
        const { min, max } = maybeChannel(id)!
        for (const value of new Set([min, max, Math.max(min, 0)]))
          expect(saidOf(spec, slot, id, value)).not.toMatch(/NaN|undefined|Infinity/)
      }
  })
})
