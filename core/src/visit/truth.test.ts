import fc from 'fast-check'
import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, lookItemsOf, STATIONS } from '../engine/index.js'
import { FAULTS, LOOKS } from '../diagnosis/index.js'
import { basicsOf } from '../diagnosis/basics.js'
import { expectedAt } from '../expectation/index.js'
import {
  causesOf,
  diagnoseVisit,
  diesNow,
  diesTick,
  isProved,
  lastRound,
  mayBegin,
  mayIssueReport,
  mayStart,
  openThings,
  placeOf,
  pointsOfRound,
  readingTooLate,
  remediesOf,
  roundToFill,
  sheetOf,
  stationFigures,
  TYPED_TOO_LATE,
  unmeteredAir,
  vehicleAtPlace,
  visitLedger,
  type Dies,
  type RepairRecord,
  type VisitFile,
} from './index.js'
import {
  at,
  fed,
  foundAt,
  holdOf,
  idleOf,
  meta,
  reading,
  repairAt,
  stepAt,
  taught,
  visitOf,
} from './remedies.fixture.js'

/** What a hand may do next, in any order. */
type Move =
  | { readonly kind: 'repair'; readonly station: 'duct' | 'pcv' | 'booster' | 'throttle' }
  | { readonly kind: 'dies'; readonly how: Dies }
  | { readonly kind: 'hold'; readonly trim: number }
  | { readonly kind: 'clean' }
  | { readonly kind: 'teach' }
  | { readonly kind: 'measure'; readonly trim: number; readonly rpm: number }
  | { readonly kind: 'retype'; readonly value: number }
  | { readonly kind: 'off' }
  | { readonly kind: 'on' }
  | { readonly kind: 'feed' }

const move: fc.Arbitrary<Move> = fc.oneof(
  fc.record({ kind: fc.constant('repair' as const), station: fc.constantFrom('duct', 'pcv', 'booster', 'throttle') }),
  fc.record({
    kind: fc.constant('measure' as const),
    trim: fc.integer({ min: -4, max: 22 }),
    rpm: fc.integer({ min: 600, max: 1300 }),
  }),
  fc.record({ kind: fc.constant('dies' as const), how: fc.constantFrom('no-idle', 'no-run') }),
  fc.record({ kind: fc.constant('hold' as const), trim: fc.integer({ min: -4, max: 22 }) }),
  fc.record({ kind: fc.constant('retype' as const), value: fc.integer({ min: 600, max: 1300 }) }),
  fc.constantFrom<Move>({ kind: 'clean' }, { kind: 'teach' }, { kind: 'off' }, { kind: 'on' }, { kind: 'feed' }),
)

/** A visit after one more move, as screens and server let it happen. */
function after(f: VisitFile, m: Move, n: number): VisitFile {
  const minutes = 30 + 5 * n
  const round = roundToFill(f)
  const key = <T extends { id: string }>(x: T): T => ({ ...x, id: `${x.id}:${n}` })
  switch (m.kind) {
    case 'repair':
      return { ...f, repairs: [...f.repairs, key(repairAt(m.station, lastRound(f), {}, minutes))] }
    case 'dies': {
      const ticks = (m.how === 'no-run' ? (['no-idle', 'no-run'] as const) : (['no-idle'] as const)).map((how) => ({
        ...meta(diesTick(how, round), minutes),
        visitId: 'v',
        caution: diesTick(how, round),
      }))
      return { ...f, ticks: [...f.ticks.filter((t) => !ticks.some((x) => x.id === t.id)), ...ticks] }
    }
    case 'hold': {
      const held = f.readings.filter((r) => r.round !== round || r.slot !== 'hold-2500')
      return { ...f, readings: [...held, ...holdOf(round, m.trim, 8).map((r) => ({ ...r, at: at(minutes) }))] }
    }
    case 'clean':
      return { ...f, steps: [...f.steps, key(stepAt({ afterRound: lastRound(f) }, minutes))] }
    case 'teach':
      return { ...f, runs: [...f.runs, key(taught(lastRound(f), minutes))] }
    case 'measure':
      return {
        ...f,
        readings: [
          ...f.readings.filter((r) => r.round !== round || r.slot !== 'idle'),
          ...idleOf(round, { trim: m.trim, rpm: m.rpm }).map((r) => ({ ...r, at: at(minutes) })),
        ],
      }
    case 'retype': {
      // a number typed into the baseline: what the server takes of it
      const typed = reading(0, 'idle', 'rpm', m.value, minutes)
      const stands = f.readings.find((r) => r.id === typed.id) ?? null
      const late = readingTooLate(f, typed, stands)
      if (late === 'uncorrected') return f
      const kept = late ? { ...typed, againstRule: TYPED_TOO_LATE } : typed
      return { ...f, readings: [...f.readings.filter((r) => r.id !== typed.id), kept] }
    }
    case 'off':
    case 'on':
      return {
        ...f,
        items: [
          {
            id: 'i',
            version: 1,
            by: 'R',
            at: at(minutes),
            visitId: 'v',
            station: 'throttle',
            name: 'bolt',
            count: 4,
            arrival: 'present',
            state: m.kind,
          },
        ],
      }
    case 'feed': {
      const run = key({ ...fed(2, minutes), afterRound: lastRound(f) })
      return mayBegin(f, { ...run, events: [] }, Date.parse(at(minutes))).ok ? { ...f, runs: [...f.runs, run] } : f
    }
  }
}

describe('one truth, whatever the order', () => {
  it('no path changes a baseline, names an overtaken cause, passes an open gate, or lets the account exceed itself unsaid', () => {
    fc.assert(
      fc.property(fc.boolean(), fc.array(move, { minLength: 1, maxLength: 8 }), (isDying, moves) => {
        let f = visitOf({
          readings: [...(isDying ? [] : idleOf(0, { trim: 15 })), ...holdOf(0, 4, 8)],
          findings: [foundAt('duct.2', 'split below')],
        })
        if (isDying) f = after(f, { kind: 'dies', how: 'no-idle' }, 0)
        moves.forEach((m, n) => {
          const first = remediesOf(f).length > 0 ? pointsOfRound(f, 0) : undefined
          const rounds = roundToFill(f)
          f = after(f, m, n)
          // the baseline stands from the first remedy on, and rounds never run backwards
          if (first !== undefined) expect(pointsOfRound(f, 0)).toEqual(first)
          expect(roundToFill(f)).toBeGreaterThanOrEqual(rounds)
          expect(roundToFill(f)).toBeGreaterThan(Math.max(-1, ...remediesOf(f).map((r) => r.afterRound)))
        })
        const now = Date.parse(at(200))
        const open = openThings(f).length > 0
        if (open) {
          expect(mayStart(f, now).ok).toBe(false)
          expect(mayIssueReport(f, now).ok).toBe(false)
          expect(mayBegin(f, { ...fed(), events: [] }, now).ok).toBe(false)
        }
        if (remediesOf(f).length && !isProved(f)) expect(mayIssueReport(f, now).ok).toBe(false)
        const [d, last] = [diagnoseVisit(f, 0), diagnoseVisit(f, lastRound(f))]
        const { confirmed, suspected } = causesOf(f, d, last)
        const answers = new Set(remediesOf(f).flatMap((r) => r.answers))
        for (const c of confirmed) expect(answers.has(c)).toBe(true)
        if (suspected && isProved(f)) expect(suspected).toBe(last.ranking[0])
        const s = sheetOf(f, d, 60, last)
        expect(s.labourMinutes).toBe(remediesOf(f).reduce((sum, r) => sum + r.minutes, 0))
        const dies = diesNow(f)
        if (dies) {
          expect(isProved(f)).toBe(false)
          expect(s.plain).toContain(dies)
          expect(s.plain).not.toMatch(/nothing wrong|where it should\.|sound engine/)
          expect(mayBegin(f, { ...fed(), events: [] }, now).ok).toBe(false)
        }
        const account = visitLedger(f)
        if (account && account.ledger.locatedMm2 > 2 * account.before.areaMm2.high)
          expect(account.ledger.excess).toBe(true)
      }),
      { numRuns: 60 },
    )
  })
})

describe('one place', () => {
  const low = visitOf({ readings: [...idleOf(0, { trim: 8 }), reading(0, 'idle', 'gauge_vacuum_kpa', 55)] })
  const typed: VisitFile = { ...low, visit: { ...low.visit, baroKpa: 88 } }
  it('a typed barometer stands for the height everywhere', () => {
    expect(placeOf(typed.visit).pressurePa).toBe(88_000)
    expect(vehicleAtPlace(typed).altitudeM).toBeCloseTo(1170, -1)
    expect(stationFigures(typed).get('plenum')!.value).toBeCloseTo(33, 9)
    expect(unmeteredAir(typed, 0)!.flux).toBeLessThan(0.9 * unmeteredAir(low, 0)!.flux)
    expect(diagnoseVisit(typed, 0).ranking).not.toEqual(diagnoseVisit(low, 0).ranking)
  })
  it.each(ENGINE_PATTERNS.filter((p) => p.vehicle.fuel === 'gasoline').map((p) => [p.id, p.vehicle] as const))(
    '%s: the band’s middle and the diagnosis expect the same idle air',
    (_, vehicle) => {
      for (const altitudeM of [0, 1500]) {
        const v = { ...vehicle, name: 'x', altitudeM, ambientC: 15 }
        const rpm = (v.idleSpecRpm.min + v.idleSpecRpm.max) / 2
        const band = expectedAt({ vehicle: v, kind: 'idle', rpm, ambientC: 15 })!
        const point = { kind: 'idle' as const, rpm, startS: 0, endS: 0, n: 1, means: { rpm }, sds: {} }
        const { soundKgS } = basicsOf(point, v)
        expect(soundKgS).toBeGreaterThan(band.lowKgS)
        expect(soundKgS).toBeLessThan(band.highKgS)
      }
    },
  )
})

describe('what is looked at', () => {
  it('every line of every engine’s look has its evidence, and nothing else has', () => {
    const asked = STATIONS.flatMap((x) => x.looks.map((_, i) => `${x.id}.${i + 1}`))
    for (const p of ENGINE_PATTERNS)
      for (const i of lookItemsOf({ ...p.vehicle, name: 'x', altitudeM: 0 })) expect(asked).toContain(i.id)
    expect(Object.keys(LOOKS).sort()).toEqual([...asked].sort())
  })
  it.each(Object.entries(LOOKS))('%s speaks for something, by chances that are chances', (_, l) => {
    const shares = Object.entries(l.finds)
    expect(shares.length).toBeGreaterThan(0)
    for (const [fault, p] of shares) {
      expect(FAULTS.map((f) => f.id)).toContain(fault)
      expect(p).toBeGreaterThanOrEqual(l.otherwise)
      expect(p).toBeLessThan(1)
    }
    expect(l.otherwise).toBeGreaterThan(0)
    expect(l.reason.length).toBeGreaterThan(10)
  })
  it.each([
    ['airflow-sensor.2', 'maf-under-reads'],
    ['throttle.1', 'throttle-deposits'],
    ['filter.2', 'intake-restriction'],
    ['vacuum-lines.1', 'unmetered-air'],
    ['duct.2', 'unmetered-air-duct'],
  ] as const)('%s seen raises %s most', (item, fault) => {
    const before = diagnoseVisit(visitOf(), 0)
    const seen = diagnoseVisit(visitOf({ findings: [foundAt(item, 'seen')] }), 0)
    const gain = (id: string): number =>
      (seen.ranking.find((r) => r.fault === id)?.probability ?? 0) /
      (before.ranking.find((r) => r.fault === id)?.probability ?? 1)
    const best = [...seen.ranking].filter((r) => r.fault !== 'none').sort((a, b) => gain(b.fault) - gain(a.fault))[0]
    expect(best.fault).toBe(fault)
  })
  it('a test that a reading has answered is not proposed again', () => {
    const f = visitOf({ readings: [reading(0, 'key-on', 'map_kpa', 101), ...idleOf(0)] }, { metering: 'map' })
    expect(diagnoseVisit(f, 0).nextTests.map((t) => t.test)).not.toContain('map-key-on')
  })
})

describe('a valve that air comes in by, and its hose', () => {
  const mended = (repair: RepairRecord) => {
    const f = visitOf({
      readings: [...idleOf(0, { trim: 24 }), ...holdOf(0, 8, 7), ...idleOf(1), ...holdOf(1, 0, 7.6)],
      repairs: [repair],
    })
    return causesOf(f, diagnoseVisit(f, 0), diagnoseVisit(f, 1)).confirmed
  }
  it('is the valve where that was renewed and the trims came back, though air anywhere had led', () => {
    expect(mended(repairAt('purge', 0, { kind: 'replace' }))).toEqual(['purge-stuck-open'])
  })
  it('is the hose where that was seen to, or another', () => {
    expect(mended(repairAt('purge', 0, { kind: 'refit' }))).toEqual(['unmetered-air'])
    expect(mended(repairAt('booster', 0, { kind: 'replace' }))).toEqual(['unmetered-air'])
  })
})
