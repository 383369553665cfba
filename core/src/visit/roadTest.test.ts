import { describe, expect, it } from '@jest/globals'
import type { OperatingPoint } from '../signals/index.js'
import { roadTestOf, technicalOf, diagnoseVisit, type RecordingRecord, type VisitFile } from './index.js'
import { at, idleOf, repairAt, stepAt, visitOf } from './remedies.fixture.js'

const point = (
  kind: OperatingPoint['kind'],
  rpm: number,
  seconds: number,
  means: OperatingPoint['means'] = {},
): OperatingPoint => ({ kind, rpm, startS: 0, endS: seconds, n: 10 * seconds, means: { rpm, ...means }, sds: {} })
const recorded = (round: number, points: readonly OperatingPoint[]): RecordingRecord => ({
  id: `rec${round}`,
  version: 1,
  by: 'R',
  at: at(30 * round),
  visitId: 'v',
  round,
  name: 'drive.csv',
  sha256: '',
  bytes: 1,
  rows: 1,
  points,
  warnings: [],
})
const sensor = stepAt()
const visit = (part: Partial<VisitFile> = {}, spec: Parameters<typeof visitOf>[1] = {}): VisitFile =>
  visitOf({ readings: idleOf(0, { trim: 12 }), steps: [sensor], ...part }, spec)

describe('the road test', () => {
  it('is planned by what was done: nothing before any work, a pull after a sensor, overrun after a leak', () => {
    expect(roadTestOf(visitOf({ readings: idleOf(0) }))).toEqual([])
    expect(roadTestOf(visit()).map((l) => l.id)).toEqual(['idle', 'snap', 'cruise', 'pull'])
    const leak = visitOf({ readings: idleOf(0), repairs: [repairAt('booster', 0)] })
    expect(roadTestOf(leak).map((l) => l.id)).toEqual(['idle', 'cruise', 'overrun'])
  })
  it('asks a carburettor for no fuel cut', () =>
    expect(
      roadTestOf(visitOf({ readings: idleOf(0), repairs: [repairAt('booster', 0)] }, { injection: 'carburettor' })).map(
        (l) => l.id,
      ),
    ).not.toContain('overrun'))
  it('judges each stretch of the last recording beside the baseline; a short one and a missing one are not seen', () => {
    const { min, max } = visitOf().vehicle.spec.idleSpecRpm
    const middle = (min + max) / 2
    const f = visit({
      recordings: [
        recorded(0, [point('cruise', 2300, 30, { trim1_pct: 11 }), point('pull', 3900, 5, { maf_gs: 41 })]),
        recorded(1, [
          point('idle', middle, 40, { trim1_pct: 1.5 }),
          point('cruise', 2350, 30, { trim1_pct: -6 }),
          point('pull', 3900, 1, { maf_gs: 60 }),
          point('snap', 3200, 4, { pedal_delay_s: 0.22, settle_s: 4.6, dip_rpm: 90 }),
        ]),
      ],
    })
    const said = Object.fromEntries(roadTestOf(f).map((l) => [l.id, l.seen?.said]))
    expect(said).toEqual({
      idle: `${middle.toFixed(0)} rpm, in its band; trim +1.5 %, good (+12.0 % before)`,
      snap: 'speed follows the pedal by 0.22 s; idles again 4.6 s after its peak; falls 90 rpm below its idle',
      cruise: 'at 2350 rpm; trim −6.0 %, acceptable (+11.0 % before)',
      pull: undefined,
    })
    const d = diagnoseVisit(f, 0)
    expect(technicalOf(f, d, d).road).toContain('Pull: not recorded.')
    expect(technicalOf(visit(), d, d).road).toBeUndefined()
  })
})
