import { hasController, stationInfo, type StationId, type Vehicle } from '../engine/index.js'
import { liquidBoundOf } from './bound.js'
import { BY_PRESSURE, boreMlS, FEED_EQUIPMENT, equipmentRate, pressureFor, type FeedEquipment } from './flow.js'
import { FEED, filmSeconds, mixtureLimitGS, peakFilmMl, trimRho, type TrimAuthority } from './limits.js'
import { METHODS, methodInfo, type MethodId } from './methods.js'
import { isPlateSpared, pointRefusals } from './points.js'
import type { FeedRefusal } from './refusal.js'
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
  /** Both inlets of two fed at once, each by its own nozzle. */
  readonly together?: boolean
  readonly equipment?: FeedEquipment
  /** Manifold vacuum at the held speed [kPa]; left out, the most that an engine pulls. */
  readonly vacuumKpa?: number
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
  /** No particulate filter, or one that is neither full of soot nor regenerating; asked of direct injection. */
  readonly filterClear?: boolean
  readonly fuelCutAbove?: number
  readonly boostKpa: number
  readonly feedRunning: boolean
  /** Fed within a day by earlier attempts [mL], and film that may be left of them [mL]. */
  readonly alreadyMl?: number
  readonly filmStartMl?: number
}

/** What a feed must stay below, and what it stands on. Mixture limits hold for the worst-placed cylinder's share. */
export interface FeedLimits {
  /** Liquid that burns, mean over ten seconds and over one [g/s]. */
  readonly mixtureGS: number
  readonly secondGS: number
  /** All liquid that is not burnt, at any moment [mL]. */
  readonly liquidMl: number
  readonly rho: number
  /** Share that lands as film [–], its evaporation [s], its density [g/mL]. */
  readonly wetShare: number
  readonly tauS: number
  readonly densityGMl: number
}

/** How the dose is fed. */
export interface FeedPlan {
  readonly method: MethodId
  /** All inlets together while a shot runs [mL/s]; each of `inlets` gets its part. */
  readonly rateMlS: number
  readonly inlets: 1 | 2
  /** What the regulator is set to [bar], and what flows on at regulator zero [mL/s], where a canister feeds. */
  readonly pressureBar?: number
  readonly atZeroMlS?: number
  readonly shotS: number
  readonly pauseS: number
  readonly shots: number
  readonly minutes: number
  readonly soakMinutes: number
  readonly rpm: number
  readonly limits: FeedLimits
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

/** What the feed is stopped for. @param v - an engine with no controller has no lamp to flash */
const stopSigns = (v: Pick<Vehicle, 'injection'>): readonly string[] => [
  ...(hasController(v) ? ['the lamp flashes'] : []),
  'speed falls more than 200 rpm and does not come back',
  'the engine stalls',
  'knock, or the starter sounds slow afterwards',
  'coolant leaves its band',
]

/** Shortest and longest pause tried [s], and shots tried [s]. */
const PAUSES = [10, 12, 15, 20, 25, 30, 40, 50, 60, 80, 100, 120] as const
const SHOTS = [0.5, 1, 1.5, 2, 3, 4] as const
/** Share of the fastest average that a plan may give up for fewer shots [–]. */
const NEARLY = 0.85
/** Parts of what the equipment passes that are tried. */
const FRACTIONS = [1, 0.8, 0.6, 0.45, 0.3, 0.2, 0.12, 0.07] as const
/** Kept below every limit: the plan is followed by hand. */
export const MARGIN = 0.9
/** A shot twice as long, or fed twice, still stays below: so much is kept of each limit for one slip. */
export const SLIP_MARGIN = 0.98

/** Whether an engine may have a particulate filter in its exhaust that nobody has entered: those with direct injection. */
export const mayHaveParticulateFilter = (v: Pick<Vehicle, 'injection' | 'fuel'>): boolean =>
  v.injection === 'direct' && v.fuel === 'gasoline'

/** Every rule that forbids the feed as things stand; empty when none does. */
export function feedRefusals(q: FeedRequest): FeedRefusal[] {
  const out: FeedRefusal[] = []
  const no = (rule: string, message: string, limit?: number, value?: number): void =>
    void out.push({
      rule,
      message,
      ...(limit === undefined ? {} : { limit }),
      ...(value === undefined || Number.isNaN(value) ? {} : { value }),
    })
  const v = q.vehicle
  const combustible = q.product.kind === 'combustible'
  if (combustible && v.fuel === 'diesel')
    no(
      'diesel',
      'No combustible goes into a running diesel: it is fuel, it runs away, and the key may not stop it. Take the manifold off and wash it.',
    )
  out.push(...pointRefusals(v, q.point, q.together))
  if (combustible && isAhead(q.point) && isPlateSpared(v))
    no(
      'coated-bore',
      'The bore of this throttle is coated, or its label says not to clean it: solvent strips what seals the plate. Feed behind the plate, or take the manifold off.',
    )
  if (v.induction === 'turbo' && q.boostKpa > 0)
    no('boost', 'No feed under boost: hold a speed at which charge pressure stands at zero.')
  if (!(q.coolantC >= FEED.coolantMinC && q.coolantC <= FEED.coolantMaxC))
    no(
      'coolant-band',
      `Coolant stands at ${q.coolantC.toFixed(0)} °C; a feed needs ${FEED.coolantMinC} to ${FEED.coolantMaxC} °C, or the film does not burn off. ${q.coolantC > FEED.coolantMaxC ? 'Let it cool first' : 'Warm it up first'}.`,
      q.coolantC > FEED.coolantMaxC ? FEED.coolantMaxC : FEED.coolantMinC,
      q.coolantC,
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
  if (!q.heldRunning && hasController(v))
    no('held-running', 'The engine may stop or start by itself: put it into its service mode first.')
  if (combustible && mayHaveParticulateFilter(v) && q.filterClear === false)
    no(
      'particulate-filter',
      'A particulate filter that is full of soot or regenerates burns what is fed, and itself. Read its soot load, or see that there is none, then tick it.',
    )
  if (q.fuelCutAbove !== undefined && q.rpm >= q.fuelCutAbove)
    no(
      'fuel-cut',
      `At ${q.rpm.toFixed(0)} rpm the engine can enter fuel cut: the feed would burn in the catalyst. Hold below ${q.fuelCutAbove.toFixed(0)} rpm.`,
      q.fuelCutAbove,
      q.rpm,
    )
  if (q.feedRunning) no('one-feed', 'Another feed is running on this car: one at a time.')
  if (!(q.doseMl > 0)) no('dose', 'dose: more than 0 mL.')
  const already = q.alreadyMl ?? 0
  if (q.doseMl > q.labelMaxMl)
    no('label', `${q.doseMl} mL is above the label's ${q.labelMaxMl} mL: the label wins.`, q.labelMaxMl, q.doseMl)
  else if (q.doseMl + already > q.labelMaxMl)
    no(
      'label-day',
      `${already.toFixed(0)} mL went in within a day; with ${q.doseMl} mL more it is above the label's ${q.labelMaxMl} mL. At most ${Math.max(0, q.labelMaxMl - already).toFixed(0)} mL now.`,
      q.labelMaxMl,
      q.doseMl + already,
    )
  out.push(...equipmentRefusals(q))
  const method = methodInfo(q.method)
  if (!method.feeds) no('method', `${method.label} feeds nothing.`)
  if (method.feeds && method.at && (method.at === 'ahead') !== isAhead(q.point))
    no(
      'method-point',
      `${method.label}: fed ${method.at === 'ahead' ? 'ahead of the plate' : 'behind the plate'}, not at the ${stationInfo(q.point).label}.`,
    )
  if (method.only && method.only !== q.product.kind)
    no('method-product', `${method.label} takes ${method.only === 'water' ? 'water' : 'a cleaner'} only.`)
  if (!(q.airGS > 0)) no('airflow', 'The airflow at the held speed is not known: measure it first.')
  return out
}

/** Equipment that no feed is planned with: out of its bounds, or not known where it sets the rate. */
function equipmentRefusals(q: FeedRequest): FeedRefusal[] {
  const e = q.equipment ?? {}
  const bounds = [
    ['pressureBar', 'canister-pressure', 'The regulator', 'bar'],
    ['nozzleMm', 'nozzle', 'The nozzle', 'mm'],
    ['massG', 'can-mass', 'What the can lost', 'g'],
    ['overS', 'can-time', 'The time it was sprayed', 's'],
  ] as const
  const out = bounds.flatMap(([key, rule, what, unit]): FeedRefusal[] => {
    const value = e[key]
    const { min, max } = FEED_EQUIPMENT[key]
    if (value === undefined || (value >= min && value <= max)) return []
    const zero =
      key === 'pressureBar' && value < min
        ? ' At regulator zero the vacuum alone still feeds: only the valve stops it.'
        : ''
    return [
      {
        rule,
        message: `${what}: ${value} ${unit}, accepted ${min} to ${max} ${unit}.${zero}`,
        limit: value > max ? max : min,
        value,
      },
    ]
  })
  if (BY_PRESSURE.includes(q.method) && (e.pressureBar === undefined || e.nozzleMm === undefined))
    out.push({
      rule: 'equipment-unknown',
      message: 'A canister feeds by its pressure and its nozzle: type what the regulator may be set to and the bore.',
    })
  return out
}

/** Most vacuum that a running engine pulls, where nobody has measured it [kPa]. */
const MOST_VACUUM_KPA = 75

/** Manifold vacuum at the feed point; none ahead of the plate. */
const vacuumAt = (q: FeedRequest): number => (isAhead(q.point) ? 0 : Math.max(0, q.vacuumKpa ?? MOST_VACUUM_KPA))

/** What a feed of this request must stay below. */
export function feedLimits(q: FeedRequest): FeedLimits & { readonly worstShare: number; readonly sharing: string } {
  const m = methodInfo(q.method)
  const rho = trimRho(q.trims)
  const combustible = q.product.kind === 'combustible'
  const sharing = sharingAt(q.vehicle, q.point, q.together)
  const worstShare = Math.max(m.worstShare, sharing.worst)
  const mixtureGS = combustible
    ? mixtureLimitGS(q.airGS, q.product.afr, FEED.lambdaMin, rho) / worstShare
    : (FEED.waterPerAir * q.airGS) / worstShare
  return {
    mixtureGS,
    secondGS: combustible ? mixtureLimitGS(q.airGS, q.product.afr, FEED.lambdaSecond, 1) / worstShare : mixtureGS,
    liquidMl: liquidBoundOf(q.vehicle).liquidMl,
    rho,
    wetShare: m.wetShare,
    tauS: filmSeconds(q.coolantC),
    densityGMl: combustible ? FEED.densityGMl : 1,
    worstShare,
    sharing: sharing.words,
  }
}

/** What a shot reaches, as shares of the limits: above 1 it is over. */
export function shotReaches(
  l: FeedLimits,
  x: { readonly rateMlS: number; readonly shotS: number; readonly filmBeforeMl: number; readonly mistBeforeG?: number },
): { readonly film: number; readonly tenSeconds: number; readonly oneSecond: number; readonly tenGS: number } {
  const filmMl = x.filmBeforeMl + l.wetShare * x.rateMlS * x.shotS
  const mistGS = (1 - l.wetShare) * x.rateMlS * l.densityGMl
  const evaporatingGS = (filmMl * l.densityGMl) / l.tauS
  const tenGS = (mistGS * Math.min(10, x.shotS) + (x.mistBeforeG ?? 0)) / 10 + evaporatingGS
  return {
    film: filmMl / l.liquidMl,
    tenSeconds: tenGS / l.mixtureGS,
    oneSecond: (mistGS * Math.min(1, x.shotS) + evaporatingGS) / l.secondGS,
    tenGS,
  }
}

/** True when a shot keeps its margin, and one twice as long still stays below every limit. */
export function shotFits(l: FeedLimits, x: Parameters<typeof shotReaches>[1]): boolean {
  const most = (r: ReturnType<typeof shotReaches>): number => Math.max(r.film, r.tenSeconds, r.oneSecond)
  return most(shotReaches(l, x)) <= MARGIN && most(shotReaches(l, { ...x, shotS: 2 * x.shotS })) <= SLIP_MARGIN
}

/**
 * Plans a feed within mixture, liquid and label limits, with a margin and room for one slip: the fastest row of shots whose
 * mist and evaporating film stay below the mixture limit over ten seconds and over one, and whose film stays below the liquid
 * bound. Refused with the reason when none does.
 */
export function planFeed(q: FeedRequest): FeedResult {
  const refusals = feedRefusals(q)
  if (refusals.length) return { ok: false, refusals }
  const m = methodInfo(q.method)
  const limits = feedLimits(q)
  const { said } = liquidBoundOf(q.vehicle)
  const vacuumKpa = vacuumAt(q)
  const inlets = q.together ? 2 : 1
  const one = equipmentRate(q.method, q.equipment, vacuumKpa)
  const equipment = inlets * Math.min(one.rateMlS, q.labelRateMlS ?? Infinity)
  const canister = BY_PRESSURE.includes(q.method)
  const pressureAt = (rate: number): number => pressureFor(rate / inlets, q.equipment!.nozzleMm!, vacuumKpa) ?? 0
  const left = q.filmStartMl ?? 0
  const fitting: { rate: number; shotS: number; pauseS: number; before: number; average: number }[] = []
  for (const fraction of FRACTIONS) {
    const rate = equipment * fraction
    // the vacuum alone feeds faster than that, or the regulator does not hold so little
    if (canister && !(pressureAt(rate) >= FEED_EQUIPMENT.pressureBar.min)) continue
    for (const shotS of SHOTS)
      for (const pauseS of PAUSES) {
        const peak = peakFilmMl(rate, limits.wetShare, limits.tauS, shotS, pauseS)
        const before = left + peak * Math.exp(-pauseS / limits.tauS)
        if (!shotFits(limits, { rateMlS: rate, shotS, filmBeforeMl: before })) continue
        fitting.push({ rate, shotS, pauseS, before, average: (rate * shotS) / (shotS + pauseS) })
      }
  }
  // of those that are nearly as fast, the one with the fewest shots: a hand is tired by many
  const most = Math.max(0, ...fitting.map((x) => x.average))
  const shotsOf = (x: { rate: number; shotS: number }): number => Math.ceil(q.doseMl / (x.rate * x.shotS) - 1e-9)
  const best = fitting
    .filter((x) => x.average >= NEARLY * most)
    .sort((a, b) => shotsOf(a) - shotsOf(b) || b.average - a.average)
    .at(0)
  if (!best) return { ok: false, refusals: [noSafeRate(q, limits, left, vacuumKpa)] }
  const shots = Math.max(1, shotsOf(best))
  const used = shotReaches(limits, { rateMlS: best.rate, shotS: best.shotS, filmBeforeMl: best.before })
  return {
    ok: true,
    plan: {
      method: q.method,
      rateMlS: best.rate,
      inlets,
      ...(canister
        ? {
            pressureBar: pressureAt(best.rate),
            atZeroMlS: inlets * one.leastMlS,
          }
        : {}),
      shotS: best.shotS,
      pauseS: best.pauseS,
      shots,
      minutes: (shots * (best.shotS + best.pauseS)) / 60,
      soakMinutes: m.soakMinutes,
      rpm: q.rpm,
      limits,
      limitedBy:
        used.film > 0.6
          ? 'liquid'
          : Math.max(used.tenSeconds, used.oneSecond) > 0.45
            ? 'mixture'
            : q.labelRateMlS !== undefined && best.rate >= inlets * q.labelRateMlS
              ? 'label'
              : 'equipment',
      peakFilmMl: used.film * limits.liquidMl,
      worstShare: limits.worstShare,
      sharing: limits.sharing,
      ...(said === undefined ? {} : { guess: said }),
      tenSecondGS: used.tenGS,
      dipRpm: Math.round((120 * best.rate) / Math.max(0.1, equipment) / 10) * 10,
      stopSigns: stopSigns(q.vehicle),
      reaches: m.reaches,
      misses: m.misses,
    },
  }
}

function noSafeRate(q: FeedRequest, l: FeedLimits, leftMl: number, vacuumKpa: number): FeedRefusal {
  const no = (message: string, limit: number, value: number): FeedRefusal => ({
    rule: 'no-safe-rate',
    message,
    limit,
    value,
  })
  if (leftMl > MARGIN * l.liquidMl * 0.5)
    return no(
      `${leftMl.toFixed(1)} mL of film may be left of the last feed: let the engine run until it is gone, or look for pools.`,
      l.liquidMl,
      leftMl,
    )
  if (BY_PRESSURE.includes(q.method)) {
    const { min } = FEED_EQUIPMENT.pressureBar
    const { nozzleMm } = q.equipment!
    const least = boreMlS(100 * min + vacuumKpa, nozzleMm!)
    return no(
      `At ${q.airGS.toFixed(1)} g/s of air no pressure stays inside the limits: at ${min} bar${vacuumKpa > 0 ? ' and this vacuum' : ''} ${nozzleMm} mm passes ${least.toFixed(2)} mL/s. A smaller nozzle, or a higher speed: air sets the rate.`,
      l.mixtureGS,
      least,
    )
  }
  return no(
    `At ${q.airGS.toFixed(1)} g/s of air no rate stays inside the limits. Hold a higher speed: air sets the rate.`,
    l.mixtureGS,
    q.airGS,
  )
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
