import { kindOfStation, type StationId, type Vehicle } from '../engine/index.js'
import { liquidBoundOf } from './bound.js'
import { FEED, filmSeconds, mixtureLimitGS, peakFilmMl, trimRho, type TrimAuthority } from './limits.js'
import { METHODS, methodInfo, type MethodId } from './methods.js'
import { isAhead, sharingAt } from './sharing.js'

/** What is to be fed, into what, as things stand. */
export interface FeedRequest {
  readonly vehicle: Vehicle
  readonly method: MethodId
  readonly product: { readonly kind: 'combustible' | 'water'; readonly afr: number }
  /** Amount wanted [mL] and what the label allows [mL], rate of the label [mL/s]. */
  readonly doseMl: number
  readonly labelMaxMl: number
  readonly labelRateMlS?: number
  readonly point: StationId
  /** Airflow at the speed that will be held [g/s], and that speed. */
  readonly airGS: number
  readonly rpm: number
  readonly speedFrom: 'scan' | 'pick-up' | 'ripple' | 'microphone' | 'guessed'
  readonly coolantC: number
  readonly trims?: TrimAuthority
  readonly extraction: boolean
  readonly fireCover: boolean
  readonly lampFlashing: boolean
  /** Start-stop or hybrid held running in its service mode, or not fitted. */
  readonly heldRunning: boolean
  readonly fuelCutAbove?: number
  readonly boostKpa: number
  readonly feedRunning: boolean
  /** Fed within a day by earlier attempts [mL], and film that may be left of them [mL]. */
  readonly alreadyMl?: number
  readonly filmStartMl?: number
}

export interface FeedRefusal {
  readonly rule: string
  readonly message: string
}

/** How the dose is fed. */
export interface FeedPlan {
  readonly method: MethodId
  readonly rateMlS: number
  readonly shotS: number
  readonly pauseS: number
  readonly shots: number
  readonly minutes: number
  readonly soakMinutes: number
  readonly rpm: number
  readonly limits: {
    readonly mixtureGS: number
    readonly secondGS: number
    readonly liquidMl: number
    readonly rho: number
  }
  readonly limitedBy: 'mixture' | 'liquid' | 'label' | 'equipment'
  readonly peakFilmMl: number
  /** Times its even part that the worst-placed cylinder gets [–], and why. */
  readonly worstShare: number
  readonly sharing: string
  /** What the liquid bound stands on that nobody has confirmed, in a sentence. */
  readonly guess?: string
  /** Combustible (or water) that burns over the worst ten seconds, mean [g/s]. */
  readonly tenSecondGS: number
  /** Dip of speed to expect at each shot [rpm]. */
  readonly dipRpm: number
  readonly stopSigns: readonly string[]
  readonly reaches: readonly string[]
  readonly misses: readonly string[]
}

export type FeedResult =
  { readonly ok: true; readonly plan: FeedPlan } | { readonly ok: false; readonly refusals: readonly FeedRefusal[] }

export const STOP_SIGNS = [
  'the lamp flashes',
  'speed falls more than 200 rpm and does not come back',
  'the engine stalls',
  'knock, or the starter sounds slow afterwards',
  'coolant leaves its band',
] as const

/** Shortest and longest pause tried [s], and shots tried [s]. */
const PAUSES = [10, 12, 15, 20, 25, 30, 40, 50, 60, 80, 100, 120] as const
const SHOTS = [1, 1.5, 2, 3, 4] as const
/** Kept below every limit: the plan is followed by hand. */
const MARGIN = 0.9

/** Every rule that forbids the feed as things stand; empty when none does. */
export function feedRefusals(q: FeedRequest): FeedRefusal[] {
  const out: FeedRefusal[] = []
  const no = (rule: string, message: string): void => void out.push({ rule, message })
  const v = q.vehicle
  const combustible = q.product.kind === 'combustible'
  if (combustible && v.fuel === 'diesel')
    no(
      'diesel',
      'No combustible goes into a running diesel: it is fuel, it runs away, and the key may not stop it. Take the manifold off and wash it.',
    )
  const point = kindOfStation(q.point)
  if (['inlet', 'resonator', 'filter', 'airflow-sensor'].includes(point))
    no(
      'ahead-of-airflow-sensor',
      'Nothing is fed ahead of the airflow sensor: it films the element. Feed between sensor and plate, or at a port.',
    )
  if (
    v.induction === 'turbo' &&
    ['inlet', 'resonator', 'filter', 'airflow-sensor', 'duct', 'compressor', 'intercooler'].includes(point)
  )
    no(
      'ahead-of-compressor',
      'Nothing is fed ahead of the compressor or the intercooler: loosened lumps hit the wheel, liquid pools. Feed behind the intercooler.',
    )
  if (v.induction === 'turbo' && q.boostKpa > 0)
    no('boost', 'No feed under boost: hold a speed at which charge pressure stands at zero.')
  if (!(q.coolantC >= FEED.coolantMinC && q.coolantC <= FEED.coolantMaxC))
    no(
      'coolant-band',
      `Coolant stands at ${q.coolantC.toFixed(0)} °C; a feed needs ${FEED.coolantMinC} to ${FEED.coolantMaxC} °C, or the film does not burn off. Warm it up first.`,
    )
  if (!q.extraction)
    no('extraction', 'No extraction: exhaust gas indoors kills. Connect it, or go into the open air, then tick it.')
  if (!q.fireCover) no('fire-cover', 'No fire cover: extinguisher at hand, sparks away, then tick it.')
  if (q.speedFrom === 'guessed')
    no(
      'guessed-speed',
      'The speed is guessed. Take it from the scan tool, an inductive pick-up, the pressure ripple or a microphone: air, hence speed, sets the rate.',
    )
  if (q.lampFlashing)
    no('lamp-flashing', 'The lamp flashes: it misfires now and would melt the catalyst. Find the misfire first.')
  if (!q.heldRunning) no('held-running', 'The engine may stop or start by itself: put it into its service mode first.')
  if (q.fuelCutAbove !== undefined && q.rpm >= q.fuelCutAbove)
    no(
      'fuel-cut',
      `At ${q.rpm.toFixed(0)} rpm the engine can enter fuel cut: the feed would burn in the catalyst. Hold below ${q.fuelCutAbove.toFixed(0)} rpm.`,
    )
  if (q.feedRunning) no('one-feed', 'Another feed is running on this car: one at a time.')
  if (!(q.doseMl > 0)) no('dose', 'dose: more than 0 mL.')
  const already = q.alreadyMl ?? 0
  if (q.doseMl > q.labelMaxMl) no('label', `${q.doseMl} mL is above the label's ${q.labelMaxMl} mL: the label wins.`)
  else if (q.doseMl + already > q.labelMaxMl)
    no(
      'label-day',
      `${already.toFixed(0)} mL went in within a day; with ${q.doseMl} mL more it is above the label's ${q.labelMaxMl} mL. At most ${Math.max(0, q.labelMaxMl - already).toFixed(0)} mL now.`,
    )
  const method = methodInfo(q.method)
  if (!method.feeds) no('method', `${method.label} feeds nothing.`)
  if (method.only && method.only !== q.product.kind)
    no('method-product', `${method.label} takes ${method.only === 'water' ? 'water' : 'a cleaner'} only.`)
  if (!(q.airGS > 0)) no('airflow', 'The airflow at the held speed is not known: measure it first.')
  return out
}

/**
 * Plans a feed within mixture, liquid and label limits, with a margin: the fastest row of shots whose mist and
 * evaporating film stay below the mixture limit over ten seconds and over one, and whose film stays below the
 * liquid bound. Refused with the reason when none does.
 */
export function planFeed(q: FeedRequest): FeedResult {
  const refusals = feedRefusals(q)
  if (refusals.length) return { ok: false, refusals }
  const v = q.vehicle
  const m = methodInfo(q.method)
  const tau = filmSeconds(q.coolantC)
  const rho = trimRho(q.trims)
  const combustible = q.product.kind === 'combustible'
  const sharing = sharingAt(v, q.point)
  const share = Math.max(m.worstShare, sharing.worst)
  const mixtureGS = combustible
    ? mixtureLimitGS(q.airGS, q.product.afr, FEED.lambdaMin, rho) / share
    : (FEED.waterPerAir * q.airGS) / share
  const secondGS = combustible ? mixtureLimitGS(q.airGS, q.product.afr, FEED.lambdaSecond, 1) / share : mixtureGS
  const { liquidMl, said } = liquidBoundOf(v)
  const density = combustible ? FEED.densityGMl : 1
  const equipment = Math.min(m.rateMlS, q.labelRateMlS ?? Infinity)
  const left = q.filmStartMl ?? 0
  let best: { rate: number; shotS: number; pauseS: number; film: number; average: number } | undefined
  for (const fraction of [1, 0.8, 0.6, 0.45, 0.3, 0.2, 0.12, 0.07]) {
    const rate = equipment * fraction
    for (const shotS of SHOTS)
      for (const pauseS of PAUSES) {
        const film = left + peakFilmMl(rate, m.wetShare, tau, shotS, pauseS)
        const mist = (1 - m.wetShare) * rate * density
        const evaporating = (film * density) / tau
        const inTen = (mist * shotS) / 10 + evaporating
        const inOne = mist + evaporating
        if (film > MARGIN * liquidMl || inTen > MARGIN * mixtureGS || inOne > MARGIN * secondGS) continue
        const average = (rate * shotS) / (shotS + pauseS)
        if (!best || average > best.average) best = { rate, shotS, pauseS, film, average }
      }
  }
  if (!best)
    return {
      ok: false,
      refusals: [
        {
          rule: 'no-safe-rate',
          message:
            left > MARGIN * liquidMl * 0.5
              ? `${left.toFixed(1)} mL of film may be left of the last feed: let the engine run until it is gone, or look for pools.`
              : `At ${q.airGS.toFixed(1)} g/s of air no rate stays inside the limits. Hold a higher speed: air sets the rate.`,
        },
      ],
    }
  const shots = Math.max(1, Math.ceil(q.doseMl / (best.rate * best.shotS)))
  const used = {
    liquid: best.film / liquidMl,
    mixture:
      ((1 - m.wetShare) * best.rate * density * best.shotS) / 10 / mixtureGS + (best.film * density) / tau / mixtureGS,
  }
  return {
    ok: true,
    plan: {
      method: q.method,
      rateMlS: best.rate,
      shotS: best.shotS,
      pauseS: best.pauseS,
      shots,
      minutes: (shots * (best.shotS + best.pauseS)) / 60,
      soakMinutes: m.soakMinutes,
      rpm: q.rpm,
      limits: { mixtureGS, secondGS, liquidMl, rho },
      limitedBy:
        used.liquid > 0.7
          ? 'liquid'
          : used.mixture > 0.7
            ? 'mixture'
            : q.labelRateMlS !== undefined && best.rate >= q.labelRateMlS
              ? 'label'
              : 'equipment',
      peakFilmMl: best.film,
      worstShare: share,
      sharing: sharing.words,
      ...(said === undefined ? {} : { guess: said }),
      tenSecondGS: used.mixture * mixtureGS,
      dipRpm: Math.round((120 * best.rate) / Math.max(0.1, equipment) / 10) * 10,
      stopSigns: STOP_SIGNS,
      reaches: m.reaches,
      misses: m.misses,
    },
  }
}

/** Shots or minutes from which a way is told to be absurd here. */
const ABSURD = { shots: 120, minutes: 60 } as const

/** Another way that feeds the same dose sooner, where this one takes absurdly long; undefined where it does not. */
export function betterWay(
  q: FeedRequest,
  plan: FeedPlan,
): { readonly method: MethodId; readonly minutes: number } | undefined {
  if (plan.shots < ABSURD.shots && plan.minutes < ABSURD.minutes) return undefined
  const at = isAhead(q.point) ? 'ahead' : 'port'
  return METHODS.filter((m) => m.feeds && m.id !== q.method && (m.at ?? at) === at)
    .flatMap((m) => {
      const other = planFeed({ ...q, method: m.id })
      return other.ok ? [{ method: m.id, minutes: other.plan.minutes }] : []
    })
    .filter((o) => o.minutes < 0.6 * plan.minutes)
    .sort((a, b) => a.minutes - b.minutes)
    .at(0)
}
