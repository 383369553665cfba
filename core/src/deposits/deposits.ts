import { effectiveAreaForFlow, type AirState } from '../air/index.js'
import { REST_ANGLE_RAD, throttleAreaMm2 } from '../engine/index.js'
import { requireRange, type Interval } from '../statistics/index.js'

/** Smallest step a throttle reading moves by [%], J1979 one byte. */
export const THROTTLE_STEP_PCT = 0.39
/** Cd of a barely open plate and how far it differs from throttle to throttle (one sd). */
const PLATE_CD = 0.75
const CURVE_SPREAD = 0.12
/** How far a closed plate may read above 0 while that was not seen, one sd [%]; ours. */
const ZERO_SD_PCT = 1

/** What a clean throttle passes: Cd·(geometric opening) + leakage past the closed plate. */
export interface CleanCurve {
  readonly boreMm: number
  /** Air past the closed clean plate, effective [mm²]; learnt from this car when it was clean, else a guess. */
  readonly leakageMm2: number
  /** True when leakage and zero come from this car's own clean record. */
  readonly learnt: boolean
}

/** Effective area idle needs now [mm²]: the airflow over the flow per area. 2.4 L at idle: about 11 mm². */
export function neededAreaMm2(airflowKgS: number, upstream: AirState, manifoldPa: number): number {
  return 1e6 * effectiveAreaForFlow(airflowKgS, upstream, manifoldPa)
}

/**
 * Effective area of the clean throttle at an opening, CdA = Cd·π·D²/4·(1 − cos θ/cos θ0) + leakage [mm²].
 * @param openPct - above the closed reading, 0..100
 */
export function cleanAreaMm2(curve: CleanCurve, openPct: number): number {
  requireRange('openPct', openPct, openPct >= 0 && openPct <= 100, '0..100 %')
  const angle = REST_ANGLE_RAD + (openPct / 100) * (Math.PI / 2 - REST_ANGLE_RAD)
  return PLATE_CD * throttleAreaMm2(curve.boreMm, angle) + curve.leakageMm2
}

/** Opening at which the clean throttle passes an area [%]; 100 where even wide open it does not. */
export function cleanOpenPct(curve: CleanCurve, areaMm2: number): number {
  let [low, high] = [0, 100]
  if (cleanAreaMm2(curve, 0) >= areaMm2) return 0
  for (let k = 0; k < 40; k++) {
    const mid = (low + high) / 2
    if (cleanAreaMm2(curve, mid) < areaMm2) low = mid
    else high = mid
  }
  return high
}

/** Lost area and what it is uncertain by. */
export interface LostArea {
  /** [mm²]; below 0 when the opening passes more than the curve says: cleaner than it was learnt. */
  readonly mm2: Interval
  /** Share of the interval's variance that one throttle step makes [–]. */
  readonly stepShare: number
}

/**
 * Area lost to deposits: what a clean throttle would pass at this opening, less what idle needs. One step of
 * the reading, the spread of throttles and, until it is learnt, where the reading's zero lies are parts of the interval.
 */
export function lostArea(curve: CleanCurve, openPct: number, neededMm2: number): LostArea {
  requireRange('neededMm2', neededMm2, neededMm2 >= 0, '≥ 0 mm²')
  const clean = cleanAreaMm2(curve, openPct)
  const step = cleanAreaMm2(curve, Math.min(100, openPct + THROTTLE_STEP_PCT)) - clean
  // a uniform error of one step has a standard deviation of step/√12
  const stepVar = step ** 2 / 12
  const spreadVar = (curve.learnt ? 0.4 : 1) * (CURVE_SPREAD * clean) ** 2
  // a closed plate reads 0 or above it: the opening may be less than is read, and not more
  const zeroVar = curve.learnt ? 0 : (clean - cleanAreaMm2(curve, Math.max(0, openPct - ZERO_SD_PCT))) ** 2
  const variance = stepVar + spreadVar
  const median = clean - neededMm2
  return {
    mm2: {
      median,
      low: median - 1.645 * Math.sqrt(variance + zeroVar),
      high: median + 1.645 * Math.sqrt(variance),
    },
    stepShare: stepVar / variance,
  }
}

/** Idle authority left [–]: how much of the opening between closed and the control's limit is still unused. */
export function authorityLeft(openPct: number, limitPct: number): number {
  requireRange('limitPct', limitPct, limitPct > 0, '> 0 %')
  requireRange('openPct', openPct, openPct >= 0, '≥ 0 %')
  return Math.max(0, 1 - openPct / limitPct)
}

/** Within this share of its range from a stop idle control is near it [–]; ours. */
const NEAR_A_STOP = 0.08

/**
 * Which stop idle control is near: shut, it has taken back all the air it can; open, it has none left to give.
 * @param authority - share of the range that is unused [–]
 * @param zeroKnown - whether the closed reading is known: without it nothing is said of the shut stop
 */
export function nearStop(authority: number, zeroKnown: boolean): 'shut' | 'open' | undefined {
  if (authority <= NEAR_A_STOP) return 'open'
  return zeroKnown && authority >= 1 - NEAR_A_STOP ? 'shut' : undefined
}

/** Idle speed against its band, and what is known of the throttle. */
export interface IdleSeen {
  readonly rpm: number
  readonly band: { readonly min: number; readonly max: number }
  /** Left out where this throttle's opening tells nothing. */
  readonly lost?: LostArea
  /** Share of the idle control's opening that is still unused [–]. */
  readonly authority: number
  /** Which stop idle control is near, where its opening tells it. */
  readonly nearStop?: 'shut' | 'open'
  /** Whether throttle or idle valve was cleaned, or idle taught, before this reading. */
  readonly cleaned: boolean
}

/** Below this share of unused opening idle control is near its end [–]; ours. */
const NEAR_ITS_END = 0.2

/** What an idle speed says of deposits and of learning, in one sentence: only what the figures bear. */
export function whyIdle({ rpm, band, lost, authority, nearStop, cleaned }: IdleSeen): string {
  const stands = `Idle stands at ${rpm.toFixed(0)} rpm`
  if (rpm < band.min)
    return `${stands}, ${(band.min - rpm).toFixed(0)} below its band: it gets less air than it needs${authority < NEAR_ITS_END ? ', and control can hardly open further' : ''}.`
  if (!(rpm > band.max))
    return `${stands}, in its band${authority < NEAR_ITS_END ? ', held there by control that can hardly open further' : ''}.`
  const over = `${(rpm - band.max).toFixed(0)} rpm above its band`
  if (nearStop === 'shut')
    return `${stands}, ${over}, and idle control is nearly shut: that is air past it before it is learning${cleaned ? ', cleaned or not' : ''}. Find the air first.`
  if (lost && lost.mm2.high < 0)
    return cleaned
      ? `The controller had learnt to open past the deposits; the same opening now passes ${(-lost.mm2.median).toFixed(0)} mm² more, so idle stands ${over} until it is taught again.`
      : `${stands}, ${over}, and more air comes in than a clean throttle passes at this opening, by ${(-lost.mm2.median).toFixed(0)} mm²: cleaned without being taught, or air from elsewhere.`
  return cleaned
    ? `${stands}, ${over}, since the cleaning: teach it and read it again; if it stays, look for extra air.`
    : `${stands}, ${over}, and nothing has been cleaned here: look for extra air before anything is taught.`
}
