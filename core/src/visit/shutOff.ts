import { hasIdleValve, hasMaf, hasTrims, kindOfStation, trimBanksOf, type Vehicle } from '../engine/index.js'
import { livingPoints } from './living.js'
import { lastRound } from './points.js'
import type { VisitFile } from './records.js'
import { between, field, type TestField, type TestForm, type TestMade, type TestSaid } from './testForm.js'
import { pinchSize, unmeteredAir } from './unmetered.js'

/** From where a branch that is shut has moved what is read by more than its own scatter; ours. */
const MOVED = {
  /** Total trim [%]. */
  trimPct: 2,
  /** Throttle opening: two steps of 0.39 %; a single one may be its rounding [%]. */
  throttlePct: { pass: 0.4, fail: 0.75 },
  /** Idle valve [%]. */
  valvePct: { pass: 1, fail: 2 },
  /** Speed [rpm]. */
  rpm: { pass: 20, fail: 40 },
} as const

/** True where air let in past its measuring is seen in the trims: they are asked there, and opening and speed elsewhere. */
const isSeenInTrims = (v: Vehicle): boolean => hasMaf(v) && hasTrims(v)

const trimsOf = (whose: string): readonly TestField[] => [
  field('shut', `total trim${whose} with it shut`, 'ratio', -60, 60),
  field('open', `total trim${whose} with it open`, 'ratio', -60, 60, { optional: true }),
]
const speeds: readonly TestField[] = [
  field('speed', 'speed with it shut', 'rotation', 300, 4000),
  field('before', 'speed with it open', 'rotation', 300, 4000, { optional: true }),
]
const openings: readonly TestField[] = [
  field('opening', 'idle opening with it shut', 'ratio', 0, 100, { optional: true }),
  field('was', 'idle opening with it open', 'ratio', 0, 100, { optional: true }),
]

/** Forms of a test that shuts a branch off, by what tells on the engine. */
export const shutOffForms = (test: string): readonly TestForm[] => [
  { test, fields: trimsOf(''), suits: (v) => isSeenInTrims(v) && trimBanksOf(v) === 1, judge: byTrim },
  {
    test,
    fields: trimsOf(', mean of the banks,'),
    suits: (v) => isSeenInTrims(v) && trimBanksOf(v) === 2,
    judge: byTrim,
  },
  { test, fields: speeds, suits: (v) => !isSeenInTrims(v) && v.idleControl === 'none', judge: bySpeed },
  {
    test,
    fields: [...speeds, ...openings],
    suits: (v) => !isSeenInTrims(v) && v.idleControl !== 'none',
    judge: bySpeed,
  },
]

/** What a branch brought in, by the trim with it shut: air where the trim falls, fuel or its vapour where it rises. */
function byTrim(x: Readonly<Record<string, number>>, f: VisitFile, made: TestMade = {}): TestSaid {
  const size = pinchSize(f, x.shut, x.open, made.round)
  const read = { value: x.shut, unit: '%' } as const
  if (!size) return { ...read, outcome: 'unclear', said: 'The trim with it open is not known: type it too.' }
  const took = size.openPct - x.shut
  const points = Math.abs(took).toFixed(1)
  const base = unmeteredAir(f, made.round ?? lastRound(f)) ?? unmeteredAir(f, 0)
  // a trim at its stop gives no more for more air: it falls once less comes in than it can make up for
  const isAtStop = base?.atLeast === true && size.openPct > base.totalTrimPct - MOVED.trimPct
  if (isAtStop && Math.abs(took) < MOVED.trimPct)
    return {
      ...read,
      outcome: 'unclear',
      said: 'Shut, the trim stays at its stop: air may come in here all the same. Speed and smoothness may tell, smoke does; or mend what is found first, and pinch again.',
    }
  if (Math.abs(took) < MOVED.trimPct)
    return {
      ...read,
      outcome: 'pass',
      said: `Shut, the trim changes by ${points} points: nothing unmeasured comes in here.`,
    }
  const area =
    size.areaMm2 === undefined ? '' : `: ${isAtStop ? 'at least ' : ''}${size.areaMm2.toFixed(1)} mm² let in here`
  return {
    ...read,
    outcome: 'fail',
    said:
      took > 0
        ? `Shut, the trim falls by ${points} points${area}.`
        : `Shut, the trim rises by ${points} points: fuel or its vapour comes in here, not air alone.`,
  }
}

/** What a branch brought in where the air is not metered, or measured behind the leak: its idle opens further to make up for it, or its speed moves. */
function bySpeed(x: Readonly<Record<string, number>>, f: VisitFile, made: TestMade = {}): TestSaid {
  const idle = [made.round ?? lastRound(f), 0]
    .map((round) => livingPoints(f, round).find((p) => p.kind === 'idle'))
    .find((p) => p !== undefined)?.means
  const isValve = hasIdleValve(f.vehicle.spec)
  const rpm = x.before ?? idle?.rpm
  const was = x.was ?? (isValve ? idle?.idle_valve_pct : idle?.throttle_pct)
  if (rpm === undefined) return { outcome: 'unclear', said: 'The speed with it open is not known: type it too.' }
  const faster = x.speed - rpm
  const wider = x.opening === undefined || was === undefined ? undefined : x.opening - was
  const moved = [
    Math.abs(faster) >= MOVED.rpm.pass
      ? `the speed ${faster > 0 ? 'rises' : 'falls'} by ${Math.abs(faster).toFixed(0)} rpm`
      : '',
    wider !== undefined && Math.abs(wider) >= 0.05
      ? `the ${isValve ? 'idle valve' : 'throttle'} ${wider > 0 ? 'opens' : 'closes'} by ${Math.abs(wider).toFixed(1)} points`
      : '',
  ].filter(Boolean)
  const shut = `Shut, ${moved.length ? moved.join(' and ') : 'nothing moves'}`
  if (made.station !== undefined && kindOfStation(made.station) === 'pcv' && moved.length)
    return {
      outcome: 'unclear',
      said: `${shut}. The vent is part of the idle air: a sound engine shows that too. Its pull at the grommet tells whether it stands open.`,
    }
  const bySpeedAlone = between(Math.abs(faster), MOVED.rpm.pass, MOVED.rpm.fail)
  const limit = isValve ? MOVED.valvePct : MOVED.throttlePct
  const byOpening = wider === undefined ? undefined : between(Math.abs(wider), limit.pass, limit.fail)
  if (bySpeedAlone === 'fail' || byOpening === 'fail')
    return { outcome: 'fail', said: `${shut}: something comes in here.` }
  if (f.vehicle.spec.idleControl !== 'none' && byOpening === undefined)
    return {
      outcome: 'unclear',
      said: `${shut}. This idle holds its speed by itself: its opening tells, shut and open.`,
    }
  if (bySpeedAlone === 'pass' && (byOpening === undefined || byOpening === 'pass'))
    return { outcome: 'pass', said: `${shut}: nothing that shows comes in here.` }
  return { outcome: 'unclear', said: `${shut}: that may be its own scatter. Shut and let go once more.` }
}
