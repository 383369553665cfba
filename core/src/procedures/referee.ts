import {
  feedPointsOf,
  isAhead,
  methodInfo,
  METHODS,
  planFeed,
  plenumPlaces,
  type FeedPlan,
  type FeedRequest,
} from '../cleaning/index.js'
import { CONFIRMED_FIELDS, ENGINE_PATTERNS, inletsOf, kindOfStation, worstOf, type Vehicle } from '../engine/index.js'
import { parcelShares } from '../simulation/index.js'
import { Feeding, feedRunState } from './feedRun.js'
import type { RunEvent } from './procedure.js'

/** Liquid that really flowed [mL/s], between two moments [s]. */
export interface Flow {
  readonly fromS: number
  readonly toS: number
  readonly rateMlS: number
}

/** What a hand does wrong, once or twice in a feed. */
export type Slip = 'late' | 'long' | 'doubled' | 'interrupted'

/** Highest share of each limit that was reached; above 1 it was exceeded. */
export interface Followed {
  readonly tenSeconds: number
  readonly oneSecond: number
  readonly film: number
  /** Of the label's most, earlier attempts of the day with it. */
  readonly label: number
  readonly fedMl: number
  /** Film that is left at the end [mL]. */
  readonly leftMl: number
}

/** Step of the integration [s]. */
const DT = 0.05

/**
 * Follows what really flowed through the mixture and film equations, knowing nothing of how it was planned: the worst
 * cylinder's mixture over any ten seconds and any one, and all the liquid that is not burnt, step by step. Its limits are
 * written out here again on purpose; what nobody has confirmed of the engine is taken as the worst.
 *
 * @param wetShare - share of the way's liquid that lands as film
 * @param share - worst-placed cylinder's share [–], from elsewhere than the plan
 */
export function followFlow(
  q: FeedRequest,
  flows: readonly Flow[],
  wetShare: number,
  share: number,
  filmStartMl = 0,
): Followed {
  const tau = 40 * 2 ** (Math.max(0, 90 - q.coolantC) / 25)
  const water = q.product.kind === 'water'
  const density = water ? 1 : 0.8
  const t0 = q.trims
  const rho = t0
    ? Math.min(1, Math.max((1 + t0.totalMin) / (1 + t0.total), (1 + t0.shortMin) / (1 + t0.short), 0.83))
    : 1
  const limitTen = water ? 0.03 * q.airGS : (q.airGS / q.product.afr) * (1 / 0.85 - rho)
  const limitOne = water ? limitTen : (q.airGS / q.product.afr) * (1 / 0.65 - 1)
  const { displacementL, cylinders, compressionRatio } = worstOf(q.vehicle).vehicle
  const limitFilm = (0.1 * displacementL * 1000) / (cylinders * (compressionRatio - 1))
  const ten = new Float64Array(Math.round(10 / DT))
  const one = new Float64Array(Math.round(1 / DT))
  let [film, sumTen, sumOne, worstTen, worstOne, worstFilm] = [filmStartMl, 0, 0, 0, 0, 0]
  const fed = flows.reduce((ml, x) => ml + x.rateMlS * (x.toS - x.fromS), 0)
  const ends = Math.max(0, ...flows.map((x) => x.toS))
  let next = 0
  for (let k = 0; k * DT < ends + 20; k++) {
    const t = k * DT
    while (next < flows.length && flows[next].toS <= t) next++
    const rate = next < flows.length && flows[next].fromS <= t ? flows[next].rateMlS : 0
    const leaving = film / tau
    film += (wetShare * rate - leaving) * DT
    const burnt = ((1 - wetShare) * rate + leaving) * density * share
    sumTen += burnt - ten[k % ten.length]
    ten[k % ten.length] = burnt
    sumOne += burnt - one[k % one.length]
    one[k % one.length] = burnt
    worstTen = Math.max(worstTen, sumTen / ten.length / limitTen)
    worstOne = Math.max(worstOne, sumOne / one.length / limitOne)
    worstFilm = Math.max(worstFilm, film / limitFilm)
  }
  return {
    tenSeconds: worstTen,
    oneSecond: worstOne,
    film: worstFilm,
    label: (fed + (q.alreadyMl ?? 0)) / q.labelMaxMl,
    fedMl: fed,
    leftMl: film,
  }
}

/** A feed as a hand works it by the clock, with slips: what flowed, what was recorded, and whether it came to its end. */
export interface Worked {
  readonly flows: readonly Flow[]
  readonly events: readonly RunEvent[]
  readonly ended: boolean
}

/** What the clock is asked once more before it is taken to hang. */
const MOST_EVENTS = 5000

/**
 * Works a plan as its clock leads, with slips at random shots. A late hand opens after the sound and shuts by it or after it; a
 * long shot is shut up to as late again as it was meant; a doubled one is fed twice; an interrupted one is stopped for good.
 */
export function workFeed(q: FeedRequest, plan: FeedPlan, slips: readonly Slip[], random: () => number): Worked {
  const events: RunEvent[] = []
  const run = new Feeding(plan, q)
  const tell = (kind: RunEvent['kind'], atMs: number): void => {
    events.push({ kind, atMs })
    run.take({ kind, atMs })
  }
  tell('begin', 0)
  const flows: Flow[] = []
  const when = new Map(slips.map((s) => [Math.floor(random() * Math.min(plan.shots, 12)), s]))
  let now = 0
  const flow = (fromMs: number, toMs: number): void => {
    flows.push({ fromS: fromMs / 1000, toS: toMs / 1000, rateMlS: plan.rateMlS })
  }
  for (let n = 0; n < MOST_EVENTS; n++) {
    const s = run.at(now)
    if (s.phase === 'done' || s.phase === 'stopped') return { flows, events, ended: s.phase === 'done' }
    if (s.phase === 'pause' || s.phase === 'count-in') {
      now = s.dueMs!
      tell('open', now)
      const meant = 1000 * s.shotS
      const slip = when.get(s.shots.length)
      const late = slip === 'late' ? 4000 * random() : 0
      if (slip === 'interrupted') {
        now += meant * random()
        flow(events.at(-1)!.atMs, now)
        tell('stop', now)
        continue
      }
      const shut = slip === 'long' ? now + meant * (1 + random()) : now + Math.max(meant, late)
      if (now + late < shut) flow(now + late, shut)
      tell('shut', now + meant)
      if (shut > now + meant) tell('shut-late', shut)
      now = Math.max(shut, now + meant)
      if (slip === 'doubled') {
        flow(now, now + meant)
        now += meant
        tell('again', now)
      }
      continue
    }
    now += 100
  }
  return { flows, events, ended: false }
}

/** Parcels that are followed for one share. */
const PARCELS = 3000

/** The worst-placed cylinder's share [–] as this engine itself would have it, by parcels followed one by one. */
export function ownShare(q: FeedRequest, seed: number): number {
  const { vehicle: v } = q
  if (kindOfStation(q.point).startsWith('runners') || v.plenum === 'individual') return v.cylinders
  const twoInlets = inletsOf(v) === 2
  const oneOfTwo = twoInlets && isAhead(q.point) && !q.together
  if (isAhead(q.point) && !oneOfTwo) return 1
  const banks = v.plenum === 'per-bank' ? v.banks : 1
  if (oneOfTwo && banks > 1) return banks
  const places = plenumPlaces(v)
  const at = oneOfTwo ? 0 : kindOfStation(q.point) === 'plenum' ? Math.floor(places / 2) : places - 1
  const inflow = twoInlets && banks === 1 ? 'both-ends' : 'one-end'
  return banks * Math.max(...parcelShares({ vehicle: v, seed, at, inflow, parcels: PARCELS }))
}

/** A request followed to its end over as many attempts as slips break it into; undefined where no plan is made. */
export function refereed(
  q: FeedRequest,
  share: number,
  slips: readonly Slip[],
  random: () => number,
): Followed | undefined {
  const planned = planFeed(q)
  if (!planned.ok) return undefined
  const { wetShare } = methodInfo(q.method)
  const first = workFeed(q, planned.plan, slips, random)
  const followed = followFlow(q, first.flows, wetShare, share, q.filmStartMl)
  if (first.ended || !slips.includes('interrupted')) return followed
  // resumed another day with the engine cold since: the film is still there, the label's day is over; or at once
  const nextDay = random() < 0.5
  const counted = feedRunState(planned.plan, q, first.events, first.events.at(-1)!.atMs)
  const again: FeedRequest = {
    ...q,
    doseMl: Math.max(1, Math.min(q.doseMl, nextDay ? q.labelMaxMl : q.labelMaxMl - counted.fedMl - (q.alreadyMl ?? 0))),
    filmStartMl: counted.filmMl,
    alreadyMl: nextDay ? 0 : (q.alreadyMl ?? 0) + counted.fedMl,
  }
  if (again.doseMl + (again.alreadyMl ?? 0) > q.labelMaxMl) return followed
  const second = planFeed(again)
  if (!second.ok) return followed
  const rest = workFeed(again, second.plan, [], random)
  const then = followFlow(again, rest.flows, wetShare, share, followed.leftMl)
  const worse = (k: 'tenSeconds' | 'oneSecond' | 'film' | 'label'): number => Math.max(followed[k], then[k])
  return {
    tenSeconds: worse('tenSeconds'),
    oneSecond: worse('oneSecond'),
    film: worse('film'),
    label: worse('label'),
    fedMl: followed.fedMl + then.fedMl,
    leftMl: then.leftMl,
  }
}

const SLIPS: readonly Slip[] = ['late', 'long', 'doubled', 'interrupted']

/** A random engine with a random way, point, product and equipment, and the slips that are made with it. */
export function randomFeed(random: () => number): { readonly request: FeedRequest; readonly slips: readonly Slip[] } {
  const between = (a: number, b: number): number => a + (b - a) * random()
  const one = <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)]
  const pattern = one(ENGINE_PATTERNS.filter((p) => p.vehicle.fuel === 'gasoline')).vehicle
  const vehicle: Vehicle = {
    ...pattern,
    name: 'any',
    altitudeM: 0,
    displacementL: between(0.8, 6),
    compressionRatio: between(8, 13),
    confirmed: random() < 0.5 ? CONFIRMED_FIELDS : [],
  }
  const method = one(METHODS.filter((m) => m.feeds))
  const points = feedPointsOf(vehicle).filter((p) => !method.at || (method.at === 'ahead') === p.ahead)
  const point = one(points.length ? points : feedPointsOf(vehicle))
  const together = inletsOf(vehicle) === 2 && feedPointsOf(vehicle, true).some((p) => p.point === point.point)
  const trim = between(-0.2, 0.2)
  const labelMaxMl = between(10, 60)
  return {
    request: {
      vehicle,
      method: method.id,
      product: { kind: method.only ?? (random() < 0.8 ? 'combustible' : 'water'), afr: between(9, 15) },
      doseMl: random() < 0.2 ? labelMaxMl : between(1, labelMaxMl),
      labelMaxMl,
      point: point.point,
      ...(together && random() < 0.7 ? { together: true } : {}),
      equipment: { pressureBar: between(0.3, 6), nozzleMm: between(0.1, 1.2) },
      vacuumKpa: between(20, 70),
      airGS: between(1, 40),
      rpm: 2000,
      speedFrom: 'scan',
      coolantC: between(75, 105),
      ...(random() < 0.5 ? { trims: { total: trim, totalMin: -0.25, short: 0, shortMin: -0.2 } } : {}),
      extraction: true,
      fireCover: true,
      lampFlashing: false,
      heldRunning: true,
      boostKpa: 0,
      feedRunning: false,
      filmStartMl: random() < 0.3 ? between(0, 2) : 0,
      alreadyMl: 0,
    },
    slips: SLIPS.filter(() => random() < 0.4),
  }
}
